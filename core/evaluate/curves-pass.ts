import {
  A_VALUE,
  B_TIME,
  B_VALUE,
  C_TIME,
  C_VALUE,
  fillAt,
  foldedValue,
  makeRecords,
  RANGE_SIZE,
  RECORD_SIZE,
  SOLVE_EASY,
  SOLVE_FOLDED,
  START,
  VALUE,
  valueOfRecord,
  WIDTH,
  type Records,
} from '../curve';
import { constrain, FIT_PLAIN } from './constrain';
import type { CurveTargets, KeyedComponent, Plan } from './plan';

/** Works out all keyed components of a plan; it keeps the stretch that each is on from frame to frame. */
export class CurvesPass {
  private readonly stretches: Records;
  private readonly missed: Int32Array;
  private readonly solved: Float64Array;

  constructor(private readonly plan: Plan) {
    const { length } = plan.keyed;
    this.stretches = makeRecords(length);
    this.missed = new Int32Array(length);
    this.solved = new Float64Array(length);
  }

  /** Forgets the stretch that a component was on, since its keys are others now. */
  forget(index: number): void {
    this.stretches.ranges.fill(NaN, index * RANGE_SIZE, (index + 1) * RANGE_SIZE);
  }

  /**
   * All keyed components at a frame, in passes over dense arrays: find those whose record does not stand for the frame,
   * fill these, solve all cubics without a branch, and redo the few that are no easy cubic. The split keeps the solving
   * loop free of branches, which halves its cost (docs/speed.md).
   */
  run(frame: number, values: Float64Array): void {
    const { stretches, solved, missed } = this;
    const { records, ranges, solves } = stretches;
    const { tracks, origins } = this.plan;
    const { slots: targets, fits, odd, lows, highs } = this.plan.curves;
    const count = targets.length;
    let misses = 0;
    for (let i = 0, at = 0; i < count; i++, at += RANGE_SIZE) {
      missed[misses] = i;
      misses += frame >= ranges[at]! && frame < ranges[at + 1]! ? 0 : 1;
    }
    for (let m = 0; m < misses; m++) fillAt(tracks, origins[missed[m]!]!, frame, stretches, missed[m]!);
    for (let i = 0, at = 0; i < count; i++, at += RECORD_SIZE) {
      const u = (frame - records[at + START]!) * records[at + WIDTH]!;
      const b = records[at + B_TIME]!;
      const c = records[at + C_TIME]!;
      const a = 1 - b - c;
      let s = u;
      let e = ((a * s + b) * s + c) * s - u;
      let g = (3 * a * s + 2 * b) * s + c;
      let h = 6 * a * s + 2 * b;
      s -= (2 * e * g) / (2 * g * g - e * h);
      e = ((a * s + b) * s + c) * s - u;
      g = (3 * a * s + 2 * b) * s + c;
      h = 6 * a * s + 2 * b;
      s -= (2 * e * g) / (2 * g * g - e * h);
      e = ((a * s + b) * s + c) * s - u;
      g = (3 * a * s + 2 * b) * s + c;
      h = 6 * a * s + 2 * b;
      s -= (2 * e * g) / (2 * g * g - e * h);
      solved[i] =
        ((records[at + A_VALUE]! * s + records[at + B_VALUE]!) * s + records[at + C_VALUE]!) * s +
        records[at + VALUE]!;
    }
    for (let i = 0; i < count; i++)
      if (solves[i] !== SOLVE_EASY)
        solved[i] =
          solves[i] === SOLVE_FOLDED
            ? foldedValue(tracks, origins[i]!, frame)
            : valueOfRecord(records, i * RECORD_SIZE, solves[i]!, frame);
    for (let i = 0; i < count; i++) {
      const value = solved[i]!;
      values[targets[i]!] = value < lows[i]! ? lows[i]! : value > highs[i]! ? highs[i]! : value;
    }
    for (let k = 0; k < odd.length; k++) {
      const i = odd[k]!;
      values[targets[i]!] = constrain(solved[i]!, fits[i]!, lows[i]!, highs[i]!);
    }
  }
}

/** Slots and limits of keyed components as the pass over them needs them. */
export function curveTargets(keyed: readonly KeyedComponent[]): CurveTargets {
  const count = keyed.length;
  const slots = new Int32Array(count);
  const fits = new Uint8Array(count);
  const lows = new Float64Array(count);
  const highs = new Float64Array(count);
  const odd: number[] = [];
  for (let i = 0; i < count; i++) {
    const { slot, fit, min, max } = keyed[i]!;
    slots[i] = slot;
    fits[i] = fit;
    lows[i] = min;
    highs[i] = max;
    if (fit !== FIT_PLAIN) odd.push(i);
  }
  return { slots, fits, lows, highs, odd: Int32Array.from(odd) };
}
