import { Evaluator } from '../../../../core/evaluate';
import { createRenderer, Film, Picture } from '../../../../draw';
import type { Session } from '../session';

/** Pictures that the small one is built up from at most. */
const SAMPLES = 8;

/** What the small picture is of. */
export interface FirstOf {
  readonly frame: number;
  /** Pixels. */
  readonly width: number;
  readonly height: number;
  readonly alpha: boolean;
  /** `null`, as many as the shot says. */
  readonly samples: number | null;
  readonly effects: boolean;
}

/** Draws frames of the open shot small, by the means of the film, beside the view. */
export class FirstDrawing {
  private readonly canvas = new OffscreenCanvas(1, 1);
  private readonly renderer = createRenderer(this.canvas, { alpha: true, preserve: true });
  private readonly film = new Film(this.renderer);
  private readonly picture: Picture;
  private left = false;
  private asked = 0;
  private last: Promise<unknown> = Promise.resolve();

  constructor(private readonly session: Session) {
    this.picture = new Picture(session.assets);
    this.picture.setInner(session.insets.planOf);
  }

  /** @returns the picture as PNG, or `null` where there is no camera, or another one was asked for meanwhile */
  draw(of: FirstOf): Promise<Blob | null> {
    const mine = ++this.asked;
    const drawn = this.last.then(() => (this.left || mine !== this.asked ? null : this.make(of)));
    this.last = drawn.catch(() => undefined);
    return drawn;
  }

  private async make({ frame, width, height, alpha, ...of }: FirstOf): Promise<Blob | null> {
    const { picture, renderer, film, session } = this;
    const { plan } = session.doc.now;
    const evaluator = new Evaluator(plan);
    evaluator.evaluate(frame);
    renderer.setSize(width, height, false);
    picture.setPlan(plan);
    picture.update(evaluator);
    const aspect = width / height;
    const camera = picture.shotCamera(evaluator, { aspect });
    if (!camera) return null;
    // The page goes on while programs are linked and videos are read.
    await picture.link(renderer, camera).catch(() => undefined);
    await session.assets.settled();
    if (this.left) return null;
    const samples = Math.min(SAMPLES, of.samples ?? plan.shot.setup.samples ?? 1);
    const exposure = film.expose(picture, { evaluator, aspect, alpha, samples, effects: of.effects });
    while (exposure.take()) {
      await new Promise((next) => setTimeout(next));
      if (this.left) return null;
    }
    exposure.show();
    return this.canvas.convertToBlob({ type: 'image/png' });
  }

  dispose(): void {
    this.left = true;
    // What is being linked asks for its programs until it is done.
    void this.last.then(() => {
      this.film.dispose();
      this.picture.dispose();
      this.renderer.dispose();
      this.renderer.forceContextLoss();
    });
  }
}
