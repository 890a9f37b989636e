import type { AimAxis } from './matrix';

const index = (axis: AimAxis): number => (axis.endsWith('x') ? 0 : axis.endsWith('y') ? 1 : 2);
const sign = (axis: AimAxis): number => (axis.startsWith('-') ? -1 : 1);

/** Length below which a direction counts as none, metres. */
const NO_DIRECTION = 1e-12;
/** Sine of the angle to the vertical below which world y no longer tells which way is up. */
const NEARLY_VERTICAL = 1e-6;

/** Share of the product of its columns' lengths below which a matrix counts as flat. */
const FLAT = 1e-12;

const hint = new Float64Array(6);

/**
 * Writes into `out` the direction (x, y, z) with length 1, and after it what stands in for "up" there: the part of world
 * y across the direction, with length 1; where the direction is straight up or down, that of world -z.
 * @returns false where the direction has no length
 */
function directionAndUp(out: Float64Array, x: number, y: number, z: number): boolean {
  const length = Math.sqrt(x * x + y * y + z * z);
  if (!(length > NO_DIRECTION)) return false;
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
  out[0] = dx;
  out[1] = dy;
  out[2] = dz;
  out[3] = ux / across;
  out[4] = uy / across;
  out[5] = uz / across;
  return true;
}

/** Writes the rotation that turns `axis` into the direction and `up` into the one across it, as `hint` holds them. */
function rotationOf(out: Float64Array, axis: AimAxis, up: AimAxis): void {
  const a = index(axis);
  const u = index(up);
  const [dx, dy, dz, ux, uy, uz] = [hint[0]!, hint[1]!, hint[2]!, hint[3]!, hint[4]!, hint[5]!];
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
}

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
  if (index(axis) === index(up) || !directionAndUp(hint, x, y, z)) return false;
  rotationOf(out, axis, up);
  return true;
}

/**
 * As `aimRotation`, for a part that hangs from a frame which may be turned, scaled or mirrored: the rotation, in the
 * measure of the frame, after which the frame carries `axis` into the world direction (x, y, z) and `up` into the plane
 * of that direction and world y. So `world = frame x part` holds, and what is scaled above stays scaled.
 * @param frame world matrix (12 numbers from `at`) of what the part hangs from
 * @returns false, and writes nothing, also where the frame is flat
 */
export function aimRotationUnder(
  out: Float64Array,
  frame: Float64Array,
  at: number,
  x: number,
  y: number,
  z: number,
  axis: AimAxis,
  up: AimAxis,
): boolean {
  if (index(axis) === index(up) || !directionAndUp(hint, x, y, z)) return false;
  const [a, b, c] = [frame[at]!, frame[at + 1]!, frame[at + 2]!];
  const [d, e, f] = [frame[at + 4]!, frame[at + 5]!, frame[at + 6]!];
  const [g, h, i] = [frame[at + 8]!, frame[at + 9]!, frame[at + 10]!];
  const determinant = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  const size = Math.sqrt((a * a + d * d + g * g) * (b * b + e * e + h * h) * (c * c + f * f + i * i));
  if (!(Math.abs(determinant) > FLAT * size)) return false;
  // By the adjugate: its sign is that of the inverse after the determinant's sign; lengths are made 1 below.
  const s = determinant < 0 ? -1 : 1;
  const [dx, dy, dz, ux, uy, uz] = [hint[0]!, hint[1]!, hint[2]!, hint[3]!, hint[4]!, hint[5]!];
  const px = s * ((e * i - f * h) * dx + (c * h - b * i) * dy + (b * f - c * e) * dz);
  const py = s * ((f * g - d * i) * dx + (a * i - c * g) * dy + (c * d - a * f) * dz);
  const pz = s * ((d * h - e * g) * dx + (b * g - a * h) * dy + (a * e - b * d) * dz);
  let qx = s * ((e * i - f * h) * ux + (c * h - b * i) * uy + (b * f - c * e) * uz);
  let qy = s * ((f * g - d * i) * ux + (a * i - c * g) * uy + (c * d - a * f) * uz);
  let qz = s * ((d * h - e * g) * ux + (b * g - a * h) * uy + (a * e - b * d) * uz);
  const along = Math.sqrt(px * px + py * py + pz * pz);
  hint[0] = px / along;
  hint[1] = py / along;
  hint[2] = pz / along;
  const dot = qx * hint[0] + qy * hint[1] + qz * hint[2];
  qx -= dot * hint[0];
  qy -= dot * hint[1];
  qz -= dot * hint[2];
  const across = Math.sqrt(qx * qx + qy * qy + qz * qz);
  hint[3] = qx / across;
  hint[4] = qy / across;
  hint[5] = qz / across;
  rotationOf(out, axis, up);
  return true;
}

/**
 * Turns the place of a part about its pivot, so that its own turn and size come before the aim. `local` is its place
 * in the frame that it hangs from (12 numbers from `at`), changed in place; `turn` the aim in the same frame.
 */
export function turnAboutPivot(
  local: Float64Array,
  at: number,
  turn: Float64Array,
  px: number,
  py: number,
  pz: number,
): void {
  for (let column = 0; column < 3; column++) {
    const x = local[at + column]!;
    const y = local[at + 4 + column]!;
    const z = local[at + 8 + column]!;
    for (let row = 0; row < 3; row++)
      linear9[row * 3 + column] = turn[row * 3]! * x + turn[row * 3 + 1]! * y + turn[row * 3 + 2]! * z;
  }
  for (let row = 0; row < 3; row++) {
    const o = at + row * 4;
    const [a, b, c] = [linear9[row * 3]!, linear9[row * 3 + 1]!, linear9[row * 3 + 2]!];
    // Where the pivot stands does not change.
    const pivot = local[o]! * px + local[o + 1]! * py + local[o + 2]! * pz + local[o + 3]!;
    local[o] = a;
    local[o + 1] = b;
    local[o + 2] = c;
    local[o + 3] = pivot - (a * px + b * py + c * pz);
  }
}

const linear9 = new Float64Array(9);
