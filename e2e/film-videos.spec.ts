import { execFile } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { expect, test } from '@playwright/test';
import { PNG } from 'pngjs';
import { blankShot, type Shot, type Video } from '../core/document';
import { probeVideo } from '../decode';
import { DrawingBrowser } from '../render/drawing-browser';

/** Videos as layers: which of their pictures a frame of the film shows, read from the film itself. */

const run = promisify(execFile);
const BITS = 6;
const BIT_PX = 16;
const [WIDTH, HEIGHT] = [BITS * BIT_PX, 32];
/** White where the bit of the picture's number is set. */
const NUMBERED = `geq=lum='if(mod(floor(N/pow(2,floor(X/${BIT_PX}))),2),235,16)':cb=128:cr=128`;

let folder: string;
let browser: DrawingBrowser;
const files = new Map<string, Buffer>();
test.beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'whirl-videos-'));
  browser = await DrawingBrowser.open((hash) => Promise.resolve(files.get(hash)!));
});
test.afterAll(async () => {
  await browser.close();
  await rm(folder, { recursive: true });
});

/** A video whose pictures say their numbers, as ffmpeg writes it. */
async function numbered(
  name: string,
  rate: string,
  count: number,
  coding: readonly string[],
): Promise<string> {
  const path = join(folder, name);
  const source = `color=size=${WIDTH}x${HEIGHT}:rate=${rate}`;
  const args = [
    '-v',
    'error',
    '-y',
    '-f',
    'lavfi',
    '-i',
    source,
    '-frames:v',
    String(count),
    '-vf',
    NUMBERED,
  ];
  await run('ffmpeg', [...args, '-pix_fmt', 'yuv420p', ...coding, path]);
  return path;
}
const H264 = ['-c:v', 'libx264', '-bf', '2', '-g', '12'];
const VP9 = ['-c:v', 'libvpx-vp9', '-g', '15', '-deadline', 'realtime'];

/** A shot in which a video fills the frame. */
async function shotOf(path: string, rate: Shot['setup']['rate'], how: Partial<Video> = {}): Promise<Shot> {
  const bytes = await readFile(path);
  const asset = createHash('sha256').update(bytes).digest('hex');
  files.set(asset, bytes);
  const { width, height, alpha, ...facts } = await probeVideo(path);
  const video: Video = { ...facts, start: 1, speed: 1, from: 0, to: facts.pictures, after: 'hold', ...how };
  const bare = { parent: null, rotationOrder: 'XYZ', tracks: {}, links: {} } as const;
  return {
    ...blankShot({
      width: WIDTH,
      height: HEIGHT,
      background: [0, 0, 0],
      last: 99,
      camera: 'prt_camera',
      rate,
      tones: 'none',
    }),
    parts: {
      prt_camera: {
        ...bare,
        kind: 'camera',
        name: 'Camera',
        order: 0,
        shape: null,
        look: null,
        projection: 'pixels',
        values: { 'location.z': 2 },
      },
      prt_dark: {
        ...bare,
        kind: 'backdrop',
        name: 'Dark',
        order: 1,
        shape: null,
        look: null,
        values: { mirrored: 0, colour: [0, 0, 0] },
      },
      prt_layer: {
        ...bare,
        kind: 'solid',
        name: 'Layer',
        order: 2,
        shape: 'shp_layer',
        look: 'lok_layer',
        values: {},
      },
    },
    shapes: {
      shp_layer: {
        kind: 'plane',
        values: { width: WIDTH / 100, height: HEIGHT / 100 },
        tracks: {},
        links: {},
      },
    },
    looks: {
      lok_layer: {
        name: 'Layer',
        values: { colour: [1, 1, 1], glow: 1, roughness: 1 },
        pictures: { all: { asset, width, height, alpha, file: 'numbered', video } },
        tracks: {},
        links: {},
      },
    },
  };
}

/** Number of the picture that a frame of the film shows. */
async function seen(frame: number): Promise<number> {
  const film = PNG.sync.read(await browser.draw(frame));
  let number = 0;
  for (let bit = 0; bit < BITS; bit++) {
    const code = film.data[((HEIGHT / 2) * WIDTH + bit * BIT_PX + BIT_PX / 2) * 4]!;
    expect(code < 60 || code > 195, `bit ${bit} of frame ${frame} is ${code}`).toBe(true);
    if (code > 128) number += 2 ** bit;
  }
  return number;
}

async function load(shot: Shot): Promise<void> {
  await browser.load(shot, { width: WIDTH, height: HEIGHT, alpha: false });
}

