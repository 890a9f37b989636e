import { asin, cosDeg, sinDeg } from '../math';

/**
 * Slider-crank with an optional offset. The angle is 0 where the crank points at the slider; the slider's line
 * runs `offset` away from the crank's centre, on the side of 90 degrees. Lengths in one unit, angles in degrees.
 * Source: Uicker, Pennock and Shigley, "Theory of Machines and Mechanisms", position analysis of the
 * slider-crank: x = r cos(a) + sqrt(l^2 - (r sin(a) - e)^2).
 */

/** Distance of the slider from the crank's centre; NaN where the rod is too short to reach. */
export function sliderPosition(angle: number, throwLength: number, rod: number, offset = 0): number {
  const across = throwLength * sinDeg(angle) - offset;
  return throwLength * cosDeg(angle) + Math.sqrt(rod * rod - across * across);
}

/** Swing of the rod in degrees, positive where the crank pin stands beyond the slider's line; NaN out of reach. */
export function rodAngle(angle: number, throwLength: number, rod: number, offset = 0): number {
  return asin((throwLength * sinDeg(angle) - offset) / rod) * (180 / Math.PI);
}

/** Why a slider-crank cannot stand at an angle, in words; `null` when it can. */
export function crankTrouble(angle: number, throwLength: number, rod: number, offset = 0): string | null {
  const across = Math.abs(throwLength * sinDeg(angle) - offset);
  if (rod * rod >= across * across) return null;
  const shown = (x: number): number => Math.round(x * 1e6) / 1e6;
  return `the rod, ${shown(rod)} long, is too short to reach the slider's line, ${shown(across)} away`;
}
