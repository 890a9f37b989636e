import { JOINT_SIZE, missOfJoint, POSE_SIZE, sizeOfChain, type Chain, type ChainNumbers } from './chain';
import { Nearing } from './nearing';
import { orderOfSolution, type Group } from './order-of-solution';
import { pairOf, type Pair } from './pairs';

/**
 * Largest change of what is given between two poses that follow one another: degrees, and a share of the chain's size. Pairs
 * keep their side by themselves: they are followed only so that turns are counted.
 */
const STEPS = { near: { turn: 2, place: 0.01 }, pairs: { turn: 15, place: 0.1 } } as const;
/** Furthest that a body turns from one such pose to the next. */
const FURTHEST = 40;
/** Times that a step may be halved where a body turns further. */
const HALVINGS = 5;
/** Most steps from the pose drawn to another. */
const STEP_LIMIT = 20_000;
/** The same where several given numbers differ, so that nothing can be remembered. */
const STRAIGHT_LIMIT = 500;
/** Steps between poses that are remembered. */
const KEPT_EVERY = 4;
/** How far poses a whole turn of the driver apart may differ to count as the same. */
const SAME = 1e-7;

interface State {
  readonly poses: Float64Array;
  /** First group that does not close, or -1. */
  readonly open: number;
  /** 1 for each body that is not reached: those of groups that do not close, and of groups that are found from them. */
  readonly lost: Uint8Array;
}

/** Poses reached on one way from the pose drawn, and what a whole turn of the driver adds to each turn. */
interface Way {
  readonly kept: State[];
  /** Null where a whole turn does not lead back; undefined while that is not known. */
  whole: Float64Array | null | undefined;
}

/**
 * A linkage in motion. What it gives depends on its numbers alone, not on what was asked before: every pose is followed
 * from the pose drawn in steps of fixed size, with the way in which each pair fits together kept, and turns counted on.
 */
export class LinkageMotion {
  readonly groups: readonly Group[];
  private readonly ways: readonly (Pair | Nearing)[];
  private readonly steps: (typeof STEPS)[keyof typeof STEPS];
  private readonly drawn: Float64Array;
  private readonly numbers: ChainNumbers;
  private readonly given: readonly number[];
  private readonly sides: Int8Array;
  /** Bodies that each group is found from. */
  private readonly reads: readonly (readonly number[])[];
  private readonly memory = new Map<number, Way>();
  private readonly asked: Float64Array;
  /** 1 for each body that the last answer does not reach. */
  open: Uint8Array;
  private start: State | null = null;
  private varying = -1;

  /** @param drawn poses of all bodies from which the way of fitting together is taken */
  constructor(
    private readonly chain: Chain,
    drawn: Float64Array,
  ) {
    this.groups = orderOfSolution(chain);
    this.ways = this.groups.map((group) => pairOf(chain, group) ?? new Nearing(chain, group));
    this.steps = this.ways.some((way) => way instanceof Nearing) ? STEPS.near : STEPS.pairs;
    this.drawn = drawn.slice();
    this.given = chain.found.flatMap((found, body) =>
      [0, 1, 2].flatMap((k) => (found[k] ? [] : [body * POSE_SIZE + k])),
    );
    this.numbers = {
      poses: new Float64Array(drawn.length),
      joints: new Float64Array(chain.joints.length * JOINT_SIZE),
    };
    this.sides = new Int8Array(this.groups.length);
    this.open = new Uint8Array(chain.found.length);
    this.reads = this.groups.map(({ bodies, joints }) =>
      [...new Set(joints.flatMap((j) => [chain.joints[j]!.a, chain.joints[j]!.b]))].filter(
        (body) => !bodies.includes(body),
      ),
    );
    this.asked = new Float64Array(drawn.length);
  }

  /**
   * Finds all poses.
   * @param numbers poses with what is given in place; the rest is written. Joints as they are now
   * @returns number of the first group whose bodies do not reach one another (theirs and later poses are then the
   *   nearest that were reached), or -1
   */
  solve(numbers: ChainNumbers): number {
    this.takeJoints(numbers.joints);
    this.asked.set(numbers.poses);
    const apart = this.given.filter((at) => this.asked[at] !== this.drawn[at]);
    if (apart.length !== 1) return this.hand(numbers.poses, this.straight(apart));
    const at = apart[0]!;
    if (this.varying !== at) {
      this.memory.clear();
      this.varying = at;
    }
    return this.hand(numbers.poses, this.along(at));
  }