/** The picture that has begun last: by whole numbers, so that nothing is rounded. */
function turn(frame: number, film: readonly [number, number], video: readonly [number, number]): number {
  return Number(
    (BigInt(frame - 1) * BigInt(film[1]) * BigInt(video[0])) / (BigInt(film[0]) * BigInt(video[1])),
  );
}

for (const [name, film, video, coding] of [
  ['25-in-24.mp4', [24, 1], [25, 1], H264],
  ['24-in-25.mp4', [25, 1], [24, 1], H264],
  ['30-in-24.webm', [24, 1], [30, 1], VP9],
  ['24-in-30.webm', [30, 1], [24, 1], VP9],
  ['ntsc-in-24.mp4', [24, 1], [30_000, 1001], H264],
] as const)
  test(`a video of another rate shows the picture whose turn it is: ${name}`, async () => {
    const path = await numbered(name, video.join('/'), 60, coding);
    const shot = await shotOf(path, { num: film[0], den: film[1] });
    expect(shot.looks.lok_layer!.pictures!.all!.video).toMatchObject({
      rate: { num: video[0], den: video[1] },
      pictures: 60,
    });
    await load(shot);
    // One after another, as a film is made; then here and there.
    for (const frame of [1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 25, 26, 41, 7, 40, 2])
      expect(await seen(frame), `frame ${frame}`).toBe(turn(frame, film, video));
  });

test('a video begins, is trimmed, runs faster, backwards, again and back, and is moved by its shift', async () => {
  const path = await numbered('24.mp4', '24', 60, H264);
  const rate = { num: 24, den: 1 };
  const shows = async (how: Partial<Video>, wanted: Record<number, number>): Promise<void> => {
    await load(await shotOf(path, rate, how));
    for (const [frame, number] of Object.entries(wanted))
      expect(await seen(Number(frame)), `frame ${frame} of ${JSON.stringify(how)}`).toBe(number);
  };
  await shows({ start: 11 }, { 1: 0, 11: 0, 12: 1, 99: 59 });
  await shows({ speed: 2, from: 10, to: 20 }, { 1: 10, 3: 14, 6: 19, 40: 19 });
  await shows({ speed: 0.5 }, { 1: 0, 2: 0, 3: 1, 4: 1, 5: 2 });
  await shows({ speed: -1, from: 10, to: 20 }, { 1: 19, 4: 16, 10: 10, 30: 10 });
  await shows({ from: 10, to: 20, after: 'loop' }, { 10: 19, 11: 10, 34: 13 });
  await shows({ from: 10, to: 20, after: 'back' }, { 10: 19, 11: 18, 19: 10, 20: 11 });
  const still = await shotOf(path, rate, { speed: 0 });
  const look = still.looks.lok_layer!;
  const keyed: Shot = {
    ...still,
    looks: {
      lok_layer: {
        ...look,
        tracks: {
          'video.shift': {
            before: 'hold',
            after: 'hold',
            keys: {
              key_a: { frame: 1, value: 40, manner: 'linear' },
              key_b: { frame: 21, value: 20, manner: 'linear' },
            },
          },
        },
      },
    },
  };
  await load(keyed);
  for (const frame of [1, 6, 11, 21]) expect(await seen(frame)).toBe(41 - frame);
});

test('several pictures of a frame show one picture of the video, which can be seen through', async () => {
  const path = join(folder, 'clear.webm');
  const half = `color=c=0xff8040@0.5:size=${WIDTH}x${HEIGHT}:rate=24,format=yuva420p`;
  await run('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-f',
    'lavfi',
    '-i',
    half,
    '-frames:v',
    '6',
    '-c:v',
    'libvpx-vp9',
    '-auto-alt-ref',
    '0',
    path,
  ]);
  const clear = await shotOf(path, { num: 24, den: 1 });
  expect(clear.looks.lok_layer!.pictures!.all!.alpha).toBe(true);
  await load(clear);
  const film = PNG.sync.read(await browser.draw(3));
  // Over black, half of it: the glow of colour value 255 half covers what is behind it.
  const code = film.data[((HEIGHT / 2) * WIDTH + WIDTH / 2) * 4]!;
  expect(code).toBeGreaterThan(100);
  expect(code).toBeLessThan(200);
  const moving = await shotOf(await numbered('blurred.mp4', '96', 60, H264), { num: 24, den: 1 });
  const blurred: Shot = {
    ...moving,
    setup: { ...moving.setup, samples: 8 },
    parts: {
      ...moving.parts,
      prt_camera: { ...moving.parts.prt_camera!, values: { 'location.z': 2, shutter: 360 } },
    },
  };
  await load(blurred);
  for (const frame of [1, 5, 9]) expect(await seen(frame)).toBe((frame - 1) * 4);
});
