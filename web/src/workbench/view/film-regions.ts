import type { WebGLRenderer } from 'three';
import { Film, type Exposure, type FilmFrameOf, type Picture } from '../../../../draw';

const POLL_MS = 8;

/** Where the view shows what the camera takes. */
export type FilmRegion = 'main' | 'finder' | 'other';

interface Shown {
  readonly film: Film;
  readonly picture: Picture;
  readonly of: FilmFrameOf;
  readonly canvasHeight: number;
  exposure: Exposure | null;
}

/** Parts of the view that show the film: one picture at once, and as many as the shot asks for when all is at rest. */
export class FilmRegions {
  private readonly films = new Map<FilmRegion, Film>();
  private shown: Shown[] = [];

  constructor(private readonly renderer: WebGLRenderer) {}

  /** Forgets what was shown: the view is drawn anew. */
  begin(): void {
    this.shown = [];
  }

  /** Draws a frame at once, of one picture. */
  draw(region: FilmRegion, picture: Picture, of: FilmFrameOf, canvasHeight: number): void {
    let film = this.films.get(region);
    if (!film) this.films.set(region, (film = new Film(this.renderer)));
    film.draw(picture, { ...of, samples: 1 }, canvasHeight);
    if (region !== 'other') this.shown.push({ film, picture, of, canvasHeight, exposure: null });
  }

  /** Whether more pictures would make what is shown finer. */
  get unfinished(): boolean {
    return this.shown.some(
      ({ of, exposure }) => (of.evaluator.plan.shot.setup.samples ?? 1) > 1 && !exposure?.done,
    );
  }

  /** Takes one picture more and shows it. @returns whether there are more to take */
  refine(): boolean {
    for (const entry of this.shown) {
      entry.exposure ??= entry.film.expose(entry.picture, entry.of, entry.canvasHeight);
      if (entry.exposure.done || entry.exposure.samples === 1) continue;
      entry.exposure.take();
      entry.exposure.show();
      break;
    }
    return this.unfinished;
  }

  /**
   * Calls back when all that was asked for is drawn: who asks for more before that makes what somebody does next wait for it.
   * @returns stops waiting
   */
  whenDrawn(then: () => void): () => void {
    const gl = this.renderer.getContext() as WebGL2RenderingContext;
    const sync = gl.fenceSync(gl.SYNC_GPU_COMMANDS_COMPLETE, 0);
    gl.flush();
    let timer = setTimeout(function look() {
      const done = !sync || gl.isContextLost() || gl.getSyncParameter(sync, gl.SYNC_STATUS) === gl.SIGNALED;
      if (!done) timer = setTimeout(look, POLL_MS);
      else {
        if (sync) gl.deleteSync(sync);
        then();
      }
    });
    return () => clearTimeout(timer);
  }

  dispose(): void {
    for (const film of this.films.values()) film.dispose();
  }
}
