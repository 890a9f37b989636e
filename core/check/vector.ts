/** A direction or point: x, y, z. */
export type Vector = readonly [number, number, number];

export const dot = (a: Vector, b: Vector): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
export const minus = (a: Vector, b: Vector): Vector => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
export const cross = (a: Vector, b: Vector): Vector => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
export const length = (a: Vector): number => Math.sqrt(dot(a, a));

/** The direction with length 1; what has no length stays as it is. */
export const unit = (a: Vector): Vector => {
  const size = length(a) || 1;
  return [a[0] / size, a[1] / size, a[2] / size];
};

/** Column `i` of an affine matrix of 12 numbers from `at`: an axis of the part, or (3) its origin. */
export const column = (m: Float64Array, i: number, at = 0): Vector => [
  m[at + i]!,
  m[at + 4 + i]!,
  m[at + 8 + i]!,
];