  /**
   * The poses with the pair of a body put together the other way, and what follows from it; `null` where there is no other
   * way, or what follows does not reach.
   */
  turnedOver(numbers: ChainNumbers, body: number): Float64Array | null {
    this.takeJoints(numbers.joints);
    const { poses } = this.numbers;
    poses.set(numbers.poses);
    const chosen = this.groups.findIndex(({ bodies }) => bodies.includes(body));
    for (let g = Math.max(0, chosen); g < this.groups.length; g++) {
      const way = this.ways[g]!;
      if (way instanceof Nearing) {
        if (g === chosen || way.solve(this.numbers, Infinity) !== 'closed') return null;
      } else if (!way.solve(this.numbers, this.sides[g]! * (g === chosen ? -1 : 1))) return null;
      for (const unknown of this.groups[g]!.unknowns)
        if (unknown % 3 === 2) poses[unknown] = nearest(poses[unknown]!, numbers.poses[unknown]!);
    }
    const moved = this.groups[chosen]?.unknowns.some(
      (at) => Math.abs(poses[at]! - numbers.poses[at]!) > SAME,
    );
    return moved ? poses.slice() : null;
  }

  /** Largest length by which the joints of a group miss where they come as close as they can, from the poses given. */
  missOf(numbers: ChainNumbers, group: number): number {
    const poses = numbers.poses.slice();
    const { joints } = this.groups[group]!;
    new Nearing(this.chain, this.groups[group]!).solve({ poses, joints: numbers.joints }, Infinity);
    const miss = new Float64Array(2);
    let most = 0;
    for (const joint of joints) {
      missOfJoint(miss, 0, this.chain, { poses, joints: numbers.joints }, joint);
      const pinned = this.chain.joints[joint]!.kind === 'pin';
      most = Math.max(most, pinned ? Math.sqrt(miss[0]! ** 2 + miss[1]! ** 2) : Math.abs(miss[0]!));
    }
    return most;
  }

  private hand(out: Float64Array, state: State): number {
    out.set(state.poses);
    this.open = state.lost;
    return state.open;
  }

  private takeJoints(joints: Float64Array): void {
    const mine = this.numbers.joints;
    let same = this.start !== null;
    for (let i = 0; i < joints.length; i++) same &&= Object.is(mine[i], joints[i]);
    if (same) return;
    mine.set(joints);
    this.memory.clear();
    const { poses } = this.numbers;
    poses.set(this.drawn);
    this.groups.forEach((_, g) => {
      const way = this.ways[g]!;
      this.sides[g] = way instanceof Nearing ? 0 : way.sideOf(this.numbers);
    });
    this.start = this.close({ poses: this.drawn, open: -1, lost: this.open }, this.drawn, Infinity);
  }

  /** The state after `from` with other given numbers; null where a body would turn further than `furthest`. */
  private closeWithin(from: State, given: Float64Array, furthest: number): State | null {
    const { poses } = this.numbers;
    poses.set(from.poses);
    for (const at of this.given) poses[at] = given[at]!;
    let open = -1;
    const lost = new Uint8Array(this.drawn.length / POSE_SIZE);
    for (let g = 0; g < this.groups.length; g++) {
      const way = this.ways[g]!;
      let closed: boolean;
      if (this.reads[g]!.some((body) => lost[body] === 1)) closed = false;
      else if (way instanceof Nearing) {
        const result = way.solve(this.numbers, furthest);
        if (result === 'far') return null;
        closed = result === 'closed';
      } else closed = way.solve(this.numbers, this.sides[g]!);
      for (const unknown of this.groups[g]!.unknowns) {
        const before = from.poses[unknown]!;
        if (!closed) poses[unknown] = before;
        else if (unknown % 3 === 2) {
          poses[unknown] = nearest(poses[unknown]!, before);
          if (Math.abs(poses[unknown] - before) > furthest) return null;
        }
      }
      if (closed) continue;
      if (open < 0) open = g;
      for (const body of this.groups[g]!.bodies) lost[body] = 1;
    }
    return { poses: poses.slice(), open, lost };
  }

