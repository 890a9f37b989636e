import { framesPerSecond } from '../../../../core/time';
import type { Shot } from '../../../../core/document';
import type { Time } from './time';

/** Frames from one to another, both with. */
export interface FrameRange {
  readonly first: number;
  readonly last: number;
}

/** What is played: frames of a shot, which are worked out as they come. */
export interface Played {
  readonly now: { readonly shot: Pick<Shot, 'setup'> };
  evaluate(frame: number, loose: Readonly<Record<string, never>>): void;
}

/** What is heard while it plays: its clock leads, so that the picture follows the sound. */
export interface AudioClock {
  /** Begins at a frame. @returns seconds heard since, `null` while its clock stands; `null` where nothing is to be heard */
  start(from: number, range: FrameRange): (() => number | null) | null;
  stop(): void;
}

const SILENT: AudioClock = { start: () => null, stop: () => undefined };
/** Part of a frame by which a time that is a frame in numbers may fall short of it. */
const NEARLY = 1e-6;

/** Plays the shot at its rate. Pictures are dropped when the view is slow, never time. */
export class Player {
  private request = 0;

  constructor(
    private readonly time: Time,
    private readonly doc: Played,
    private readonly sound: AudioClock = SILENT,
  ) {}

  /** Plays on from a frame, over and over unless it is to end. @param range frames to stay in; missing for those of the shot */
  play(from: number, range?: FrameRange): void {
    if (this.time.now.playing) return;
    this.time.runs(true);
    const heard = this.sound.start(from, range ?? this.doc.now.shot.setup);
    let start = performance.now();
    let evaluated: number | null = null;
    const step = (now: number): void => {
      const { setup } = this.doc.now.shot;
      const { first, last } = range ?? setup;
      const { hold, loops } = this.time.now;
      const length = last - first + 1;
      const sounding = heard?.() ?? null;
      // While the clock of the sound stands, the page's own goes on from where that was.
      if (sounding !== null) start = now - sounding * 1000;
      const since = sounding ?? (now - start) / 1000;
      const gone = from - first + Math.max(0, Math.floor(since * framesPerSecond(setup.rate) + NEARLY));
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
    this.sound.stop();
    this.time.runs(false);
    // A picture that was held shows another frame than the one time stands at.
    if (this.time.now.hold > 1) this.doc.evaluate(this.time.now.frame, {});
  }
}
