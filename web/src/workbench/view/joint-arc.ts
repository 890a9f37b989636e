import { Vector3 } from 'three';
import { childrenOf, type JointAxis, type Shot } from '../../../../core/document';
import type { Evaluator } from '../../../../core/evaluate';
import { handleFrame } from './handle-geometry';
import { pivotOf } from './part-place';

/** Degrees from point to point of an arc, at most. */
const STEP = 5;
/** Length of the arm of a joint from which nothing hangs, metres. */
const BARE = 0.4;
/** Share of the way to what hangs from it at which the arc lies. */
const SHARE = 0.7;

/** A joint about one axis: where its arm may go, and where it is. */
export interface JointArc {
  readonly axis: JointAxis;
  readonly pivot: Vector3;
  /** Ends of the arm from the least angle to the most. */
  readonly points: readonly Vector3[];
  readonly now: Vector3;
  /** Whether it is within its limits. */
  readonly within: boolean;
}

/** The way from the pivot of a part to what hangs farthest from it; none where nothing does. */
function armOf(shot: Shot, evaluator: Evaluator, id: string, pivot: Vector3): Vector3 {
  return childrenOf(shot, id)
    .map((child) => pivotOf(evaluator, child).sub(pivot))
    .reduce((farthest, way) => (way.length() > farthest.length() ? way : farthest), new Vector3());
}

/**
 * Arcs of the joint limits of a part at the evaluated frame. Each rotation channel turns about the axis that the turns before
 * it in the order have brought it to.
 */
export function jointArcs(shot: Shot, evaluator: Evaluator, id: string): JointArc[] {
  const part = shot.parts[id];
  if (!part?.joint) return [];
  const { origin: pivot, turn } = handleFrame(evaluator, id, part);
  const arm = armOf(shot, evaluator, id, pivot);
  return Object.entries(part.joint).flatMap(([name, limit]): JointArc[] => {
    const axis = name as JointAxis;
    const about = turn[axis];
    const flat = arm.clone().projectOnPlane(about);
    // What hangs in the axis itself shows no turn: any way across it does.
    if (flat.length() < 1e-6) {
      const other = turn[axis === 'x' ? 'y' : 'x'];
      flat.copy(other).projectOnPlane(about).setLength(BARE);
    } else flat.multiplyScalar(SHARE);
    const now = evaluator.number(`${id}/rotation.${axis}`);
    const at = (degrees: number): Vector3 =>
      flat
        .clone()
        .applyAxisAngle(about, ((degrees - now) * Math.PI) / 180)
        .add(pivot);
    const steps = Math.max(1, Math.ceil(Math.min(360, limit.most - limit.least) / STEP));
    const points = Array.from({ length: steps + 1 }, (_, i) =>
      at(limit.least + (Math.min(360, limit.most - limit.least) * i) / steps),
    );
    return [
      { axis, pivot, points, now: at(now), within: now >= limit.least - 1e-6 && now <= limit.most + 1e-6 },
    ];
  });
}
