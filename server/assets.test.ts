import { execFile } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { promisify } from 'node:util';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { CRATE_OBJ, glbOf, triangleGltf } from '../core/testing/mesh-files';
import { startTestServer, type TestServer } from './testing';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.stop());

async function send(bytes: Uint8Array): Promise<{ status: number; body: Record<string, unknown> }> {
  const response = await fetch(`${server.url}/api/assets`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: bytes as BodyInit,
  });
  return { status: response.status, body: (await response.json()) as Record<string, unknown> };
}
const blank = (width: number, height: number, alpha: number) =>
  sharp({ create: { width, height, channels: 4, background: { r: 200, g: 40, b: 30, alpha } } });
const stored = async (): Promise<number> =>
  Number((await server.db.query<{ count: string }>('select count(*) as count from asset')).rows[0]!.count);

describe('files', () => {
  it('are stored once by their bytes, measured, and given back as they were', async () => {
    const png = await blank(30, 20, 0.5).png().toBuffer();
    const first = await send(png);
    const count = await stored();
    expect(first).toMatchObject({
      status: 201,
      body: {
        hash: createHash('sha256').update(png).digest('hex'),
        type: 'image/png',
        width: 30,
        height: 20,
        alpha: true,
      },
    });
    expect(await send(png)).toEqual(first);
    expect(await stored()).toBe(count);
    const back = await fetch(`${server.url}/api/assets/${first.body.hash as string}`);
    expect(Buffer.from(await back.arrayBuffer()).equals(png)).toBe(true);
    expect(back.headers.get('content-type')).toBe('image/png');
    expect(back.headers.get('x-content-type-options')).toBe('nosniff');
    expect(back.headers.get('cache-control')).toContain('immutable');
  });

  it('are given out in ranges', async () => {
    const png = await blank(40, 30, 1).png({ compressionLevel: 0 }).toBuffer();
    const { body } = await send(png);
    const ask = (range: string) =>
      fetch(`${server.url}/api/assets/${body.hash as string}`, { headers: { Range: range } });
    const middle = await ask('bytes=100-299');
    expect(middle.status).toBe(206);
    expect(middle.headers.get('content-range')).toBe(`bytes 100-299/${png.length}`);
    expect(Buffer.from(await middle.arrayBuffer()).equals(png.subarray(100, 300))).toBe(true);
    const end = await ask('bytes=-50');
    expect(Buffer.from(await end.arrayBuffer()).equals(png.subarray(-50))).toBe(true);
    expect((await ask(`bytes=${png.length}-`)).status).toBe(416);
    expect((await ask('bytes=0-')).headers.get('accept-ranges')).toBe('bytes');
  });

  it('come in piece by piece: a sound of 150 MB takes the server little memory, and leaves no work behind', async () => {
    const seconds = 1700;
    const head = Buffer.alloc(44);
    const size = seconds * 88_200;
    head.write('RIFF', 0);
    head.writeUInt32LE(36 + size, 4);
    head.write('WAVEfmt ', 8);
    head.writeUInt32LE(16, 16);
    head.writeUInt16LE(1, 20);
    head.writeUInt16LE(1, 22);
    head.writeUInt32LE(44_100, 24);
    head.writeUInt32LE(88_200, 28);
    head.writeUInt16LE(2, 32);
    head.writeUInt16LE(16, 34);
    head.write('data', 36);
    head.writeUInt32LE(size, 40);
    const piece = Buffer.alloc(88_200 * 10, 7);
    async function* wave(): AsyncGenerator<Buffer> {
      yield head;
      for (let at = 0; at < seconds; at += 10) {
        most = Math.max(most, process.memoryUsage().arrayBuffers);
        yield piece;
        await new Promise(setImmediate);
      }
    }
    const before = process.memoryUsage().arrayBuffers;
    let most = before;
    const response = await fetch(`${server.url}/api/assets`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/octet-stream' },
      body: Readable.toWeb(Readable.from(wave())),
      duplex: 'half',
    } as RequestInit);
    expect(response.status).toBe(201);
    expect(await response.json()).toMatchObject({ type: 'audio/wav', size: size + 44 });
    expect((most - before) / 1024 / 1024).toBeLessThan(60);
    expect((await readdir(tmpdir())).filter((name) => name.startsWith(`whirl-work-${process.pid}-`))).toEqual(
      [],
    );
  });

  it('say whether a picture can be seen through: an alpha channel that is full everywhere does not count', async () => {
    expect((await send(await blank(8, 8, 1).png().toBuffer())).body.alpha).toBe(false);
    expect((await send(await blank(8, 8, 1).jpeg().toBuffer())).body).toMatchObject({
      type: 'image/jpeg',
      alpha: false,
    });
    expect((await send(await blank(8, 8, 0).webp({ lossless: true }).toBuffer())).body).toMatchObject({
      type: 'image/webp',
      alpha: true,
    });
  });

  it('of 20,000 pixels are refused with their size and the limit', async () => {
    const { status, body } = await send(await blank(20_000, 4, 1).png().toBuffer());
    expect(status).toBe(422);
    expect(body.detail).toContain('20000 by 4 pixels: at most 8192');
  });

  it('that are broken, cut off, empty or of no known kind are refused and leave nothing', async () => {
    const count = await stored();
    const png = await blank(300, 300, 0.5).png({ compressionLevel: 0 }).toBuffer();
    for (const [bytes, status, words] of [
      [png.subarray(0, png.length / 2), 422, 'The picture is broken'],
      [new Uint8Array(), 422, 'The file is empty'],
      [
        new TextEncoder().encode('<svg xmlns="http://www.w3.org/2000/svg"><script>1</script></svg>'),
        415,
        'no file that can be kept',
      ],
      [new TextEncoder().encode('hello'), 415, 'no file that can be kept'],
      [glbOf({ ...triangleGltf(), buffers: [] }), 422, 'Buffer 0 is missing'],
    ] as const) {
      const answer = await send(bytes);
      expect([answer.status, answer.body.detail]).toEqual([status, expect.stringContaining(words)]);
    }
    expect(await stored()).toBe(count);
  });

  it('of meshes are kept with their type', async () => {
    expect((await send(glbOf(triangleGltf()))).body).toMatchObject({
      type: 'model/gltf-binary',
      width: null,
    });
    expect((await send(new TextEncoder().encode(CRATE_OBJ))).body).toMatchObject({ type: 'model/obj' });
  });

  it('of videos are kept with their rate and how many pictures they have; what cannot be shown is refused', async () => {
    const folder = await mkdtemp(join(tmpdir(), 'whirl-videos-'));
    const written = async (name: string, rate: string, more: readonly string[]): Promise<Buffer> => {
      const path = join(folder, name);
      const source = ['-f', 'lavfi', '-i', `testsrc=size=160x96:rate=${rate}:duration=2`];
      await promisify(execFile)('ffmpeg', ['-v', 'error', '-y', ...source, ...more, path]);
      return readFile(path);
    };
    try {
      const h264 = ['-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-movflags', '+faststart'];
      const mp4 = await written('quay.mp4', '30000/1001', h264);
      expect(await send(mp4)).toMatchObject({
        status: 201,
        body: {
          ...{ type: 'video/mp4', width: 160, height: 96, alpha: false },
          video: { rate: { num: 30_000, den: 1001 }, pictures: 60 },
        },
      });
      const webm = await written('quay.webm', '25', ['-c:v', 'libvpx-vp9']);
      expect((await send(webm)).body).toMatchObject({
        type: 'video/webm',
        video: { rate: { num: 25, den: 1 }, pictures: 50 },
      });
      // Pixels that are twice as wide as high, and a video that is shown lying on its side.
      const wide = await written('wide.mp4', '25', [...h264, '-vf', 'setsar=2']);
      expect((await send(wide)).body).toMatchObject({ width: 320, height: 96 });
      // Two of every four pictures left out: no even rate, counted at 60 a second.
      const holes = await written('holes.mp4', '24', [
        ...h264,
        '-vf',
        "select='gt(mod(n,4),1)'",
        '-vsync',
        'vfr',
      ]);
      expect((await send(holes)).body.video).toEqual({ rate: { num: 60, den: 1 }, pictures: 115 });
      const count = await stored();
      for (const [bytes, words] of [
        [mp4.subarray(0, mp4.length - 2000), 'it is cut off'],
        [webm.subarray(0, webm.length - 2000), 'it is cut off'],
        [mp4.subarray(0, 200), 'The video cannot be taken'],
        [await written('old.mp4', '25', ['-c:v', 'mpeg4']), 'coded as mpeg4'],
        [await written('tone.mp4', '25', ['-f', 'lavfi', '-i', 'sine=d=1', '-map', '1:a']), 'no video in it'],
      ] as const) {
        const { status, body } = await send(bytes);
        expect([status, body.detail]).toEqual([422, expect.stringContaining(words)]);
      }
      expect(await stored()).toBe(count);
    } finally {
      await rm(folder, { recursive: true });
    }
  });

  it('that are too large are refused while they come in', async () => {
    const { status, body } = await send(new Uint8Array(201 * 1024 * 1024));
    expect(status).toBe(413);
    expect(body.detail).toContain('200 MB');
  });

  it('that are not there are said to be gone', async () => {
    expect((await fetch(`${server.url}/api/assets/${'0'.repeat(64)}`)).status).toBe(404);
  });
});

