import { randomUUID } from 'node:crypto';
import { EventEmitter } from 'node:events';
import { hostname } from 'node:os';
import type { JobHelpers, TaskList, WorkerEvents } from 'graphile-worker';
import { z } from 'zod';
import type { FileStore } from '../server/files';
import { readAsset } from '../server/store/assets';
import type { Database } from '../server/store/database';
import { readInnerShots } from '../server/store/inner-shots';
import { forgetMachine, MACHINE_SILENCE_SECONDS, reportMachine } from '../server/store/machines';
import { KeptQueue } from '../server/store/queue';
import { failRender, giveUpDead, readRender } from '../server/store/renders';
import { keepPicture, readShot } from '../server/store/shots';
import { ASSEMBLE, DRAW, DRAW_CARD, flagsOfOthers } from '../server/store/stretches';
import { DrawingBrowser } from './drawing-browser';
import { FilmDrawer, type Easel } from './film-drawer';
import { loadScene, loudnessOf, readyScene } from './film-loader';
import { FilmWriter } from './film-writer';
import { LastingError } from './lasting-error';
import { RecentFrames } from './recent-frames';

const REPORT_MS = 2000;
const CARD_WIDTH = 480;
/** How often in turn a browser like the last one is tried for before any that draws will do. */
const LIKE_TRIES = 3;

const stretch = z.object({ job: z.uuid(), first: z.number().int(), last: z.number().int() });
const film = z.object({ job: z.uuid() });
const card = z.object({ shot: z.uuid() });

const words = (error: unknown): string => (error instanceof Error ? error.message : String(error));

/** Gives a browser that draws, with a way to the files of the shots, and with the library `like` unless that is `null`. */
export type OpenBrowser = (
  readAsset: (hash: string) => Promise<Uint8Array>,
  like: string | null,
) => Promise<DrawingBrowser>;

/**
 * Takes work from the queue: stretches of frames and card pictures, and, beside that, films to be written. What it has
 * drawn is stored frame by frame, so that a machine that dies costs only the frames it was at.
 */
export class RenderMachine implements Easel {
  private drawing: DrawingBrowser | null = null;
  private readonly id = randomUUID();
  private readonly workers = new Map<string, string>();
  /** Names under which it held work before a queue was opened again, and since when they are not used. */
  private readonly left = new Map<string, number>();
  /** What is being drawn: one thing at a time, also when a queue is opened again before the last piece has ended. */
  private easel: Promise<unknown> = Promise.resolve();
  private reporting: NodeJS.Timeout | null = null;
  private queues: KeptQueue[] = [];
  private readonly drawer: FilmDrawer;
  private readonly writer: FilmWriter;
  private doing: string | null = null;
  private frames = 0;
  private drawnMs = 0;
  /** How often in turn no browser came up. */
  private misses = 0;

  constructor(
    private readonly db: Database,
    private readonly files: FileStore,
    private readonly say: (line: string) => void,
    private readonly openBrowser: OpenBrowser = (read, like) => DrawingBrowser.open(read, like),
    readonly name = `${hostname()} ${process.pid}`,
  ) {
    const recent = new RecentFrames();
    this.drawer = new FilmDrawer(db, files, recent, this);
    this.writer = new FilmWriter(db, files, recent);
  }

  browser(): DrawingBrowser {
    return this.drawing!;
  }

  drew(ms: number): void {
    this.frames += 1;
    this.drawnMs += ms;
  }

  async anotherBrowser(): Promise<void> {
    this.drawer.forget();
    await this.drawing?.close().catch(() => undefined);
    // A busy computer may bring up one that draws other bytes: films that are under way would wait for the first for ever.
    const like = this.misses < LIKE_TRIES ? this.drawing?.library || null : null;
    try {
      this.drawing = await this.open(like);
      this.misses = 0;
    } catch (error) {
      this.misses += 1;
      throw error;
    }
  }

  private open(like: string | null): Promise<DrawingBrowser> {
    const read = async (hash: string): Promise<Uint8Array> => {
      const asset = await readAsset(this.db, this.files, hash);
      if (!asset)
        throw new LastingError(
          `${hash.slice(0, 12)} is not stored here. Bring the picture or mesh in again.`,
        );
      return asset.bytes;
    };
    return this.openBrowser(read, like);
  }

  /** Begins to take work. @throws Error when nothing can be drawn here, or there is no queue */
  async start(): Promise<void> {
    this.drawing = await this.open(null);
    this.queues = [
      this.queueOf('drawing', {
        [DRAW]: (payload, helpers) =>
          this.forRender(stretch.parse(payload).job, helpers, () =>
            this.alone(() => this.drawStretch(stretch.parse(payload))),
          ),
        [DRAW_CARD]: (payload) => {
          const { shot } = card.parse(payload);
          return this.told(`card of ${shot}`, () => this.alone(() => this.drawCard(shot))).catch(
            async (error: unknown) => {
              // A shot that cannot be drawn has no picture; it is asked for again after the next change.
              if (error instanceof LastingError) return;
              await this.anotherBrowser();
              throw error;
            },
          );
        },
      }),
      this.queueOf('writing', {
        [ASSEMBLE]: (payload, helpers) =>
          this.forRender(film.parse(payload).job, helpers, () => this.writer.write(film.parse(payload).job)),
      }),
    ];
    for (const queue of this.queues) await queue.start();
    await this.report();
    this.reporting = setInterval(() => void this.report(), REPORT_MS);
  }

