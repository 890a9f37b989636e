import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { copyFile, mkdir, readFile, rm, writeFile } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { parseArgs } from 'node:util';
import { budgetTrouble, checkShot } from '../core/check';
import { FILM_PRESETS, filmFormat, filmTrouble, nearestSide, type FilmPreset } from '../core/film';
import { SAMPLE_COUNTS, describeIssue, foundAt, parseShot, picturesOf, type Shot } from '../core/document';
import { z } from 'zod';
import { compile, sample, widthOf, type LoudnessTables } from '../core/evaluate';
import { insetsOf, withInnerSounds } from '../core/inset';
import { loudnessOf } from '../core/sound';
import { BrokenMedia, decodeSound, NoDecoder } from '../decode';
import { DEMO_SHOTS, demoShotId } from '../demo';
import { assemble } from '../render/assemble';
import { DrawingBrowser } from '../render/drawing-browser';
import { mixedSound } from '../render/mixed-sound';
import { pictureRaw, type Pictures } from '../render/raw-frame';
import { makeFolder } from '../render/work-folder';
import { SOUND_READ_RATE, SOUND_TAKEN_SECONDS } from '../wire';
import { addressesOfNames } from './channel-names';
import { namedFilm } from './film-name';

/** A mistake of the caller: told in one line, exit code 2. */
class Misuse extends Error {}

async function readShotFile(path: string | undefined): Promise<Shot> {
  if (!path) throw new Misuse('Name a shot file, for example shot.json.');
  let json: unknown;
  try {
    json = JSON.parse(await readFile(path, 'utf8'));
  } catch (error) {
    throw new Misuse(`${path} cannot be read: ${error instanceof Error ? error.message : String(error)}`);
  }
  const parsed = parseShot(json);
  if (!parsed.ok)
    throw new Misuse(
      `${path} is no shot:\n${parsed.problems.map((problem) => `  ${problem.path || 'document'}: ${problem.message}`).join('\n')}`,
    );
  return parsed.shot;
}

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

