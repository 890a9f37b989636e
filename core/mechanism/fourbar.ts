import { acos, atan2, cosDeg, sinDeg } from '../math';

/**
 * Four-bar linkage: crank a about the origin at `angle`, coupler b, rocker c about (d, 0), ground d; lengths in one
 * unit, angles in degrees from the ground line. Branch 1 is the open form, -1 the crossed one. Source: Norton,
 * "Design of Machinery", chapter 4 (position analysis, Freudenstein's equation), here solved as the meeting of two
 * circles.
 */
export interface FourBar {
  /** Direction of the coupler from the crank pin. */
  readonly coupler: number;
  /** Direction of the rocker from its pivot. */
  readonly rocker: number;
}

const DEG = 180 / Math.PI;

/** Longest and shortest reach that coupler and rocker have together: where the linkage can close. */
function closes(distance: number, b: number, c: number): boolean {
  return distance <= b + c && distance >= Math.abs(b - c) && distance > 0;
}

/**
 * Both angles of the linkage; NaN where it cannot close. Where the rocker turns right round with the crank (the
 * ground is the shortest bar of a Grashof linkage) its whole turns are counted too.
 */
export function fourBar(angle: number, a: number, b: number, c: number, d: number, branch: number): FourBar {
  const px = a * cosDeg(angle);
  const py = a * sinDeg(angle);
  const dx = d - px;
  const dy = -py;
  const distance = Math.sqrt(dx * dx + dy * dy);
  if (!closes(distance, b, c)) return { coupler: NaN, rocker: NaN };
  // Angle at the crank pin between the line to the rocker's pivot and the coupler, by the law of cosines.
  const cosine = (b * b + distance * distance - c * c) / (2 * b * distance);
  const spread = acos(Math.max(-1, Math.min(1, cosine))) * DEG;
  const coupler = atan2(dy, dx) * DEG + (branch < 0 ? -spread : spread);
  const jx = px + b * cosDeg(coupler);
  const jy = py + b * sinDeg(coupler);
  const rocker = atan2(jy, jx - d) * DEG;
  const wrapped = coupler - 360 * Math.ceil((coupler - 180) / 360);
  return {
    coupler: wrapped,
    rocker: rockerTurns(a, b, c, d) ? rocker + 360 * Math.round((angle - rocker) / 360) : rocker,
  };
}

/** Grashof's rule: shortest and longest bar together are no longer than the other two. */
export function isGrashof(a: number, b: number, c: number, d: number): boolean {
  const bars = [a, b, c, d].sort((x, y) => x - y);
  return bars[0]! + bars[3]! <= bars[1]! + bars[2]!;
}

function rockerTurns(a: number, b: number, c: number, d: number): boolean {
  return isGrashof(a, b, c, d) && d < a && d < b && d < c;
}

/** Why the linkage cannot close at an angle, in words; `null` when it does. */
export function fourBarTrouble(angle: number, a: number, b: number, c: number, d: number): string | null {
  if (!(a > 0 && b > 0 && c > 0 && d > 0)) return 'all four bars must be longer than 0';
  const dx = d - a * cosDeg(angle);
  const dy = a * sinDeg(angle);
  const distance = Math.sqrt(dx * dx + dy * dy);
  if (closes(distance, b, c)) return null;
  const shown = (x: number): number => Math.round(x * 1e6) / 1e6;
  return distance > b + c
    ? `the bars cannot close: the crank pin is ${shown(distance)} from the rocker's pivot, coupler and rocker together reach ${shown(b + c)}`
    : `the bars cannot close: the crank pin is ${shown(distance)} from the rocker's pivot, nearer than coupler and rocker can fold`;
}
