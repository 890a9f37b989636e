import { cosDeg, sinDeg } from '../math';

/**
 * Where circles and lines meet: the pairs of bars that close a linkage. Source: any analytic geometry (Bowyer and
 * Woodwark, "A Programmer's Geometry"); pairs of bars as Assur groups (Artobolevsky, "Mechanisms in Modern Engineering
 * Design"). Lengths in one unit, angles in degrees.
 */
export interface Point {
  readonly x: number;
  readonly y: number;
}

const NOWHERE: Point = { x: NaN, y: NaN };
/** Share of a length by which circles that touch may miss one another by rounding. */
const TOUCHING = 1e-12;

const shown = (x: number): number => Math.round(x * 1e6) / 1e6;

/**
 * Where two circles meet: on the left of the way from the first centre to the second with branch 1, on its right with
 * -1. NaN where they do not, or are the same.
 */
export function circlesMeet(
  x1: number,
  y1: number,
  r1: number,
  x2: number,
  y2: number,
  r2: number,
  branch: number,
): Point {
  const [dx, dy] = [x2 - x1, y2 - y1];
  const d = Math.sqrt(dx * dx + dy * dy);
  if (!(d > 0) || !(r1 >= 0) || !(r2 >= 0)) return NOWHERE;
  // Along the line of the centres, then square to it.
  const along = (r1 * r1 - r2 * r2 + d * d) / (2 * d);
  let square = (r1 - along) * (r1 + along);
  if (square < 0) {
    if (square < -TOUCHING * d * d) return NOWHERE;
    square = 0;
  }
  const across = branch < 0 ? -Math.sqrt(square) : Math.sqrt(square);
  return { x: x1 + (along * dx - across * dy) / d, y: y1 + (along * dy + across * dx) / d };
}

/** Why two circles do not meet, in words; `null` when they do. */
export function circlesTrouble(
  x1: number,
  y1: number,
  r1: number,
  x2: number,
  y2: number,
  r2: number,
): string | null {
  if (!(r1 >= 0) || !(r2 >= 0)) return 'a circle has no radius below 0';
  const d = Math.sqrt((x2 - x1) ** 2 + (y2 - y1) ** 2);
  if (d === 0) return r1 === r2 ? 'both circles are the same' : 'both circles have one middle';
  if (Number.isFinite(circlesMeet(x1, y1, r1, x2, y2, r2, 1).x)) return null;
  return d > r1 + r2
    ? `the circles are too far apart: ${shown(d)} from middle to middle, their radii reach ${shown(r1 + r2)}`
    : `one circle lies inside the other: ${shown(d)} from middle to middle, ${shown(Math.abs(r1 - r2))} would be needed`;
}

/**
 * Where a circle meets the line through a point in a direction: further along the line with branch 1, less far with -1.
 * NaN where it does not.
 */
export function circleMeetsLine(
  x: number,
  y: number,
  r: number,
  px: number,
  py: number,
  angle: number,
  branch: number,
): Point {
  const [ux, uy] = [cosDeg(angle), sinDeg(angle)];
  const [dx, dy] = [x - px, y - py];
  const along = dx * ux + dy * uy;
  const away = dy * ux - dx * uy;
  let square = (r - away) * (r + away);
  if (square < 0) {
    if (square < -TOUCHING * r * r) return NOWHERE;
    square = 0;
  }
  const t = along + (branch < 0 ? -Math.sqrt(square) : Math.sqrt(square));
  return { x: px + t * ux, y: py + t * uy };
}

/** Why a circle does not meet a line, in words; `null` when it does. */
export function circleLineTrouble(
  x: number,
  y: number,
  r: number,
  px: number,
  py: number,
  angle: number,
): string | null {
  if (Number.isFinite(circleMeetsLine(x, y, r, px, py, angle, 1).x)) return null;
  const away = Math.abs((y - py) * cosDeg(angle) - (x - px) * sinDeg(angle));
  return `the line passes ${shown(away)} from the middle of the circle, whose radius is ${shown(r)}`;
}

/** Where two lines meet, each through a point in a direction; NaN where they are parallel. */
export function linesMeet(x1: number, y1: number, a1: number, x2: number, y2: number, a2: number): Point {
  const [ux, uy] = [cosDeg(a1), sinDeg(a1)];
  const [vx, vy] = [cosDeg(a2), sinDeg(a2)];
  const turned = ux * vy - uy * vx;
  if (Math.abs(turned) < TOUCHING) return NOWHERE;
  const s = ((x2 - x1) * vy - (y2 - y1) * vx) / turned;
  return { x: x1 + s * ux, y: y1 + s * uy };
}

/** Why two lines do not meet, in words; `null` when they do. */
export const linesTrouble = (...of: Parameters<typeof linesMeet>): string | null =>
  Number.isFinite(linesMeet(...of).x) ? null : 'the lines are parallel';
