import { ratchetStep, springStep } from '../mechanism';
import type { Probe } from './plan';

/** Steps in a frame in which what runs from the first frame on is worked out. */
const STEPS = 4;
/** Halvings of a step by which the moment of a rise is found: to 1/64 frame. */
const HALVINGS = 4;
/** Frames after which nothing is run any more. */
const FRAMES = 1_000_000;

/** Values of a channel at frames, whole or not. */
export type ValueAt = (frame: number) => number;

/** Numbers of a run at one frame: a sum; place and speed of what follows; the frame of the last rise; turn of a ratchet and teeth behind. */
type State = [number, number];

/**
 * What a channel makes of its values from the first frame on: their sum over time, what a spring draws after them, when
 * they rose last, how far a lever has turned its ratchet. The answer at a frame is the same whatever was asked before: it is always worked out in the same steps,
 * and remembered at whole frames.
 */
export class Running {
  /** Two numbers for each whole frame from the first on, as far as it has come. */
  private kept = new Float64Array(0);
  private count = 0;

  constructor(
    private readonly probe: Pick<Probe, 'kind' | 'spring' | 'pitch'>,
    private readonly first: number,
    private readonly perSecond: number,
  ) {}

  forget(): void {
    this.count = 0;
  }

  /** The answer at a frame. */
  at(frame: number, value: ValueAt): number {
    const { kind } = this.probe;
    if (!(frame >= this.first))
      return kind === 'follow' || kind === 'ratchet' ? value(frame) : kind === 'since' ? -1 : 0;
    const whole = Math.floor(frame - this.first);
    if (whole > FRAMES) return NaN;
    this.runTo(whole, value);
    const state: State = [this.kept[2 * whole]!, this.kept[2 * whole + 1]!];
    this.run(state, this.first + whole, frame, value);
    if (kind !== 'since') return state[0];
    return state[0] === state[0] ? (frame - state[0]) / this.perSecond : -1;
  }

  private runTo(whole: number, value: ValueAt): void {
    if (this.kept.length < 2 * (whole + 1)) {
      const longer = new Float64Array(Math.max(64, 4 * (whole + 1)));
      longer.set(this.kept);
      this.kept = longer;
    }
    if (this.count === 0) {
      this.kept.set(this.start(value));
      this.count = 1;
    }
    for (; this.count <= whole; this.count++) {
      const k = this.count;
      const state: State = [this.kept[2 * k - 2]!, this.kept[2 * k - 1]!];
      this.run(state, this.first + k - 1, this.first + k, value);
      this.kept.set(state, 2 * k);
    }
  }

  private start(value: ValueAt): State {
    const now = value(this.first);
    if (this.probe.kind === 'follow' || this.probe.kind === 'ratchet') return [now, 0];
    if (this.probe.kind === 'since') return [now > 0 ? this.first : NaN, 0];
    return [0, 0];
  }

  private run(state: State, from: number, to: number, value: ValueAt): void {
    for (let i = 0; i < STEPS; i++) {
      const start = from + i / STEPS;
      if (!(start < to)) return;
      this.step(state, start, Math.min(to, from + (i + 1) / STEPS), value);
    }
  }

  /** Looks at a step from its start and its middle, so that a value that jumps at its end counts only after it. */
  private step(state: State, start: number, end: number, value: ValueAt): void {
    const { kind, spring } = this.probe;
    const seconds = (end - start) / this.perSecond;
    if (kind === 'since') {
      if (!(value(start) > 0) && value(end) > 0) state[0] = rise(start, end, value);
      return;
    }
    if (kind === 'ratchet') {
      const next = ratchetStep({ turn: state[0], behind: state[1] }, value(end), this.probe.pitch!);
      state[0] = next.turn;
      state[1] = next.behind;
      return;
    }
    const middle = value((start + end) / 2);
    if (kind === 'gone') {
      state[0] += middle * seconds;
      return;
    }
    const before = value(start);
    const { stiffness, damping } = spring!;
    const next = springStep(
      { place: state[0], speed: state[1] },
      before,
      before + 2 * (middle - before),
      seconds,
      stiffness,
      damping,
    );
    state[0] = next.place;
    state[1] = next.speed;
  }
}

/** The frame at which a value that is above 0 at the end of a step has risen above it. */
function rise(start: number, end: number, value: ValueAt): number {
  let [low, high] = [start, end];
  for (let i = 0; i < HALVINGS; i++) {
    const middle = (low + high) / 2;
    if (value(middle) > 0) high = middle;
    else low = middle;
  }
  return high;
}
