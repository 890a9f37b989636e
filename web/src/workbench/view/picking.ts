import { Box3, Raycaster, Vector2, Vector3, type Camera, type Mesh } from 'three';
import type { Shot } from '../../../../core/document';
import { standingOf } from '../../../../core/edit';
import { BATCHED_LAYER, type Picture } from '../../../../draw';
import type { Area } from './view-size';

/** What is picked from: a picture as a camera sees it in a part of the view. */
export interface PickFrom {
  readonly picture: Picture;
  readonly camera: Camera;
  readonly area: Area;
  readonly shot: Shot;
}

/** A point of a surface under the pointer. */
export interface SurfaceHit {
  readonly part: string;
  readonly point: Vector3;
  readonly normal: Vector3;
}

function casterAt({ area, camera }: PickFrom, x: number, y: number): Raycaster {
  const caster = new Raycaster();
  caster.layers.enable(BATCHED_LAYER);
  caster.setFromCamera(
    new Vector2(((x - area.left) / area.width) * 2 - 1, 1 - ((y - area.top) / area.height) * 2),
    camera,
  );
  return caster;
}

function openMeshes({ picture, shot }: PickFrom): Mesh[] {
  const { locked } = standingOf(shot);
  return picture.pickable().filter((mesh) => !locked.has(mesh.userData.part as string));
}

/** Callouts that are not locked and have their words at a point of the view: they lie over everything. */
export function calloutsAt({ picture, camera, area, shot }: PickFrom, x: number, y: number): string[] {
  const { locked } = standingOf(shot);
  const at = [(x - area.left) / area.width, (y - area.top) / area.height] as const;
  return picture
    .calloutBoxes(camera, area.width / area.height)
    .filter(
      ({ id, left, right, top, bottom }) =>
        !locked.has(id) && at[0] >= left && at[0] <= right && at[1] >= top && at[1] <= bottom,
    )
    .map(({ id }) => id);
}

/** Parts under a point of the view that are not locked, nearest first. */
export function partsAt(from: PickFrom, x: number, y: number): string[] {
  const hits = casterAt(from, x, y).intersectObjects(openMeshes(from), false);
  return [...new Set([...calloutsAt(from, x, y), ...hits.map((hit) => hit.object.userData.part as string)])];
}

/** The nearest surface under a point of the view. */
export function surfaceAt(from: PickFrom, x: number, y: number): SurfaceHit | null {
  const hit = casterAt(from, x, y).intersectObjects(from.picture.pickable(), false)[0];
  if (!hit?.face) return null;
  const normal = hit.face.normal.clone().transformDirection(hit.object.matrixWorld);
  return { part: hit.object.userData.part as string, point: hit.point.clone(), normal };
}

/** Parts that are not locked and lie wholly or partly in a box of the view. */
export function partsWithin(
  from: PickFrom,
  left: number,
  top: number,
  right: number,
  bottom: number,
): string[] {
  const { area, camera } = from;
  const found = new Set<string>();
  const corner = new Vector3();
  for (const mesh of openMeshes(from)) {
    if (!mesh.geometry.boundingBox) mesh.geometry.computeBoundingBox();
    const box = mesh.geometry.boundingBox!;
    const seen = new Box3();
    let ahead = true;
    for (let i = 0; i < 8; i++) {
      corner.set(i & 1 ? box.max.x : box.min.x, i & 2 ? box.max.y : box.min.y, i & 4 ? box.max.z : box.min.z);
      corner.applyMatrix4(mesh.matrixWorld).project(camera);
      if (corner.z > 1) ahead = false;
      seen.expandByPoint(corner);
    }
    if (!ahead) continue;
    const x = (share: number): number => area.left + ((share + 1) / 2) * area.width;
    const y = (share: number): number => area.top + ((1 - share) / 2) * area.height;
    const inside =
      x(seen.max.x) >= left && x(seen.min.x) <= right && y(seen.min.y) >= top && y(seen.max.y) <= bottom;
    const middle = new Vector3().addVectors(seen.min, seen.max).multiplyScalar(0.5);
    const middleIn =
      x(middle.x) >= left && x(middle.x) <= right && y(middle.y) >= top && y(middle.y) <= bottom;
    if (inside && middleIn) found.add(mesh.userData.part as string);
  }
  return [...found];
}
