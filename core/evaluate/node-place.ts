import { COPIES_IN_ALL } from '../document';
import type { PathMeasure } from '../transform';
import {
  aimRotation,
  aimRotationUnder,
  composeKept,
  composeLocal,
  composeUnder,
  coordinateIn,
  decompose,
  KEPT_SIZE,
  multiplyAt,
  rotationFromEuler,
  ROTATION_ORDERS,
  turnAboutPivot,
} from '../transform';
import { CLOCK_INDEX, CLOCK_OUTER, type Plan, type PlannedRepeat } from './plan';
import { run, type Machine } from './run-program';

/** Numbers per world matrix. */
export const MATRIX_SIZE = 12;
/** Numbers per copy of what its look is multiplied by or given: opacity, glow, red, green, blue. */
export const COPY_LOOK_SIZE = 5;
const COPY_PLACE_SIZE = 9;

/** The copies of one repeat: where they stand in its own measure, and their share of the look. */
export interface Copies {
  count: number;
  /** Copies of the repeat around it for which its own ones differ, block after block; 1 where they are all the same. */
  blocks: number;
  place: Float64Array;
  look: Float64Array;
  /** 1 for each per-copy link that gives no number for any copy. */
  readonly failed: Uint8Array;
}

/** Numbers of one moment: what a plan's places are worked out from, and what comes of it. */
export interface Instant extends Machine {
  readonly plan: Plan;
  /** A matrix for each node, then one for the first copy of each repeat. */
  readonly world: Float64Array;
  readonly shown: Uint8Array;
  /** Sines and cosines of each node's rotation. */
  readonly kept: Float64Array;
  readonly paths: readonly PathMeasure[];
  readonly points: readonly Float64Array[];
  readonly copies: readonly Copies[];
}

// Scratch that is filled and read within one call; nothing called in between uses the same.
const local = new Float64Array(MATRIX_SIZE);
const carried = new Float64Array(MATRIX_SIZE);
const frame9 = new Float64Array(9);
const along6 = new Float64Array(6);
const copyPlace = new Float64Array(15);
const step = new Float64Array(MATRIX_SIZE);
const IDENTITY = new Float64Array([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0]);

/**
 * Writes where the pivot of a node stands in the world. Turn, size and aim leave it where it is, so only what the node
 * hangs from has to be worked out; a part on a path has to be itself.
 */
function pivotInWorld(instant: Instant, node: number, out: Float64Array, at: number): void {
  const { world, values, plan } = instant;
  const base = plan.nodeBase[node]!;
  const follows = plan.nodeFollow[node]! >= 0;
  const frame = follows ? node : plan.nodeFrame[node]!;
  let x = values[base + 9]!;
  let y = values[base + 10]!;
  let z = values[base + 11]!;
  if (!follows) {
    x += values[base]!;
    y += values[base + 1]!;
    z += values[base + 2]!;
  }
  if (frame < 0) {
    out[at] = x;
    out[at + 1] = y;
    out[at + 2] = z;
    return;
  }
  for (let row = 0; row < 3; row++) {
    const o = frame * MATRIX_SIZE + row * 4;
    out[at + row] = world[o]! * x + world[o + 1]! * y + world[o + 2]! * z + world[o + 3]!;
  }
}

const here = new Float64Array(6);
const ORIGIN = [0, 0, 0] as const;

/** Coordinate of a node's pivot in the world: 0 x, 1 y, 2 z. */
export function pivotCoordinate(instant: Instant, node: number, axis: number): number {
  pivotInWorld(instant, node, here, 0);
  return here[axis]!;
}

/** Distance between the pivots of two nodes. */
export function pivotDistance(instant: Instant, a: number, b: number): number {
  pivotInWorld(instant, a, here, 0);
  pivotInWorld(instant, b, here, 3);
  const dx = here[3]! - here[0]!;
  const dy = here[4]! - here[1]!;
  const dz = here[5]! - here[2]!;
  return Math.sqrt(dx * dx + dy * dy + dz * dz);
}

