import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { readFile, writeFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { picturesOf, type Shot } from '../core/document';
import type { LoudnessTables } from '../core/evaluate';
import { loudnessOf } from '../core/sound';
import { decodeSound } from '../decode';
import { SOUND_READ_RATE, SOUND_TAKEN_SECONDS } from '../wire';
import { Misuse, readShotFile } from './misuse';

/** Endings under which a sound may lie beside a shot. */
const SOUND_ENDINGS = ['wav', 'mp3', 'ogg', 'flac'];

/** Bytes of a picture, video, mesh or sound of a shot: a file beside it, named by its hash or as it was brought in. */
export async function readBeside(
  folder: string,
  hash: string,
  ...shots: readonly Shot[]
): Promise<Uint8Array> {
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
export async function innerBeside(
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

/** Loudness of a shot's sounds, read from the files beside it. */
export async function loudnessBeside(shot: Shot, folder: string, work: string): Promise<LoudnessTables> {
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
