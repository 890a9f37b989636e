import { COPIES_IN_ALL } from '../document';
import { composeLocal, invert, multiplyAt, ROTATION_ORDERS } from '../transform';
import {
  aimFrom,
  carry,
  COPY_LOOK_SIZE,
  MATRIX_SIZE,
  pivotCoordinate,
  transformTo,
  type Instant,
} from './node-place';
import type { Plan } from './plan';

/** All showings of one part: world matrices (12 numbers each) and looks (opacity, glow, red, green, blue each). */
export interface Instances {
  count: number;
  matrices: Float64Array;
  looks: Float64Array;
}

function reserve(instances: Instances, count: number): void {
  instances.count = count;
  if (instances.matrices.length >= count * MATRIX_SIZE) return;
  instances.matrices = new Float64Array(count * MATRIX_SIZE);
  instances.looks = new Float64Array(count * COPY_LOOK_SIZE);
}

/** Where the copies of parts below repeats stand, worked out for those that are asked for. */
export class CopyPlaces {
  private version = 0;
  private readonly instances = new Map<number, Instances & { version: number }>();

  constructor(
    private readonly plan: Plan,
    private readonly now: Instant,
  ) {}

  /** Tells that another frame has been worked out: what was filled before no longer stands. */
  renew(): void {
    this.version++;
  }

  /**
   * World matrices and looks of all copies of a node below a repeat, outer repeats varying slowest. The arrays are kept
   * and filled anew at the next frame.
   */
  of(node: number): Instances {
    let found = this.instances.get(node);
    if (!found) {
      found = { count: 0, matrices: new Float64Array(0), looks: new Float64Array(0), version: -1 };
      this.instances.set(node, found);
    }
    if (found.version === this.version) return found;
    found.version = this.version;
    const frames = this.framesOf(this.plan.nodeWithin[node]!);
    reserve(found, frames.count);
    found.looks.set(frames.looks.subarray(0, frames.count * COPY_LOOK_SIZE));
    if (this.tied(node)) this.placeEach(node, found);
    else {
      const relative = this.relativeTo(node);
      for (let k = 0; k < frames.count; k++)
        multiplyAt(found.matrices, k * MATRIX_SIZE, frames.matrices, k * MATRIX_SIZE, relative, 0);
    }
    return found;
  }

  private tiedNodes: Uint8Array | null = null;

  /** Whether a node, or one between it and the repeat above it, faces something or follows a path. */
  private tied(node: number): boolean {
    const { plan } = this;
    this.tiedNodes ??= plan.nodes.reduce((ties, _, i) => {
      const parent = plan.nodeParent[i]!;
      const below = parent >= 0 && plan.nodeFrame[i] === parent && ties[parent] === 1;
      ties[i] = below || plan.nodeAim[i] !== null || plan.nodeFollow[i]! >= 0 ? 1 : 0;
      return ties;
    }, new Uint8Array(plan.nodes.length));
    return this.tiedNodes[node] === 1;
  }

  /**
   * Places the copies of a node one by one from the copies of what it hangs from: each faces its target from where it
   * stands itself. A path is that of the first copy, moved along with the others.
   */
  private placeEach(node: number, found: Instances): void {
    const { plan, now } = this;
    const { values, world } = now;
    const within = plan.nodeWithin[node]!;
    const frame = plan.nodeFrame[node]!;
    const above = frame === plan.nodeParent[node] ? this.of(frame) : this.framesOf(within);
    const local = new Float64Array(MATRIX_SIZE);
    const hangs = new Float64Array(MATRIX_SIZE);
    const target = new Float64Array(3);
    const follow = plan.nodeFollow[node]!;
    let carried: Float64Array | null = null;
    if (follow >= 0) {
      const inner = (plan.nodes.length + within) * MATRIX_SIZE;
      const inverse = invert(world.slice(inner, inner + MATRIX_SIZE));
      carried = new Float64Array(MATRIX_SIZE);
      carry(carried, now, follow);
      if (inverse) multiplyAt(carried, 0, inverse, 0, carried, 0);
    }
    const frames = this.framesOf(within);
    for (let k = 0; k < found.count; k++) {
      const at = k * MATRIX_SIZE;
      if (carried) multiplyAt(hangs, 0, frames.matrices, at, carried, 0);
      else hangs.set(above.matrices.subarray(at, at + MATRIX_SIZE));
      composeLocal(local, 0, values, plan.nodeBase[node]!, ROTATION_ORDERS[plan.nodeOrder[node]!]!);
      if (plan.nodeAim[node]) {
        this.pivotSeenFrom(target, plan.nodeAim[node].target, within, k);
        aimFrom(now, node, local, hangs, 0, target, 0);
      }
      multiplyAt(found.matrices, at, hangs, 0, local, 0);
    }
  }

