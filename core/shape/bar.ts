import { cos, sin } from '../math';
import { extrudeMesh } from './extrude';
import { atFineness, EYE_SIDES } from './fineness';
import type { Flat, Mesh } from './mesh';

/** Share of the half width that a bore may take: something of the eye is always left. */
const WIDEST_BORE = 0.95;

/** Points of two half circles of a radius, round the eyes at both ends, counter-clockwise. */
function roundBoth(half: number, radius: number, sides: number): Flat[] {
  const steps = Math.ceil(sides / 2);
  const arc = (x: number, from: number): Flat[] =>
    Array.from({ length: steps + 1 }, (_, i): Flat => {
      const angle = from + (Math.PI * i) / steps;
      return [x + radius * cos(angle), radius * sin(angle)];
    });
  return [...arc(half, -Math.PI / 2), ...arc(-half, Math.PI / 2)];
}

/** A flat bar along x with round ends and a hole at each; holes that would meet become one slot. Lengths in metres. */
export function barMesh(
  sizes: {
    readonly length: number;
    readonly width: number;
    readonly thickness: number;
    readonly bore: number;
  },
  fineness = 1,
): Mesh {
  const sides = atFineness(EYE_SIDES, fineness, 12);
  const half = sizes.length / 2;
  const bore = Math.min(sizes.bore, (sizes.width / 2) * WIDEST_BORE);
  const outer = roundBoth(half, sizes.width / 2, sides);
  const round = (x: number): Flat[] =>
    Array.from({ length: sides }, (_, i): Flat => {
      const angle = (-2 * Math.PI * i) / sides;
      return [x + bore * cos(angle), bore * sin(angle)];
    });
  const apart = sizes.length > 2 * bore * 1.05;
  const holes =
    bore <= 0 ? [] : apart ? [round(-half), round(half)] : [roundBoth(half, bore, sides).reverse()];
  return extrudeMesh([{ outer, holes }], sizes.thickness, 0);
}
