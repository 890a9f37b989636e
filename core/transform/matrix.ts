import { sinCosDeg } from '../math';

/**
 * Affine matrices as 12 numbers, row by row: `[r00 r01 r02 tx, r10 r11 r12 ty, r20 r21 r22 tz]`. Points are
 * column vectors, right-handed, y up; `multiply(out, a, b)` applies b first, then a. Functions write into
 * `out` at an offset and return nothing, so that evaluation allocates nothing; `out` may be an input.
 */
export type Affine = Float64Array;

/** The order in which the three elementary turns are multiplied, left to right: 'XYZ' is Rx * Ry * Rz. */
export const ROTATION_ORDERS = ['XYZ', 'XZY', 'YXZ', 'YZX', 'ZXY', 'ZYX'] as const;
export type RotationOrder = (typeof ROTATION_ORDERS)[number];

/** Axes of a part that can face something. */
export const AIM_AXES = ['x', 'y', 'z', '-x', '-y', '-z'] as const;
export type AimAxis = (typeof AIM_AXES)[number];

/** A new identity matrix. */
export function identity(): Affine {
  return new Float64Array([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0]);
}

/** Writes the nine numbers (row by row) of the rotation by Euler angles in degrees. */
export function rotationFromEuler(
  out: Float64Array,
  x: number,
  y: number,
  z: number,
  order: RotationOrder,
): Float64Array {
  turns[0] = x;
  turns[3] = y;
  turns[6] = z;
  for (let axis = 0; axis < 9; axis += 3) sinCosDeg(turns, axis + 1, turns, axis);
  return rotationFromTurns(out, turns, 0, ROTATION_ORDERS.indexOf(order));
}

const turns = new Float64Array(9);

/**
 * Writes the nine numbers (row by row) of a rotation from sines and cosines: for each axis angle, sine, cosine, at `at`.
 * @param order index in `ROTATION_ORDERS`
 */
export function rotationFromTurns(
  out: Float64Array,
  turned: Float64Array,
  at: number,
  order: number,
): Float64Array {
  const a = turned[at + 2]!;
  const b = turned[at + 1]!;
  const c = turned[at + 5]!;
  const d = turned[at + 4]!;
  const e = turned[at + 8]!;
  const f = turned[at + 7]!;
  switch (order) {
    case 0: // XYZ
      set9(
        out,
        c * e,
        -c * f,
        d,
        a * f + b * e * d,
        a * e - b * f * d,
        -b * c,
        b * f - a * e * d,
        b * e + a * f * d,
        a * c,
      );
      break;
    case 2: // YXZ
      set9(
        out,
        c * e + d * f * b,
        d * e * b - c * f,
        a * d,
        a * f,
        a * e,
        -b,
        c * f * b - d * e,
        d * f + c * e * b,
        a * c,
      );
      break;
    case 4: // ZXY
      set9(
        out,
        c * e - d * f * b,
        -a * f,
        d * e + c * f * b,
        c * f + d * e * b,
        a * e,
        d * f - c * e * b,
        -a * d,
        b,
        a * c,
      );
      break;
    case 5: // ZYX
      set9(
        out,
        c * e,
        b * e * d - a * f,
        a * e * d + b * f,
        c * f,
        b * f * d + a * e,
        a * f * d - b * e,
        -d,
        b * c,
        a * c,
      );
      break;
    case 3: // YZX
      set9(
        out,
        c * e,
        b * d - a * c * f,
        b * c * f + a * d,
        f,
        a * e,
        -b * e,
        -d * e,
        a * d * f + b * c,
        a * c - b * d * f,
      );
      break;
    case 1: // XZY
      set9(
        out,
        c * e,
        -f,
        d * e,
        a * c * f + b * d,
        a * e,
        a * d * f - b * c,
        b * c * f - a * d,
        b * e,
        b * d * f + a * c,
      );
      break;
  }
  return out;
}

function set9(
  out: Float64Array,
  m0: number,
  m1: number,
  m2: number,
  m3: number,
  m4: number,
  m5: number,
  m6: number,
  m7: number,
  m8: number,
): void {
  out[0] = m0;
  out[1] = m1;
  out[2] = m2;
  out[3] = m3;
  out[4] = m4;
  out[5] = m5;
  out[6] = m6;
  out[7] = m7;
  out[8] = m8;
}