  /** Repeats above a node, the innermost first. */
  private repeatsAbove(node: number): number[] {
    const out: number[] = [];
    for (
      let at = this.plan.nodeWithin[node]!;
      at >= 0;
      at = this.plan.nodeWithin[this.plan.repeats[at]!.node]!
    )
      out.push(at);
    return out;
  }

  /**
   * Writes where the pivot of a node stands, seen from copy `k` below a repeat: of repeats that both lie in, the same
   * copy; of others, the first.
   */
  private pivotSeenFrom(out: Float64Array, node: number, repeat: number, k: number): void {
    const { plan, now } = this;
    const { values } = now;
    const theirs = this.repeatsAbove(node);
    const ours = [repeat, ...this.repeatsAbove(plan.repeats[repeat]!.node)];
    const common = ours.find((entry) => theirs.includes(entry));
    if (common === undefined) {
      for (let axis = 0; axis < 3; axis++) out[axis] = pivotCoordinate(now, node, axis);
      return;
    }
    let copy = k;
    for (const entry of ours.slice(0, ours.indexOf(common)))
      copy = Math.floor(copy / now.copies[entry]!.count);
    for (const entry of theirs.slice(0, theirs.indexOf(common))) copy *= now.copies[entry]!.count;
    const base = plan.nodeBase[node]!;
    const follows = plan.nodeFollow[node]! >= 0;
    const frame = plan.nodeFrame[node]!;
    const { matrices } = follows
      ? this.of(node)
      : frame === plan.nodeParent[node]
        ? this.of(frame)
        : this.framesOf(plan.nodeWithin[node]!);
    const place = [0, 1, 2].map((axis) => (follows ? 0 : values[base + axis]!) + values[base + 9 + axis]!);
    // Where there are too many copies the last ones are left out.
    copy = Math.min(copy, matrices.length / MATRIX_SIZE - 1);
    transformTo(out, matrices, copy * MATRIX_SIZE, place[0]!, place[1]!, place[2]!);
  }

  private readonly frames = new Map<number, Instances & { version: number }>();

  /** Frames that the children of a repeat hang from, one per copy and per copy of the repeat itself. */
  private framesOf(repeat: number): Instances {
    let found = this.frames.get(repeat);
    if (!found) {
      found = { count: 0, matrices: new Float64Array(0), looks: new Float64Array(0), version: -1 };
      this.frames.set(repeat, found);
    }
    if (found.version === this.version) return found;
    found.version = this.version;
    const { node } = this.plan.repeats[repeat]!;
    const { count, blocks, place, look } = this.now.copies[repeat]!;
    const around = this.plan.nodeWithin[node]!;
    const outerRow = around < 0 ? 1 : this.now.copies[around]!.count;
    const outer = this.plan.nodeWithin[node]! >= 0 ? this.of(node) : null;
    const outerCount = outer ? outer.count : 1;
    reserve(found, Math.min(count * outerCount, COPIES_IN_ALL));
    for (let k = 0; k < outerCount; k++)
      for (let i = 0; i < count && k * count + i < found.count; i++) {
        const at = k * count + i;
        const own = blocks === 1 ? i : Math.min(k % outerRow, blocks - 1) * count + i;
        if (outer)
          multiplyAt(
            found.matrices,
            at * MATRIX_SIZE,
            outer.matrices,
            k * MATRIX_SIZE,
            place,
            own * MATRIX_SIZE,
          );
        else
          multiplyAt(
            found.matrices,
            at * MATRIX_SIZE,
            this.now.world,
            node * MATRIX_SIZE,
            place,
            own * MATRIX_SIZE,
          );
        for (let c = 0; c < COPY_LOOK_SIZE; c++) {
          const mine = look[own * COPY_LOOK_SIZE + c]!;
          const above = outer ? outer.looks[k * COPY_LOOK_SIZE + c]! : c === 1 ? 0 : 1;
          found.looks[at * COPY_LOOK_SIZE + c] = c === 1 ? mine + above : mine * above;
        }
      }
    return found;
  }

  /** Matrix from the frame of the nearest repeat to a node below it: the places of the parts in between. */
  private relativeTo(node: number): Float64Array {
    const { plan } = this;
    const { values } = this.now;
    const out = new Float64Array([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0]);
    const local = new Float64Array(MATRIX_SIZE);
    for (let at = node; ; at = plan.nodeParent[at]!) {
      composeLocal(local, 0, values, plan.nodeBase[at]!, ROTATION_ORDERS[plan.nodeOrder[at]!]!);
      multiplyAt(out, 0, local, 0, out, 0);
      if (plan.nodeFrame[at]! >= plan.nodes.length) return out;
    }
  }
}
