import { randomUUID } from 'node:crypto';
import { execFile } from 'node:child_process';
import { mkdir, mkdtemp, readdir, rm, writeFile } from 'node:fs/promises';
import { connect, createServer, type AddressInfo, type Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { openDatabase, type Database } from '../server/store/database';
import { keepFrame } from '../server/store/frames';
import { claimLibrary } from '../server/store/renders';
import { startTestServer, type TestServer } from '../server/testing';
import { FolderStore, type FileStore } from '../server/files';
import type { RenderJob, RenderStory, RenderWish } from '../wire';
import type { DrawingBrowser } from './drawing-browser';
import { RenderMachine, type OpenBrowser } from './machine';
import { rawOf } from './raw-frame';

const run = promisify(execFile);
let server: TestServer;
let project: string;
let folder: string;
const machines: RenderMachine[] = [];
const pools = new Map<RenderMachine, Database>();

/** Pixels of a side of a square that stands for one bit. */
const CELL = 4;
const BITS = 8;
const SIZE = { width: CELL * BITS, height: CELL * 4 };

/** What a stand-in for a drawing browser does: a picture in which the frame's number can be read, bit by bit. */
interface Hand {
  readonly library: string;
  /** Called before each frame. @throws what the drawing fails with */
  before?(frame: number): Promise<void> | void;
}

const drawn: { machine: string; frame: number; film: number }[] = [];

function standIn(name: string, hand: Hand): DrawingBrowser {
  let size = { width: 0, height: 0 };
  const drawAhead = async (frame: number) => {
    await hand.before?.(frame);
    drawn.push({ machine: name, frame, film: size.height });
    const pixels = Buffer.alloc(size.width * size.height * 4, 255);
    for (let i = 0; i < size.width * size.height; i++) {
      const bit = Math.floor((i % size.width) / CELL);
      pixels.fill((frame >> bit) & 1 ? 240 : 16, i * 4, i * 4 + 3);
    }
    return { picture: Promise.resolve({ ...size, alpha: false, deep: false, pixels }) };
  };
  return {
    library: hand.library,
    program: 'stand-in',
    load: (_shot: unknown, of: { width: number; height: number }) => {
      size = { width: of.width, height: of.height };
      return Promise.resolve();
    },
    drawAhead,
    close: () => Promise.resolve(),
  } as unknown as DrawingBrowser;
}

async function machine(
  name: string,
  hand: Hand = { library: 'Mesa' },
  files: FileStore = server.files,
  databaseUrl = process.env.DATABASE_URL!,
  opens: OpenBrowser = () => Promise.resolve(standIn(name, hand)),
): Promise<RenderMachine> {
  // As in a process of its own.
  const db = openDatabase(databaseUrl);
  const made = new RenderMachine(db, files, () => undefined, opens, name);
  pools.set(made, db);
  await made.start();
  machines.push(made);
  return made;
}

/** A line to the database that can be cut and mended. */
async function cuttable(): Promise<{ url: string; cut(): void; mend(): void; close(): Promise<void> }> {
  const real = new URL(process.env.DATABASE_URL!);
  let whole = true;
  const sockets = new Set<Socket>();
  const proxy = createServer((near) => {
    if (!whole) {
      near.destroy();
      return;
    }
    const far = connect(Number(real.port), real.hostname);
    for (const [socket, other] of [
      [near, far],
      [far, near],
    ] as const) {
      sockets.add(socket);
      socket.pipe(other);
      socket.on('error', () => other.destroy());
      socket.on('close', () => {
        sockets.delete(socket);
        other.destroy();
      });
    }
  });
  await new Promise<void>((resolve) => proxy.listen(0, '127.0.0.1', resolve));
  const url = new URL(real.href);
  url.hostname = '127.0.0.1';
  url.port = String((proxy.address() as AddressInfo).port);
  const drop = (): void => {
    for (const socket of sockets) socket.destroy();
  };
  return {
    url: url.href,
    cut: () => {
      whole = false;
      drop();
    },
    mend: () => (whole = true),
    close: async () => {
      drop();
      await new Promise((resolve) => proxy.close(resolve));
    },
  };
}

async function leave(of: RenderMachine): Promise<void> {
  await of.stop();
  void pools.get(of)!.end();
}

const order = async (wish: Partial<RenderWish> = {}): Promise<string> => {
  const shot = (await server.call<{ id: string }>('POST', `/projects/${project}/shots`, { name: 'Shot' }))
    .body.id;
  const body = { ...SIZE, first: 1, last: 30, format: 'mp4', alpha: false, fresh: true, ...wish };
  return (await server.call<{ id: string }>('POST', `/shots/${shot}/renders`, body)).body.id;
};
const job = async (id: string): Promise<RenderJob> =>
  (await server.call<RenderJob>('GET', `/renders/${id}`)).body;
const story = async (id: string): Promise<RenderStory> =>
  (await server.call<RenderStory>('GET', `/renders/${id}/story`)).body;
const deed = (id: string, name: string, body?: unknown) =>
  server.call<RenderJob>('POST', `/renders/${id}/${name}`, body);
const ended = (id: string, status: RenderJob['status'] = 'done') =>
  vi.waitFor(async () => expect((await job(id)).status).toBe(status), { timeout: 30_000, interval: 50 });

/** Numbers of the frames of a film, read from its decoded pictures. */
async function framesOf(id: string): Promise<number[]> {
  const path = join(folder, `${randomUUID()}.mp4`);
  const { width } = await job(id);
  await writeFile(
    path,
    Buffer.from(await (await fetch(`${server.url}/api/renders/${id}/film`)).arrayBuffer()),
  );
  const { stdout } = await run(
    'ffmpeg',
    ['-v', 'error', '-i', path, '-fps_mode', 'passthrough', '-f', 'rawvideo', '-pix_fmt', 'gray', '-'],
    { encoding: 'buffer', maxBuffer: 1 << 28 },
  );
  const { height } = await job(id);
  return Array.from({ length: stdout.length / (width * height) }, (_, at) => {
    let frame = 0;
    for (let bit = 0; bit < BITS; bit++)
      if (stdout[at * width * height + 2 * width + bit * CELL + 2]! > 128) frame |= 1 << bit;
    return frame;
  });
}
const count = (first: number, last: number): number[] =>
  Array.from({ length: last - first + 1 }, (_, i) => first + i);

beforeAll(async () => {
  server = await startTestServer();
  project = (await server.call<{ id: string }>('POST', '/projects', { name: 'Queue' })).body.id;
  folder = await mkdtemp(join(tmpdir(), 'whirl-queue-'));
});
afterAll(async () => {
  await server.stop();
  await rm(folder, { recursive: true });
});
beforeEach(async () => {
  // What other tests have left is no work for these machines.
  await server.db.query('delete from graphile_worker._private_jobs');
  drawn.length = 0;
});
afterEach(async () => {
  for (const each of machines.splice(0)) await leave(each);
});

describe('films of render machines', () => {
  it('have every frame once, in order, whoever drew it, and the story of it', async () => {
    const slow = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 5));
    await Promise.all(['one', 'two'].map((name) => machine(name, { library: 'Mesa', before: slow })));
    const id = await order({ last: 100 });
    await ended(id);
    expect(await framesOf(id)).toEqual(count(1, 100));
    expect(new Set(drawn.map((each) => each.machine))).toEqual(new Set(['one', 'two']));
    expect(drawn.map((each) => each.frame).sort((a, b) => a - b)).toEqual(count(1, 100));
    const told = await story(id);
    expect([...told.frames].sort((a, b) => a - b)).toEqual(count(1, 100));
    expect(new Set(told.states)).toEqual(new Set(['drawn']));
    expect(told.took.every((ms) => ms !== null && ms >= 4)).toBe(true);
    expect([...told.names].sort()).toEqual(['one', 'two']);
    expect(told.events.map((event) => event.words).join(' ')).toMatch(
      /Ordered: 100 frames\..*Begun by (one|two), drawing with Mesa\..*All frames are there\..*The film is there: 0\.\d MB\./,
    );
    // Files of frames lie in the store, whole, as PNG.
    const picture = await (await fetch(`${server.url}/api/renders/${id}/frames/37`)).arrayBuffer();
    expect(await rawOf(Buffer.from(picture))).toMatchObject(SIZE);
  });

  it('are drawn to their end with one library, though a busy machine would come up with another one', async () => {
    let opened = 0;
    let foggy = true;
    const before = (frame: number): void => {
      if (!foggy || frame !== 7) return;
      foggy = false;
      throw new Error('The lens is fogged.');
    };
    // Unless it is asked for what was there before, what comes up after the first time is something else.
    const opens: OpenBrowser = (_read, like) =>
      Promise.resolve(standIn('one', { library: like ?? (opened++ === 0 ? 'Mesa' : 'Stand-in'), before }));
    await machine('one', undefined, server.files, undefined, opens);
    const id = await order({ last: 14 });
    await ended(id);
    expect(await framesOf(id)).toEqual(count(1, 14));
    expect((await job(id)).library).toBe('Mesa');
    expect(foggy).toBe(false);
  });

  it('wait while no browser of their library comes up, without a frame being blamed, and go on with the next one', async () => {
    let again = false;
    let refusals = 0;
    const opens: OpenBrowser = (_read, like) => {
      if (like !== null && refusals++ < 2) return Promise.reject(new Error('None comes up.'));
      const made = standIn('one', {
        library: 'Mesa',
        before: (frame) => {
          if (frame !== 5 || again) return;
          Object.assign(made, { ended: true });
          throw new Error('The drawing browser has ended.');
        },
      });
      again = like !== null;
      return Promise.resolve(made);
    };
    await machine('one', undefined, server.files, undefined, opens);
    const id = await order({ last: 6 });
    await ended(id);
    expect(await framesOf(id)).toEqual(count(1, 6));
    expect(refusals).toBeGreaterThan(2);
    expect((await story(id)).troubles.every(({ tries }) => tries < 3)).toBe(true);
  });

  it('are written while they are drawn', async () => {
    let held = false;
    let go = (): void => undefined;
    const gate = new Promise<void>((resolve) => (go = resolve));
    await machine('one', {
      library: 'Mesa',
      before: async (frame) => {
        if (frame !== 24) return;
        held = true;
        await gate;
      },
    });
    const id = await order({ last: 24 });
    await vi.waitFor(() => expect(held).toBe(true), { timeout: 20_000 });
    const { rows } = await server.db.query<{ n: number }>(
      `select count(*)::int as n from graphile_worker._private_jobs q join graphile_worker._private_tasks t on t.id = q.task_id
       where t.identifier = 'assemble_film' and q.locked_at is not null and q.payload ->> 'job' = $1`,
      [id],
    );
    expect(rows[0]!.n).toBe(1);
    go();
    await ended(id);
    expect(await framesOf(id)).toEqual(count(1, 24));
  });

  it('with a frame that cannot be drawn say so, draw all others, and go on without it or try it again', async () => {
    let broken = true;
    await machine('one', {
      library: 'Mesa',
      before: (frame) => {
        if (broken && (frame === 7 || frame === 8)) throw new Error('The lens is fogged.');
      },
    });
    const [skipped, tried] = [await order({ last: 20 }), await order({ last: 20, height: SIZE.height + 2 })];
    for (const id of [skipped, tried]) {
      await ended(id, 'held');
      expect(await job(id)).toMatchObject({ drawn: 18, troubled: 2 });
      expect((await job(id)).error).toBe('2 frames (7, 8) could not be drawn: The lens is fogged.');
      const { troubles } = await story(id);
      expect(troubles).toEqual(
        [7, 8].map((frame) => ({ frame, tries: 3, reason: 'The lens is fogged.', machine: 'one' })),
      );
    }
    expect((await deed(skipped, 'resume')).status).toBe(409);
    expect((await deed(skipped, 'pause')).status).toBe(409);
    expect((await deed(skipped, 'skip')).status).toBe(200);
    await ended(skipped);
    expect(await framesOf(skipped)).toEqual([1, 2, 3, 4, 5, 6, 6, 6, ...count(9, 20)]);
    expect(await job(skipped)).toMatchObject({ skipped: 2, troubled: 0 });
    broken = false;
    expect((await deed(tried, 'retry')).status).toBe(200);
    await ended(tried);
    expect(await framesOf(tried)).toEqual(count(1, 20));
    expect(await job(tried)).toMatchObject({ skipped: 0, troubled: 0, drawn: 20 });
  });

  it('refuse what cannot be done now without a trace, and are held, not lost, when paused at their last frame', async () => {
    let reached = false;
    let go = (): void => undefined;
    const gate = new Promise<void>((resolve) => (go = resolve));
    await machine('one', {
      library: 'Mesa',
      before: async (frame) => {
        if (frame === 3) throw new Error('The lens is fogged.');
        if (frame !== 14) return;
        reached = true;
        await gate;
      },
    });
    const id = await order({ last: 14 });
    await vi.waitFor(() => expect(reached).toBe(true), { timeout: 20_000 });
    for (const name of ['retry', 'skip', 'resume']) expect((await deed(id, name)).status, name).toBe(409);
    expect(await job(id)).toMatchObject({ drawn: 12, troubled: 1, skipped: 0, status: 'drawing' });
    await deed(id, 'pause');
    go();
    await vi.waitFor(async () => expect((await job(id)).drawn).toBe(13), { timeout: 20_000 });
    expect((await deed(id, 'skip')).status).toBe(409);
    expect(await job(id)).toMatchObject({ drawn: 13, troubled: 1, skipped: 0, status: 'paused' });
    await deed(id, 'resume');
    await ended(id, 'held');
    expect((await deed(id, 'skip')).status).toBe(200);
    await ended(id);
    expect(await framesOf(id)).toEqual([1, 2, 2, ...count(4, 14)]);
  });

  it('begun anew take no frame that was on its way with the library before', async () => {
    const id = await order({ last: 3 });
    await claimLibrary(server.db, id, 'Mesa');
    const file = await server.files.keep(Buffer.from('late'));
    const late = { file, machine: 'one', library: 'Mesa', meaning: 'a'.repeat(64), took: 1 };
    await keepFrame(server.db, id, { frame: 1, ...late });
    expect((await job(id)).drawn).toBe(1);
    await deed(id, 'anew');
    await claimLibrary(server.db, id, 'Other');
    await keepFrame(server.db, id, { frame: 2, ...late });
    expect(await job(id)).toMatchObject({ drawn: 0, library: 'Other' });
    expect((await story(id)).frames).toEqual([]);
  });

  it('that are paused stop within a frame, let others pass, and go on where they were', async () => {
    const slow = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 40));
    await machine('one', { library: 'Mesa', before: slow });
    const id = await order({ last: 40 });
    await vi.waitFor(async () => expect((await job(id)).drawn).toBeGreaterThan(3), { timeout: 20_000 });
    expect((await deed(id, 'pause')).body.status).toBe('paused');
    const other = await order({ last: 5, height: SIZE.height + 2 });
    await ended(other);
    const at = (await job(id)).drawn;
    expect(at).toBeLessThan(40);
    expect((await job(id)).status).toBe('paused');
    expect((await deed(id, 'pause')).status).toBe(409);
    expect((await deed(id, 'resume')).status).toBe(200);
    await ended(id);
    expect(await framesOf(id)).toEqual(count(1, 40));
    const frames = drawn.filter((each) => each.film === SIZE.height).map((each) => each.frame);
    expect(frames).toHaveLength(40);
  });

  it('take turns; one that is to come first does, and one that may come later does', async () => {
    const later = await order({ last: 48, height: SIZE.height + 2 });
    const first = await order({ last: 24, height: SIZE.height + 4 });
    const [a, b] = [await order({ last: 48 }), await order({ last: 48, height: SIZE.height + 6 })];
    expect((await deed(later, 'turn', { turn: 'later' })).body.turn).toBe('later');
    expect((await deed(first, 'turn', { turn: 'first' })).body.turn).toBe('first');
    expect((await deed(a, 'turn', { turn: 'now' })).status).toBe(400);
    await machine('one');
    for (const id of [first, a, b, later]) await ended(id);
    const stretches = drawn.filter((_, i) => i % 12 === 0).map((each) => each.film - SIZE.height);
    expect(stretches).toEqual([4, 4, 0, 6, 0, 6, 0, 6, 0, 6, 2, 2, 2, 2]);
    expect((await deed(later, 'turn', { turn: 'first' })).status).toBe(409);
  });

  it('never mix two drawing libraries; one whose library has gone is begun anew with what is there', async () => {
    const slow = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 15));
    const mesa = await machine('mesa', { library: 'Mesa', before: slow });
    const id = await order({ last: 60 });
    await vi.waitFor(async () => expect((await job(id)).library).toBe('Mesa'), { timeout: 20_000 });
    await machine('other', { library: 'Other', before: slow });
    await vi.waitFor(async () => expect((await job(id)).drawn).toBeGreaterThan(30), { timeout: 20_000 });
    await leave(mesa);
    machines.splice(machines.indexOf(mesa), 1);
    await new Promise((resolve) => setTimeout(resolve, 1500));
    expect((await job(id)).status).toBe('drawing');
    expect(new Set(drawn.map((each) => each.machine))).toEqual(new Set(['mesa']));
    expect((await deed(id, 'anew')).body).toMatchObject({ drawn: 0, library: null });
    await ended(id);
    const told = await story(id);
    expect(told.names).toEqual(['other']);
    expect((await job(id)).library).toBe('Other');
  });

  it('go on by themselves when the line of their machine to the database was cut, without a frame too many', async () => {
    const line = await cuttable();
    const slow = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 30));
    await machine('far', { library: 'Mesa', before: slow }, server.files, line.url);
    const id = await order({ last: 60 });
    await vi.waitFor(async () => expect((await job(id)).drawn).toBeGreaterThan(8), { timeout: 20_000 });
    line.cut();
    const at = (await job(id)).drawn;
    await new Promise((resolve) => setTimeout(resolve, 2500));
    expect((await job(id)).drawn).toBeLessThanOrEqual(at + 1);
    line.mend();
    // What it held is given back once it has been silent for ten seconds.
    await vi.waitFor(async () => expect((await job(id)).status).toBe('done'), {
      timeout: 50_000,
      interval: 200,
    });
    expect(await framesOf(id)).toEqual(count(1, 60));
    expect((await job(id)).drawn).toBe(60);
    for (const each of machines.splice(0)) await leave(each);
    await line.close();
  });

  it('are taken from a machine that died before it had said that it was there', async () => {
    const id = await order({ last: 4 });
    // What a machine leaves that is killed a moment after its first piece of work.
    const { rowCount } = await server.db.query(
      `update graphile_worker._private_jobs set locked_by = 'worker-unheard-of', locked_at = now() - interval '11 seconds',
         attempts = attempts + 1 where key is null`,
    );
    expect(rowCount).toBe(2);
    await server.db.query(
      `update graphile_worker._private_job_queues set locked_by = 'worker-unheard-of', locked_at = now() - interval '11 seconds'`,
    );
    await machine('one', { library: 'Mesa' });
    await ended(id);
    expect(await framesOf(id)).toEqual(count(1, 4));
  });

  it('wait, with the reason, where the disk of the files is full, and lose nothing', async () => {
    let full = true;
    const { files } = server;
    const limited: FileStore = Object.assign(Object.create(files) as FileStore, {
      keep: (bytes: Uint8Array) =>
        full && drawn.length > 6
          ? Promise.reject(Object.assign(new Error('no space left on device'), { code: 'ENOSPC' }))
          : files.keep(bytes),
    });
    await machine('one', { library: 'Mesa' }, limited);
    const id = await order({ last: 20 });
    await ended(id, 'paused');
    expect((await job(id)).error).toMatch(/the folder .* is full.*Make room/);
    full = false;
    await deed(id, 'resume');
    await ended(id);
    expect(await framesOf(id)).toEqual(count(1, 20));
  });

  it('wait where a disk is really full, and go on when there is room', async (context) => {
    const disk = join(folder, 'disk');
    await mkdir(disk);
    const mount = async (...args: string[]): Promise<boolean> =>
      run('mount', args).then(
        () => true,
        () => false,
      );
    // Less than what is always left free; only root may bring a disk in.
    if (!(await mount('-t', 'tmpfs', '-o', 'size=64m', 'tmpfs', disk))) context.skip();
    try {
      await machine('one', { library: 'Mesa' }, new FolderStore(join(disk, 'files')));
      const id = await order({ last: 3, format: 'png' });
      await ended(id, 'paused');
      expect((await job(id)).error).toContain('less than 200 MB are free');
      expect(await mount('-o', 'remount,size=512m', disk)).toBe(true);
      await deed(id, 'resume');
      await ended(id);
    } finally {
      for (const each of machines.splice(0)) await leave(each);
      await run('umount', ['-l', disk]);
    }
  });

  it('that are cancelled leave nothing in the queue, and a film that is drawn again by force is drawn', async () => {
    const slow = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 30));
    await machine('one', { library: 'Mesa', before: slow });
    const id = await order({ last: 60 });
    await vi.waitFor(async () => expect((await job(id)).drawn).toBeGreaterThan(1), { timeout: 20_000 });
    expect((await deed(id, 'cancel')).status).toBe(200);
    await vi.waitFor(
      async () =>
        expect(
          (
            await server.db.query(
              `select 1 from graphile_worker._private_jobs where payload ->> 'job' = $1`,
              [id],
            )
          ).rowCount,
        ).toBe(0),
      { timeout: 10_000 },
    );
    expect(drawn.length).toBeLessThan(60);

    const shot = (await job(id)).shotId!;
    const again = async (fresh: boolean): Promise<RenderJob> => {
      const wish = { ...SIZE, first: 1, last: 3, format: 'png', alpha: false, fresh };
      const made = await server.call<{ id: string }>('POST', `/shots/${shot}/renders`, wish);
      await ended(made.body.id);
      return job(made.body.id);
    };
    await again(true);
    expect((await again(false)).taken).toBe(3);
    expect((await again(true)).taken).toBe(0);
  });
});

it('a folder of work is left by no machine', async () => {
  const left = (await readdir(tmpdir())).filter((name) => name.startsWith(`whirl-work-${process.pid}-`));
  expect(left).toEqual([]);
});
