/**
 * One stretch of a curve: a cubic Bezier in (frame, value) whose frame never runs backwards. With u the share of
 * the stretch gone by, x(s) = ((a s + b) s + c) s = u is solved for s, and the value is ((A s + B) s + C) s + v0.
 */

/** Numbers in a stretch record, in this order: t0, 1/dt, a, b, c, A, B, C, v0, manner code, t1. */
export const RECORD_SIZE = 11;
export const MANNER_HOLD = 0;
export const MANNER_LINEAR = 1;
export const MANNER_CURVE = 2;

/** Derivative below which Newton steps are not trusted and the bracket is halved instead. */
const FLAT = 1e-9;
/** Step at which a Newton step, whose error is squared each time, has reached the last bits. */
const PRECISE = 1e-11;
const MAX_STEPS = 64;

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

/**
 * Fills a stretch record at `at`.
 * @param reach1 reach of the left key's right handle in frames, cut to [0, dt]
 * @param reach2 reach of the right key's left handle in frames, cut to [0, dt]
 * @param rise1 @param rise2 handle ends above their key's value
 */
export function fillRecord(
  record: Float64Array,
  at: number,
  manner: number,
  t0: number,
  v0: number,
  reach1: number,
  rise1: number,
  t1: number,
  v1: number,
  reach2: number,
  rise2: number,
): void {
  const dt = t1 - t0;
  const w = dt > 0 ? 1 / dt : 0;
  const x1 = Math.min(1, Math.max(0, reach1 * w));
  const x2 = 1 - Math.min(1, Math.max(0, reach2 * w));
  const c = 3 * x1;
  const b = 3 * x2 - 2 * c;
  record[at] = t0;
  record[at + 1] = w;
  record[at + 2] = 1 - b - c;
  record[at + 3] = b;
  record[at + 4] = c;
  const C = 3 * rise1;
  const B = 3 * (v1 + rise2 - v0) - 2 * C;
  record[at + 5] = v1 - v0 - B - C;
  record[at + 6] = B;
  record[at + 7] = C;
  record[at + 8] = v0;
  record[at + 9] = manner;
  record[at + 10] = t1;
  if (manner === MANNER_LINEAR) {
    record[at + 5] = v1 - v0;
  }
}

/** Value of the stretch at a frame inside it; outside it the nearer end's value. */
export function valueOfRecord(record: Float64Array, at: number, frame: number): number {
  const v0 = record[at + 8]!;
  const manner = record[at + 9]!;
  if (manner === MANNER_HOLD) return v0;
  const u = Math.min(1, Math.max(0, (frame - record[at]!) * record[at + 1]!));
  if (manner === MANNER_LINEAR) return v0 + record[at + 5]! * u;
  const s = solveShare(record[at + 2]!, record[at + 3]!, record[at + 4]!, u);
  return ((record[at + 5]! * s + record[at + 6]!) * s + record[at + 7]!) * s + v0;
}

/**
 * Slope in value per frame at an end of the stretch, as CSS Easing extends a curve: along the handle, or along
 * the next control point where the handle has no length.
 */
export function endSlope(
  manner: number,
  dt: number,
  v0: number,
  v1: number,
  reach1: number,
  rise1: number,
  reach2: number,
  rise2: number,
  end: 'start' | 'finish',
): number {
  if (manner === MANNER_HOLD || dt <= 0) return 0;
  if (manner === MANNER_LINEAR) return (v1 - v0) / dt;
  const r1 = Math.min(dt, Math.max(0, reach1));
  const r2 = Math.min(dt, Math.max(0, reach2));
  if (end === 'start') {
    if (r1 > 0) return rise1 / r1;
    if (r2 < dt) return (v1 + rise2 - v0) / (dt - r2);
    return (v1 - v0) / dt;
  }
  if (r2 > 0) return -rise2 / r2;
  if (r1 < dt) return (v1 - v0 - rise1) / (dt - r1);
  return (v1 - v0) / dt;
}
