import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Shot } from '../core/document';
import { wavOf } from '../core/format/wav';
import { emptyShot } from '../core/testing/random-shot';
import { LastingError } from './lasting-error';
import { mixedSound } from './mixed-sound';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'whirl-mix-'));
});
afterAll(() => rm(folder, { recursive: true }));

const tone = Float32Array.from(
  { length: 48_000 },
  (_, i) => 0.5 * Math.sin((2 * Math.PI * 440 * i) / 48_000),
);
const shot: Shot = {
  ...emptyShot(),
  setup: { ...emptyShot().setup, first: 1, last: 48 },
  sounds: {
    snd_a: { name: 'Quay bell', asset: 'a'.repeat(64), start: 25, values: {}, tracks: {}, links: {} },
  },
};

it('is where the shot has it, from the first frame of the film on', async () => {
  const path = await mixedSound(shot, {}, { first: 13, last: 48 }, folder, () =>
    Promise.resolve(wavOf([tone, tone], 48_000)),
  );
  const bytes = await readFile(path!);
  // Thirty-six frames of a twenty-fourth of a second; half a second until the bell.
  expect((bytes.length - 44) / 4).toBe(72_000);
  const loudest = (from: number, to: number): number => {
    let most = 0;
    for (let i = from; i < to; i++) most = Math.max(most, Math.abs(bytes.readInt16LE(44 + i * 4)));
    return most / 32_767;
  };
  expect(loudest(0, 23_990)).toBe(0);
  expect(loudest(24_000, 24_200)).toBeCloseTo(0.5, 2);
});

it('whose file was deleted under the shot ends the film with its name; one that is muted is not missed', async () => {
  const gone = (): Promise<null> => Promise.resolve(null);
  const film = mixedSound(shot, {}, { first: 1, last: 48 }, folder, gone);
  await expect(film).rejects.toThrow(LastingError);
  await expect(film).rejects.toThrow('The file of the sound "Quay bell" is missing.');
  const muted: Shot = { ...shot, sounds: { snd_a: { ...shot.sounds.snd_a!, muted: true } } };
  expect(await mixedSound(muted, {}, { first: 1, last: 48 }, folder, gone)).toBeNull();
});
