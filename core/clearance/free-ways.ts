import { Matrix4 } from 'three';
import { subtreeOf } from '../document';
import { MATRIX_SIZE, type Plan } from '../evaluate';
import { Bodies, type FileMeshes, MOMENTS, type Moment, poseMatrix } from './bodies';

type Triple = readonly [number, number, number];

export interface FreeWaysAsked {
  /** Parts in the order in which they leave: those before one are gone when it goes. */
  readonly parts: readonly string[];
  /** Whole frame at which they are looked at. */
  readonly frame: number;
  /** How far each goes, metres of the world. */
  readonly distances: readonly number[];
}

/** The way out on which a part runs into least. */
export interface FreeWay {
  readonly part: string;
  /** Of length 1, in the world. */
  readonly way: Triple;
  /** How much deeper it comes into something on the way than it is from the start, metres; 0 for a free way. */
  readonly deeper: number;
  /** Part into which it comes deepest; `null` for a free way. */
  readonly blocked: string | null;
}

/** Places along the way at which it is looked at, nearer to one another where it begins. */
const LOOKS = 8;
/** Deeper by less than this is how round surfaces are built of flat ones, metres. */
const SAME = 2e-3;
/** Cosine from which on two directions are one. */
const ALIKE = 0.999;
/** A part is moved on by this when it begins, as a share of its way: what touches must not hold it. */
const FIRST_LOOK = 0.01;

/**
 * For each part the direction in which it comes out best: of those along the axes of the world and its own the one on which it
 * gets least deeper into what is still there, and among these the one that leads away from the middle of all. A part that sits
 * on an axle leaves along it, one in a slot along the slot.
 * @param told share that is done
 * @throws RangeError for a part that is none, and as `Bodies` does
 */
export function freeWays(
  plan: Plan,
  asked: FreeWaysAsked,
  meshes: FileMeshes = {},
  told: (share: number) => void = () => undefined,
): FreeWay[] {
  const { shot } = plan;
  for (const part of asked.parts)
    if (!shot.parts[part]) throw new RangeError(`There is no part ${part} in this shot.`);
  const bodies = new Bodies(plan, meshes);
  const moment = bodies.at(asked.frame * MOMENTS);
  const families = asked.parts.map((part) => new Set(subtreeOf(shot, part)));
  const gone = new Set<string>();
  const middles = families.map((family) => middleOf(bodies, moment, family));
  const whole = middleOf(bodies, moment, new Set(families.flatMap((family) => [...family])));
  return asked.parts.map((part, i) => {
    const family = families[i]!;
    const moving = numbersOf(bodies, moment, (id) => family.has(id));
    const others = numbersOf(bodies, moment, (id) => !family.has(id) && !gone.has(id));
    const out = middles[i]!.map((value, k) => value - whole[k]!);
    const ways = directionsOf(plan, bodies, part).sort((a, b) => dot(b, out) - dot(a, out));
    let best: FreeWay | null = null;
    for (const way of ways) {
      const found = goes(bodies, moment, moving, others, way, asked.distances[i]!, best?.deeper ?? Infinity);
      if (!best || found.deeper < best.deeper - SAME)
        best = { part, way, deeper: found.deeper, blocked: found.blocked };
      if (best.deeper === 0) break;
    }
    for (const id of family) gone.add(id);
    told((i + 1) / asked.parts.length);
    return best!;
  });
}

const dot = (a: readonly number[], b: readonly number[]): number =>
  a.reduce((sum, value, i) => sum + value * b[i]!, 0);

const numbersOf = (bodies: Bodies, { solids }: Moment, wanted: (part: string) => boolean): number[] =>
  bodies.list.flatMap(({ part }, i) => (solids[i] && wanted(part) ? [i] : []));

/** Middle of the box round some parts; the origin where nothing of them shows. */
function middleOf(bodies: Bodies, moment: Moment, parts: ReadonlySet<string>): Triple {
  const list = numbersOf(bodies, moment, (part) => parts.has(part));
  if (list.length === 0) return [0, 0, 0];
  const end = (axis: number, high: boolean): number =>
    list.reduce(
      (found, body) =>
        high
          ? Math.max(found, moment.boxes[body * 6 + 3 + axis]!)
          : Math.min(found, moment.boxes[body * 6 + axis]!),
      high ? -Infinity : Infinity,
    );
  return [0, 1, 2].map((axis) => (end(axis, false) + end(axis, true)) / 2) as unknown as Triple;
}

/** Directions along the axes of the world, both ways, and of the part where they are others. */
function directionsOf(plan: Plan, bodies: Bodies, part: string): Triple[] {
  const at = plan.nodeOf.get(part)! * MATRIX_SIZE;
  const world = bodies.worldNow;
  const own = [0, 1, 2].flatMap((axis): Triple[] => {
    const column = [0, 4, 8].map((row) => world[at + row + axis]!);
    const size = Math.hypot(...column);
    return size > 0 ? [column.map((value) => value / size) as unknown as Triple] : [];
  });
  const axes: Triple[] = [
    [0, 1, 0],
    [1, 0, 0],
    [0, 0, 1],
  ];
  const apart = own.filter((way) => axes.every((axis) => Math.abs(dot(way, axis)) < ALIKE));
  return [...axes, ...apart].flatMap((way): Triple[] => [
    way,
    way.map((value) => -value + 0) as unknown as Triple,
  ]);
}

/** How much deeper what moves comes into what stands on the way out; given up where that is no better than `best`. */
function goes(
  bodies: Bodies,
  moment: Moment,
  moving: readonly number[],
  others: readonly number[],
  way: Triple,
  distance: number,
  best: number,
): { deeper: number; blocked: string | null } {
  let deeper = 0;
  let blocked: string | null = null;
  for (const a of moving)
    for (const b of others) {
      if (!sweeps(moment.boxes, a, b, way, distance)) continue;
      const start = depthAt(moment, a, b, way, 0);
      for (let look = 0; look <= LOOKS; look++) {
        const share = look === 0 ? FIRST_LOOK : (look / LOOKS) ** 2;
        const more = depthAt(moment, a, b, way, distance * share) - start;
        if (more <= Math.max(deeper, SAME)) continue;
        deeper = more;
        blocked = bodies.list[b]!.part;
        if (deeper >= best) return { deeper, blocked };
      }
    }
  return { deeper, blocked };
}

/** Whether the box of a body comes into that of another one on its way. */
function sweeps(boxes: Float64Array, a: number, b: number, way: Triple, distance: number): boolean {
  for (let axis = 0; axis < 3; axis++) {
    const by = way[axis]! * distance;
    const low = boxes[a * 6 + axis]! + Math.min(0, by);
    const high = boxes[a * 6 + 3 + axis]! + Math.max(0, by);
    if (low > boxes[b * 6 + 3 + axis]! || high < boxes[b * 6 + axis]!) return false;
  }
  return true;
}

const moved = new Matrix4();
const stands = new Matrix4();

function depthAt(moment: Moment, a: number, b: number, way: Triple, by: number): number {
  poseMatrix(moved, moment, a);
  moved.elements[12] += way[0] * by;
  moved.elements[13] += way[1] * by;
  moved.elements[14] += way[2] * by;
  const [one, other] = [moment.solids[a]!, moment.solids[b]!];
  const otherToOne = moved.invert().multiply(poseMatrix(stands, moment, b));
  const deep = one.deepestOf(other, otherToOne);
  return Math.max(deep, other.deepestOf(one, otherToOne.invert()));
}
