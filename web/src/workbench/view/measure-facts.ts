import type { Vector3 } from 'three';

/** A point that was picked on a thing. */
export interface Pick {
  readonly point: Vector3;
  /** Of the surface there; missing where a corner or pivot was caught without a surface under the pointer. */
  readonly normal: Vector3 | null;
  readonly what: string;
}

/** What is measured between two picks; angles in degrees. */
export function factsOf(
  a: Pick,
  b: Pick,
): { distance: number; way: Vector3; angle: number | null; slope: number } {
  const way = b.point.clone().sub(a.point);
  const distance = way.length();
  return {
    distance,
    way,
    angle: a.normal && b.normal ? (a.normal.angleTo(b.normal) * 180) / Math.PI : null,
    slope: distance > 0 ? (Math.asin(Math.max(-1, Math.min(1, way.y / distance))) * 180) / Math.PI : 0,
  };
}