/** Coordinate of a node's pivot in the measure of another node: 0 x, 1 y, 2 z. NaN where that is flat. */
export function pivotSeenFrom(instant: Instant, node: number, from: number, axis: number): number {
  pivotInWorld(instant, node, here, 0);
  return coordinateIn(instant.world, from * MATRIX_SIZE, here[0]!, here[1]!, here[2]!, axis);
}

/** Euler angle of a node's turn in the world, in its own order: 0 x, 1 y, 2 z, degrees. NaN where an axis has no length. */
export function worldTurn(instant: Instant, node: number, axis: number): number {
  const { plan, world } = instant;
  const o = node * MATRIX_SIZE;
  const order = ROTATION_ORDERS[plan.nodeOrder[node]!]!;
  return decompose(world.subarray(o, o + MATRIX_SIZE), ORIGIN, ORIGIN, order)?.rotation[axis] ?? NaN;
}

/** Measures the path of a follow at this instant, unless its points stand where they stood. */
export function measurePath(instant: Instant, index: number): PathMeasure {
  const follow = instant.plan.follows[index]!;
  const points = instant.points[index]!;
  const measure = instant.paths[index]!;
  let changed = points.length === 0;
  for (let i = 0; i < follow.points.length; i++) {
    pivotInWorld(instant, follow.points[i]!, here, 0);
    for (let axis = 0; axis < 3; axis++) {
      // NaN, as at the first time, differs from everything.
      if (points[i * 3 + axis] === here[axis]) continue;
      points[i * 3 + axis] = here[axis]!;
      changed = true;
    }
  }
  if (changed) measure.measure(points, follow.points.length, follow.closed);
  return measure;
}

/**
 * Works out nodes `[from, to)` of a sequence. Most nodes only hang from another: their way is short, with everything
 * they need at hand.
 * @param still leave out nodes that never move
 */
export function placeNodes(
  instant: Instant,
  sequence: Int32Array,
  from: number,
  to: number,
  still: boolean,
): void {
  const { world, values, kept, shown, plan } = instant;
  const { nodeMoves, nodePlain, nodeBase, nodeOrder, nodeFrame, nodeParent, nodeVisible } = plan;
  for (let i = from; i < to; i++) {
    const node = sequence[i]!;
    if (still && nodeMoves[node] === 0) continue;
    if (nodePlain[node] === 0) {
      placeNode(instant, node);
      continue;
    }
    const frame = nodeFrame[node]!;
    const at = node * MATRIX_SIZE;
    if (frame < 0) composeKept(world, at, values, nodeBase[node]!, nodeOrder[node]!, kept, node * KEPT_SIZE);
    else if (
      !composeUnder(
        world,
        at,
        frame * MATRIX_SIZE,
        values,
        nodeBase[node]!,
        nodeOrder[node]!,
        kept,
        node * KEPT_SIZE,
      )
    ) {
      composeKept(local, 0, values, nodeBase[node]!, nodeOrder[node]!, kept, node * KEPT_SIZE);
      multiplyAt(world, at, world, frame * MATRIX_SIZE, local, 0);
    }
    const parent = nodeParent[node]!;
    shown[node] = values[nodeVisible[node]!] !== 0 && (parent < 0 || shown[parent] === 1) ? 1 : 0;
  }
}

