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

  /** Plays on from a frame, over and over. @param range frames to stay in; missing for those of the shot */
  play(from: number, range?: { readonly first: number; readonly last: number }): void {
    if (this.time.now.playing) return;
    this.time.runs(true);
    const start = performance.now();
    const step = (now: number): void => {
      const { rate } = this.doc.now.shot.setup;
      const { first, last } = range ?? this.doc.now.shot.setup;
      const length = last - first + 1;
      const gone = Math.max(0, Math.floor(((now - start) / 1000) * framesPerSecond(rate)));
      const next = first + ((from - first + gone) % length);
      if (next !== this.time.now.frame) {
        this.time.at(next);
        this.doc.evaluate(next, {});
      }
      this.request = requestAnimationFrame(step);
    };
    this.request = requestAnimationFrame(step);
  }

  stop(): void {
    if (!this.time.now.playing) return;
    cancelAnimationFrame(this.request);
    this.time.runs(false);
  }
}
