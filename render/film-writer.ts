import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { Shot } from '../core/document';
import { filmFormat } from '../core/film';
import { withInnerSounds } from '../core/inset';
import { soundShot } from '../core/reel';
import type { FileStore } from '../server/files';
import { readAsset } from '../server/store/assets';
import type { Database } from '../server/store/database';
import { keepFilm } from '../server/store/films';
import { readFrame } from '../server/store/frames';
import { assembleWhenComplete, readRender, readFilmOf, readStatus } from '../server/store/renders';
import { completeFilmWaits } from '../server/store/stretches';
import type { RenderJob } from '../wire';
import { assemble } from './assemble';
import { loudnessOf } from './film-loader';
import { mixedSound } from './mixed-sound';
import { picturePng, pictureRaw, type FilmPicture, type Pictures } from './raw-frame';
import type { RecentFrames } from './recent-frames';
import { makeFolder } from './work-folder';

/** What is drawn here is heard of at once; what others draw is asked for so often. */
const LOOK_MS = 500;

/** The film cannot be written now: it is over, waits for somebody, or makes way for one that is complete. */
class NotNow extends Error {}

/** Writes films, while their frames come in: the first pictures are encoded while the next ones are drawn. */
export class FilmWriter {
  constructor(
    private readonly db: Database,
    private readonly files: FileStore,
    private readonly recent: RecentFrames,
  ) {}

  /** Writes a film and ends its job; leaves off when it is not to be written now. @throws Error when it failed */
  async write(id: string): Promise<void> {
    const job = await readRender(this.db, id);
    if (!job || !['waiting', 'drawing', 'assembling'].includes(job.status)) return;
    const folder = makeFolder();
    try {
      const { ending, type } = filmFormat(job.format);
      const path = join(folder, `film.${ending}`);
      await assemble(
        this.pictures(job),
        { ...job, name: job.fileName ?? job.shotName, sound: () => this.soundOf(job, folder) },
        path,
      );
      // Whoever drew the last frame may not have come to say so yet.
      await assembleWhenComplete(this.db, id);
      if ((await readStatus(this.db, id)) !== 'assembling') return;
      await keepFilm(this.db, this.files, id, type, path);
    } catch (error) {
      if (!(error instanceof NotNow)) throw error;
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  }

  private async *pictures(job: RenderJob): Pictures {
    for (let frame = job.first; frame <= job.last; frame++) yield await this.picture(job.id, frame);
  }

  /** A frame as soon as it is there. */
  private async picture(id: string, frame: number): Promise<FilmPicture> {
    for (;;) {
      const status = await readStatus(this.db, id);
      if (status === null || !['waiting', 'drawing', 'assembling'].includes(status)) throw new NotNow();
      const raw = this.recent.take(id, frame);
      if (raw) return pictureRaw(frame, raw);
      const png = await readFrame(this.db, this.files, id, frame);
      if (png) return picturePng(frame, png);
      if (status === 'assembling') throw new Error(`The picture of frame ${frame} is gone.`);
      if (await completeFilmWaits(this.db)) throw new NotNow();
      await this.recent.come(id, frame, LOOK_MS);
    }
  }

  /** Mixes what is heard in a film into a file. */
  private async soundOf(job: RenderJob, folder: string): Promise<string | null> {
    const { db, files } = this;
    const { document, reel, inner } = (await readFilmOf(db, job.id))!;
    const shotOf = (other: string): Shot | null => inner[other] ?? null;
    const shot = reel ? soundShot(reel, shotOf) : withInnerSounds(document!, { shotOf });
    const read = async (hash: string): Promise<Buffer | null> =>
      (await readAsset(db, files, hash))?.bytes ?? null;
    return mixedSound(shot, await loudnessOf(db, shot), job, folder, read);
  }
}
