import { Matrix4, Vector3 } from 'three';
import type { Shot } from '../../../../core/document';
import { MATRIX_SIZE, type Evaluator } from '../../../../core/evaluate';
import { decompose, nearestEuler } from '../../../../core/transform';

/** Matrix number `node` of the evaluated frame; the world itself for -1. */
export function matrixAt(evaluator: Evaluator, node: number): Matrix4 {
  const out = new Matrix4();
  if (node < 0) return out;
  const w = evaluator.world.subarray(node * MATRIX_SIZE, (node + 1) * MATRIX_SIZE);
  return out.set(
    w[0]!,
    w[1]!,
    w[2]!,
    w[3]!,
    w[4]!,
    w[5]!,
    w[6]!,
    w[7]!,
    w[8]!,
    w[9]!,
    w[10]!,
    w[11]!,
    0,
    0,
    0,
    1,
  );
}

/** World matrix of a part, and of what it hangs from (below a repeat: the frame of the first copy). */
export function matricesOf(evaluator: Evaluator, id: string): { world: Matrix4; frame: Matrix4 } {
  const node = evaluator.plan.nodeOf.get(id) ?? -1;
  return {
    world: matrixAt(evaluator, node),
    frame: matrixAt(evaluator, node < 0 ? -1 : evaluator.plan.nodeFrame[node]!),
  };
}

/** A part's pivot in the world. */
export function pivotOf(evaluator: Evaluator, id: string): Vector3 {
  const [x, y, z] = ['x', 'y', 'z'].map((axis) => evaluator.number(`${id}/pivot.${axis}`));
  return new Vector3(x, y, z).applyMatrix4(matricesOf(evaluator, id).world);
}

export interface PlaceValues {
  readonly location: readonly [number, number, number];
  /** Whole turns are those nearest to the given ones. */
  readonly rotation: readonly [number, number, number];
  readonly scale: readonly [number, number, number];
}

/** Values of a part's place that put it at a matrix of the world; `null` below something of size 0. */
export function valuesAt(
  shot: Shot,
  evaluator: Evaluator,
  id: string,
  world: Matrix4,
  near: readonly number[] = ['x', 'y', 'z'].map((axis) => evaluator.number(`${id}/rotation.${axis}`)),
): PlaceValues | null {
  const { frame } = matricesOf(evaluator, id);
  if (Math.abs(frame.determinant()) < 1e-18) return null;
  const e = frame.clone().invert().multiply(world).elements;
  const triple = (name: string): [number, number, number] =>
    ['x', 'y', 'z'].map((axis) => evaluator.number(`${id}/${name}.${axis}`)) as [number, number, number];
  const local = decompose(
    Float64Array.from([e[0], e[4], e[8], e[12], e[1], e[5], e[9], e[13], e[2], e[6], e[10], e[14]]),
    triple('pivot'),
    triple('rest'),
    shot.parts[id]!.rotationOrder,
  );
  if (!local) return null;
  return {
    location: local.location,
    rotation: nearestEuler(local.rotation, shot.parts[id]!.rotationOrder, near),
    scale: local.scale,
  };
}
