/**
 * Fits few cubic stretches to a row of values at even steps. Each stretch has its handles at thirds, so its value is a
 * cubic of the frame and the two rises follow from least squares; a run that cannot be fitted is cut. After Schneider,
 * "An algorithm for automatically fitting digitized curves" (Graphics Gems, 1990), for curves that are functions.
 */
export interface FittedStretch {
  /** Numbers of the samples that it begins and ends at. */
  readonly from: number;
  readonly to: number;
  /** Rise of the right handle of its first key and of the left handle of its last key; both reach a third. */
  readonly rise1: number;
  readonly rise2: number;
  /** Largest difference from the samples inside it. */
  readonly error: number;
}

/** The best stretch over samples `from`..`to`. */
export function fitStretch(values: ArrayLike<number>, from: number, to: number): FittedStretch {
  const v0 = values[from]!;
  const v1 = values[to]!;
  const n = to - from;
  // Sums of the normal equations for the rises a and b of the middle control points.
  let saa = 0;
  let sab = 0;
  let sbb = 0;
  let sar = 0;
  let sbr = 0;
  for (let i = 1; i < n; i++) {
    const s = i / n;
    const r = 1 - s;
    const a = 3 * s * r * r;
    const b = 3 * s * s * r;
    const rest = values[from + i]! - (v0 * (r * r * r + a) + v1 * (b + s * s * s));
    saa += a * a;
    sab += a * b;
    sbb += b * b;
    sar += a * rest;
    sbr += b * rest;
  }
  const determinant = saa * sbb - sab * sab;
  const solvable = n > 2 && determinant > 1e-12 * saa * sbb;
  const straight = (v1 - v0) / 3;
  let rise1 = straight;
  let rise2 = -straight;
  if (solvable) {
    rise1 = (sar * sbb - sbr * sab) / determinant;
    rise2 = (sbr * saa - sar * sab) / determinant;
  } else if (n === 2 && saa > 0) {
    // One sample inside: both handles lean by the same amount.
    const off = ((values[from + 1]! - (v0 + v1) / 2) * 4) / 3;
    rise1 += off;
    rise2 += off;
  }
  let error = 0;
  for (let i = 1; i < n; i++) {
    const s = i / n;
    const r = 1 - s;
    const value =
      v0 * r * r * r + 3 * (v0 + rise1) * s * r * r + 3 * (v1 + rise2) * s * s * r + v1 * s * s * s;
    error = Math.max(error, Math.abs(value - values[from + i]!));
  }
  return { from, to, rise1, rise2, error };
}

/**
 * Covers samples `from`..`to` with stretches, each as long as the tolerance allows. Every stretch is within the
 * tolerance of every sample inside it.
 */
export function fitStretches(
  values: ArrayLike<number>,
  from: number,
  to: number,
  tolerance: number,
): FittedStretch[] {
  const out: FittedStretch[] = [];
  for (let start = from; start < to;) {
    let best = fitStretch(values, start, start + 1);
    // Double the reach while it fits, then close in on the longest that does.
    let step = 1;
    let tooFar = to + 1;
    while (best.to < to) {
      const next = Math.min(to, Math.min(best.to + step, tooFar - 1));
      if (next <= best.to) break;
      const fit = fitStretch(values, start, next);
      if (fit.error <= tolerance) {
        best = fit;
        step *= 2;
      } else {
        tooFar = next;
        step = Math.max(1, Math.floor((next - best.to) / 2));
      }
    }
    out.push(best);
    start = best.to;
  }
  return out;
}