  /** As `closeWithin`, in smaller steps where one is too large. */
  private close(from: State, given: Float64Array, furthest = FURTHEST, halvings = HALVINGS): State {
    const whole = this.closeWithin(from, given, halvings > 0 ? furthest : Infinity);
    if (whole) return whole;
    const middle = from.poses.slice();
    for (const at of this.given) middle[at] = (from.poses[at]! + given[at]!) / 2;
    return this.close(this.close(from, middle, furthest, halvings - 1), given, furthest, halvings - 1);
  }

  private stepOf(at: number): number {
    return at % POSE_SIZE === 2 ? this.steps.turn : this.steps.place * sizeOfChain(this.numbers.joints);
  }

  /** From the pose drawn to that asked for, all that is given changing alike. */
  private straight(apart: readonly number[]): State {
    let count = 1;
    for (const at of apart)
      count = Math.max(count, Math.ceil(Math.abs(this.asked[at]! - this.drawn[at]!) / this.stepOf(at)));
    count = Math.min(count, STRAIGHT_LIMIT);
    let state = this.start!;
    const given = this.drawn.slice();
    for (let k = 1; k <= count; k++) {
      for (const at of apart)
        given[at] =
          k === count ? this.asked[at]! : this.drawn[at]! + ((this.asked[at]! - this.drawn[at]!) * k) / count;
      if (apart.length > 0) state = this.close(state, given);
      // Where bodies do not reach one another there is nothing to follow: the rest is one step.
      if (state.open >= 0) k = Math.max(k, count - 1);
    }
    return state;
  }

  /** Where one given number alone differs from the pose drawn: over steps at fixed places, which are remembered. */
  private along(at: number): State {
    const from = this.drawn[at]!;
    const change = this.asked[at]! - from;
    const direction = change < 0 ? -1 : 1;
    const way = this.memory.get(direction) ?? { kept: [this.start!], whole: undefined };
    this.memory.set(direction, way);
    let size = Math.abs(change);
    let turns = 0;
    if (at % POSE_SIZE === 2 && size >= 360) {
      if (way.whole === undefined)
        way.whole = this.wholeTurn(this.stateAt(way, at, 360 / this.steps.turn, direction));
      if (way.whole) {
        turns = Math.floor(size / 360);
        size -= turns * 360;
      }
    }
    const step = this.stepOf(at);
    const count = Math.floor(size / step);
    if (count > STEP_LIMIT) return this.straight([at]);
    const given = this.drawn.slice();
    given[at] = from + direction * size;
    let state = this.stateAt(way, at, count, direction);
    if (size > count * step || count === 0) state = this.close(state, given);
    if (turns === 0) return state;
    const poses = state.poses.slice();
    for (let i = 0; i < poses.length; i++) poses[i]! += turns * way.whole![i]!;
    poses[at] = this.asked[at]!;
    return { ...state, poses };
  }

  /** The pose after so many steps, from the nearest one that is remembered. */
  private stateAt(way: Way, at: number, count: number, direction: number): State {
    const step = this.stepOf(at) * direction;
    const known = Math.min(Math.floor(count / KEPT_EVERY), way.kept.length - 1);
    let state = way.kept[known]!;
    const given = this.drawn.slice();
    for (let k = known * KEPT_EVERY + 1; k <= count; k++) {
      given[at] = this.drawn[at]! + step * k;
      state = this.close(state, given);
      if (k % KEPT_EVERY === 0) way.kept.push(state);
    }
    return state;
  }

  /** What a whole turn adds to the poses, or `null` where it does not lead back. */
  private wholeTurn(after: State): Float64Array | null {
    const before = this.start!.poses;
    const size = sizeOfChain(this.numbers.joints);
    const added = new Float64Array(before.length);
    for (let i = 0; i < before.length; i++) {
      const change = after.poses[i]! - before[i]!;
      const turn = i % POSE_SIZE === 2;
      added[i] = turn ? 360 * Math.round(change / 360) : 0;
      if (Math.abs(change - added[i]!) > SAME * (turn ? 360 : size)) return null;
    }
    return added;
  }
}

/** The angle equal to `angle` up to whole turns that lies nearest to `near`. */
function nearest(angle: number, near: number): number {
  return angle + 360 * Math.round((near - angle) / 360);
}