  private queueOf(what: string, taskList: TaskList): KeptQueue {
    const events = new EventEmitter() as WorkerEvents;
    events.on('worker:create', ({ worker }) => {
      const before = this.workers.get(what);
      if (before !== undefined) this.left.set(before, Date.now());
      this.workers.set(what, worker.workerId);
    });
    return new KeptQueue(
      {
        pgPool: this.db,
        concurrency: 1,
        events,
        taskList,
        forbiddenFlags: () => flagsOfOthers(this.db, this.drawing?.library ?? ''),
      },
      this.say,
    );
  }

  /** Says that it is there, which it is only while it takes work, and ends films that nobody works on. */
  private async report(): Promise<void> {
    if (this.workers.size === 0 || !this.queues[0]?.working) return;
    const { id, name, doing, frames, drawnMs } = this;
    try {
      const silent = await reportMachine(this.db, {
        id,
        name,
        library: this.drawing?.library || null,
        workers: [...this.workers.values(), ...this.left.keys()],
        doing,
        frames,
        drawnMs,
      });
      await this.letGoOfLeft();
      for (const gone of silent) this.say(`${gone} has fallen silent: its work is given to others`);
      for (const dead of await giveUpDead(this.db)) this.say(`${dead}: given up`);
    } catch {
      // PostgreSQL is away: told by the queue, and said again when it is back.
    }
  }

  /** What a queue that has ended still holds goes back, once whatever was under way has ended, too. */
  private async letGoOfLeft(): Promise<void> {
    const old = [...this.left].filter(([, since]) => Date.now() - since > MACHINE_SILENCE_SECONDS * 1000);
    if (old.length === 0) return;
    await this.db.query('select graphile_worker.force_unlock_workers($1::text[])', [
      old.map(([worker]) => worker),
    ]);
    for (const [worker] of old) this.left.delete(worker);
  }

  private alone(work: () => Promise<void>): Promise<void> {
    const done = this.easel.then(async () => {
      if (this.drawing?.ended) await this.anotherBrowser();
      await work();
    });
    this.easel = done.catch(() => undefined);
    return done;
  }

  private async told(what: string, work: () => Promise<void>): Promise<void> {
    const start = performance.now();
    try {
      await work();
      this.say(`${what}: ${((performance.now() - start) / 1000).toFixed(1)} s`);
    } catch (error) {
      this.say(`${what}: ${words(error)}`);
      throw error;
    }
  }

  /** After an error the work is tried again; after the last try the whole render has failed. */
  private async forRender(job: string, helpers: JobHelpers, work: () => Promise<void>): Promise<void> {
    try {
      await this.told(`${helpers.job.task_identifier} of ${job}`, work);
    } catch (error) {
      const lasting = error instanceof LastingError;
      if (lasting || helpers.job.attempts >= helpers.job.max_attempts)
        await failRender(this.db, job, words(error));
      if (!lasting) throw error;
    }
  }

  private async drawStretch(of: z.infer<typeof stretch>): Promise<void> {
    const job = await readRender(this.db, of.job);
    this.doing = job && `${job.shotName}, frames ${of.first} to ${of.last}`;
    try {
      await this.drawer.draw(of);
    } catch (error) {
      // The browser may be the cause.
      if (!(error instanceof LastingError)) await this.anotherBrowser();
      throw error;
    } finally {
      this.doing = null;
    }
  }

  private async drawCard(id: string): Promise<void> {
    const shot = await readShot(this.db, id);
    if (!shot || shot.document.setup.camera === null) return;
    const { width, height, first } = shot.document.setup;
    this.drawer.forget();
    const scene = await readyScene(shot.document, await readInnerShots(this.db, shot.document), (each) =>
      loudnessOf(this.db, each),
    );
    await loadScene(this.browser(), scene, {
      width: CARD_WIDTH,
      height: Math.max(16, Math.round((CARD_WIDTH * height) / width)),
      alpha: false,
    });
    await keepPicture(this.db, id, shot.revision, await this.browser().draw(first));
  }

  /** Ends at once; what was being drawn goes back into the queue. */
  async stop(): Promise<void> {
    for (const queue of this.queues) queue.leave();
    if (this.reporting) clearInterval(this.reporting);
    await forgetMachine(this.db, this.id).catch(() => undefined);
    await this.db
      .query('select graphile_worker.force_unlock_workers($1::text[])', [[...this.workers.values()]])
      .catch(() => undefined);
    await this.drawing?.close();
  }
}
