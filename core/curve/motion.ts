/** Gives a value at a frame. */
export type ValueAt = (frame: number) => number;

/** Frames to either side over which a slope is measured; a value of a formula is exact to about its square root. */
const STEP = 1e-3;

/** Slope at a frame, units per frame (central difference). */
export const speedAt = (value: ValueAt, frame: number): number =>
  (value(frame + STEP) - value(frame - STEP)) / (2 * STEP);

/** Change of the slope at a frame, units per frame and frame (second central difference, over a wider step). */
export function accelerationAt(value: ValueAt, frame: number): number {
  const step = STEP * 20;
  return (value(frame + step) - 2 * value(frame) + value(frame - step)) / (step * step);
}

/** Frames of looks for the quickest and the slowest place. */
const LOOKS_PER_FRAME = 4;
const LOOKS_AT_MOST = 8000;

/** Where it is quickest and slowest over a range. Speeds are without sign, units per frame. */
export interface SpeedFacts {
  readonly top: { readonly frame: number; readonly speed: number };
  readonly least: { readonly frame: number; readonly speed: number };
}

export function speedFacts(value: ValueAt, from: number, to: number): SpeedFacts {
  const looks = Math.max(2, Math.min(LOOKS_AT_MOST, Math.ceil((to - from) * LOOKS_PER_FRAME)));
  let top = { frame: from, speed: -1 };
  let least = { frame: from, speed: Infinity };
  // Slopes of the pieces between looks: a key that bends sharply is on the edge of two of them.
  let before = value(from);
  for (let i = 1; i <= looks; i++) {
    const frame = from + ((to - from) * i) / looks;
    const now = value(frame);
    const speed = (Math.abs(now - before) * looks) / (to - from);
    const middle = from + ((to - from) * (i - 0.5)) / looks;
    if (speed > top.speed) top = { frame: middle, speed };
    if (speed < least.speed) least = { frame: middle, speed };
    before = now;
  }
  return { top, least };
}

/** Where a stretch is in the middle of its time. */
export interface Halfway {
  readonly frame: number;
  readonly value: number;
  /** Share of the way from the first value to the last; `null` where both are equal. */
  readonly share: number | null;
}

/** What a curve has halfway between two frames. */
export function halfway(value: ValueAt, from: number, to: number): Halfway {
  const frame = (from + to) / 2;
  const [start, middle, end] = [value(from), value(frame), value(to)];
  const way = end - start;
  return {
    frame,
    value: middle,
    share:
      Math.abs(way) > 1e-12 * Math.max(1, Math.abs(start), Math.abs(end)) ? (middle - start) / way : null,
  };
}

/** How a curve closes over a loop whose last frame is followed by its first: differences, end less beginning. */
export interface Seam {
  readonly value: number;
  /** Units per frame. */
  readonly speed: number;
  /** Units per frame and frame. */
  readonly acceleration: number;
}

const SEAM_STEP = 0.01;

/** @param first first frame @param next the frame after the last, which is shown as the first one again */
export function seam(value: ValueAt, first: number, next: number): Seam {
  const h = SEAM_STEP;
  const [a0, a1, a2, a3] = [value(first), value(first + h), value(first + 2 * h), value(first + 3 * h)];
  const [b0, b1, b2, b3] = [value(next), value(next - h), value(next - 2 * h), value(next - 3 * h)];
  // One-sided differences of second order: Abramowitz and Stegun, Handbook of Mathematical Functions, 25.2 and 25.3.
  const leaving = (-3 * a0 + 4 * a1 - a2) / (2 * h);
  const arriving = (3 * b0 - 4 * b1 + b2) / (2 * h);
  const bending = (2 * a0 - 5 * a1 + 4 * a2 - a3) / (h * h);
  const bent = (2 * b0 - 5 * b1 + 4 * b2 - b3) / (h * h);
  return { value: b0 - a0, speed: arriving - leaving, acceleration: bent - bending };
}

/** A wheel that turns while something goes: how far the two are apart. */
export interface Slip {
  /** Slip at each frame from the first to the last, metres along the way. */
  readonly values: Float64Array;
  /** Largest slip, with its sign, and its frame. */
  readonly worst: { readonly slip: number; readonly frame: number };
}

/**
 * Slip of a wheel over whole frames: the way gone since the first frame less the arc that has been turned,
 * s = d - r * phi (rolling without slipping).
 * @param radius metres @param sign 1 where a turn to more goes to more, -1 the other way
 */
export function slipOver(
  way: ValueAt,
  turnDegrees: ValueAt,
  radius: number,
  sign: 1 | -1,
  first: number,
  last: number,
): Slip {
  const count = Math.max(1, Math.floor(last - first) + 1);
  const values = new Float64Array(count);
  const [way0, turn0] = [way(first), turnDegrees(first)];
  let worst = { slip: 0, frame: first };
  for (let i = 0; i < count; i++) {
    const frame = first + i;
    const arc = (sign * (turnDegrees(frame) - turn0) * Math.PI * radius) / 180;
    const slip = way(frame) - way0 - arc;
    values[i] = slip;
    if (Math.abs(slip) > Math.abs(worst.slip)) worst = { slip, frame };
  }
  return { values, worst };
}