/** Works out world matrix, visibility and, for a repeat, the copies of one node. */
export function placeNode(instant: Instant, node: number): void {
  const { plan, world, values } = instant;
  const frame = plan.nodeFrame[node]!;
  const base = plan.nodeBase[node]!;
  const order = plan.nodeOrder[node]!;
  const { kept } = instant;
  const keptAt = node * KEPT_SIZE;
  const at = node * MATRIX_SIZE;
  const follow = plan.nodeFollow[node]!;
  if (follow >= 0) {
    composeKept(local, 0, values, base, order, kept, keptAt);
    carry(carried, instant, follow);
    if (plan.nodeAim[node]) aim(instant, node, carried, 0);
    multiplyAt(world, at, carried, 0, local, 0);
  } else if (frame < 0) {
    composeKept(world, at, values, base, order, kept, keptAt);
    if (plan.nodeAim[node]) {
      local.set(world.subarray(at, at + MATRIX_SIZE));
      aim(instant, node, IDENTITY, 0);
      world.set(local, at);
    }
  } else {
    composeKept(local, 0, values, base, order, kept, keptAt);
    if (plan.nodeAim[node]) aim(instant, node, world, frame * MATRIX_SIZE);
    multiplyAt(world, at, world, frame * MATRIX_SIZE, local, 0);
  }
  const parent = plan.nodeParent[node]!;
  instant.shown[node] =
    values[plan.nodeVisible[node]!] !== 0 && (parent < 0 || instant.shown[parent] === 1) ? 1 : 0;
  const repeat = plan.nodeRepeat[node]!;
  if (repeat >= 0) placeCopies(instant, repeat, plan.repeats[repeat]!);
}

/** Writes the frame that a part on a path hangs from: the point of the path, turned along it where that is asked. */
export function carry(out: Float64Array, instant: Instant, index: number): void {
  const follow = instant.plan.follows[index]!;
  measurePath(instant, index).place(instant.values[follow.alongSlot]!, along6);
  out.set(IDENTITY);
  if (follow.turn && aimRotation(frame9, along6[3]!, along6[4]!, along6[5]!, 'x', 'y'))
    for (let row = 0; row < 3; row++)
      for (let column = 0; column < 3; column++) out[row * 4 + column] = frame9[row * 3 + column]!;
  for (let row = 0; row < 3; row++) out[row * 4 + 3] = along6[row]!;
}

/** Turns `local`, the place of a node in its frame, so that its axis faces the target. */
function aim(instant: Instant, node: number, frame: Float64Array, frameAt: number): void {
  pivotInWorld(instant, instant.plan.nodeAim[node]!.target, here, 3);
  aimFrom(instant, node, local, frame, frameAt, here, 3);
}

/**
 * Turns the place of a node in its frame (`place`, 12 numbers, changed in place) about its pivot so that its axis faces
 * a point of the world; its own turn and size come on top, and the frame's sizes hold.
 */
export function aimFrom(
  { plan, values }: Instant,
  node: number,
  place: Float64Array,
  frame: Float64Array,
  frameAt: number,
  target: Float64Array,
  targetAt: number,
): void {
  const { axis, up } = plan.nodeAim[node]!;
  const base = plan.nodeBase[node]!;
  const [px, py, pz] = [values[base + 9]!, values[base + 10]!, values[base + 11]!];
  transformTo(from3, frame, frameAt, values[base]! + px, values[base + 1]! + py, values[base + 2]! + pz);
  const x = target[targetAt]! - from3[0]!;
  const y = target[targetAt + 1]! - from3[1]!;
  const z = target[targetAt + 2]! - from3[2]!;
  if (aimRotationUnder(frame9, frame, frameAt, x, y, z, axis, up))
    turnAboutPivot(place, 0, frame9, px, py, pz);
}

const from3 = new Float64Array(3);

/** Writes where a matrix (12 numbers from `at`) carries a point. */
export function transformTo(
  out: Float64Array,
  matrix: Float64Array,
  at: number,
  x: number,
  y: number,
  z: number,
): void {
  for (let row = 0; row < 3; row++) {
    const o = at + row * 4;
    out[row] = matrix[o]! * x + matrix[o + 1]! * y + matrix[o + 2]! * z + matrix[o + 3]!;
  }
}

/**
 * Works out the copies of a repeat: copy i stands i steps away (row, stack) or at the i-th of equal angles about y
 * (ring), then its own per-copy place comes on top. Per-copy links run once for each copy, the first copy last, so that
 * the channels end with its values; where they tell the copies of the repeat around it apart, once for each of those, too.
 */