/** Nine-number product `out = a * b`; `out` may be `a` or `b`. */
export function multiplyRotation(out: Float64Array, a: Float64Array, b: Float64Array): Float64Array {
  const b0 = b[0]!,
    b1 = b[1]!,
    b2 = b[2]!,
    b3 = b[3]!,
    b4 = b[4]!,
    b5 = b[5]!,
    b6 = b[6]!,
    b7 = b[7]!,
    b8 = b[8]!;
  for (let row = 0; row < 9; row += 3) {
    const x = a[row]!,
      y = a[row + 1]!,
      z = a[row + 2]!;
    out[row] = x * b0 + y * b3 + z * b6;
    out[row + 1] = x * b1 + y * b4 + z * b7;
    out[row + 2] = x * b2 + y * b5 + z * b8;
  }
  return out;
}

/** `out[at..at+12) = a[aAt..] * b[bAt..]`: b is applied first. */
export function multiplyAt(
  out: Float64Array,
  at: number,
  a: Float64Array,
  aAt: number,
  b: Float64Array,
  bAt: number,
): void {
  const b0 = b[bAt]!,
    b1 = b[bAt + 1]!,
    b2 = b[bAt + 2]!,
    b3 = b[bAt + 3]!;
  const b4 = b[bAt + 4]!,
    b5 = b[bAt + 5]!,
    b6 = b[bAt + 6]!,
    b7 = b[bAt + 7]!;
  const b8 = b[bAt + 8]!,
    b9 = b[bAt + 9]!,
    b10 = b[bAt + 10]!,
    b11 = b[bAt + 11]!;
  for (let row = 0; row < 12; row += 4) {
    const x = a[aAt + row]!,
      y = a[aAt + row + 1]!,
      z = a[aAt + row + 2]!,
      w = a[aAt + row + 3]!;
    out[at + row] = x * b0 + y * b4 + z * b8;
    out[at + row + 1] = x * b1 + y * b5 + z * b9;
    out[at + row + 2] = x * b2 + y * b6 + z * b10;
    out[at + row + 3] = x * b3 + y * b7 + z * b11 + w;
  }
}

/** A new matrix `a * b`. */
export function multiply(a: Affine, b: Affine): Affine {
  const out = new Float64Array(12);
  multiplyAt(out, 0, a, 0, b, 0);
  return out;
}

/** Inverse of an affine matrix; `null` when its linear part has no inverse (a scale of 0). */
export function invert(m: Affine): Affine | null {
  const [a, b, c, tx, d, e, f, ty, g, h, i, tz] = m as unknown as number[] as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const A = e * i - f * h;
  const B = f * g - d * i;
  const C = d * h - e * g;
  const determinant = a * A + b * B + c * C;
  if (Math.abs(determinant) < 1e-300) return null;
  const s = 1 / determinant;
  const out = new Float64Array(12);
  out[0] = A * s;
  out[1] = (c * h - b * i) * s;
  out[2] = (b * f - c * e) * s;
  out[4] = B * s;
  out[5] = (a * i - c * g) * s;
  out[6] = (c * d - a * f) * s;
  out[8] = C * s;
  out[9] = (b * g - a * h) * s;
  out[10] = (a * e - b * d) * s;
  out[3] = -(out[0] * tx + out[1] * ty + out[2] * tz);
  out[7] = -(out[4] * tx + out[5] * ty + out[6] * tz);
  out[11] = -(out[8] * tx + out[9] * ty + out[10] * tz);
  return out;
}

/** The point (x, y, z) after `m`. */
export function transformPoint(m: Affine, x: number, y: number, z: number): [number, number, number] {
  return [
    m[0]! * x + m[1]! * y + m[2]! * z + m[3]!,
    m[4]! * x + m[5]! * y + m[6]! * z + m[7]!,
    m[8]! * x + m[9]! * y + m[10]! * z + m[11]!,
  ];
}

/**
 * Coordinate of a point in the measure of a matrix: 0 x, 1 y, 2 z. By Cramer's rule.
 * @param at where the matrix begins among the numbers
 * @returns NaN where the matrix is flat
 */
export function coordinateIn(
  m: Float64Array,
  at: number,
  x: number,
  y: number,
  z: number,
  axis: number,
): number {
  const [a, b, c] = [m[at]!, m[at + 1]!, m[at + 2]!];
  const [d, e, f] = [m[at + 4]!, m[at + 5]!, m[at + 6]!];
  const [g, h, i] = [m[at + 8]!, m[at + 9]!, m[at + 10]!];
  const [dx, dy, dz] = [x - m[at + 3]!, y - m[at + 7]!, z - m[at + 11]!];
  const whole = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  if (whole === 0) return NaN;
  if (axis === 0) return (dx * (e * i - f * h) - b * (dy * i - f * dz) + c * (dy * h - e * dz)) / whole;
  if (axis === 1) return (a * (dy * i - f * dz) - dx * (d * i - f * g) + c * (d * dz - dy * g)) / whole;
  return (a * (e * dz - dy * h) - b * (d * dz - dy * g) + dx * (d * h - e * g)) / whole;
}
