import type { PinKind } from '../../document';
import { cosDeg, sinDeg } from '../../math';

/**
 * A flat linkage: bodies in one plane, joined by pins, slots and slides. Body 0 is the ground and stands at (0, 0) with
 * turn 0. A pose is where the point of a body lies about which it turns, and its turn in degrees; joints name points by
 * their way from that point, in a body that is not turned.
 */
export interface Chain {
  /** For each body, whether its x, y and turn are found from the joints; false where they are given. */
  readonly found: readonly (readonly [x: boolean, y: boolean, turn: boolean])[];
  readonly joints: readonly Joint[];
}

/**
 * `pin`: a point of `a` lies on a point of `b`. `slot`: a point of `a` lies on a line of `b`, free to turn. `slide`: the
 * same, and `a` keeps its turn against `b`.
 */
export type JointKind = PinKind;

export interface Joint {
  readonly kind: JointKind;
  /** Numbers of bodies. */
  readonly a: number;
  readonly b: number;
}

/** Conditions that a joint of a kind sets: so many ways to move does it take. */
export const CONDITIONS: Readonly<Record<JointKind, number>> = { pin: 2, slot: 1, slide: 2 };

/** Numbers per pose: x, y, turn in degrees. */
export const POSE_SIZE = 3;
/** Numbers per joint: the point of `a` (x, y), the point of `b` (x, y), direction of its line, turn of `a` against `b`. */
export const JOINT_SIZE = 6;

/** What a chain is solved from: poses of all bodies one after another, then the numbers of all joints. */
export interface ChainNumbers {
  readonly poses: Float64Array;
  readonly joints: Float64Array;
}

/** Writes where a point of a body, given by its way from the point about which it turns, lies in the plane. */
export function carryPoint(
  out: Float64Array,
  poses: Float64Array,
  body: number,
  px: number,
  py: number,
): void {
  const at = body * POSE_SIZE;
  const turn = poses[at + 2]!;
  const [c, s] = [cosDeg(turn), sinDeg(turn)];
  out[0] = poses[at]! + (c * px - s * py);
  out[1] = poses[at + 1]! + (s * px + c * py);
}

const pointA = new Float64Array(2);
const pointB = new Float64Array(2);

/** Writes by how much each condition of a joint is missed (lengths, and the turn of a slide in degrees); says how many. */
export function missOfJoint(
  out: Float64Array,
  at: number,
  chain: Chain,
  numbers: ChainNumbers,
  j: number,
): number {
  const { kind, a, b } = chain.joints[j]!;
  const { poses, joints } = numbers;
  const o = j * JOINT_SIZE;
  carryPoint(pointA, poses, a, joints[o]!, joints[o + 1]!);
  carryPoint(pointB, poses, b, joints[o + 2]!, joints[o + 3]!);
  const dx = pointA[0]! - pointB[0]!;
  const dy = pointA[1]! - pointB[1]!;
  if (kind === 'pin') {
    out[at] = dx;
    out[at + 1] = dy;
    return 2;
  }
  const line = poses[b * POSE_SIZE + 2]! + joints[o + 4]!;
  out[at] = dy * cosDeg(line) - dx * sinDeg(line);
  if (kind === 'slot') return 1;
  out[at + 1] = poses[a * POSE_SIZE + 2]! - poses[b * POSE_SIZE + 2]! - joints[o + 5]!;
  return 2;
}

/** A length by which a chain is measured: the longest way from a turning point to a joint, at least 1e-6. */
export function sizeOfChain(joints: Float64Array): number {
  let most = 0;
  for (let o = 0; o < joints.length; o += JOINT_SIZE)
    for (let k = 0; k < 4; k += 2) {
      const [x, y] = [joints[o + k]!, joints[o + k + 1]!];
      most = Math.max(most, Math.sqrt(x * x + y * y));
    }
  return most > 1e-6 ? most : 1e-6;
}
