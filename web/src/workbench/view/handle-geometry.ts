import { Matrix4, Plane, Ray, Vector3, type Camera } from 'three';
import type { Part } from '../../../../core/document';
import type { Evaluator } from '../../../../core/evaluate';
import { cosDeg, sinDeg } from '../../../../core/math';

import { matricesOf } from './part-place';

export type Axis = 'x' | 'y' | 'z';
export const AXES: readonly Axis[] = ['x', 'y', 'z'];

/** A part's pivot in the world and the directions along which its location and rotation channels act. */
export interface HandleFrame {
  readonly origin: Vector3;
  readonly move: Readonly<Record<Axis, Vector3>>;
  readonly turn: Readonly<Record<Axis, Vector3>>;
}

function turnAbout(axis: Axis, degrees: number): Matrix4 {
  const [c, s] = [cosDeg(degrees), sinDeg(degrees)];
  const m = new Matrix4();
  if (axis === 'x') m.set(1, 0, 0, 0, 0, c, -s, 0, 0, s, c, 0, 0, 0, 0, 1);
  else if (axis === 'y') m.set(c, 0, s, 0, 0, 1, 0, 0, -s, 0, c, 0, 0, 0, 0, 1);
  else m.set(c, -s, 0, 0, s, c, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1);
  return m;
}

const UNIT: Record<Axis, Vector3> = {
  x: new Vector3(1, 0, 0),
  y: new Vector3(0, 1, 0),
  z: new Vector3(0, 0, 1),
};

/**
 * Location acts along the parent's axes. Each rotation channel acts about the axis that the turns before it in the
 * order have brought it to, so that dragging one ring changes one channel.
 */
export function handleFrame(evaluator: Evaluator, id: string, part: Part): HandleFrame {
  const { frame: parent, world } = matricesOf(evaluator, id);
  const number = (path: string): number => evaluator.number(`${id}/${path}`);
  const origin = new Vector3(number('pivot.x'), number('pivot.y'), number('pivot.z')).applyMatrix4(world);
  const along = (m: Matrix4, axis: Axis): Vector3 => UNIT[axis].clone().transformDirection(m);
  const move = { x: along(parent, 'x'), y: along(parent, 'y'), z: along(parent, 'z') };
  const turn: Partial<Record<Axis, Vector3>> = {};
  const m = parent.clone();
  for (const axis of AXES) m.multiply(turnAbout(axis, number(`rest.${axis}`)));
  for (const letter of part.rotationOrder.toLowerCase() as Iterable<string>) {
    const axis = letter as Axis;
    turn[axis] = along(m, axis);
    m.multiply(turnAbout(axis, number(`rotation.${axis}`)));
  }
  return { origin, move, turn: turn as Record<Axis, Vector3> };
}

/** Pixel of a point in a view of the given size, and whether it lies in front of the camera. */
export function toPixel(
  point: Vector3,
  camera: Camera,
  width: number,
  height: number,
): { x: number; y: number; ahead: boolean } {
  const p = point.clone().project(camera);
  return { x: ((p.x + 1) / 2) * width, y: ((1 - p.y) / 2) * height, ahead: p.z < 1 };
}

export function rayAt(x: number, y: number, camera: Camera, width: number, height: number): Ray {
  const [nx, ny] = [(x / width) * 2 - 1, 1 - (y / height) * 2];
  const near = new Vector3(nx, ny, -1).unproject(camera);
  const far = new Vector3(nx, ny, 1).unproject(camera);
  return new Ray(near, far.sub(near).normalize());
}

/** Distance along a line of the point nearest to a ray; `null` where they run side by side. */
export function alongLine(ray: Ray, origin: Vector3, direction: Vector3): number | null {
  const w = origin.clone().sub(ray.origin);
  const b = direction.dot(ray.direction);
  const denominator = 1 - b * b;
  if (denominator < 1e-4) return null;
  return (b * ray.direction.dot(w) - direction.dot(w)) / denominator;
}

/** Cosine between the line of sight and an axis below which the plane across it is seen edge-on. */
const EDGE_ON = 0.08;

/** Whether the plane across an axis is seen too flat to drag in. */
export function edgeOn(axis: Vector3, origin: Vector3, camera: Camera): boolean {
  const pixel = origin.clone().project(camera);
  const near = new Vector3(pixel.x, pixel.y, -1).unproject(camera);
  const far = new Vector3(pixel.x, pixel.y, 1).unproject(camera);
  return Math.abs(far.sub(near).normalize().dot(axis)) < EDGE_ON * 1.5;
}

/** Angle in degrees about an axis at which a ray meets the plane across it; `null` where it sees the plane edge-on. */
export function angleAbout(ray: Ray, origin: Vector3, axis: Vector3): number | null {
  if (Math.abs(ray.direction.dot(axis)) < EDGE_ON) return null;
  const hit = ray.intersectPlane(new Plane().setFromNormalAndCoplanarPoint(axis, origin), new Vector3());
  if (!hit) return null;
  const { u, v } = acrossAxis(axis);
  const from = hit.sub(origin);
  return (Math.atan2(from.dot(v), from.dot(u)) * 180) / Math.PI;
}

/** Two directions across an axis, right-handed with it. */
export function acrossAxis(axis: Vector3): { u: Vector3; v: Vector3 } {
  const u =
    Math.abs(axis.y) < 0.9
      ? new Vector3(0, 1, 0).cross(axis).normalize()
      : new Vector3(0, 0, 1).cross(axis).normalize();
  return { u, v: axis.clone().cross(u) };
}

/** World units that one pixel spans at a point. */
export function unitsPerPixel(point: Vector3, camera: Camera, width: number, height: number): number {
  const here = toPixel(point, camera, width, height);
  const right = new Vector3().setFromMatrixColumn(camera.matrixWorld, 0);
  const there = toPixel(point.clone().add(right), camera, width, height);
  return 1 / Math.max(1e-6, Math.hypot(there.x - here.x, there.y - here.y));
}
