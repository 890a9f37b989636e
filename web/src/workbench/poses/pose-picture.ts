import { partDefinition, subtreeOf, type Shot } from '../../../../core/document';
import type { Evaluator } from '../../../../core/evaluate';
import { hexOfColour } from '../../../../core/math';
import { transformPoint } from '../../../../core/transform';
import type { Triangles } from '../../../../core/clearance';
import { POSE_LIMITS, type OwnPose } from '../../../../wire';

type Piece = OwnPose['pose']['picture'][number];
type Point = readonly [x: number, y: number];

/** Corners of a body that are looked at: more do not change a small picture. */
const CORNERS_SEEN = 600;

/** Axes of the picture in the world: to the right, up, and towards who looks. Those of the camera; from the front without one. */
function axesOf(shot: Shot, evaluator: Evaluator): readonly (readonly [number, number, number])[] {
  const world = shot.setup.camera === null ? null : evaluator.worldOf(shot.setup.camera);
  return [0, 1, 2].map((k) => {
    if (!world) return [k === 0 ? 1 : 0, k === 1 ? 1 : 0, k === 2 ? 1 : 0];
    const axis = [world[k]!, world[4 + k]!, world[8 + k]!] as const;
    const long = Math.hypot(...axis) || 1;
    return [axis[0] / long, axis[1] / long, axis[2] / long];
  });
}

/**
 * A small picture of parts and all below them as they are at the evaluated frame, cut out of flat pieces: the outline of
 * each solid (its convex hull), seen from where the camera looks, all lines of sight side by side.
 * @param trianglesOf triangles of a part in its own measure; null where there are none
 */
export function posePicture(
  shot: Shot,
  evaluator: Evaluator,
  roots: readonly string[],
  trianglesOf: (part: string) => Triangles | null,
): Piece[] {
  const [right, up, towards] = axesOf(shot, evaluator);
  const ids = [...new Set(roots.flatMap((root) => subtreeOf(shot, root)))];
  const found: { colour: string; points: readonly Point[]; depth: number }[] = [];
  for (const id of ids) {
    const part = shot.parts[id]!;
    if (!partDefinition(part.kind).solid || part.look === null || evaluator.copiesOf(id)) continue;
    if (evaluator.number(`${id}/visible`) < 0.5) continue;
    const [m, triangles] = [evaluator.worldOf(id), trianglesOf(id)];
    if (!m || !triangles) continue;
    const { positions } = triangles;
    const every = Math.max(1, Math.ceil(positions.length / 3 / CORNERS_SEEN));
    const points: Point[] = [];
    let depth = 0;
    for (let i = 0; i < positions.length; i += 3 * every) {
      const at = transformPoint(m, positions[i]!, positions[i + 1]!, positions[i + 2]!);
      const along = (axis: readonly number[]): number =>
        at[0] * axis[0]! + at[1] * axis[1]! + at[2] * axis[2]!;
      points.push([along(right!), -along(up!)]);
      depth += along(towards!);
    }
    if (points.length < 3) continue;
    const colour = hexOfColour(evaluator.colour(`${part.look}/colour`));
    found.push({ colour, points: hullOf(points), depth: depth / points.length });
  }
  found.sort((a, b) => a.depth - b.depth);
  return fitted(found.slice(-POSE_LIMITS.pieces));
}

/** Brings pieces into the square of the picture; what is too small to be seen is left out. */
function fitted(pieces: readonly { readonly colour: string; readonly points: readonly Point[] }[]): Piece[] {
  const all = pieces.flatMap((piece) => piece.points);
  if (all.length === 0) return [];
  const [least, most] = [0, 1].map((axis) => {
    const values = all.map((point) => point[axis]!);
    return [values.reduce((a, b) => Math.min(a, b)), values.reduce((a, b) => Math.max(a, b))] as const;
  }) as [readonly [number, number], readonly [number, number]];
  const size = Math.max(least[1] - least[0], most[1] - most[0]);
  if (!(size > 0) || !Number.isFinite(size)) return [];
  const place = (value: number, [from, to]: readonly [number, number]): number =>
    Math.round(POSE_LIMITS.size * ((value - (from + to) / 2) / size + 0.5));
  return pieces.flatMap(({ colour, points }) => {
    const corners: Point[] = [];
    for (const [x, y] of points) {
      const corner: Point = [place(x, least), place(y, most)];
      const last = corners.at(-1);
      if (!last || last[0] !== corner[0] || last[1] !== corner[1]) corners.push(corner);
    }
    const few = thinned(corners, POSE_LIMITS.corners);
    return few.length < 3 ? [] : [{ colour, points: few.flat() }];
  });
}

/** Leaves out, one after another, the corner without which the outline changes least. */
function thinned(points: Point[], most: number): Point[] {
  const left = [...points];
  while (left.length > most) {
    let [least, at] = [Infinity, 0];
    left.forEach((point, i) => {
      const size = Math.abs(turn(left.at(i - 1)!, point, left[(i + 1) % left.length]!));
      if (size < least) [least, at] = [size, i];
    });
    left.splice(at, 1);
  }
  return left;
}

/** Twice the area of a triangle, positive where it runs against the clock (y up). */
const turn = (a: Point, b: Point, c: Point): number =>
  (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);

/** Convex hull by the monotone chain (A. M. Andrew 1979, Inf. Process. Lett. 9). */
export function hullOf(points: readonly Point[]): Point[] {
  const sorted = [...points].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  const chain = (list: readonly Point[]): Point[] => {
    const out: Point[] = [];
    for (const point of list) {
      while (out.length > 1 && turn(out.at(-2)!, out.at(-1)!, point) <= 0) out.pop();
      out.push(point);
    }
    out.pop();
    return out;
  };
  return [...chain(sorted), ...chain(sorted.reverse())];
}
