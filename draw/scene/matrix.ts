import type { Matrix4 } from 'three';

/** Reads a world matrix of an evaluator, 12 numbers row by row from `at`. */
export function setMatrix(out: Matrix4, world: Float64Array, at: number): void {
  const w = world;
  out.set(
    w[at]!,
    w[at + 1]!,
    w[at + 2]!,
    w[at + 3]!,
    w[at + 4]!,
    w[at + 5]!,
    w[at + 6]!,
    w[at + 7]!,
    w[at + 8]!,
    w[at + 9]!,
    w[at + 10]!,
    w[at + 11]!,
    0,
    0,
    0,
    1,
  );
}
