import { afterAll, afterEach, beforeAll, expect, it, vi } from 'vitest';
import type { Shot } from '../core/document';
import { emptyReel, reelFrames, type Reel } from '../core/reel';
import { dissolve, shotItem, titleItem } from '../core/testing/reels';
import { emptyShot, hub } from '../core/testing/random-shot';
import { openDatabase, type Database } from '../server/store/database';
import { startTestServer, type TestServer } from '../server/testing';
import type { RenderJob } from '../wire';
import type { DrawingBrowser } from './drawing-browser';
import { RenderMachine } from './machine';
import { rawOf } from './raw-frame';

const SIZE = { width: 16, height: 16 };
let server: TestServer;
let project: string;
let db: Database;
let machine: RenderMachine | null = null;
/** What was loaded and drawn: scenes by their last frames, which tell them apart. */
let log: string[] = [];

/** Draws each frame of a shot as one grey: the shot's own, which is its last frame, and the frame on top. */
function standIn(): DrawingBrowser {
  let base = 0;
  return {
    library: 'Mesa',
    program: 'stand-in',
    load: (shot: Shot) => {
      base = shot.setup.last;
      log.push(`load ${base}`);
      return Promise.resolve();
    },
    drawAhead: (frame: number) => {
      log.push(`${base}/${frame}`);
      const pixels = Buffer.alloc(SIZE.width * SIZE.height * 4, 255);
      for (let i = 0; i < pixels.length; i += 4) pixels.fill(base + frame, i, i + 3);
      return Promise.resolve({ picture: Promise.resolve({ ...SIZE, alpha: false, deep: false, pixels }) });
    },
    close: () => Promise.resolve(),
  } as unknown as DrawingBrowser;
}

const made = async (path: string, body: unknown): Promise<string> =>
  (await server.call<{ id: string }>('POST', path, body)).body.id;
/** A shot in which something moves, so that no two of its frames mean the same. */
const newShot = (last: number, rate = 24): Promise<string> => {
  const keys = {
    key_a: { frame: -100, value: 0, manner: 'linear' },
    key_b: { frame: 300, value: 9, manner: 'linear' },
  };
  const document = {
    ...emptyShot(),
    setup: { ...emptyShot().setup, first: 1, last, rate: { num: rate, den: 1 }, camera: 'prt_c' },
    parts: {
      prt_c: { ...hub('Camera'), kind: 'camera' },
      prt_h: { ...hub('Hub'), tracks: { 'location.x': { before: 'hold', after: 'hold', keys } } },
      prt_s: { ...hub('Lamp'), kind: 'point', parent: 'prt_h' },
    },
  };
  return made(`/projects/${project}/shots`, { name: `Shot ${last}`, document });
};
const order = async (reel: string, last: number, more: object = {}): Promise<string> =>
  made(`/reels/${reel}/renders`, { ...SIZE, first: 1, last, format: 'png', alpha: false, ...more });
async function drawnFilm(id: string): Promise<RenderJob> {
  await vi.waitFor(
    async () => expect((await server.call<RenderJob>('GET', `/renders/${id}`)).body.status).toBe('done'),
    { timeout: 30_000, interval: 50 },
  );
  return (await server.call<RenderJob>('GET', `/renders/${id}`)).body;
}
async function greys(id: string, count: number): Promise<number[]> {
  const found: number[] = [];
  for (let frame = 1; frame <= count; frame++) {
    const answer = await fetch(`${server.url}/api/renders/${id}/frames/${frame}`);
    found.push((await rawOf(Buffer.from(await answer.arrayBuffer()))).pixels[0]!);
  }
  return found;
}

beforeAll(async () => {
  server = await startTestServer();
  project = await made('/projects', { name: 'Reels' });
});
afterAll(() => server.stop());
afterEach(async () => {
  await machine?.stop();
  machine = null;
  await db.end();
});

