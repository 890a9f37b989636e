import { createHash } from 'node:crypto';
import { EventEmitter } from 'node:events';
import { rm } from 'node:fs/promises';
import { setTimeout as pause } from 'node:timers/promises';
import { hostname } from 'node:os';
import { join } from 'node:path';
import type { JobHelpers, WorkerEvents } from 'graphile-worker';
import { z } from 'zod';
import { budgetTrouble } from '../core/check';
import { parseShot, type Shot } from '../core/document';
import { compile, type Loudness, type LoudnessTables } from '../core/evaluate';
import { filmFormat } from '../core/film';
import { FrameMeaning } from '../core/frame';
import { withInnerSounds } from '../core/inset';
import { KeptQueue } from '../server/store/queue';
import { readAsset } from '../server/store/assets';
import type { Database } from '../server/store/database';
import {
  assembleWhenComplete,
  forgetMachine,
  giveUpDead,
  keepFilm,
  keepFrame,
  missingFrames,
  readFrame,
  readRender,
  readRenderDocument,
  readRenderInner,
  reportMachine,
  setStatus,
  takeOverFrame,
} from '../server/store/renders';
import type { RenderJob } from '../wire';
import { readInnerShots, type InnerShots } from '../server/store/inner-shots';
import { keepPicture, readShot } from '../server/store/shots';
import { readLoudness, readSoundFacts } from '../server/store/sounds';
import { assemble, type Pictures } from './assemble';
import { mixedSound } from './mixed-sound';
import { unlessGivenUp } from './break-off';
import { DrawingBrowser, type InnerShot } from './drawing-browser';
import { LastingError } from './lasting-error';
import { makeFolder } from './work-folder';

