import { EventEmitter } from 'node:events';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { hostname, tmpdir } from 'node:os';
import { join } from 'node:path';
import { Logger, run, type JobHelpers, type WorkerEvents } from 'graphile-worker';
import { z } from 'zod';
import { parseShot, type Shot } from '../core/document';
import { filmFormat } from '../core/film';
import { readAsset } from '../server/store/assets';
import type { Database } from '../server/store/database';
import {
  assembleWhenComplete,
  forgetMachine,
  keepFilm,
  keepFrame,
  missingFrames,
  readFrame,
  readRender,
  readRenderDocument,
  reportMachine,
  setStatus,
} from '../server/store/renders';
import { keepPicture, readShot } from '../server/store/shots';
import { assembleFilm, assembleZip, type Pictures } from './assemble';
import { DrawingBrowser } from './drawing-browser';

const REPORT_MS = 2000;
const CARD_WIDTH = 480;

const stretch = z.object({ job: z.uuid(), first: z.number().int(), last: z.number().int() });
const film = z.object({ job: z.uuid() });
const card = z.object({ shot: z.uuid() });

const words = (error: unknown): string => (error instanceof Error ? error.message : String(error));

/**
 * Takes work from the queue: stretches of frames, assembly of films, card pictures. What it has drawn is stored frame
 * by frame, so that a machine that dies costs only the frame it was at.
 */
export class RenderMachine {
  private browser: DrawingBrowser | null = null;
  private loaded = '';
  private workerId: string | null = null;
  private reporting: NodeJS.Timeout | null = null;
  readonly name = `${hostname()} ${process.pid}`;

  constructor(
    private readonly db: Database,
    private readonly say: (line: string) => void,
  ) {}

  async start(): Promise<void> {
    this.browser = await this.openBrowser();
    const events = new EventEmitter() as WorkerEvents;
    events.on('worker:create', ({ worker }) => (this.workerId = worker.workerId));
    await run({
      pgPool: this.db,
      concurrency: 1,
      pollInterval: 1000,
      noHandleSignals: true,
      events,
      logger: new Logger(() => () => undefined),
      taskList: {
        draw_frames: (payload, helpers) =>
          this.forRender(stretch.parse(payload).job, helpers, () => this.drawFrames(stretch.parse(payload))),
        assemble_film: (payload, helpers) =>
          this.forRender(film.parse(payload).job, helpers, () => this.assemble(film.parse(payload).job)),
        draw_card: (payload) => {
          const { shot } = card.parse(payload);
          return this.guarded(`card of ${shot}`, () => this.drawCard(shot));
        },
      },
    });
    await this.report();
    this.reporting = setInterval(() => void this.report(), REPORT_MS);
  }

  private openBrowser(): Promise<DrawingBrowser> {
    return DrawingBrowser.open(async (hash) => {
      const asset = await readAsset(this.db, hash);
      if (!asset) throw new Error('The file is not stored here.');
      return asset.bytes;
    });
  }

  private async report(): Promise<void> {
    if (this.workerId)
      await reportMachine(this.db, this.workerId, this.name, this.browser?.library || null).catch(
        () => undefined,
      );
  }

  /** Starts the browser again after an error, whose cause it may be, and passes the error on. */
  private async guarded(what: string, work: () => Promise<void>): Promise<void> {
    const start = performance.now();
    try {
      await work();
      this.say(`${what}: ${((performance.now() - start) / 1000).toFixed(1)} s`);
    } catch (error) {
      this.say(`${what}: ${words(error)}`);
      this.loaded = '';
      await this.browser?.close().catch(() => undefined);
      this.browser = await this.openBrowser();
      throw error;
    }
  }

  /** After an error the work is tried again; after the last try the whole render has failed. */
  private async forRender(job: string, helpers: JobHelpers, work: () => Promise<void>): Promise<void> {
    try {
      await this.guarded(`${helpers.job.task_identifier} of ${job}`, work);
    } catch (error) {
      if (helpers.job.attempts >= helpers.job.max_attempts)
        await setStatus(
          this.db,
          job,
          ['waiting', 'drawing', 'assembling'],
          'failed',
          words(error).slice(0, 1000),
        );
      throw error;
    }
  }

  private async load(
    key: string,
    document: Shot,
    width: number,
    height: number,
    alpha: boolean,
  ): Promise<void> {
    if (this.loaded === key) return;
    this.loaded = '';
    const parsed = parseShot(document);
    if (!parsed.ok) throw new Error(parsed.problems[0]!.message);
    await this.browser!.load(parsed.shot, { width, height, alpha });
    this.say(`drawing with ${this.browser!.library}`);
    this.loaded = key;
  }

  private async drawFrames({ job: id, first, last }: z.infer<typeof stretch>): Promise<void> {
    const job = await readRender(this.db, id);
    if (!job || !['waiting', 'drawing'].includes(job.status)) return;
    await setStatus(this.db, id, ['waiting'], 'drawing');
    for (const frame of await missingFrames(this.db, id, first, last)) {
      // Asked before every frame, so that a cancelled render stops within one.
      if ((await readRender(this.db, id))?.status !== 'drawing') return;
      if (this.loaded !== id)
        await this.load(id, (await readRenderDocument(this.db, id))!, job.width, job.height, job.alpha);
      await keepFrame(this.db, id, frame, await this.browser!.draw(frame), this.name);
    }
    await assembleWhenComplete(this.db, id);
  }

  private async assemble(id: string): Promise<void> {
    const job = await readRender(this.db, id);
    if (job?.status !== 'assembling') return;
    const { db } = this;
    const pictures: Pictures = (async function* () {
      for (let frame = job.first; frame <= job.last; frame++) {
        const picture = await readFrame(db, id, frame);
        if (!picture) throw new Error(`Frame ${frame} is missing.`);
        yield { frame, picture };
      }
    })();
    const folder = await mkdtemp(join(tmpdir(), 'whirl-'));
    try {
      const path = join(folder, `film.${job.format}`);
      if (job.format === 'png') await assembleZip(pictures, job.fileName ?? job.shotName, path);
      else await assembleFilm(pictures, job.rate, job.format, job.alpha, path, job.quality);
      await keepFilm(db, id, filmFormat(job.format).type, await readFile(path));
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  }

  private async drawCard(id: string): Promise<void> {
    const shot = await readShot(this.db, id);
    if (!shot || shot.document.setup.camera === null) return;
    const { width, height, first } = shot.document.setup;
    await this.load(
      `card ${id} ${shot.revision}`,
      shot.document,
      CARD_WIDTH,
      Math.max(16, Math.round((CARD_WIDTH * height) / width)),
      false,
    );
    await keepPicture(this.db, id, shot.revision, await this.browser!.draw(first));
    this.loaded = '';
  }

  /** Ends at once; what was being drawn goes back into the queue. */
  async stop(): Promise<void> {
    if (this.reporting) clearInterval(this.reporting);
    const { workerId } = this;
    if (workerId) {
      await forgetMachine(this.db, workerId).catch(() => undefined);
      await this.db
        .query('select graphile_worker.force_unlock_workers(array[$1])', [workerId])
        .catch(() => undefined);
    }
    await this.browser?.close();
  }
}