const begin = async (): Promise<void> => {
  await server.db.query('delete from graphile_worker._private_jobs');
  log = [];
  db = openDatabase(process.env.DATABASE_URL!);
  machine = new RenderMachine(
    db,
    server.files,
    () => undefined,
    () => Promise.resolve(standIn()),
    'one',
  );
  await machine.start();
};

it('a reel becomes one film: shots from their ins to their outs, joined, with titles between', async () => {
  const [a, b] = [await newShot(40), await newShot(120, 48)];
  const reel: Reel = {
    ...emptyReel(),
    items: [
      shotItem(6, { shot: a, first: 10 }),
      shotItem(6, { shot: b, first: 1, join: dissolve(3) }),
      titleItem(3),
    ],
  };
  const id = await made(`/projects/${project}/reels`, { name: 'Evening', reel });
  await begin();
  const film = await order(id, reelFrames(reel));
  const job = await drawnFilm(film);
  expect(job).toMatchObject({ shotName: 'Evening', reelId: id, shotId: null, drawn: 15 });
  // Shot A is 40 and its frame, B 120 and its frame, two a frame of the reel; the title's frames are 2 each.
  const mix = (low: number, high: number, share: number): number => Math.round(low + (high - low) * share);
  expect(await greys(film, 15)).toEqual([
    ...[50, 51, 52, 53, 54],
    mix(55, 119, 0.25),
    mix(56, 121, 0.5),
    mix(57, 123, 0.75),
    ...[125, 127, 129, 131],
    ...[2, 2, 2],
  ]);
  // The join is drawn scene by scene: what is going for all its frames, then what comes.
  expect(log.filter((line) => line.startsWith('load'))).toEqual(['load 40', 'load 120', 'load 2']);
  // One picture of the title is enough.
  expect(log.filter((line) => line.startsWith('2/'))).toEqual(['2/0']);

  // Nothing has changed: nothing is drawn.
  log = [];
  expect(await drawnFilm(await order(id, 15))).toMatchObject({ drawn: 15, taken: 15 });
  expect(log).toEqual([]);
  // A longer join: only frames in which it is seen.
  const longer = { ...reel, items: reel.items.with(1, { ...reel.items[1]!, join: dissolve(4) }) };
  expect((await server.call('PUT', `/reels/${id}`, { revision: 0, reel: longer })).status).toBe(200);
  expect(await drawnFilm(await order(id, 15))).toMatchObject({ drawn: 15, taken: 11 });
});

it('takes over the frames that a film of one of its shots has drawn', async () => {
  const a = await newShot(30);
  await begin();
  const wish = { ...SIZE, first: 5, last: 8, format: 'mp4', alpha: false };
  await drawnFilm(await made(`/shots/${a}/renders`, wish));
  const reel: Reel = { ...emptyReel(), items: [shotItem(6, { shot: a, first: 4 })] };
  const id = await made(`/projects/${project}/reels`, { name: 'One', reel });
  log = [];
  expect(await drawnFilm(await order(id, 6))).toMatchObject({ drawn: 6, taken: 4 });
  expect(log).toEqual(['load 30', '30/4', '30/9']);
});

it('comes out of black, and its wipes uncover what comes', async () => {
  const a = await newShot(60);
  const from = { manner: 'wipe', frames: 3, from: 'left' } as const;
  const reel: Reel = { ...emptyReel(), items: [shotItem(4, { shot: a, join: from })] };
  const id = await made(`/projects/${project}/reels`, { name: 'Wiped', reel });
  await begin();
  const film = await order(id, 4);
  await drawnFilm(film);
  const answer = await fetch(`${server.url}/api/renders/${film}/frames/1`);
  const { pixels } = await rawOf(Buffer.from(await answer.arrayBuffer()));
  const row = Array.from({ length: 16 }, (_, x) => pixels[x * 4]!);
  expect(row).toEqual([61, 61, 61, 61, ...Array<number>(12).fill(0)]);
});
