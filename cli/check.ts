import { parseArgs } from 'node:util';
import { checkShot } from '../core/check';
import { compile } from '../core/evaluate';
import { readLoudness } from './loudness-tables';
import { readShotFile } from './misuse';

/** Prints the problems of a shot as JSON. @returns the exit code: 1 where there are any. @throws Misuse */
export async function checkCommand(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { loop: { type: 'boolean', default: false }, loudness: { type: 'string' } },
  });
  const shot = await readShotFile(positionals[0]);
  const plan = compile(shot, await readLoudness(shot, values.loudness));
  const problems = checkShot(shot, plan, { loops: values.loop });
  process.stdout.write(`${JSON.stringify(problems, null, 2)}\n`);
  return problems.length > 0 ? 1 : 0;
}
