import { createHash } from 'node:crypto';
import { filmFormat } from '../core/film';
import type { Layer } from '../core/reel';
import type { FileStore } from '../server/files';
import type { Database } from '../server/store/database';
import { keepFrame, missingFrames, noteTrouble, takeOverFrame } from '../server/store/frames';
import {
  assembleWhenComplete,
  claimLibrary,
  noteEvent,
  pauseRender,
  readRender,
  readFilmOf,
  readStatus,
  setStatus,
} from '../server/store/renders';
import { putBackStretch } from '../server/store/stretches';
import type { RenderJob } from '../wire';
import { wantsNumbers } from './assemble';
import { Composer, type Drawn } from './composer';
import { unlessGivenUp } from './break-off';
import type { DrawingBrowser, PictureSize } from './drawing-browser';
import { loadScene, loudnessOf } from './film-loader';
import { FilmScenes, type Composition } from './film-scenes';
import { LastingError } from './lasting-error';
import { pngOf, type RawFrame } from './raw-frame';
import type { RecentFrames } from './recent-frames';

/** Frames are not drawn where less than this is free. */
const LEAST_ROOM = 200 * 1024 * 1024;
/** A stretch that another library is to draw is looked at again so much later, should no machine have it. */
const PUT_BACK_SECONDS = 2;

export interface Stretch {
  readonly job: string;
  readonly first: number;
  readonly last: number;
}

/** What a drawer needs of the machine that it is part of. */
export interface Easel {
  readonly name: string;
  browser(): DrawingBrowser;
  /** Another browser instead of one that has failed or is to be ended. */
  anotherBrowser(): Promise<void>;
  drew(ms: number): void;
}

const words = (error: unknown): string => (error instanceof Error ? error.message : String(error));
const isFull = (error: unknown): boolean =>
  ['ENOSPC', 'EDQUOT'].includes((error as NodeJS.ErrnoException | null)?.code ?? '');

/** The scene of a film that the browser draws. */
interface Loaded {
  readonly id: string;
  readonly scene: string;
  readonly browser: DrawingBrowser;
}

/** A film that is drawn. */
interface Film {
  readonly job: RenderJob;
  readonly size: PictureSize;
  readonly scenes: FilmScenes;
  readonly composer: Composer;
}

/** What the next frame shows, as a hash for a browser. */
interface Ahead {
  readonly frame: number;
  readonly browser: DrawingBrowser;
  readonly hash: Promise<string>;
}

/** Draws stretches of films. A frame is packed and stored while the next one is drawn. */
export class FilmDrawer {
  private loaded: Loaded | null = null;
  private film: Film | null = null;

  constructor(
    private readonly db: Database,
    private readonly files: FileStore,
    private readonly recent: RecentFrames,
    private readonly easel: Easel,
  ) {}

  /** The browser draws something else now. */
  forget(): void {
    this.loaded = null;
    this.film = null;
  }

  async draw({ job: id, first, last }: Stretch): Promise<void> {
    const job = await readRender(this.db, id);
    if (!job || !['waiting', 'drawing'].includes(job.status)) return;
    const { library } = this.easel.browser();
    const ofFilm = await claimLibrary(this.db, id, library);
    if (ofFilm !== library) {
      await putBackStretch(this.db, id, { first, last }, ofFilm, PUT_BACK_SECONDS);
      return;
    }
    if (!(await this.hasRoom(id))) return;
    if (await setStatus(this.db, id, ['waiting'], 'drawing'))
      await noteEvent(this.db, id, `Begun by ${this.easel.name}, drawing with ${library}.`);
    for (;;) {
      const missing = await missingFrames(this.db, id, first, last);
      if (missing.length === 0) break;
      if (!(await this.drawFrames(job, missing))) return;
    }
    await assembleWhenComplete(this.db, id);
  }

  private async hasRoom(id: string): Promise<boolean> {
    const room = await this.files.room();
    if (room === null || room >= LEAST_ROOM) return true;
    await this.pauseFull(id);
    return false;
  }

  private async pauseFull(id: string): Promise<void> {
    await pauseRender(
      this.db,
      id,
      `${this.files.place} is full: less than ${LEAST_ROOM / 1024 / 1024} MB are free on its disk. Make room, for example on the Storage page, then go on.`,
    );
  }