function placeCopies(instant: Instant, index: number, repeat: PlannedRepeat): void {
  const { plan, values, world } = instant;
  const copies = instant.copies[index]!;
  const count = values[repeat.copiesSlot]!;
  copies.count = count;
  // Where there are too many copies in all the last ones are left out.
  copies.blocks =
    repeat.outerSlot < 0 || count === 0
      ? 1
      : Math.max(1, Math.min(values[repeat.outerSlot]!, Math.ceil(COPIES_IN_ALL / count)));
  const whole = count * copies.blocks;
  if (copies.place.length < whole * MATRIX_SIZE) {
    copies.place = new Float64Array(whole * MATRIX_SIZE);
    copies.look = new Float64Array(whole * COPY_LOOK_SIZE);
  }
  steps(values, repeat, copies, count);
  for (let block = 1; block < copies.blocks; block++)
    copies.place.copyWithin(block * count * MATRIX_SIZE, 0, count * MATRIX_SIZE);
  for (let k = 0; k < repeat.links.length; k++) copies.failed[k] = 0;
  for (let at = whole - 1; at >= 0; at--) {
    const block = copies.blocks === 1 ? 0 : Math.floor(at / count);
    values[CLOCK_OUTER] = block;
    values[CLOCK_INDEX] = at - block * count;
    for (let k = 0; k < repeat.links.length; k++) {
      run(plan, repeat.links[k]!, repeat.links[k]! + 1, instant);
      copies.failed[k]! |= instant.failed[repeat.links[k]!]!;
    }
    for (let k = 0; k < COPY_PLACE_SIZE; k++) copyPlace[k] = values[repeat.copyBase + k]!;
    composeLocal(local, 0, copyPlace, 0, 'XYZ');
    multiplyAt(copies.place, at * MATRIX_SIZE, copies.place, at * MATRIX_SIZE, local, 0);
    for (let k = 0; k < COPY_LOOK_SIZE; k++)
      copies.look[at * COPY_LOOK_SIZE + k] = values[repeat.copyBase + COPY_PLACE_SIZE + k]!;
  }
  values[CLOCK_INDEX] = 0;
  values[CLOCK_OUTER] = 0;
  for (let k = 0; k < repeat.links.length; k++) instant.failed[repeat.links[k]!] = copies.failed[k]!;
  const inner = (plan.nodes.length + index) * MATRIX_SIZE;
  multiplyAt(world, inner, world, repeat.node * MATRIX_SIZE, copies.place, 0);
}

/** Writes the step of each copy from the repeat, before its own place. */
function steps(values: Float64Array, repeat: PlannedRepeat, copies: Copies, count: number): void {
  if (repeat.stepBase >= 0)
    composeLocal(step, 0, values, repeat.stepBase, ROTATION_ORDERS[repeat.stepOrder]!);
  else {
    step.set(IDENTITY);
    step[repeat.pattern === 'stack' ? 7 : 3] = values[repeat.gapSlot]!;
  }
  if (repeat.pattern === 'ring') {
    const span = values[repeat.spanSlot]!;
    // All round, the last copy must not stand on the first.
    const parts = Math.abs(span) >= 360 || count < 2 ? count : count - 1;
    for (let i = 0; i < count; i++) {
      rotationFromEuler(frame9, 0, (span * i) / parts, 0, 'XYZ');
      carried.set(IDENTITY);
      for (let row = 0; row < 3; row++)
        for (let column = 0; column < 3; column++) carried[row * 4 + column] = frame9[row * 3 + column]!;
      multiplyAt(copies.place, i * MATRIX_SIZE, carried, 0, step, 0);
    }
    return;
  }
  copies.place.set(IDENTITY, 0);
  for (let i = 1; i < count; i++)
    multiplyAt(copies.place, i * MATRIX_SIZE, copies.place, (i - 1) * MATRIX_SIZE, step, 0);
}
