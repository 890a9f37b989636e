import { Box3, Vector3 } from 'three';
import { isWithinAny } from '../../../../core/document';
import { Evaluator, type Plan } from '../../../../core/evaluate';
import type { Picture } from '../../../../draw';
import { matricesOf } from './part-place';

const MOVING_AT_MOST = 500;

/** Smallest box of the world round parts as a picture shows them; round all shown solids when none are named. */
export function boxOfParts(picture: Picture, evaluator: Evaluator, ids: readonly string[]): Box3 {
  const { shot } = evaluator.plan;
  const box = new Box3();
  const bounds = new Box3();
  const roots = new Set(ids);
  for (const mesh of picture.pickable()) {
    const part = mesh.userData.part as string;
    if (ids.length > 0 && !isWithinAny(shot, part, roots)) continue;
    if (!mesh.geometry.boundingBox) mesh.geometry.computeBoundingBox();
    box.union(bounds.copy(mesh.geometry.boundingBox!).applyMatrix4(mesh.matrixWorld));
  }
  for (const id of ids)
    box.expandByPoint(new Vector3().setFromMatrixPosition(matricesOf(evaluator, id).world));
  return box;
}

/**
 * The box round what moves in a shot: where that is at its beginning, middle and end.
 * @param picture is left showing the end
 * @returns `null` where nothing moves, or too much to look at each
 */
export function boxOfMoving(picture: Picture, plan: Plan): Box3 | null {
  const { shot } = plan;
  const { first, last } = shot.setup;
  const moving = plan.nodes.filter(
    (id, node) => plan.nodeMoves[node] === 1 && shot.parts[id]!.shape !== null,
  );
  if (moving.length === 0 || moving.length > MOVING_AT_MOST) return null;
  const evaluator = new Evaluator(plan);
  const box = new Box3();
  for (const frame of [first, (first + last) / 2, last]) {
    evaluator.evaluate(frame);
    picture.update(evaluator);
    box.union(boxOfParts(picture, evaluator, moving));
  }
  return box;
}
