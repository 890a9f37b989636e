import { sinCosDeg } from '../math';
import {
  multiplyRotation,
  ROTATION_ORDERS,
  rotationFromEuler,
  rotationFromTurns,
  type Affine,
  type RotationOrder,
} from './matrix';

/** Values of a part's place. Lengths in metres, angles in degrees. */
export interface Placement {
  readonly location: readonly [number, number, number];
  readonly rotation: readonly [number, number, number];
  readonly scale: readonly [number, number, number];
  readonly pivot: readonly [number, number, number];
  readonly rest: readonly [number, number, number];
  readonly order: RotationOrder;
}

/** Numbers that `composeKept` remembers for each part: angle, sine and cosine about x, y and z. */
export const KEPT_SIZE = 9;

/**
 * As `composeLocal`, with sines and cosines kept in `kept` at `keptAt` for as long as their angles stay the same. Fill
 * `kept` with NaN before its first use.
 */
export function composeKept(
  out: Float64Array,
  at: number,
  values: Float64Array,
  base: number,
  order: number,
  kept: Float64Array,
  keptAt: number,
): void {
  for (let axis = 0, k = keptAt; axis < 3; axis++, k += 3) {
    if (values[base + 3 + axis] !== kept[k]) keepTurn(kept, k, values, base + 3 + axis);
  }
  rotationFromTurns(turn9, kept, keptAt, order);
  finishLocal(out, at, values, base);
}

/**
 * As `composeKept` followed by `multiplyAt` with the frame that the part hangs from, for the usual part: order XYZ, no
 * rest turn. One go without anything stored in between, with the same operations in the same order, so the same bits.
 * @returns false, and writes nothing, for any other part
 */
export function composeUnder(
  world: Float64Array,
  at: number,
  frame: number,
  values: Float64Array,
  base: number,
  order: number,
  kept: Float64Array,
  keptAt: number,
): boolean {
  if (order !== 0 || values[base + 12] !== 0 || values[base + 13] !== 0 || values[base + 14] !== 0)
    return false;
  if (values[base + 3] !== kept[keptAt]) keepTurn(kept, keptAt, values, base + 3);
  if (values[base + 4] !== kept[keptAt + 3]) keepTurn(kept, keptAt + 3, values, base + 4);
  if (values[base + 5] !== kept[keptAt + 6]) keepTurn(kept, keptAt + 6, values, base + 5);
  const b = kept[keptAt + 1]!;
  const a = kept[keptAt + 2]!;
  const d = kept[keptAt + 4]!;
  const c = kept[keptAt + 5]!;
  const f = kept[keptAt + 7]!;
  const e = kept[keptAt + 8]!;
  const sx = values[base + 6]!;
  const sy = values[base + 7]!;
  const sz = values[base + 8]!;
  const m0 = c * e * sx;
  const m1 = -c * f * sy;
  const m2 = d * sz;
  const m3 = (a * f + b * e * d) * sx;
  const m4 = (a * e - b * f * d) * sy;
  const m5 = -b * c * sz;
  const m6 = (b * f - a * e * d) * sx;
  const m7 = (b * e + a * f * d) * sy;
  const m8 = a * c * sz;
  const vx = values[base + 9]!;
  const vy = values[base + 10]!;
  const vz = values[base + 11]!;
  const tx = values[base]! + vx - (m0 * vx + m1 * vy + m2 * vz);
  const ty = values[base + 1]! + vy - (m3 * vx + m4 * vy + m5 * vz);
  const tz = values[base + 2]! + vz - (m6 * vx + m7 * vy + m8 * vz);
  for (let row = 0; row < 12; row += 4) {
    const x = world[frame + row]!;
    const y = world[frame + row + 1]!;
    const z = world[frame + row + 2]!;
    const w = world[frame + row + 3]!;
    const o = at + row;
    world[o] = x * m0 + y * m3 + z * m6;
    world[o + 1] = x * m1 + y * m4 + z * m7;
    world[o + 2] = x * m2 + y * m5 + z * m8;
    world[o + 3] = x * tx + y * ty + z * tz + w;
  }
  return true;
}

function keepTurn(kept: Float64Array, at: number, values: Float64Array, from: number): void {
  kept[at] = values[from]!;
  sinCosDeg(kept, at + 1, values, from);
}

const rest9 = new Float64Array(9);
const turn9 = new Float64Array(9);

/**
 * Local matrix of a part, written into `out` at `at`:
 * `M = T(location) T(pivot) R(rest, XYZ) R(rotation, order) S(scale) T(-pivot)`.
 * Numbers are read from `values` at `base`: location 3, rotation 3, scale 3, pivot 3, rest turn 3.
 */
export function composeLocal(
  out: Float64Array,
  at: number,
  values: Float64Array,
  base: number,
  order: RotationOrder,
): void {
  composeKept(out, at, values, base, ROTATION_ORDERS.indexOf(order), once.fill(NaN), 0);
}

const once = new Float64Array(KEPT_SIZE);

/** Writes a local matrix whose rotation stands in `turn9`. */
function finishLocal(out: Float64Array, at: number, values: Float64Array, base: number): void {
  const vx = values[base + 9]!,
    vy = values[base + 10]!,
    vz = values[base + 11]!;
  const restX = values[base + 12]!,
    restY = values[base + 13]!,
    restZ = values[base + 14]!;
  if (restX !== 0 || restY !== 0 || restZ !== 0) {
    rotationFromEuler(rest9, restX, restY, restZ, 'XYZ');
    multiplyRotation(turn9, rest9, turn9);
  }
  const sx = values[base + 6]!,
    sy = values[base + 7]!,
    sz = values[base + 8]!;
  const m0 = turn9[0]! * sx;
  const m1 = turn9[1]! * sy;
  const m2 = turn9[2]! * sz;
  const m3 = turn9[3]! * sx;
  const m4 = turn9[4]! * sy;
  const m5 = turn9[5]! * sz;
  const m6 = turn9[6]! * sx;
  const m7 = turn9[7]! * sy;
  const m8 = turn9[8]! * sz;
  out[at] = m0;
  out[at + 1] = m1;
  out[at + 2] = m2;
  out[at + 4] = m3;
  out[at + 5] = m4;
  out[at + 6] = m5;
  out[at + 8] = m6;
  out[at + 9] = m7;
  out[at + 10] = m8;
  // The pivot folds into the translation: t + v - (R S) v.
  out[at + 3] = values[base]! + vx - (m0 * vx + m1 * vy + m2 * vz);
  out[at + 7] = values[base + 1]! + vy - (m3 * vx + m4 * vy + m5 * vz);
  out[at + 11] = values[base + 2]! + vz - (m6 * vx + m7 * vy + m8 * vz);
}

/** A new local matrix of a placement. */
export function localMatrix(placement: Placement): Affine {
  const values = new Float64Array([
    ...placement.location,
    ...placement.rotation,
    ...placement.scale,
    ...placement.pivot,
    ...placement.rest,
  ]);
  const out = new Float64Array(12);
  composeLocal(out, 0, values, 0, placement.order);
  return out;
}
