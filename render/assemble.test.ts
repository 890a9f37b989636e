import { execFile } from 'node:child_process';
import { mkdtemp, readdir, readFile, readlink, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { unzipSync } from 'fflate';
import { PNG } from 'pngjs';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { filmFormat } from '../core/film';
import { assemble, assembleFilm, assembleZip, frameFileName } from './assemble';
import { LastingError } from './lasting-error';
import { picturePng, type Pictures } from './raw-frame';

const run = promisify(execFile);
let folder: string;
beforeAll(async () => void (folder = await mkdtemp(join(tmpdir(), 'whirl-films-'))));
afterAll(() => rm(folder, { recursive: true }));

const SIZE = { width: 64, height: 64 };

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
    yield await Promise.resolve(picturePng(frame, picture(frame, alpha)));
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
      await assembleFilm(pictures(1, 7), SIZE, rate, format, false, file);
      const facts = await probe(file);
      expect(facts).toMatchObject({ codec_name: codec, nb_read_frames: '7', r_frame_rate: told, ...SIZE });
      // ITU-R BT.709 in limited range, for players that would guess otherwise.
      expect(facts).toMatchObject({ color_space: 'bt709', color_range: 'tv' });
    },
  );
  it('a WebM with transparency keeps what can be seen through', async () => {
    const file = join(folder, 'clear.webm');
    await assembleFilm(pictures(1, 2, true), SIZE, { num: 24, den: 1 }, 'webm', true, file);
    const still = join(folder, 'clear.png');
    await run('ffmpeg', ['-v', 'error', '-c:v', 'libvpx-vp9', '-i', file, '-frames:v', '1', '-y', still]);
    const { data } = PNG.sync.read(await readFile(still));
    const alphaAt = (x: number): number => data[(32 * SIZE.width + x) * 4 + 3]!;
    expect(alphaAt(8)).toBeLessThan(20);
    expect(alphaAt(56)).toBeGreaterThan(235);
  });
  it('AV1, ProRes, GIF and WebP have every picture, at the rate, and last as long', async () => {
    const rate = { num: 24, den: 1 };
    for (const [format, codec, pixels] of [
      ['av1', 'av1', 'yuv420p'],
      ['mov', 'prores', 'yuv444p12le'],
      ['gif', 'gif', 'bgra'],
    ] as const) {
      const file = join(folder, `all-${format}.${filmFormat(format).ending}`);
      await assembleFilm(pictures(1, 48), SIZE, rate, format, false, file);
      const facts = await probe(file);
      expect(facts).toMatchObject({ codec_name: codec, pix_fmt: pixels, nb_read_frames: '48', ...SIZE });
      // GIF counts hundredths of a second.
      expect(Number(facts.duration)).toBeCloseTo(2, format === 'gif' ? 1 : 3);
      if (format !== 'gif') expect(facts).toMatchObject({ r_frame_rate: '24/1', color_space: 'bt709' });
    }
    const webp = join(folder, 'all.webp');
    await assembleFilm(pictures(1, 48), SIZE, rate, 'webp', false, webp, 'best');
    const { pages, delay, loop, width, pageHeight } = await sharp(webp, { animated: true }).metadata();
    expect({ pages, loop, width, pageHeight }).toEqual({ pages: 48, loop: 0, width: 64, pageHeight: 64 });
    expect(delay!.reduce((sum, ms) => sum + ms, 0) / 1000).toBeCloseTo(2, 1);
  });
  it('ProRes, WebP and GIF keep what can be seen through, and the colours of the rest', async () => {
    const half: Pictures = (async function* () {
      const png = new PNG({ ...SIZE });
      for (let i = 0; i < SIZE.width * SIZE.height; i++)
        png.data.set([255, 128, 64, i % SIZE.width < SIZE.width / 2 ? 128 : 255], i * 4);
      for (const frame of [1, 2]) yield await Promise.resolve(picturePng(frame, PNG.sync.write(png)));
    })();
    const file = join(folder, 'half.mov');
    await assembleFilm(half, SIZE, { num: 24, den: 1 }, 'mov', true, file);
    const still = join(folder, 'half.png');
    await run('ffmpeg', [
      ...['-v', 'error', '-i', file, '-frames:v', '1', '-vf', 'scale=in_color_matrix=bt709:in_range=tv'],
      ...['-pix_fmt', 'rgba', '-y', still],
    ]);
    const { data } = PNG.sync.read(await readFile(still));
    const at = (x: number): number[] => [...data.subarray((32 * 64 + x) * 4, (32 * 64 + x) * 4 + 4)];
    for (const [x, wanted] of [
      [8, [255, 128, 64, 128]],
      [56, [255, 128, 64, 255]],
    ] as const)
      at(x).forEach((code, i) => expect(Math.abs(code - wanted[i]!), `${x} ${i}`).toBeLessThanOrEqual(2));
    for (const format of ['webp', 'gif'] as const) {
      const clear = join(folder, `clear.${format}`);
      await assembleFilm(pictures(1, 2, true), SIZE, { num: 24, den: 1 }, format, true, clear, 'best');
      const { data: raw } = await sharp(clear).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
      expect(raw[(32 * 64 + 8) * 4 + 3]).toBe(0);
      expect(raw[(32 * 64 + 56) * 4 + 3]).toBe(255);
      expect(Math.abs(raw[(32 * 64 + 56) * 4]! - 20)).toBeLessThan(8);
    }
  });
  it('a picture is the frame as it was drawn, or a JPEG of it; sound is not asked for where there is none', async () => {
    const sound = vi.fn(() => Promise.resolve(null));
    const of = {
      ...SIZE,
      rate: { num: 24, den: 1 },
      alpha: false,
      quality: 'best',
      name: 'Ride',
      sound,
    } as const;
    const png = join(folder, 'one.png');
    await assemble(pictures(3, 3), { ...of, format: 'still' }, png);
    expect((await readFile(png)).equals(picture(3))).toBe(true);
    const jpeg = join(folder, 'one.jpg');
    await assemble(pictures(3, 3), { ...of, format: 'jpeg' }, jpeg);
    const { data, info } = await sharp(jpeg).raw().toBuffer({ resolveWithObject: true });
    expect(info).toMatchObject({ width: 64, height: 64 });
    [60, 100, 170].forEach((code, i) => expect(Math.abs(data[i]! - code)).toBeLessThanOrEqual(2));
    await assemble(pictures(1, 2), { ...of, format: 'gif' }, join(folder, 'quiet.gif'));
    expect(sound).not.toHaveBeenCalled();
    await assemble(pictures(1, 2), { ...of, format: 'av1' }, join(folder, 'heard.mp4'));
    expect(sound).toHaveBeenCalledOnce();
  });
  it('a finer film takes more room than a small one', async () => {
    const sizes = [];
    for (const quality of ['best', 'small'] as const) {
      const file = join(folder, `${quality}.mp4`);
      await assembleFilm(pictures(1, 9), SIZE, { num: 24, den: 1 }, 'mp4', false, file, quality);
      sizes.push((await readFile(file)).length);
    }
    expect(sizes[0]).toBeGreaterThan(sizes[1]!);
  });
  it('leaves no file open when it is left off in its middle', async () => {
    const cut: Pictures = (async function* () {
      yield await Promise.resolve(picturePng(1, picture(1)));
      throw new Error('not now');
    })();
    const path = join(folder, 'cut.zip');
    await expect(assembleZip(cut, 'Ride', path)).rejects.toThrow('not now');
    const open = async (): Promise<string[]> => {
      const names = await readdir('/proc/self/fd');
      return Promise.all(names.map((name) => readlink(`/proc/self/fd/${name}`).catch(() => '')));
    };
    await vi.waitFor(async () => expect(await open()).not.toContain(path));
  });
  it('says what the encoder said when it fails', async () => {
    const broken: Pictures = (async function* () {
      yield await Promise.resolve(picturePng(1, Buffer.from('no picture')));
    })();
    const file = join(folder, 'broken.mp4');
    await expect(assembleFilm(broken, SIZE, { num: 24, den: 1 }, 'mp4', false, file)).rejects.toThrow(/./);
  });
  it('are given up at once where there is no encoder, with what is missing', async () => {
    vi.stubEnv('PATH', folder);
    const file = join(folder, 'none.mp4');
    const made = assembleFilm(pictures(1, 2), SIZE, { num: 24, den: 1 }, 'mp4', false, file);
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
