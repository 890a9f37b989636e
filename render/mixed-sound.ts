import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Shot } from '../core/document';
import { compile, type LoudnessTables } from '../core/evaluate';
import { mix, type Heard } from '../core/sound';
import { wavOf } from '../core/format/wav';
import { decodeSound, MIX_RATE } from '../decode';
import { LastingError } from './lasting-error';

/** Longest file of sound that is read for a mix, seconds. */
const MOST_SECONDS = 3600;

/** Sounds that are heard in a shot, with the hash of their bytes. */
function heardIn(shot: Shot): { id: string; name: string; asset: string }[] {
  return Object.entries(shot.sounds).flatMap(([id, { name, asset, muted }]) =>
    asset && !muted ? [{ id, name, asset }] : [],
  );
}

/**
 * Mixes what is heard from one frame to another into a WAV file in a folder.
 * @param bytesOf bytes of a stored file, or null where they are gone
 * @returns the file, or `null` where the shot has no sound
 * @throws LastingError naming a sound whose file is missing
 */
export async function mixedSound(
  shot: Shot,
  loudness: LoudnessTables,
  range: { readonly first: number; readonly last: number },
  folder: string,
  bytesOf: (hash: string) => Promise<Uint8Array | null>,
): Promise<string | null> {
  const sounds = heardIn(shot);
  if (sounds.length === 0) return null;
  const files: Record<string, Heard> = {};
  const read = new Map<string, Heard>();
  for (const { id, name, asset } of sounds) {
    let heard = read.get(asset);
    if (!heard) {
      const bytes = await bytesOf(asset);
      if (!bytes) throw new LastingError(`The file of the sound "${name}" is missing.`);
      const path = join(folder, asset);
      await writeFile(path, bytes);
      heard = { channels: await decodeSound(path, 2, MIX_RATE, MOST_SECONDS), rate: MIX_RATE };
      read.set(asset, heard);
    }
    files[id] = heard;
  }
  const path = join(folder, 'sound.wav');
  await writeFile(
    path,
    wavOf(mix(compile(shot, loudness), files, range.first, range.last, MIX_RATE), MIX_RATE),
  );
  return path;
}
