import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { insetsOf } from '../core/inset';
import { DEMO_SHOTS, demoShotId } from '../demo';
import { Misuse } from './misuse';

/** Prints a demo shot, or writes it into a folder with its pictures beside it. */
export async function demoCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { out: { type: 'string' } },
  });
  const wanted = positionals.join(' ') || DEMO_SHOTS[0]!.name;
  const found = DEMO_SHOTS.find((shot) => shot.name.toLowerCase() === wanted.toLowerCase());
  if (!found)
    throw new Misuse(
      `There is no demo shot "${wanted}". There are: ${DEMO_SHOTS.map((shot) => shot.name).join(', ')}.`,
    );
  const text = `${JSON.stringify(found.build(), null, 1)}\n`;
  if (values.out === undefined) {
    process.stdout.write(text);
    return;
  }
  await mkdir(values.out, { recursive: true });
  await writeFile(join(values.out, 'shot.json'), text);
  for (const file of found.files()) await writeFile(join(values.out, file.name), file.bytes);
  for (const { name, build } of DEMO_SHOTS)
    if (insetsOf(found.build()).includes(demoShotId(name)))
      await writeFile(join(values.out, `${name}.json`), `${JSON.stringify(build(), null, 1)}\n`);
}
