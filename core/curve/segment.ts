import { EASINGS } from '../easing';

/**
 * One stretch of a curve, as a record of numbers. For a cubic Bezier in (frame, value) whose frame never runs
 * backwards, with u the share of the stretch gone by, x(s) = ((a s + b) s + c) s = u is solved for s, and the value
 * is ((A s + B) s + C) s + v0. Held and straight stretches are cubics too: x(s) = s, and one coefficient or none.
 */

/**
 * Places in a record, which is one line of memory. For a named easing, B and C hold the shares of its time that are
 * shown, A the rise of the whole easing, b its number, c what is added evenly so that the stretch ends at the next key.
 */
export const START = 0;
export const WIDTH = 1;
export const B_TIME = 2;
export const C_TIME = 3;
export const A_VALUE = 4;
export const B_VALUE = 5;
export const C_VALUE = 6;
export const VALUE = 7;
export const RECORD_SIZE = 8;

/** The frames [from, to) for which a record stands lie beside the records, two numbers each. */
export const RANGE_SIZE = 2;

/** How a record is worked out. */
export const SOLVE_EASY = 0;
export const SOLVE_HARD = 1;
export const SOLVE_EASING = 2;
/** Not from one record: a curve that repeats outside its keys. */
export const SOLVE_FOLDED = 3;

export const MANNER_HOLD = 0;
export const MANNER_LINEAR = 1;
export const MANNER_CURVE = 2;
/** Manners from here on are the named easings, in their order. */
export const MANNER_EASING = 3;

/**
 * Where the time of a stretch never runs slower than this, three Halley steps from s = u reach the last bits
 * (measured on 400,000 random curves); below it the bracket is used.
 */
const EASY_SLOPE = 0.45;
/** Derivative below which Newton steps are not trusted and the bracket is halved instead. */
const FLAT = 1e-9;
/** Step at which a Newton step, whose error is squared each time, has reached the last bits. */
const PRECISE = 1e-11;
const MAX_STEPS = 64;
/** Reach in frames below which a handle has no direction. */
const NO_REACH = 1e-6;

/**
 * Root s in [0, 1] of ((a s + b) s + c) s = u for a cubic that rises from 0 to 1 on [0, 1]; u in [0, 1].
 * Newton's method kept inside a shrinking bracket: it cannot leave for one of the other roots of the cubic.
 */
export function solveShare(a: number, b: number, c: number, u: number): number {
  if (u <= 0) return 0;
  if (u >= 1) return 1;
  let low = 0;
  let high = 1;
  let s = u;
  for (let i = 0; i < MAX_STEPS; i++) {
    const error = ((a * s + b) * s + c) * s - u;
    if (error > 0) high = s;
    else low = s;
    const slope = (3 * a * s + 2 * b) * s + c;
    let next = slope > FLAT ? s - error / slope : low - 1;
    if (!(next > low && next < high)) next = (low + high) / 2;
    if (Math.abs(next - s) <= PRECISE) return next;
    s = next;
  }
  return s;
}

/** Fills a record of a straight line through (`frame`, `value`) which rises by `rise` in 1 / `width` frames. */
export function fillLine(
  record: Float64Array,
  at: number,
  frame: number,
  value: number,
  width: number,
  rise: number,
): void {
  record[at + START] = frame;
  record[at + WIDTH] = width;
  record[at + B_TIME] = 0;
  record[at + C_TIME] = 1;
  record[at + A_VALUE] = 0;
  record[at + B_VALUE] = 0;
  record[at + C_VALUE] = rise;
  record[at + VALUE] = value;
}

/**
 * Fills a record of a Bezier stretch. Numbers are read from `data` where they stand,
 * not handed over one by one: at `from` the key that begins the stretch (frame, value, and at `right` its right reach
 * and rise), at `to` the key that ends it (and at `left` its left reach and rise). Reaches in frames are cut to the
 * stretch; rises are of the handles' ends above their key.
 */
export function fillCurve(
  record: Float64Array,
  at: number,
  data: Float64Array,
  from: number,
  right: number,
  to: number,
  left: number,
): void {
  const t0 = data[from]!;
  const v0 = data[from + 1]!;
  const v1 = data[to + 1]!;
  const w = 1 / (data[to]! - t0);
  const x1 = data[right]! * w;
  const x2 = data[left]! * w;
  const c = 3 * (x1 < 0 ? 0 : x1 > 1 ? 1 : x1);
  const b = 3 * (1 - (x2 < 0 ? 0 : x2 > 1 ? 1 : x2)) - 2 * c;
  const C = 3 * data[right + 1]!;
  const B = 3 * (v1 + data[left + 1]! - v0) - 2 * C;
  record[at + START] = t0;
  record[at + WIDTH] = w;
  record[at + B_TIME] = b;
  record[at + C_TIME] = c;
  record[at + A_VALUE] = v1 - v0 - B - C;
  record[at + B_VALUE] = B;
  record[at + C_VALUE] = C;
  record[at + VALUE] = v0;
}

