import type { RenderJob } from '../wire';
import type { News } from './news';
import type { Database } from './store/database';
import { readRender, RENDER_CHANNEL } from './store/renders';

/** A film is looked at no more often than this, however fast its frames come. */
const PAUSE_MS = 100;

type Tell = (job: RenderJob) => void;

interface Film {
  readonly tellers: Set<Tell>;
  readonly stop: () => void;
  reading: boolean;
  /** Whether something happened since the last look began. */
  stale: boolean;
}

/** Tells those who follow films how far these are; a film is read once for all who follow it. */
export class FilmNews {
  private readonly films = new Map<string, Film>();

  constructor(
    private readonly db: Database,
    private readonly news: News,
  ) {}

  /** Calls `tell` now and whenever the film changes. @returns a function that stops it */
  follow(id: string, tell: Tell): () => void {
    let film = this.films.get(id);
    if (!film) {
      film = {
        tellers: new Set(),
        stop: this.news.follow(RENDER_CHANNEL, id, () => this.look(id)),
        reading: false,
        stale: false,
      };
      this.films.set(id, film);
    }
    film.tellers.add(tell);
    this.look(id);
    return () => {
      film.tellers.delete(tell);
      if (film.tellers.size > 0 || this.films.get(id) !== film) return;
      film.stop();
      this.films.delete(id);
    };
  }

  private look(id: string): void {
    const film = this.films.get(id);
    if (!film) return;
    film.stale = true;
    if (!film.reading) void this.read(id, film);
  }

  private async read(id: string, film: Film): Promise<void> {
    film.reading = true;
    while (film.stale && film.tellers.size > 0) {
      film.stale = false;
      const job = await readRender(this.db, id).catch(() => null);
      if (job) for (const tell of [...film.tellers]) tell(job);
      await new Promise((resolve) => setTimeout(resolve, PAUSE_MS));
    }
    film.reading = false;
  }
}
