import { asin, atan2 } from '../math';
import { multiplyRotation, rotationFromEuler, type Affine, type RotationOrder } from './matrix';

const DEG = 180 / Math.PI;
/** Beyond this sine of the middle angle the outer two cannot be told apart (gimbal lock). */
const LOCK_SINE = 0.9999999;

const clampSine = (value: number): number => Math.min(1, Math.max(-1, value));

/**
 * Euler angles in degrees of a rotation (nine numbers, row by row), middle angle in [-90, 90]. In gimbal lock
 * the third angle is set to 0. Whole turns cannot be recovered from a matrix.
 * Source: Diebel, "Representing Attitude" (2006).
 */
export function eulerFromRotation(m: Float64Array, order: RotationOrder): [number, number, number] {
  const [m11, m12, m13, m21, m22, m23, m31, m32, m33] = m as unknown as [
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
  let x = 0;
  let y = 0;
  let z = 0;
  switch (order) {
    case 'XYZ':
      y = asin(clampSine(m13));
      if (Math.abs(m13) < LOCK_SINE) {
        x = atan2(-m23, m33);
        z = atan2(-m12, m11);
      } else x = atan2(m32, m22);
      break;
    case 'YXZ':
      x = asin(-clampSine(m23));
      if (Math.abs(m23) < LOCK_SINE) {
        y = atan2(m13, m33);
        z = atan2(m21, m22);
      } else y = atan2(-m31, m11);
      break;
    case 'ZXY':
      x = asin(clampSine(m32));
      if (Math.abs(m32) < LOCK_SINE) {
        y = atan2(-m31, m33);
        z = atan2(-m12, m22);
      } else z = atan2(m21, m11);
      break;
    case 'ZYX':
      y = asin(-clampSine(m31));
      if (Math.abs(m31) < LOCK_SINE) {
        x = atan2(m32, m33);
        z = atan2(m21, m11);
      } else z = atan2(-m12, m22);
      break;
    case 'YZX':
      z = asin(clampSine(m21));
      if (Math.abs(m21) < LOCK_SINE) {
        x = atan2(-m23, m22);
        y = atan2(-m31, m11);
      } else y = atan2(m13, m33);
      break;
    case 'XZY':
      z = asin(-clampSine(m12));
      if (Math.abs(m12) < LOCK_SINE) {
        x = atan2(m32, m22);
        y = atan2(m13, m11);
      } else x = atan2(-m23, m33);
      break;
  }
  return [x * DEG, y * DEG, z * DEG];
}

/** What a local matrix says about a part whose pivot and rest turn are known. */
export interface Decomposed {
  readonly location: [number, number, number];
  readonly rotation: [number, number, number];
  readonly scale: [number, number, number];
  /** True when the matrix has shear, which location, rotation and scale cannot express. */
  readonly sheared: boolean;
}

const SHEAR_TOLERANCE = 1e-9;

/**
 * Splits an affine matrix into location, rotation and scale for the given pivot and rest turn, so that
 * `composeLocal` of the result gives the matrix again (to rounding) unless it is sheared. A mirrored matrix
 * gets a negative x scale. `null` when an axis has length 0.
 */
export function decompose(
  m: Affine,
  pivot: readonly [number, number, number],
  rest: readonly [number, number, number],
  order: RotationOrder,
): Decomposed | null {
  const column = (i: number): number =>
    Math.sqrt(m[i]! * m[i]! + m[i + 4]! * m[i + 4]! + m[i + 8]! * m[i + 8]!);
  const scale: [number, number, number] = [column(0), column(1), column(2)];
  if (scale[0] === 0 || scale[1] === 0 || scale[2] === 0) return null;
  const determinant =
    m[0]! * (m[5]! * m[10]! - m[6]! * m[9]!) -
    m[1]! * (m[4]! * m[10]! - m[6]! * m[8]!) +
    m[2]! * (m[4]! * m[9]! - m[5]! * m[8]!);
  if (determinant < 0) scale[0] = -scale[0];
  const turn = new Float64Array(9);
  for (let row = 0; row < 3; row++)
    for (let col = 0; col < 3; col++) turn[row * 3 + col] = m[row * 4 + col]! / scale[col]!;
  const dot = (i: number, j: number): number =>
    turn[i]! * turn[j]! + turn[i + 3]! * turn[j + 3]! + turn[i + 6]! * turn[j + 6]!;
  const sheared = Math.max(Math.abs(dot(0, 1)), Math.abs(dot(0, 2)), Math.abs(dot(1, 2))) > SHEAR_TOLERANCE;
  const restInverse = rotationFromEuler(new Float64Array(9), rest[0], rest[1], rest[2], 'XYZ');
  for (const [i, j] of [
    [1, 3],
    [2, 6],
    [5, 7],
  ] as const) {
    const kept = restInverse[i]!;
    restInverse[i] = restInverse[j]!;
    restInverse[j] = kept;
  }
  const rotation = eulerFromRotation(multiplyRotation(new Float64Array(9), restInverse, turn), order);
  const location: [number, number, number] = [0, 0, 0];
  for (let row = 0; row < 3; row++) {
    const o = row * 4;
    location[row] =
      m[o + 3]! - pivot[row]! + (m[o]! * pivot[0] + m[o + 1]! * pivot[1] + m[o + 2]! * pivot[2]);
  }
  return { location, rotation, scale, sheared };
}

/** The angle equal to `angle` up to whole turns that lies nearest to `near`; degrees. Keeps counted turns. */
export function nearestTurn(angle: number, near: number): number {
  return angle + 360 * Math.round((near - angle) / 360);
}

/**
 * Angles about x, y and z that give the same turn as `rotation` and lie nearest to `near`: of the two ways in which Euler
 * angles give a turn (Diebel 2006: the outer ones half a turn on, the middle one mirrored), with whole turns kept.
 */
export function nearestEuler(
  rotation: readonly [number, number, number],
  order: RotationOrder,
  near: readonly number[],
): [number, number, number] {
  const middle = 'XYZ'.indexOf(order[1]!);
  const other = rotation.map((angle, axis) => (axis === middle ? 180 - angle : angle + 180));
  const ways = [rotation, other].map((way) => way.map((angle, axis) => nearestTurn(angle, near[axis]!)));
  const [first, second] = ways.map((way) =>
    way.reduce((sum, angle, axis) => sum + Math.abs(angle - near[axis]!), 0),
  );
  // Only clearly nearer: where both are as near, the angles stay as they were found.
  return (second! < first! - 1e-9 ? ways[1] : ways[0]) as [number, number, number];
}