describe('the demo', () => {
  it('is loaded once, takes up shots that came later, and leaves deleted ones away', async () => {
    const { seedDemo } = await import('./seed');
    const { DEMO_SHOTS } = await import('../demo');
    const names = async (): Promise<string[]> =>
      (
        await server.db.query<{ name: string }>(
          `select s.name from shot s join project p on p.id = s.project_id
           where p.name = 'Harbour Roundabout' and s.deleted_at is null order by s.name`,
        )
      ).rows.map((row) => row.name);
    await server.db.query(`delete from setting where key = 'demo'`);
    await seedDemo(server.db, server.files);
    const all = DEMO_SHOTS.map((shot) => shot.name).sort();
    expect(await names()).toEqual(all);
    await server.db.query(`update shot set deleted_at = now() where name = 'Ticket box'`);
    await seedDemo(server.db, server.files);
    expect(await names()).toEqual(all.filter((name) => name !== 'Ticket box'));
    // A database of the first version knows only that the demo was loaded.
    await server.db.query('delete from shot where name = any($1)', [
      all.filter((name) => name !== 'Full ride'),
    ]);
    await server.db.query(`update setting set value = 'true' where key = 'demo'`);
    await seedDemo(server.db, server.files);
    expect(await names()).toEqual(all);
  });
});