/** `1:96`, `1:96:0.5` or `24`. */
function readFrames(text: string): { from: number; to: number; step: number } {
  const numbers = text.split(':');
  const [from, to = from, step = 1] = numbers.map((part) => (part.trim() === '' ? NaN : Number(part)));
  if (
    numbers.length > 3 ||
    from === undefined ||
    to === undefined ||
    ![from, to, step].every(Number.isFinite) ||
    step <= 0 ||
    to < from
  )
    throw new Misuse(`--frames ${text} is no range: write 1:96, or 1:96:0.5 for half frames.`);
  return { from, to, step };
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

/** Endings under which a sound may lie beside a shot. */
const SOUND_ENDINGS = ['wav', 'mp3', 'ogg', 'flac'];

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

/** Bytes of a picture, video, mesh or sound of a shot: a file beside it, named by its hash or as it was brought in. */
async function readBeside(folder: string, hash: string, ...shots: readonly Shot[]): Promise<Uint8Array> {
  const named = shots
    .flatMap((shot) => [
      ...picturesOf(shot).map(({ picture }) => picture),
      ...Object.values(shot.shapes).flatMap((shape) => shape.mesh ?? []),
    ])
    .filter((entry) => entry.asset === hash);
  const sounds = shots.flatMap((shot) => Object.values(shot.sounds)).filter((sound) => sound.asset === hash);
  const files = [
    hash,
    ...named.map((entry) => basename(entry.file)),
    ...sounds.flatMap(({ name }) => SOUND_ENDINGS.map((ending) => `${basename(name)}.${ending}`)),
  ];
  for (const file of files) {
    const bytes = await readFile(join(folder, file)).catch(() => null);
    if (bytes && createHash('sha256').update(bytes).digest('hex') === hash) return bytes;
  }
  throw new Error(`no file ${files[1] ?? hash} with the right contents lies beside the shot`);
}

/** The shots that a shot shows, and those that they show, from the files beside it: by their name, or by their id. */
async function innerBeside(
  shot: Shot,
  folder: string,
  found = new Map<string, Shot>(),
): Promise<Map<string, Shot>> {
  for (const { name, inset } of Object.values(shot.parts)) {
    if (!inset || found.has(inset.shot)) continue;
    const paths = [inset.name, inset.shot].map((file) => join(folder, `${basename(file)}.json`));
    const path = paths.find((candidate) => existsSync(candidate));
    if (path === undefined)
      throw new Misuse(
        `"${name}" shows the shot "${inset.name}", which is not beside it: put it there as ${paths[0]}.`,
      );
    const inner = await readShotFile(path);
    found.set(inset.shot, inner);
    await innerBeside(inner, folder, found);
  }
  return found;
}

/** Pictures for each frame as an option tells; `null`, as many as the shot says. */
function samplesOf(option: string | undefined): number | null {
  if (option === undefined) return null;
  const found = SAMPLE_COUNTS.find((count) => String(count) === option);
  if (found === undefined) throw new Misuse(`--samples: "${option}" is none of ${SAMPLE_COUNTS.join(', ')}.`);
  return found;
}

/** A ready preset by its name, in any case of its letters. */
function presetOf(option: string | undefined): FilmPreset | null {
  if (option === undefined) return null;
  const found = FILM_PRESETS.find(({ name }) => name.toLowerCase() === option.trim().toLowerCase());
  if (!found)
    throw new Misuse(
      `--preset: there is no "${option}". There are: ${FILM_PRESETS.map(({ name }) => `"${name}"`).join(', ')}.`,
    );
  return found;
}

/** Options of `render` by what of a film they tell. */
const OPTION_OF = {
  first: '--range',
  last: '--range',
  width: '--size',
  height: '--size',
  format: '--out',
  alpha: '--alpha',
  fileName: '--out',
} as const;

async function renderCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      out: { type: 'string' },
      range: { type: 'string' },
      size: { type: 'string' },
      alpha: { type: 'boolean' },
      format: { type: 'string' },
      quality: { type: 'string' },
      samples: { type: 'string' },
      effects: { type: 'boolean' },
      preset: { type: 'string' },
    },
    allowNegative: true,
  });
  const shot = await readShotFile(positionals[0]);
  // What is said in so many words counts more than the preset.
  const preset = presetOf(values.preset);
  const { out = '', alpha = preset?.alpha ?? false, effects = preset?.effects ?? true } = values;
  const samples = values.samples === undefined ? (preset?.samples ?? null) : samplesOf(values.samples);
  const named = namedFilm(out, values.format ?? preset?.format, values.quality ?? preset?.quality ?? 'high');
  if (typeof named === 'string') throw new Misuse(named);
  const { format, quality } = named;
  if (shot.setup.camera === null) throw new Misuse('The shot has no camera.');
  const { from, to } = values.range
    ? readFrames(values.range)
    : { from: shot.setup.first, to: shot.setup.last };
  const side = (pixels: number): number =>
    format === 'wav' || !preset ? pixels : nearestSide(pixels * preset.scale, format);
  const [width = NaN, height = NaN] = values.size?.split('x').map(Number) ?? [
    side(shot.setup.width),
    side(shot.setup.height),
  ];
  const trouble = filmTrouble({
    first: from,
    last: to,
    width,
    height,
    format: format === 'wav' ? 'mp4' : format,
    alpha,
    fileName: null,
  });
  if (trouble) throw new Misuse(`${OPTION_OF[trouble.field]}: ${trouble.message}`);
  const tooMuch = budgetTrouble(compile(shot));
  if (tooMuch) throw new Misuse(tooMuch);
  await mkdir(dirname(out), { recursive: true });
  const folder = dirname(positionals[0]!);
  const shots = await innerBeside(shot, folder);
  const heard = withInnerSounds(shot, { shotOf: (id) => shots.get(id) ?? null });
  if (format === 'wav') {
    await writeSound(heard, folder, { first: from, last: to }, out);
    return;
  }
  const work = makeFolder();
  const browser = await DrawingBrowser.open((hash, drawn) =>
    readBeside(folder, hash, drawn, ...shots.values()),
  );
  try {
    const loudness = await loudnessBeside(heard, folder, work);
    const inner = [];
    for (const [id, other] of shots)
      inner.push({ id, shot: other, loudness: await loudnessBeside(other, folder, work) });
    await browser
      .load(shot, { width, height, alpha, samples, effects, deep: filmFormat(format).deep }, loudness, inner)
      .catch((error: unknown) => {
        // What a shot shows and nobody can read is the caller's to bring: told in one line.
        const [line] = (error instanceof Error ? error.message : String(error)).split('\n');
        throw new Misuse(line!.replace(/^Error: /, ''));
      });
    const count = to - from + 1;
    const pictures: Pictures = (async function* () {
      let drawing = browser.drawAhead(from);
      for (let frame = from; frame <= to; frame++) {
        const { picture } = await drawing;
        // The next one is drawn while this one is sent and written.
        if (frame < to) drawing = browser.drawAhead(frame + 1);
        drawing.catch(() => undefined);
        const raw = await picture;
        process.stderr.write(`\rframe ${frame} (${frame - from + 1} of ${count})`);
        yield pictureRaw(frame, raw);
      }
      process.stderr.write('\n');
    })();
    if (filmFormat(format).ending === 'zip') {
      for await (const picture of pictures) {
        const path = out.replace(/%0?(\d*)d/, (_, digits: string) =>
          String(picture.frame).padStart(Number(digits || 1), '0'),
        );
        await writeFile(path, await picture.png());
      }
    } else {
      const range = { first: from, last: to };
      const sound = (): Promise<string | null> =>
        mixedSound(heard, loudness, range, work, (hash) => readBeside(folder, hash, heard));
      const { rate } = shot.setup;
      await assemble(pictures, { width, height, format, rate, alpha, quality, name: '', sound }, out);
    }
  } finally {
    await browser.close();
    await rm(work, { recursive: true, force: true });
  }
}

/** Writes what is heard of a shot, without its picture. */
async function writeSound(
  shot: Shot,
  folder: string,
  range: { readonly first: number; readonly last: number },
  out: string,
): Promise<void> {
  const work = makeFolder();
  try {
    const loudness = await loudnessBeside(shot, folder, work);
    const sound = await mixedSound(shot, loudness, range, work, (hash) => readBeside(folder, hash, shot));
    if (sound === null) throw new Misuse('The shot has no sound that is heard.');
    await copyFile(sound, out);
  } finally {
    await rm(work, { recursive: true, force: true });
  }
}

/** Loudness of a shot's sounds, read from the files beside it. */
async function loudnessBeside(shot: Shot, folder: string, work: string): Promise<LoudnessTables> {
  const tables: Record<string, LoudnessTables[string]> = {};
  for (const [id, { name, asset }] of Object.entries(shot.sounds)) {
    if (!asset) continue;
    const bytes = await readBeside(folder, asset, shot).catch((error: unknown) => {
      throw new Misuse(`The sound "${name}": ${error instanceof Error ? error.message : String(error)}`);
    });
    const path = join(work, asset);
    await writeFile(path, bytes);
    const [samples] = await decodeSound(path, 1, SOUND_READ_RATE, SOUND_TAKEN_SECONDS);
    tables[id] = loudnessOf(samples!, SOUND_READ_RATE);
  }
  return tables;
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
