import { Matrix4, Vector3 } from 'three';
import type { Witness } from './box-tree';
import type { Solid } from './solid';

/** Depth is told to this, metres. */
const EXACT = 4e-5;
/** Rounds in which the direction is tried to either side, each with half the turn of the one before. */
const ROUNDS = 4;
const FIRST_TURN = 0.3;
/** Directions that are tried first at most. */
const DIRECTIONS = 16;

const shifted = new Matrix4();

/**
 * Depth of one solid in another: how far the other has to be pushed along a straight line to come free, by the shortest of
 * the directions tried (out of the faces that cross, from middle to middle, and to the sides of the best of these).
 * For convex solids it is the depth of penetration as in van den Bergen, Collision Detection in Interactive 3D Environments.
 * @returns metres; 0 where they do not touch
 */
export function depthOf(a: Solid, b: Solid, otherToThis: Matrix4): number {
  const crossing = a.crossing(b, otherToThis);
  if (!crossing && !a.touches(b, otherToThis)) return 0;
  const middles = new Vector3(...b.middle).applyMatrix4(otherToThis).sub(new Vector3(...a.middle));
  const directions = [
    ...(middles.lengthSq() > 0 ? [middles.clone().normalize()] : []),
    ...(crossing?.ways.slice(0, DIRECTIONS) ?? []),
  ];
  if (!crossing || directions.length < 2)
    for (const axis of [0, 1, 2])
      directions.push(new Vector3().setComponent(axis, 1), new Vector3().setComponent(axis, -1));
  let best = Infinity;
  let way = new Vector3(0, 1, 0);
  const witness: Witness = { mine: -1, theirs: -1 };
  const tryAlong = (direction: Vector3): boolean => {
    const found = pushAlong(a, b, otherToThis, direction, best, witness);
    if (!(found < best)) return false;
    best = found;
    way = direction;
    return true;
  };
  for (const direction of directions) tryAlong(direction);
  for (let round = 0, turn = FIRST_TURN; round < ROUNDS && best > EXACT; round++, turn /= 2) {
    const side = new Vector3(way.y, way.z, way.x).cross(way).normalize();
    const up = new Vector3().crossVectors(way, side);
    for (const to of [side, side.clone().negate(), up, up.clone().negate()])
      tryAlong(way.clone().addScaledVector(to, turn).normalize());
  }
  return best;
}

/** How far the other one has to be pushed along a direction to come free; `best` where that is no less. */
function pushAlong(
  a: Solid,
  b: Solid,
  otherToThis: Matrix4,
  direction: Vector3,
  best: number,
  witness: Witness,
): number {
  const touches = (push: number): boolean => {
    shifted.copy(otherToThis);
    shifted.elements[12] += direction.x * push;
    shifted.elements[13] += direction.y * push;
    shifted.elements[14] += direction.z * push;
    return a.touches(b, shifted, witness);
  };
  // Beyond that far their boxes lie side by side.
  const apart = farthest(a, direction) - farthest(b, direction, otherToThis) + EXACT;
  if (best < apart && touches(best)) return best;
  let [inside, free] = [0, Math.min(best, apart)];
  while (free - inside > EXACT) {
    const middle = (inside + free) / 2;
    if (touches(middle)) inside = middle;
    else free = middle;
  }
  return (inside + free) / 2;
}

const corner = new Vector3();

/** The greatest place of the box of `a` along a direction; with a pose the least one of the box so placed. */
function farthest({ low, high }: Solid, direction: Vector3, placed?: Matrix4): number {
  let found = placed ? Infinity : -Infinity;
  for (let i = 0; i < 8; i++) {
    corner.set(i & 1 ? high[0] : low[0], i & 2 ? high[1] : low[1], i & 4 ? high[2] : low[2]);
    if (placed) found = Math.min(found, corner.applyMatrix4(placed).dot(direction));
    else found = Math.max(found, corner.dot(direction));
  }
  return found;
}
