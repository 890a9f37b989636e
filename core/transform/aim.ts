import type { AimAxis } from './matrix';

const index = (axis: AimAxis): number => (axis.endsWith('x') ? 0 : axis.endsWith('y') ? 1 : 2);
const sign = (axis: AimAxis): number => (axis.startsWith('-') ? -1 : 1);

/** Length below which a direction counts as none, metres. */
const NO_DIRECTION = 1e-12;
/** Sine of the angle to the vertical below which world y no longer tells which way is up. */
const NEARLY_VERTICAL = 1e-6;

/**
 * Writes the nine numbers (row by row) of the rotation that turns `axis` into the direction (x, y, z) and `up` as
 * near to world y as that allows; where the direction is straight up or down, world -z (then x) stands in for y.
 * @returns false, and writes nothing, where the direction has no length or both axes are the same one
 */
export function aimRotation(
  out: Float64Array,
  x: number,
  y: number,
  z: number,
  axis: AimAxis,
  up: AimAxis,
): boolean {
  const a = index(axis);
  const u = index(up);
  const length = Math.sqrt(x * x + y * y + z * z);
  if (!(length > NO_DIRECTION) || a === u) return false;
  const dx = x / length;
  const dy = y / length;
  const dz = z / length;
  // The part of world y across the direction; its length is the sine of the angle between them.
  let ux = -dx * dy;
  let uy = 1 - dy * dy;
  let uz = -dz * dy;
  let across = Math.sqrt(ux * ux + uy * uy + uz * uz);
  if (!(across > NEARLY_VERTICAL)) {
    ux = dx * dz;
    uy = dy * dz;
    uz = dz * dz - 1;
    across = Math.sqrt(ux * ux + uy * uy + uz * uz);
  }
  ux /= across;
  uy /= across;
  uz /= across;
  // The third axis completes a right-handed set: e_w = e_a x e_u when (a, u) runs forwards, else the other way.
  const w = 3 - a - u;
  const forwards = (a + 1) % 3 === u ? 1 : -1;
  const sa = sign(axis);
  const su = sign(up);
  const s = forwards * sa * su;
  out[a] = dx * sa;
  out[a + 3] = dy * sa;
  out[a + 6] = dz * sa;
  out[u] = ux * su;
  out[u + 3] = uy * su;
  out[u + 6] = uz * su;
  out[w] = (dy * uz - dz * uy) * s;
  out[w + 3] = (dz * ux - dx * uz) * s;
  out[w + 6] = (dx * uy - dy * ux) * s;
  return true;
}
