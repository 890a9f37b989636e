import { execFile } from 'node:child_process';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { unzipSync } from 'fflate';
import { PNG } from 'pngjs';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { assembleFilm, assembleZip, frameFileName, type Pictures } from './assemble';
import { LastingError } from './lasting-error';

const run = promisify(execFile);
let folder: string;
beforeAll(async () => void (folder = await mkdtemp(join(tmpdir(), 'whirl-films-'))));
afterAll(() => rm(folder, { recursive: true }));

const SIZE = { width: 64, height: 36 };

/** A plain picture, brighter from frame to frame; its left half can be seen through where `alpha` is asked. */
function picture(frame: number, alpha = false): Buffer {
  const png = new PNG({ ...SIZE });
  for (let i = 0; i < SIZE.width * SIZE.height; i++) {
    const clear = alpha && i % SIZE.width < SIZE.width / 2;
    png.data.set([frame * 20, 100, 200 - frame * 10, clear ? 0 : 255], i * 4);
  }
  return PNG.sync.write(png);
}

async function* pictures(first: number, last: number, alpha = false): Pictures {
  for (let frame = first; frame <= last; frame++)
    yield await Promise.resolve({ frame, picture: picture(frame, alpha) });
}

/** What ffprobe, which is no part of this, says of the pictures of a file. */
async function probe(file: string): Promise<Record<string, string>> {
  const { stdout } = await run('ffprobe', [
    ...['-v', 'error', '-count_frames', '-select_streams', 'v:0', '-show_streams', '-of', 'json', file],
  ]);
  return (JSON.parse(stdout) as { streams: Record<string, string>[] }).streams[0]!;
}

describe('films of drawn frames', () => {
  it.each([
    ['mp4', { num: 24, den: 1 }, '24/1', 'h264'],
    ['mp4', { num: 30000, den: 1001 }, '30000/1001', 'h264'],
    ['webm', { num: 25, den: 1 }, '25/1', 'vp9'],
  ] as const)(
    '%s at %o: every picture is one frame at the exact rate, with its colours named',
    async (format, rate, told, codec) => {
      const file = join(folder, `film-${rate.num}.${format}`);
      await assembleFilm(pictures(1, 7), rate, format, false, file);
      const facts = await probe(file);
      expect(facts).toMatchObject({ codec_name: codec, nb_read_frames: '7', r_frame_rate: told, ...SIZE });
      // ITU-R BT.709 in limited range, for players that would guess otherwise.
      expect(facts).toMatchObject({ color_space: 'bt709', color_range: 'tv' });
    },
  );
  it('a WebM with transparency keeps what can be seen through', async () => {
    const file = join(folder, 'clear.webm');
    await assembleFilm(pictures(1, 2, true), { num: 24, den: 1 }, 'webm', true, file);
    const still = join(folder, 'clear.png');
    await run('ffmpeg', ['-v', 'error', '-c:v', 'libvpx-vp9', '-i', file, '-frames:v', '1', '-y', still]);
    const { data } = PNG.sync.read(await readFile(still));
    const alphaAt = (x: number): number => data[(18 * SIZE.width + x) * 4 + 3]!;
    expect(alphaAt(8)).toBeLessThan(20);
    expect(alphaAt(56)).toBeGreaterThan(235);
  });
  it('a finer film takes more room than a small one', async () => {
    const sizes = [];
    for (const quality of ['best', 'small'] as const) {
      const file = join(folder, `${quality}.mp4`);
      await assembleFilm(pictures(1, 9), { num: 24, den: 1 }, 'mp4', false, file, quality);
      sizes.push((await readFile(file)).length);
    }
    expect(sizes[0]).toBeGreaterThan(sizes[1]!);
  });
  it('says what the encoder said when it fails', async () => {
    const broken: Pictures = (async function* () {
      yield await Promise.resolve({ frame: 1, picture: Buffer.from('no picture') });
    })();
    const file = join(folder, 'broken.mp4');
    await expect(assembleFilm(broken, { num: 24, den: 1 }, 'mp4', false, file)).rejects.toThrow(/./);
  });
  it('are given up at once where there is no encoder, with what is missing', async () => {
    vi.stubEnv('PATH', folder);
    const file = join(folder, 'none.mp4');
    const made = assembleFilm(pictures(1, 2), { num: 24, den: 1 }, 'mp4', false, file);
    await expect(made).rejects.toThrow(LastingError);
    await expect(made).rejects.toThrow("Install Debian's ffmpeg");
    vi.unstubAllEnvs();
  });
  it('a zip holds each frame under its number, byte for byte', async () => {
    const file = join(folder, 'frames.zip');
    await assembleZip(pictures(9, 11), 'Full ride', file);
    const entries = unzipSync(await readFile(file));
    expect(Object.keys(entries)).toHaveLength(3);
    const [first] = Object.values(entries);
    expect(Buffer.from(first!).equals(picture(9))).toBe(true);
    const numbers = Object.keys(entries).map((name) => Number(/(\d+)\.png$/.exec(name)![1]));
    expect(numbers).toEqual([9, 10, 11]);
  });
  it('frames are named so that they sort and every system takes them', () => {
    expect(frameFileName('Ring: 1/2', 7)).toBe('Ring_ 1_2_0007.png');
    expect(frameFileName('Ring', -12)).toBe('Ring_-0012.png');
  });
});
