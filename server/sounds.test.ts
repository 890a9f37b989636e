import { execFile } from 'node:child_process';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { build as bundle } from 'rolldown';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { levelAt } from '../core/evaluate';
import { wavOf } from '../core/format/wav';
import { decodeSound } from '../decode';
import { SOUND_READ_RATE, type SoundFacts } from '../wire';
import { readSound } from './sound/read-sound';
import { freeSounds, readLoudness } from './store/sounds';
import { startTestServer, testProgram, type TestServer } from './testing';

const run = promisify(execFile);
const reader = testProgram('sound-reader');
let server: TestServer;
let folder: string;
beforeAll(async () => {
  server = await startTestServer();
  folder = await mkdtemp(join(tmpdir(), 'whirl-sounds-'));
  await bundle({
    input: fileURLToPath(new URL('./sound/reader.ts', import.meta.url)),
    platform: 'node',
    logLevel: 'warn',
    external: /^(?!\.|\/|[A-Za-z]:)/,
    output: { file: reader, format: 'esm' },
  });
});
afterAll(async () => {
  await server.stop();
  await rm(folder, { recursive: true });
});

/** A tone of two seconds, at a frequency that no other test uses. */
const tone = (hz: number): Buffer => {
  const samples = Float32Array.from(
    { length: 88_200 },
    (_, i) => 0.5 * Math.sin((2 * Math.PI * hz * i) / 44_100),
  );
  return Buffer.from(wavOf([samples, samples], 44_100));
};

async function keep(bytes: Uint8Array): Promise<{ status: number; body: Record<string, unknown> }> {
  const response = await fetch(`${server.url}/api/assets`, { method: 'POST', body: Uint8Array.from(bytes) });
  return { status: response.status, body: (await response.json()) as Record<string, unknown> };
}

const factsOf = async (hash: string): Promise<SoundFacts> =>
  (await server.call<SoundFacts & Record<string, unknown>>('GET', `/sounds/${hash}`)).body;

const jobsOf = async (hash: string): Promise<{ locked_by: string | null }[]> =>
  (
    await server.db.query<{ locked_by: string | null }>(
      `select j.locked_by from graphile_worker._private_jobs j where j.payload ->> 'hash' = $1`,
      [hash],
    )
  ).rows;

describe('a sound', () => {
  it('is kept, waits to be read by a job, and then has its tables', async () => {
    const kept = await keep(tone(1000));
    expect(kept).toMatchObject({ status: 201, body: { type: 'audio/wav', width: null } });
    const hash = kept.body.hash as string;
    expect(await factsOf(hash)).toMatchObject({ state: 'waiting', seconds: 2, channels: 2, samples: null });
    expect((await server.call('GET', `/sounds/${hash}/peaks`)).status).toBe(409);
    expect(await jobsOf(hash)).toHaveLength(1);
    await readSound(server.db, server.files, hash, false, reader);
    expect(await factsOf(hash)).toMatchObject({ state: 'ready', samples: 88_200, struck: false });
    const peaks = await fetch(`${server.url}/api/sounds/${hash}/peaks`);
    const bytes = new Int8Array(await peaks.arrayBuffer());
    // Half of full scale is 63 or 64 of 127.
    expect(Math.max(...bytes)).toBeGreaterThan(60);
    expect(Math.max(...bytes)).toBeLessThan(67);
    const table = (await readLoudness(server.db, hash))!;
    expect(table.seconds).toBe(2);
    expect(levelAt(table, 1, 800, 1250)).toBeCloseTo(0.5, 2);
    // The same file again is the same sound, and is not read again.
    expect((await keep(tone(1000))).body.hash).toBe(hash);
    expect(await factsOf(hash)).toMatchObject({ state: 'ready' });
  });
  it.each(['mp3', 'ogg', 'flac'])(
    'may be %s, told from its bytes, and is as loud as it was',
    async (kind) => {
      const wav = join(folder, `${kind}.wav`);
      await writeFile(wav, tone(2000));
      const path = join(folder, `tone.${kind}`);
      await run('ffmpeg', ['-v', 'error', '-i', wav, path]);
      const kept = await keep(await readFile(path));
      expect(kept.status).toBe(201);
      expect(kept.body.type).toBe({ mp3: 'audio/mpeg', ogg: 'audio/ogg', flac: 'audio/flac' }[kind]);
      const hash = kept.body.hash as string;
      expect((await factsOf(hash)).seconds).toBeCloseTo(2, 0);
      await readSound(server.db, server.files, hash, false, reader);
      expect(levelAt((await readLoudness(server.db, hash))!, 1, 1600, 2500)).toBeCloseTo(0.5, 1);
      // What is read is what ffmpeg itself makes of it.
      const raw = join(folder, `${kind}.f32`);
      await run('ffmpeg', [
        '-v',
        'error',
        '-y',
        '-i',
        path,
        '-ar',
        String(SOUND_READ_RATE),
        '-f',
        'f32le',
        raw,
      ]);
      const own = await readFile(raw);
      const [samples] = await decodeSound(path, 1, SOUND_READ_RATE, 10);
      // Both sides in turn.
      expect(samples!.length).toBe(own.length / 8);
      for (const i of [100, 20_000, 60_000])
        expect(samples![i]).toBeCloseTo((own.readFloatLE(i * 8) + own.readFloatLE(i * 8 + 4)) / 2, 6);
    },
  );
  it('is refused with the reason where it is broken', async () => {
    const head = tone(500).subarray(0, 44);
    const broken = await keep(Buffer.concat([head.subarray(0, 20), Buffer.alloc(400, 7)]));
    expect(broken).toMatchObject({ status: 422, body: { code: 'broken-sound' } });
    expect(broken.body.detail).toMatch(/^The sound is broken: .*Save it again/);
    expect((await keep(Buffer.from('OggS nothing of the kind'))).body.code).toBe('broken-sound');
    expect((await server.call('GET', `/sounds/${'0'.repeat(64)}`)).status).toBe(404);
  });
  it('says why it could not be read once it is given up, and is read again when it is brought in again', async () => {
    const bytes = tone(700);
    const hash = (await keep(bytes)).body.hash as string;
    const missing = join(folder, 'no-reader.mjs');
    await expect(readSound(server.db, server.files, hash, false, missing)).rejects.toThrow();
    expect(await factsOf(hash)).toMatchObject({ state: 'waiting' });
    await readSound(server.db, server.files, hash, true, missing);
    const facts = await factsOf(hash);
    expect(facts.state).toBe('broken');
    expect(facts.reason).toBeTruthy();
    await keep(bytes);
    expect(await factsOf(hash)).toMatchObject({ state: 'waiting', reason: null });
  });
  it('is not lost with a server that dies while it reads: the next one lets go of the work', async () => {
    const hash = (await keep(tone(900))).body.hash as string;
    await server.db.query(
      `update graphile_worker._private_jobs set locked_at = now(), locked_by = 'dead' where payload ->> 'hash' = $1`,
      [hash],
    );
    await freeSounds(server.db);
    expect(await jobsOf(hash)).toEqual([{ locked_by: null }]);
  });
});
