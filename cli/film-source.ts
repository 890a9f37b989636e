import { randomUUID } from 'node:crypto';
import { readdir, readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { basename, dirname, join } from 'node:path';
import opentype from 'opentype.js';
import { budgetTrouble } from '../core/check';
import { parseShot, type Shot } from '../core/document';
import { compile } from '../core/evaluate';
import { readOtio, TimelineRefused, type TimelineShot, type Unlettered } from '../core/format/otio';
import { withInnerSounds } from '../core/inset';
import { fontNamed, lettered } from '../core/lettering';
import {
  REEL_FIRST,
  reelFrames,
  reelTrouble,
  shotsOfReel,
  soundShot,
  TITLE_LINES,
  type Reel,
  type TitleItem,
} from '../core/reel';
import type { Rate } from '../core/time';
import type { FilmSource } from '../render/film-scenes';
import { innerBeside } from './beside';
import { Misuse, readShotFile } from './misuse';

/** What a film is made from, read from files. */
export interface FilmFiles {
  readonly source: FilmSource;
  readonly first: number;
  readonly last: number;
  readonly width: number;
  readonly height: number;
  readonly rate: Rate;
  /** All that is heard, as one shot with the same frames. */
  readonly heard: Shot;
  /** The shots whose pictures, meshes and sounds may be asked for. */
  readonly shots: readonly Shot[];
  /** What is otherwise than the file says, in sentences. */
  readonly notes: readonly string[];
}

/** What is rendered of a file: a timeline, by its ending, or a shot. @throws Misuse */
export const filmFiles = (path: string | undefined): Promise<FilmFiles> =>
  path?.toLowerCase().endsWith('.otio') ? reelFiles(path) : shotFiles(path);

function refuseUndrawable(shot: Shot, name: string): void {
  if (shot.setup.camera === null) throw new Misuse(`${name} has no camera.`);
  const tooMuch = budgetTrouble(compile(shot));
  if (tooMuch) throw new Misuse(tooMuch);
}

async function shotFiles(path: string | undefined): Promise<FilmFiles> {
  const shot = await readShotFile(path);
  refuseUndrawable(shot, 'The shot');
  const inner = await innerBeside(shot, dirname(path!));
  const { first, last, width, height, rate } = shot.setup;
  return {
    source: { document: shot, reel: null, inner: Object.fromEntries(inner) },
    ...{ first, last, width, height, rate },
    heard: withInnerSounds(shot, { shotOf: (id) => inner.get(id) ?? null }),
    shots: [shot, ...inner.values()],
    notes: [],
  };
}

/** Shots that lie beside a timeline, each named as its file, by ids of the moment. What is no shot is left alone. */
async function shotsBeside(folder: string): Promise<Map<string, { name: string; shot: Shot }>> {
  const found = new Map<string, { name: string; shot: Shot }>();
  for (const file of (await readdir(folder)).filter((name) => name.endsWith('.json')).sort()) {
    const text = await readFile(join(folder, file), 'utf8').catch(() => '');
    try {
      const parsed = parseShot(JSON.parse(text));
      if (parsed.ok) found.set(randomUUID(), { name: basename(file, '.json'), shot: parsed.shot });
    } catch {
      // Some other file.
    }
  }
  return found;
}

async function fontOf(id: string): Promise<opentype.Font> {
  const bytes = await readFile(createRequire(import.meta.url).resolve(fontNamed(id).file));
  return opentype.parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength));
}

/** Letters of a title, line by line. @throws Misuse where a line cannot be lettered */
async function lettersOf({ text, font }: Unlettered): Promise<TitleItem['lines']> {
  const name = font ?? fontNamed('').id;
  const read = await fontOf(name);
  return text
    .split('\n')
    .slice(0, TITLE_LINES)
    .filter((line) => line.trim() !== '')
    .map((line) => {
      const made = lettered(line, name, read);
      if (!made.ok) throw new Misuse(`The title "${line}": ${made.reason}`);
      return { text: made.text, outline: made.outline };
    });
}

async function reelFiles(path: string): Promise<FilmFiles> {
  const text = await readFile(path, 'utf8').catch((error: unknown) => {
    throw new Misuse(`${path} cannot be read: ${error instanceof Error ? error.message : String(error)}`);
  });
  const folder = dirname(path);
  const beside = await shotsBeside(folder);
  const known = new Map<string, TimelineShot>(
    [...beside].map(([id, { name, shot }]) => [id, { name, ...shot.setup }]),
  );
  let read;
  try {
    read = readOtio(text, known, () => `itm_${randomUUID().slice(0, 13)}`);
  } catch (error) {
    if (!(error instanceof TimelineRefused)) throw error;
    throw new Misuse(`${path}: ${error.message}`);
  }
  const letters = new Map<string, TitleItem['lines']>();
  for (const title of read.unlettered) letters.set(title.id, await lettersOf(title));
  const reel: Reel = {
    ...read.reel,
    items: read.reel.items.map((item) =>
      item.kind === 'title' ? { ...item, lines: letters.get(item.id) ?? item.lines } : item,
    ),
  };
  const trouble = reelFrames(reel) === 0 ? 'The timeline is empty.' : reelTrouble(reel);
  if (trouble) throw new Misuse(`${path}: ${trouble}`);
  const shots = new Map<string, Shot>();
  for (const id of shotsOfReel(reel)) {
    const { name, shot } = beside.get(id)!;
    refuseUndrawable(shot, `The shot "${name}"`);
    shots.set(id, shot);
    await innerBeside(shot, folder, shots);
  }
  const heard = soundShot(reel, (id) => shots.get(id) ?? null);
  return {
    source: { document: null, reel, inner: Object.fromEntries(shots) },
    first: REEL_FIRST,
    last: reelFrames(reel),
    ...{ width: reel.width, height: reel.height, rate: reel.rate },
    heard,
    shots: [heard, ...shots.values()],
    notes: read.notes,
  };
}
