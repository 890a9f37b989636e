import { acos, atan2 } from '../math';

const DEG = 180 / Math.PI;

/** How two bones stand, in degrees. */
export interface TwoBones {
  /** Direction of the first bone from its root. */
  readonly root: number;
  /** Turn of the second bone against the first: 0 where they are straight. */
  readonly bend: number;
}

/**
 * Two bones that reach for a point, their root at the origin: the elbow is on the left of the way there with side 1, on
 * its right with -1. Out of reach they point at it, stretched or folded. Source: law of cosines (Tolani, Goswami and
 * Badler, "Real-time inverse kinematics techniques for anthropomorphic limbs", Graphical Models 2000).
 */
export function twoBones(x: number, y: number, bone1: number, bone2: number, side: number): TwoBones {
  const asked = Math.sqrt(x * x + y * y);
  const d = Math.max(Math.abs(bone1 - bone2), Math.min(bone1 + bone2, asked));
  const left = side < 0 ? -1 : 1;
  const elbow = acos(cosine((bone1 * bone1 + bone2 * bone2 - d * d) / (2 * bone1 * bone2))) * DEG;
  // With bones of one length that are folded up, every direction would do: square to the way there is as good as any.
  const lift = d === 0 ? 90 : acos(cosine((bone1 * bone1 + d * d - bone2 * bone2) / (2 * bone1 * d))) * DEG;
  const way = asked === 0 ? 0 : atan2(y, x) * DEG;
  const root = way + left * lift;
  return { root: root - 360 * Math.ceil((root - 180) / 360), bend: left * (elbow - 180) };
}

const cosine = (x: number): number => Math.max(-1, Math.min(1, x));

/** Why two bones cannot reach at all, in words; `null` when they can. */
export const bonesTrouble = (_x: number, _y: number, bone1: number, bone2: number): string | null =>
  bone1 > 0 && bone2 > 0 ? null : 'both bones must be longer than 0';