const probe = new Float64Array(RECORD_SIZE);

/** How a Bezier stretch is to be solved; places of its numbers as for `fillCurve`. */
export function solveOfCurve(
  data: Float64Array,
  from: number,
  right: number,
  to: number,
  left: number,
): number {
  if (!(data[to]! > data[from]!)) return SOLVE_EASY;
  fillCurve(probe, 0, data, from, right, to, left);
  const b = probe[B_TIME]!;
  const c = probe[C_TIME]!;
  // The smallest derivative of the time: at an end, or where its own derivative is 0.
  const a = 1 - b - c;
  const end = 3 * a + 2 * b + c;
  const turn = -b / (3 * a);
  const middle = turn > 0 && turn < 1 ? (3 * a * turn + 2 * b) * turn + c : c;
  return c >= EASY_SLOPE && end >= EASY_SLOPE && middle >= EASY_SLOPE ? SOLVE_EASY : SOLVE_HARD;
}

/** Fills a record of the part `from`..`to` of a named easing whose whole rise is `gain`. */
export function fillEasing(
  record: Float64Array,
  at: number,
  easing: number,
  t0: number,
  v0: number,
  t1: number,
  v1: number,
  from: number,
  to: number,
  gain: number,
): void {
  const ease = EASINGS[easing]!;
  record[at + START] = t0;
  record[at + WIDTH] = 1 / (t1 - t0);
  record[at + B_TIME] = easing;
  record[at + C_TIME] = v1 - v0 - gain * (ease(to) - ease(from));
  record[at + A_VALUE] = gain;
  record[at + B_VALUE] = from;
  record[at + C_VALUE] = to;
  record[at + VALUE] = v0;
}

/** Value of a record at a frame for which it stands. The evaluator's loop over many records does the same. */
export function valueOfRecord(record: Float64Array, at: number, solve: number, frame: number): number {
  const u = (frame - record[at + START]!) * record[at + WIDTH]!;
  if (solve === SOLVE_EASING) return easedValue(record, at, u);
  const b = record[at + B_TIME]!;
  const c = record[at + C_TIME]!;
  const a = 1 - b - c;
  let s = u;
  if (solve === SOLVE_HARD) s = solveShare(a, b, c, u);
  else
    for (let i = 0; i < 3; i++) {
      const e = ((a * s + b) * s + c) * s - u;
      const g = (3 * a * s + 2 * b) * s + c;
      const h = 6 * a * s + 2 * b;
      s -= (2 * e * g) / (2 * g * g - e * h);
    }
  return (
    ((record[at + A_VALUE]! * s + record[at + B_VALUE]!) * s + record[at + C_VALUE]!) * s +
    record[at + VALUE]!
  );
}

function easedValue(record: Float64Array, at: number, u: number): number {
  const ease = EASINGS[record[at + B_TIME]!]!;
  const from = record[at + B_VALUE]!;
  const share = from + (record[at + C_VALUE]! - from) * u;
  return record[at + VALUE]! + record[at + A_VALUE]! * (ease(share) - ease(from)) + record[at + C_TIME]! * u;
}

/**
 * Slope in value per frame at an end of a Bezier stretch, as CSS Easing extends a curve: along the handle, or along
 * the next control point where the handle has no length.
 */
export function endSlope(
  dt: number,
  v0: number,
  v1: number,
  reach1: number,
  rise1: number,
  reach2: number,
  rise2: number,
  end: 'start' | 'finish',
): number {
  const r1 = Math.min(dt, Math.max(0, reach1));
  const r2 = Math.min(dt, Math.max(0, reach2));
  if (end === 'start') {
    if (r1 > NO_REACH) return rise1 / r1;
    if (r2 < dt - NO_REACH) return (v1 + rise2 - v0) / (dt - r2);
    return (v1 - v0) / dt;
  }
  if (r2 > NO_REACH) return -rise2 / r2;
  if (r1 < dt - NO_REACH) return (v1 - v0 - rise1) / (dt - r1);
  return (v1 - v0) / dt;
}