/** How long a film waits for a sound that is still being read. */
const SOUND_PATIENCE_S = 300;
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
  private meaning: FrameMeaning | null = null;
  private workerId: string | null = null;
  private reporting: NodeJS.Timeout | null = null;
  private queue: KeptQueue | null = null;
  readonly name = `${hostname()} ${process.pid}`;

  constructor(
    private readonly db: Database,
    private readonly say: (line: string) => void,
  ) {}

  /** Begins to take work. @throws Error when nothing can be drawn here, or there is no queue */
  async start(): Promise<void> {
    this.browser = await this.openBrowser();
    this.queue = this.queueOf();
    await this.queue.start();
    await this.report();
    this.reporting = setInterval(() => void this.report(), REPORT_MS);
  }

  private queueOf(): KeptQueue {
    const events = new EventEmitter() as WorkerEvents;
    events.on('worker:create', ({ worker }) => (this.workerId = worker.workerId));
    return new KeptQueue(
      {
        pgPool: this.db,
        concurrency: 1,
        events,
        taskList: {
          draw_frames: (payload, helpers) =>
            this.forRender(stretch.parse(payload).job, helpers, () =>
              this.drawFrames(stretch.parse(payload)),
            ),
          assemble_film: (payload, helpers) =>
            this.forRender(film.parse(payload).job, helpers, () => this.assemble(film.parse(payload).job)),
          draw_card: (payload) => {
            const { shot } = card.parse(payload);
            return this.guarded(`card of ${shot}`, () => this.drawCard(shot)).catch((error: unknown) => {
              // A shot that cannot be drawn has no picture; it is asked for again after the next change.
              if (!(error instanceof LastingError)) throw error;
            });
          },
        },
      },
      this.say,
    );
  }

  private openBrowser(): Promise<DrawingBrowser> {
    return DrawingBrowser.open(async (hash) => {
      const asset = await readAsset(this.db, hash);
      if (!asset)
        throw new LastingError(
          `${hash.slice(0, 12)} is not stored here. Bring the picture or mesh in again.`,
        );
      return asset.bytes;
    });
  }

  /** Says that it is there, which it is only while it takes work, and ends films that nobody works on. */
  private async report(): Promise<void> {
    if (!this.workerId || !this.queue?.working) return;
    try {
      await reportMachine(this.db, this.workerId, this.name, this.browser?.library || null);
      for (const id of await giveUpDead(this.db)) this.say(`${id}: given up`);
    } catch {
      // PostgreSQL is away: told by the queue, and said again when it is back.
    }
  }

  /** Starts the browser again after an error, whose cause it may be, and passes the error on. */
  private async guarded(what: string, work: () => Promise<void>): Promise<void> {
    const start = performance.now();
    try {
      await work();
      this.say(`${what}: ${((performance.now() - start) / 1000).toFixed(1)} s`);
    } catch (error) {
      this.say(`${what}: ${words(error)}`);
      if (error instanceof LastingError) throw error;
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
      const lasting = error instanceof LastingError;
      if (lasting || helpers.job.attempts >= helpers.job.max_attempts)
        await setStatus(
          this.db,
          job,
          ['waiting', 'drawing', 'assembling'],
          'failed',
          words(error).slice(0, 1000),
        );
      if (!lasting) throw error;
    }
  }

  private async load(
    key: string,
    document: Shot,
    width: number,
    height: number,
    alpha: boolean,
    inner: InnerShots,
  ): Promise<void> {
    if (this.loaded === key) return;
    this.loaded = '';
    const parsed = parseShot(document);
    if (!parsed.ok) throw new LastingError(parsed.problems[0]!.message);
    const trouble = budgetTrouble(compile(parsed.shot));
    if (trouble) throw new LastingError(trouble);
    const others: InnerShot[] = [];
    for (const [id, shot] of Object.entries(inner))
      others.push({ id, shot, loudness: await this.loudnessOf(shot) });
    const loudness = await this.loudnessOf(parsed.shot);
    await this.browser!.load(parsed.shot, { width, height, alpha }, loudness, others);
    const plans = new Map(others.map((other) => [other.id, compile(other.shot, other.loudness)]));
    this.meaning = new FrameMeaning(compile(parsed.shot, loudness), (other) => plans.get(other) ?? null);
    this.say(`drawing with ${this.browser!.library}`);
    this.loaded = key;
  }

  /** How loud the sounds of a shot are, for formulas that read it. Those that are still being read are waited for. */
  private async loudnessOf(shot: Shot): Promise<LoudnessTables> {
    const tables: Record<string, Loudness> = {};
    for (const [id, { name, asset }] of Object.entries(shot.sounds)) {
      if (!asset) continue;
      let facts = await readSoundFacts(this.db, asset);
      for (let waited = 0; facts?.state === 'waiting' && waited < SOUND_PATIENCE_S; waited++) {
        await pause(1000);
        facts = await readSoundFacts(this.db, asset);
      }
      if (facts?.state === 'waiting')
        throw new Error(`The sound "${name}" has been waiting to be read for ${SOUND_PATIENCE_S} seconds.`);
      const table = facts && (await readLoudness(this.db, asset));
      if (table) tables[id] = table;
    }
    return tables;
  }

  private async drawFrames({ job: id, first, last }: z.infer<typeof stretch>): Promise<void> {
    const job = await readRender(this.db, id);
    if (!job || !['waiting', 'drawing'].includes(job.status)) return;
    await setStatus(this.db, id, ['waiting'], 'drawing');
    for (const frame of await missingFrames(this.db, id, first, last)) {
      // Asked before every frame, so that a cancelled render stops within one.
      if ((await readRender(this.db, id))?.status !== 'drawing') return;
      if (this.loaded !== id)
        await this.load(
          id,
          (await readRenderDocument(this.db, id))!,
          job.width,
          job.height,
          job.alpha,
          await readRenderInner(this.db, id),
        );
      const meaning = this.meaningOf(frame, job);
      if (await takeOverFrame(this.db, id, frame, meaning)) continue;
      const picture = await this.drawUnlessCancelled(id, frame);
      if (!picture) return;
      await keepFrame(this.db, id, frame, picture, this.name, meaning);
    }
    await assembleWhenComplete(this.db, id);
  }

  /** Hash of what a frame of the loaded shot shows and of what it is drawn with. */
  private meaningOf(frame: number, { width, height, alpha }: RenderJob): string {
    const hash = createHash('sha256');
    const take = (piece: string | Uint8Array): void => void hash.update(piece).update('\n');
    const { library, program } = this.browser!;
    take(JSON.stringify([library, program, width, height, alpha]));
    this.meaning!.of(frame, take);
    return hash.digest('hex');
  }

  /** A frame of a film, or null when the film is cancelled while it is drawn: then the browser is ended. */
  private async drawUnlessCancelled(id: string, frame: number): Promise<Buffer | null> {
    const picture = await unlessGivenUp(
      this.browser!.draw(frame),
      async () => (await readRender(this.db, id))?.status !== 'drawing',
      () => this.browser!.close(),
    );
    if (!picture) {
      this.loaded = '';
      this.browser = await this.openBrowser();
    }
    return picture;
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
    const folder = makeFolder();
    try {
      const path = join(folder, `film.${filmFormat(job.format).ending}`);
      await assemble(
        pictures,
        { ...job, name: job.fileName ?? job.shotName, sound: () => this.soundOf(job, folder) },
        path,
      );
      await keepFilm(db, id, filmFormat(job.format).type, path);
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  }

  /** Mixes what is heard in a film into a file. */
  private async soundOf(job: RenderJob, folder: string): Promise<string | null> {
    const { db } = this;
    const inner = await readRenderInner(db, job.id);
    const shot = withInnerSounds((await readRenderDocument(db, job.id))!, {
      shotOf: (other) => inner[other] ?? null,
    });
    const read = async (hash: string): Promise<Buffer | null> => (await readAsset(db, hash))?.bytes ?? null;
    return mixedSound(shot, await this.loudnessOf(shot), job, folder, read);
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
      await readInnerShots(this.db, shot.document),
    );
    await keepPicture(this.db, id, shot.revision, await this.browser!.draw(first));
    this.loaded = '';
  }

  /** Ends at once; what was being drawn goes back into the queue. */
  async stop(): Promise<void> {
    this.queue?.leave();
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
