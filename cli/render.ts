import { copyFile, mkdir, rm, writeFile } from 'node:fs/promises';
import { dirname } from 'node:path';
import { parseArgs } from 'node:util';
import { SAMPLE_COUNTS, type Shot } from '../core/document';
import type { LoudnessTables } from '../core/evaluate';
import { FILM_PRESETS, filmFormat, filmTrouble, nearestSide, type FilmPreset } from '../core/film';
import { assemble } from '../render/assemble';
import { Composer } from '../render/composer';
import { DrawingBrowser, type PictureSize } from '../render/drawing-browser';
import { loadScene } from '../render/film-loader';
import { FilmScenes } from '../render/film-scenes';
import { mixedSound } from '../render/mixed-sound';
import { pictureRaw, type Pictures } from '../render/raw-frame';
import { makeFolder } from '../render/work-folder';
import { loudnessBeside, readBeside } from './beside';
import { namedFilm } from './film-name';
import { filmFiles, type FilmFiles } from './film-source';
import { Misuse, readFrames } from './misuse';

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

/** Renders a film, or the sound alone, of a shot or a timeline to files. @throws Misuse */
export async function renderCommand(args: string[]): Promise<void> {
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
  // What is said in so many words counts more than the preset.
  const preset = presetOf(values.preset);
  const { out = '', alpha = preset?.alpha ?? false, effects = preset?.effects ?? true } = values;
  const samples = values.samples === undefined ? (preset?.samples ?? null) : samplesOf(values.samples);
  const named = namedFilm(out, values.format ?? preset?.format, values.quality ?? preset?.quality ?? 'high');
  if (typeof named === 'string') throw new Misuse(named);
  const { format, quality } = named;
  const files = await filmFiles(positionals[0]);
  for (const note of files.notes) process.stderr.write(`${note}\n`);
  const { from, to } = values.range ? readFrames(values.range) : { from: files.first, to: files.last };
  const side = (pixels: number): number =>
    format === 'wav' || !preset ? pixels : nearestSide(pixels * preset.scale, format);
  const [width = NaN, height = NaN] = values.size?.split('x').map(Number) ?? [
    side(files.width),
    side(files.height),
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
  if (files.source.reel && (from < files.first || to > files.last))
    throw new Misuse(
      `--range: the timeline has the frames ${files.first} to ${files.last}, not ${from} to ${to}.`,
    );
  await mkdir(dirname(out), { recursive: true });
  const folder = dirname(positionals[0]!);
  if (format === 'wav') {
    await writeSound(files, folder, { first: from, last: to }, out);
    return;
  }
  const work = makeFolder();
  const browser = await DrawingBrowser.open((hash) => readBeside(folder, hash, ...files.shots));
  try {
    const size = { width, height, alpha, samples, effects, deep: filmFormat(format).deep };
    const pictures = picturesOf(browser, files, size, { first: from, last: to }, (shot) =>
      loudnessBeside(shot, folder, work),
    );
    if (filmFormat(format).ending === 'zip') {
      for await (const picture of pictures) {
        const path = out.replace(/%0?(\d*)d/, (_, digits: string) =>
          String(picture.frame).padStart(Number(digits || 1), '0'),
        );
        await writeFile(path, await picture.png());
      }
    } else {
      const sound = async (): Promise<string | null> => {
        const loudness = await loudnessBeside(files.heard, folder, work);
        const range = { first: from, last: to };
        return mixedSound(files.heard, loudness, range, work, (hash) =>
          readBeside(folder, hash, ...files.shots),
        );
      };
      const { rate } = files;
      await assemble(pictures, { width, height, format, rate, alpha, quality, name: '', sound }, out);
    }
  } finally {
    await browser.close();
    await rm(work, { recursive: true, force: true });
  }
}

/** Draws the frames of a film; each is told, and drawn while the one before it is sent and written. */
async function* picturesOf(
  browser: DrawingBrowser,
  { source }: FilmFiles,
  size: PictureSize,
  { first, last }: { readonly first: number; readonly last: number },
  tablesOf: (shot: Shot) => Promise<LoudnessTables>,
): Pictures {
  const scenes = new FilmScenes(source, tablesOf);
  let loaded: string | null = null;
  const composer = new Composer(
    (frame) => scenes.at(frame),
    size,
    async ({ scene, frame }) => {
      if (loaded !== scene) {
        loaded = null;
        const ready = await scenes.scene(scene);
        await loadScene(browser, ready, size).catch((error: unknown) => {
          // What a shot shows and nobody can read is the caller's to bring: told in one line.
          const [line] = (error instanceof Error ? error.message : String(error)).split('\n');
          throw new Misuse(line!.replace(/^Error: /, ''));
        });
        loaded = scene;
      }
      return browser.drawAhead(frame);
    },
  );
  const frames = Array.from({ length: last - first + 1 }, (_, i) => first + i);
  let drawing = composer.frame(frames, first);
  for (const frame of frames) {
    const { picture } = await drawing;
    if (frame < last) drawing = composer.frame(frames, frame + 1);
    drawing.catch(() => undefined);
    const raw = await picture;
    process.stderr.write(`\rframe ${frame} (${frame - first + 1} of ${frames.length})`);
    yield pictureRaw(frame, raw);
  }
  process.stderr.write('\n');
}

/** Writes what is heard of a film, without its picture. */
async function writeSound(
  { heard, shots }: FilmFiles,
  folder: string,
  range: { readonly first: number; readonly last: number },
  out: string,
): Promise<void> {
  const work = makeFolder();
  try {
    const loudness = await loudnessBeside(heard, folder, work);
    const sound = await mixedSound(heard, loudness, range, work, (hash) =>
      readBeside(folder, hash, ...shots),
    );
    if (sound === null) throw new Misuse('It has no sound that is heard.');
    await copyFile(sound, out);
  } finally {
    await rm(work, { recursive: true, force: true });
  }
}
