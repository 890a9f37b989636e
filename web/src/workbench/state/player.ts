import { framesPerSecond } from '../../../../core/time';
import type { OpenShot } from '../../shot/open-shot';
import type { Time } from './time';

/** Plays the shot at its rate. Pictures are dropped when the view is slow, never time. */
export class Player {
  private request = 0;

  constructor(
    private readonly time: Time,
    private readonly doc: OpenShot,
  ) {}

  /** Plays on from a frame, over and over unless it is to end. @param range frames to stay in; missing for those of the shot */
  play(from: number, range?: { readonly first: number; readonly last: number }): void {
    if (this.time.now.playing) return;
    this.time.runs(true);
    const start = performance.now();
    let evaluated: number | null = null;
    const step = (now: number): void => {
      const { setup } = this.doc.now.shot;
      const { first, last } = range ?? setup;
      const { hold, loops } = this.time.now;
      const length = last - first + 1;
      const gone =
        from - first + Math.max(0, Math.floor(((now - start) / 1000) * framesPerSecond(setup.rate)));
      const ended = !loops && gone >= length - 1;
      const next = ended ? last : first + (gone % length);
      if (next !== this.time.now.frame) this.time.at(next);
      const shown = Math.max(first, setup.first + Math.floor((next - setup.first) / hold) * hold);
      if (shown !== (evaluated ?? from)) {
        evaluated = shown;
        this.doc.evaluate(shown, {});
      }
      if (ended) {
        this.stop();
        return;
      }
      this.request = requestAnimationFrame(step);
    };
    this.request = requestAnimationFrame(step);
  }

  stop(): void {
    if (!this.time.now.playing) return;
    cancelAnimationFrame(this.request);
    this.time.runs(false);
    // A picture that was held shows another frame than the one time stands at.
    if (this.time.now.hold > 1) this.doc.evaluate(this.time.now.frame, {});
  }
}
