import { execFile } from 'node:child_process';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { wavOf } from '../core/format/wav';
import { BrokenMedia, decodeSound, MIX_RATE, probeSound } from './index';

const run = promisify(execFile);
let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'whirl-decode-'));
});
afterAll(() => rm(folder, { recursive: true }));

const tone = (amplitude: number): Float32Array =>
  Float32Array.from({ length: 48_000 }, (_, i) => amplitude * Math.sin((2 * Math.PI * 440 * i) / 48_000));

it('a WAV of one second has the sizes of the format, and comes back as it was', async () => {
  const [left, right] = [tone(0.5), tone(0.25)];
  const bytes = Buffer.from(wavOf([left, right], MIX_RATE));
  // RIFF WAVE, 1 s of two channels of 16 bits at 48 kHz: 192,000 bytes of data in a file of 192,044.
  expect(bytes).toHaveLength(192_044);
  expect(bytes.readUInt32LE(4)).toBe(192_036);
  expect(bytes.readUInt32LE(28)).toBe(192_000);
  expect(bytes.readUInt16LE(32)).toBe(4);
  expect(bytes.readUInt32LE(40)).toBe(192_000);
  const path = join(folder, 'two.wav');
  await writeFile(path, bytes);
  expect(await probeSound(path)).toEqual({ seconds: 1, channels: 2, rate: 48_000 });
  const read = await decodeSound(path, 2, MIX_RATE, 10);
  for (const i of [1, 999, 30_000]) {
    expect(read[0]![i]).toBeCloseTo(left[i]!, 4);
    expect(read[1]![i]).toBeCloseTo(right[i]!, 4);
  }
  const [mean] = await decodeSound(path, 1, MIX_RATE, 10);
  expect(mean![999]).toBeCloseTo((left[999]! + right[999]!) / 2, 4);
});

it('one channel is as loud in both of two', async () => {
  const path = join(folder, 'both.wav');
  await writeFile(path, wavOf([tone(0.5), tone(0.5)], MIX_RATE));
  const one = join(folder, 'one.wav');
  await run('ffmpeg', ['-v', 'error', '-i', path, '-map_channel', '0.0.0', one]);
  expect((await probeSound(one)).channels).toBe(1);
  const read = await decodeSound(one, 2, MIX_RATE, 10);
  expect(read).toHaveLength(2);
  for (const side of read) expect(side[999]).toBeCloseTo(tone(0.5)[999]!, 4);
});

it('what is too loud is cut, not turned over', () => {
  const bytes = Buffer.from(wavOf([Float32Array.of(2, -2), Float32Array.of(1, -1)], MIX_RATE));
  expect([44, 46, 48, 50].map((at) => bytes.readInt16LE(at))).toEqual([32_767, 32_767, -32_767, -32_767]);
});

it('says that a file is no sound, or broken', async () => {
  const path = join(folder, 'words.wav');
  await writeFile(path, 'nothing of the kind');
  await expect(probeSound(path)).rejects.toBeInstanceOf(BrokenMedia);
  const whole = join(folder, 'two.wav');
  await writeFile(join(folder, 'head.wav'), (await readFile(whole)).subarray(0, 30));
  await expect(decodeSound(join(folder, 'head.wav'), 1, MIX_RATE, 10)).rejects.toBeInstanceOf(BrokenMedia);
});