  /** @returns false when the film is not drawn any more */
  private async drawFrames(job: RenderJob, frames: readonly number[]): Promise<boolean> {
    const { id } = job;
    let storing: Promise<void> = Promise.resolve();
    let stored = '';
    try {
      const film = await this.filmOf(job);
      let next: Ahead | null = null;
      for (const [i, frame] of frames.entries()) {
        // Asked before every frame, so that a film that is cancelled or paused stops within one.
        if ((await readStatus(this.db, id)) !== 'drawing') return false;
        const composition = film.scenes.at(frame);
        const known = next?.frame === frame && next.browser === this.easel.browser() ? next.hash : null;
        const hash = await (known ?? this.meaningOf(film, composition));
        // A hold is drawn once: its second frame takes over the first as soon as that is there.
        if (hash === stored) await storing;
        if (!job.fresh && (await takeOverFrame(this.db, id, frame, hash))) continue;
        const { browser } = await this.load(film, film.composer.firstScene(frame));
        const start = performance.now();
        let drawn: Drawn | null;
        try {
          const drawing = film.composer.frame(frames, frame);
          next = this.lookAhead(film, frames[i + 1]);
          drawn = await unlessGivenUp(
            drawing,
            async () => !['drawing', 'paused'].includes((await readStatus(this.db, id)) ?? ''),
            () => browser.close(),
          );
        } catch (error) {
          await this.trouble(id, frame, error);
          continue;
        }
        if (!drawn) {
          await this.easel.anotherBrowser();
          return false;
        }
        const took = performance.now() - start;
        this.easel.drew(took);
        await storing;
        storing = this.store(job, frame, drawn.picture, hash, took);
        stored = hash;
        storing.catch(() => undefined);
      }
      await storing;
      return true;
    } catch (error) {
      if (!isFull(error)) throw error;
      await this.pauseFull(id);
      return false;
    } finally {
      await storing.catch(() => undefined);
    }
  }

  /** Works out what a frame shows, once the drawing of the one before it has begun. */
  private lookAhead(film: Film, frame: number | undefined): Ahead | null {
    if (frame === undefined) return null;
    const begun = new Promise((resolve) => setImmediate(resolve));
    const hash = begun.then(() => this.meaningOf(film, film.scenes.at(frame)));
    hash.catch(() => undefined);
    return { frame, browser: this.easel.browser(), hash };
  }

  private async drawLayer(film: Film, { scene, frame }: Layer): Promise<Drawn> {
    const { browser } = await this.load(film, scene);
    return browser.drawAhead(frame);
  }

  private async store(
    { id, format }: RenderJob,
    frame: number,
    arriving: Promise<RawFrame>,
    meaning: string,
    took: number,
  ): Promise<void> {
    const { library } = this.easel.browser();
    const picture = await arriving;
    const file = await this.files.keep(await pngOf(picture));
    await keepFrame(this.db, id, { frame, file, machine: this.easel.name, library, meaning, took });
    // Whoever writes the film takes it at once, and may end the film with it.
    if (wantsNumbers(format)) this.recent.put(id, frame, picture);
  }

  /** Notes that a frame could not be drawn. The browser may be the cause: another one takes its place. */
  private async trouble(id: string, frame: number, error: unknown): Promise<void> {
    if (error instanceof LastingError) throw error;
    await noteTrouble(this.db, id, frame, words(error).slice(0, 500), this.easel.name);
    await this.easel.anotherBrowser();
  }

  private async filmOf(job: RenderJob): Promise<Film> {
    if (this.film?.job.id === job.id) return this.film;
    const { width, height, alpha, samples, effects, format } = job;
    const size = { width, height, alpha, samples, effects, deep: filmFormat(format).deep };
    const scenes = new FilmScenes((await readFilmOf(this.db, job.id))!, (shot) => loudnessOf(this.db, shot));
    const film: Film = {
      ...{ job, size, scenes },
      composer: new Composer(
        (frame) => scenes.at(frame),
        size,
        (layer) => this.drawLayer(film, layer),
      ),
    };
    return (this.film = film);
  }

  private async load({ job, scenes, size }: Film, scene: string): Promise<Loaded> {
    const browser = this.easel.browser();
    const { loaded } = this;
    if (loaded?.id === job.id && loaded.scene === scene && loaded.browser === browser) return loaded;
    this.loaded = null;
    await loadScene(browser, await scenes.scene(scene), size);
    return (this.loaded = { id: job.id, scene, browser });
  }

  /** Hash of what a frame shows and of what it is drawn with. */
  private async meaningOf(film: Film, { below, shown, join }: Composition): Promise<string> {
    const hashOf = async ({ scene, frame }: Layer): Promise<string> => {
      const hash = createHash('sha256');
      const take = (piece: string | Uint8Array): void => void hash.update(piece).update('\n');
      const { library, program } = this.easel.browser();
      const { width, height, alpha, samples, effects, deep } = film.size;
      take(JSON.stringify([library, program, width, height, alpha, samples, effects, deep]));
      (await film.scenes.scene(scene)).meaning.of(frame, take);
      return hash.digest('hex');
    };
    const of = await hashOf(shown);
    if (!join) return of;
    const { manner, from, share } = join;
    const parts = [manner, from, share, below && (await hashOf(below)), of];
    return createHash('sha256').update(JSON.stringify(parts)).digest('hex');
  }
}
