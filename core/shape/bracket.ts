import { acos, atan2, cos, sin } from '../math';
import { extrudeMesh } from './extrude';
import { atFineness, EYE_SIDES } from './fineness';
import type { Flat, Mesh } from './mesh';

/** Share of the eye that the bore may take. */
const WIDEST_BORE = 0.95;
/** Share of the way from the foot up to the bore that the eye may take. */
const LOWEST_EYE = 0.95;

/** A foot with an eye for an axle along z; the middle of the bore is the origin. Lengths in metres. */
export function bracketMesh(
  sizes: {
    readonly height: number;
    readonly width: number;
    readonly foot: number;
    readonly eye: number;
    readonly bore: number;
    readonly thickness: number;
  },
  fineness = 1,
): Mesh {
  const sides = atFineness(EYE_SIDES, fineness, 12);
  const foot = Math.min(sizes.foot, sizes.height * LOWEST_EYE);
  const top = foot - sizes.height;
  const eye = Math.min(sizes.eye, -top * LOWEST_EYE);
  const bore = Math.min(sizes.bore, eye * WIDEST_BORE);
  const half = sizes.width / 2;
  const neck = Math.min(half, Math.max(eye, half / 2));
  // The sides of the neck touch the eye: right of its axis at this angle, left of it mirrored.
  const away = Math.sqrt(neck * neck + top * top);
  const touch = atan2(top, neck) + acos(Math.min(1, eye / away));
  const arc = Array.from({ length: sides + 1 }, (_, i): Flat => {
    const angle = touch + ((Math.PI - 2 * touch) * i) / sides;
    return [eye * cos(angle), eye * sin(angle)];
  });
  const outer: Flat[] = [
    [-half, -sizes.height],
    [half, -sizes.height],
    [half, top],
    [neck, top],
    ...arc,
    [-neck, top],
    [-half, top],
  ];
  const hole = Array.from({ length: sides }, (_, i): Flat => {
    const angle = (-2 * Math.PI * i) / sides;
    return [bore * cos(angle), bore * sin(angle)];
  });
  return extrudeMesh([{ outer, holes: bore > 0 ? [hole] : [] }], sizes.thickness, 0);
}
