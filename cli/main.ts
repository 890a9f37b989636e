import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { parseArgs } from 'node:util';
import { z } from 'zod';
import { checkShot } from '../core/check';
import { describeIssue, foundAt, type Shot } from '../core/document';
import { compile, sample, widthOf, type LoudnessTables } from '../core/evaluate';
import { insetsOf } from '../core/inset';
import { loudnessOf } from '../core/sound';
import { BrokenMedia, decodeSound, NoDecoder } from '../decode';
import { DEMO_SHOTS, demoShotId } from '../demo';
import { SOUND_READ_RATE, SOUND_TAKEN_SECONDS } from '../wire';
import { addressesOfNames } from './channel-names';
import { Misuse, readFrames, readShotFile } from './misuse';
import { renderCommand } from './render';

const loudnessFile = z.record(
  z.string(),
  z.strictObject({
    rate: z.number().positive().max(10_000),
    seconds: z.number().positive().optional(),
    edges: z.array(z.number().min(0)).min(2).max(1000),
    power: z.array(z.number().min(0)).max(10_000_000),
  }),
);

/** Loudness tables of a shot's sounds from a JSON file, by the sounds' names. */
async function readLoudness(shot: Shot, path: string | undefined): Promise<LoudnessTables> {
  if (path === undefined) return {};
  let json: unknown;
  try {
    json = JSON.parse(await readFile(path, 'utf8'));
  } catch (error) {
    throw new Misuse(`${path} cannot be read: ${error instanceof Error ? error.message : String(error)}`);
  }
  const parsed = loudnessFile.safeParse(json);
  if (!parsed.success) {
    const issue = parsed.error.issues[0]!;
    throw new Misuse(`${path}: ${issue.path.join('/')}: ${describeIssue(issue, foundAt(json, issue.path))}`);
  }
  const tables: Record<string, LoudnessTables[string]> = {};
  for (const [name, table] of Object.entries(parsed.data)) {
    const sound = Object.entries(shot.sounds).find(([, entry]) => entry.name === name);
    if (!sound) throw new Misuse(`${path}: the shot has no sound "${name}".`);
    const { seconds, ...rest } = table;
    tables[sound[0]] = {
      ...rest,
      ...(seconds === undefined ? {} : { seconds }),
      power: Float32Array.from(table.power),
    };
  }
  return tables;
}

async function sampleCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      channels: { type: 'string' },
      frames: { type: 'string' },
      format: { type: 'string', default: 'csv' },
      loudness: { type: 'string' },
    },
  });
  const shot = await readShotFile(positionals[0]);
  if (!values.channels)
    throw new Misuse('Name the values wanted: --channels "Crown wheel.rotation.z,Boat 1.world"');
  if (values.format !== 'csv' && values.format !== 'json')
    throw new Misuse(`--format ${values.format} is not known: csv or json.`);
  const { from, to, step } = values.frames
    ? readFrames(values.frames)
    : { from: shot.setup.first, to: shot.setup.last, step: 1 };
  const plan = compile(shot, await readLoudness(shot, values.loudness));
  const asked = addressesOfNames(shot, values.channels);
  const names = asked.map(({ name }) => name);
  const addresses = asked.map(({ address }) => address);
  const table = sample(plan, addresses, from, to, step);
  const heads = addresses.flatMap((address, i) => {
    const width = widthOf(plan, address);
    return width === 1 ? [names[i]!] : Array.from({ length: width }, (_, j) => `${names[i]}[${j}]`);
  });
  const rows = Array.from(table.frames, (frame, i) => [
    frame,
    ...table.values.subarray(i * table.columns, (i + 1) * table.columns),
  ]);
  if (values.format === 'json')
    process.stdout.write(`${JSON.stringify({ columns: ['frame', ...heads], rows })}\n`);
  else
    process.stdout.write(
      `${['frame', ...heads.map((head) => (/[",\n]/.test(head) ? `"${head.replaceAll('"', '""')}"` : head))].join(',')}\n${rows.map((row) => row.join(',')).join('\n')}\n`,
    );
}

async function checkCommand(args: string[]): Promise<number> {
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

/** Prints the loudness of a file of sound, for `sample --loudness`. */
async function loudnessCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { name: { type: 'string' } },
  });
  const [path] = positionals;
  if (!path) throw new Misuse('Name a file of sound, for example organ.wav.');
  const name = values.name ?? basename(path).replace(/\.[^.]+$/, '');
  let samples: Float32Array | undefined;
  try {
    [samples] = await decodeSound(path, 1, SOUND_READ_RATE, SOUND_TAKEN_SECONDS);
  } catch (error) {
    if (!(error instanceof BrokenMedia || error instanceof NoDecoder)) throw error;
    throw new Misuse(`${path}: ${error.message}`);
  }
  const { power, ...table } = loudnessOf(samples!, SOUND_READ_RATE);
  process.stdout.write(`${JSON.stringify({ [name]: { ...table, power: [...power] } })}\n`);
}

/** Prints a demo shot, or writes it into a folder with its pictures beside it. */
async function demoCommand(args: string[]): Promise<void> {
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

const [command, ...args] = process.argv.slice(2);
try {
  if (command === 'sample') await sampleCommand(args);
  else if (command === 'check') process.exitCode = await checkCommand(args);
  else if (command === 'render') await renderCommand(args);
  else if (command === 'loudness') await loudnessCommand(args);
  else if (command === 'demo') await demoCommand(args);
  else throw new Misuse(`There is no command "${command ?? ''}".`);
} catch (error) {
  const expected =
    error instanceof Misuse ||
    error instanceof BrokenMedia ||
    error instanceof NoDecoder ||
    error instanceof RangeError ||
    (error as { code?: string }).code?.startsWith('ERR_PARSE_ARGS');
  process.stderr.write(`${expected ? (error as Error).message : String((error as Error).stack ?? error)}\n`);
  process.exitCode = 2;
}
