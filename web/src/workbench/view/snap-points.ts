import type { Box3 } from 'three';
import { Vector3, type Camera } from 'three';
import { childrenOf, type Shot } from '../../../../core/document';
import type { Evaluator } from '../../../../core/evaluate';
import type { Picture } from '../../../../draw';
import { toPixel } from './handle-geometry';
import { matricesOf, pivotOf } from './part-place';

/** Pixels of the view within which a point of a part is caught, by a handle and by measuring. */
export const POINT_REACH_PX = 12;

export type SnapKind = 'pivot' | 'corner' | 'edge middle' | 'face middle' | 'centre' | 'eye';

/** A point that something dragged can catch on. */
export interface SnapPoint {
  readonly point: Vector3;
  readonly kind: SnapKind;
  readonly part: string;
}

const PARTS_AT_MOST = 400;

/** Smallest box along a part's own axes round its shape; `null` for a part without one. */
export function ownBox(shot: Shot, picture: Picture, id: string): Box3 | null {
  const shape = shot.parts[id]?.shape;
  const geometry = shape ? picture.geometryOf(shape) : null;
  if (!geometry?.getAttribute('position')) return null;
  if (!geometry.boundingBox) geometry.computeBoundingBox();
  return geometry.boundingBox!.isEmpty() ? null : geometry.boundingBox!;
}

const KINDS: readonly SnapKind[] = ['centre', 'face middle', 'edge middle', 'corner'];

/** The 27 points of a part's box, in its own measure: corners, edge middles, face middles and the middle. */
export function boxPoints(box: Box3): { point: Vector3; kind: SnapKind }[] {
  const flat = ['x', 'y', 'z'].map((axis) => {
    const key = axis as 'x' | 'y' | 'z';
    return box.max[key] - box.min[key] < 1e-9;
  });
  const out: { point: Vector3; kind: SnapKind }[] = [];
  for (const x of [-1, 0, 1])
    for (const y of [-1, 0, 1])
      for (const z of [-1, 0, 1]) {
        const at = [x, y, z];
        // A flat thing has its corners once, not twice in one place.
        if (at.some((side, i) => flat[i] && side !== 0)) continue;
        const ends = at.filter((side, i) => side !== 0 || flat[i]).length;
        out.push({
          point: new Vector3(
            (box.min.x + box.max.x) / 2 + (x * (box.max.x - box.min.x)) / 2,
            (box.min.y + box.max.y) / 2 + (y * (box.max.y - box.min.y)) / 2,
            (box.min.z + box.max.z) / 2 + (z * (box.max.z - box.min.z)) / 2,
          ),
          kind: KINDS[ends]!,
        });
      }
  return out;
}

/** Points of one part in the world. */
export function partPoints(shot: Shot, evaluator: Evaluator, picture: Picture, id: string): SnapPoint[] {
  const { world } = matricesOf(evaluator, id);
  const box = ownBox(shot, picture, id);
  const points = box ? boxPoints(box) : [];
  return [
    { point: pivotOf(evaluator, id), kind: 'pivot', part: id },
    ...points.map(({ point, kind }): SnapPoint => ({ point: point.applyMatrix4(world), kind, part: id })),
  ];
}

/** Points of all shown parts but the given ones and what hangs below them. */
export function otherPoints(
  shot: Shot,
  evaluator: Evaluator,
  picture: Picture,
  without: readonly string[],
): SnapPoint[] {
  const left = new Set<string>();
  const leave = (id: string): void => {
    left.add(id);
    for (const child of childrenOf(shot, id)) leave(child);
  };
  without.forEach(leave);
  return evaluator.plan.nodes
    .filter((id, node) => !left.has(id) && evaluator.shown[node] === 1)
    .slice(0, PARTS_AT_MOST)
    .flatMap((id) => partPoints(shot, evaluator, picture, id));
}

/** Pixels by which two points may lie apart and still cover each other: then what is in front is meant. */
const COVERS_PX = 3;

/** The point whose pixel lies nearest to a place in the view, within a reach; of points that cover each other the one in front. */
export function nearestSnap(
  points: readonly SnapPoint[],
  x: number,
  y: number,
  camera: Camera,
  width: number,
  height: number,
  reach: number,
): SnapPoint | null {
  const eye = new Vector3();
  const depth = (point: Vector3): number => eye.copy(point).applyMatrix4(camera.matrixWorldInverse).z;
  let best: { snap: SnapPoint; gap: number; depth: number } | null = null;
  for (const snap of points) {
    const pixel = toPixel(snap.point, camera, width, height);
    if (!pixel.ahead) continue;
    const gap = Math.hypot(pixel.x - x, pixel.y - y);
    if (gap > reach) continue;
    const z = depth(snap.point);
    if (best === null || gap < best.gap - COVERS_PX || (gap < best.gap + COVERS_PX && z > best.depth + 1e-9))
      best = { snap, gap, depth: z };
  }
  return best?.snap ?? null;
}
