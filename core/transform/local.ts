import { multiplyRotation, rotationFromEuler, type Affine, type RotationOrder } from './matrix';

/** Values of a part's place. Lengths in metres, angles in degrees. */
export interface Placement {
  readonly location: readonly [number, number, number];
  readonly rotation: readonly [number, number, number];
  readonly scale: readonly [number, number, number];
  readonly pivot: readonly [number, number, number];
  readonly rest: readonly [number, number, number];
  readonly order: RotationOrder;
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
  const vx = values[base + 9]!,
    vy = values[base + 10]!,
    vz = values[base + 11]!;
  const restX = values[base + 12]!,
    restY = values[base + 13]!,
    restZ = values[base + 14]!;
  rotationFromEuler(turn9, values[base + 3]!, values[base + 4]!, values[base + 5]!, order);
  if (restX !== 0 || restY !== 0 || restZ !== 0) {
    rotationFromEuler(rest9, restX, restY, restZ, 'XYZ');
    multiplyRotation(turn9, rest9, turn9);
  }
  const sx = values[base + 6]!,
    sy = values[base + 7]!,
    sz = values[base + 8]!;
  for (let row = 0; row < 3; row++) {
    const a = turn9[row * 3]! * sx;
    const b = turn9[row * 3 + 1]! * sy;
    const c = turn9[row * 3 + 2]! * sz;
    const o = at + row * 4;
    out[o] = a;
    out[o + 1] = b;
    out[o + 2] = c;
    // The pivot folds into the translation: t + v - (R S) v.
    out[o + 3] = values[base + row]! + values[base + 9 + row]! - (a * vx + b * vy + c * vz);
  }
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
