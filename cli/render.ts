import { mkdir } from 'node:fs/promises';
import { dirname } from 'node:path';
import { parseArgs } from 'node:util';
import { SAMPLE_COUNTS } from '../core/document';
import { FILM_PRESETS, filmTrouble, nearestSide, type FilmPreset } from '../core/film';
import { namedFilm } from './film-name';
import { filmFiles } from './film-source';
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
  const range = { first: from, last: to };
  // What draws and mixes is loaded when everything that was asked for is known to be in order.
  const { writeFilm, writeSound } = await import('./render-film');
  if (format === 'wav') await writeSound(files, folder, range, out);
  else
    await writeFilm(files, folder, range, { width, height, alpha, samples, effects, format, quality }, out);
}
