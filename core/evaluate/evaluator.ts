import {
  A_VALUE,
  B_TIME,
  B_VALUE,
  C_TIME,
  C_VALUE,
  compiledComponents,
  fillAt,
  foldedValue,
  makeRecords,
  RANGE_SIZE,
  RECORD_SIZE,
  sampleAt,
  sampleTrack,
  SOLVE_EASY,
  SOLVE_FOLDED,
  START,
  VALUE,
  valueOfRecord,
  WIDTH,
  type Records,
} from '../curve';
import { channelAt, COPIES_IN_ALL, storedValue, trackOf, type Shot, type Track } from '../document';
import { linearFromOklabAt } from '../math';
import { secondsAt } from '../time';
import { composeLocal, invert, KEPT_SIZE, multiplyAt, PathMeasure, ROTATION_ORDERS } from '../transform';
import { constrain, FIT_PLAIN } from './constrain';
import { levelAt } from './loudness';
import {
  aimFrom,
  carry,
  COPY_LOOK_SIZE,
  MATRIX_SIZE,
  measurePath,
  pivotCoordinate,
  pivotDistance,
  placeNode,
  placeNodes,
  transformTo,
  type Copies,
  type Instant,
} from './node-place';
import {
  CLOCK_FRAME,
  CLOCK_PROGRESS,
  CLOCK_TIME,
  type KeyedComponent,
  type LayeredChannel,
  type Plan,
  type Probe,
} from './plan';
import { run } from './program';
import { readersOfPlan, type Readers } from './readers';
import { showingValue } from './showing';

export { COPY_LOOK_SIZE, MATRIX_SIZE } from './node-place';

/** Step in frames over which a speed is measured to either side; a power of two, so that it divides exactly. */
const SPEED_STEP = 1 / 64;
/** Remembered answers of one probe. */
const MEMORY = 64;

/** Numbers of one moment of a plan; the evaluator has one for the frame shown, and one for each depth of probing. */
class Numbers implements Instant {
  readonly values: Float64Array;
  readonly world: Float64Array;
  readonly shown: Uint8Array;
  readonly kept: Float64Array;
  readonly failed: Uint8Array;
  readonly paths: readonly PathMeasure[];
  readonly points: readonly Float64Array[];
  readonly copies: readonly Copies[];

  constructor(
    readonly plan: Plan,
    private readonly evaluator: Evaluator,
    private readonly depth: number,
  ) {
    this.values = plan.initial.slice();
    this.world = new Float64Array((plan.nodes.length + plan.repeats.length) * MATRIX_SIZE);
    this.shown = new Uint8Array(plan.nodes.length);
    this.kept = new Float64Array(plan.nodes.length * KEPT_SIZE).fill(NaN);
    this.failed = new Uint8Array(plan.order.length);
    this.paths = plan.follows.map(() => new PathMeasure());
    this.points = plan.follows.map((follow) => new Float64Array(follow.points.length * 3).fill(NaN));
    this.copies = plan.repeats.map(({ links }) => ({
      count: 0,
      place: new Float64Array(0),
      look: new Float64Array(0),
      failed: new Uint8Array(links.length),
    }));
  }

  setClock(frame: number): void {
    const { setup } = this.plan.shot;
    this.values[CLOCK_FRAME] = frame;
    this.values[CLOCK_TIME] = secondsAt(frame, setup.first, setup.rate);
    this.values[CLOCK_PROGRESS] =
      setup.last === setup.first ? 0 : (frame - setup.first) / (setup.last - setup.first);
  }

  probe(index: number, frame: number): number {
    return this.evaluator.probe(index, frame, this.depth);
  }

  measure(index: number): number {
    const { kind, nodes, follow } = this.plan.measures[index]!;
    const [a = -1, b = -1] = nodes;
    switch (kind) {
      case 'worldx':
        return pivotCoordinate(this, a, 0);
      case 'worldy':
        return pivotCoordinate(this, a, 1);
      case 'worldz':
        return pivotCoordinate(this, a, 2);
      case 'distance':
        return pivotDistance(this, a, b);
      case 'pathlength':
        return follow < 0 ? NaN : measurePath(this, follow).total;
    }
  }

  level(index: number, low: number, high: number): number {
    const { sound, start } = this.plan.levels[index]!;
    const { rate } = this.plan.shot.setup;
    const seconds = secondsAt(this.values[CLOCK_FRAME]!, start, rate);
    return levelAt(this.plan.loudness[sound], seconds, low, high);
  }
}

/**
 * Works out all values of a plan at one frame after another. It owns its arrays, so several evaluators of one
 * plan can be used side by side. What it gives depends on the plan and the frame alone, never on the frames
 * worked out before. `evaluate` allocates nothing.
 */
export class Evaluator {
  /** Numbers of the plan's slots. */
  readonly values: Float64Array;
  /** World matrices, 12 numbers for each node of the plan, then one for the first copy of each repeat. */
  readonly world: Float64Array;
  /** 1 for each node that is shown, its parents included. */
  readonly shown: Uint8Array;
  /** 1 for each link in force (in `plan.order`) whose result is no finite number at this frame. */
  readonly failed: Uint8Array;
  frame = NaN;
  private readonly now: Numbers;
  private readonly deeper: Numbers[] = [];
  private readonly memory: {
    frames: Float64Array;
    values: Float64Array;
    sums: Float64Array;
    summed: number;
  }[];
  private readonly stretches: Records;
  private readonly missed: Int32Array;
  private readonly solved: Float64Array;
  // What the loop over curves needs of each, side by side: reaching into objects costs more than the curve.
  private readonly targets: Int32Array;
  private readonly fits: Uint8Array;
  /** Components that are fitted by more than their limits. */
  private readonly odd: Int32Array;
  private readonly lows: Float64Array;
  private readonly highs: Float64Array;
  private overrides: readonly (readonly [slot: number, value: number])[] = [];
  private settled = false;
  private version = 0;
  private readonly instances = new Map<number, Instances & { version: number }>();

  constructor(readonly plan: Plan) {
    this.now = new Numbers(plan, this, 0);
    this.values = this.now.values;
    this.world = this.now.world;
    this.shown = this.now.shown;
    this.failed = this.now.failed;
    const count = plan.keyed.length;
    this.stretches = makeRecords(count);
    this.missed = new Int32Array(count);
    this.solved = new Float64Array(count);
    this.targets = Int32Array.from(plan.keyed, ({ slot }) => slot);
    this.fits = Uint8Array.from(plan.keyed, ({ fit }) => fit);
    this.odd = Int32Array.from(plan.keyed.flatMap(({ fit }, i) => (fit === FIT_PLAIN ? [] : [i])));
    this.lows = Float64Array.from(plan.keyed, ({ min }) => min);
    this.highs = Float64Array.from(plan.keyed, ({ max }) => max);
    this.memory = plan.probes.map(() => ({
      frames: new Float64Array(MEMORY).fill(NaN),
      values: new Float64Array(MEMORY),
      sums: new Float64Array(0),
      summed: 0,
    }));
  }

  /**
   * Values that stand in for keys until the next call, as when somebody has changed a keyed value without keying
   * it. Addresses of the plan; a colour is three numbers. They are true for the frame shown, not for others that
   * `at`, `delay`, `speed` and `travel` ask for.
   */
  setOverrides(entries: Iterable<readonly [address: string, value: number | readonly number[]]>): void {
    const list: [number, number][] = [];
    for (const [address, value] of entries) {
      const slot = this.plan.linkOf.get(address)?.ownSlot ?? this.plan.slots.get(address);
      if (slot === undefined) continue;
      if (typeof value === 'number') list.push([slot, value]);
      else value.forEach((component, i) => list.push([slot + i, component]));
    }
    for (const [slot] of this.overrides) this.values[slot] = this.plan.initial[slot]!;
    this.overrides = list;
    this.settled = false;
    this.frame = NaN;
  }

  /** Works out every value and world matrix at a frame; frames may be fractional. */
  evaluate(frame: number): void {
    const { plan, now, values } = this;
    this.frame = frame;
    this.version++;
    now.setClock(frame);
    this.curves(frame);
    for (let i = 0; i < plan.oklab.length; i++) linearFromOklabAt(values, plan.oklab[i]!);
    for (let i = 0; i < plan.layers.length; i++) showLayer(now, plan.layers[i]!, frame);
    for (let i = 0; i < this.overrides.length; i++) values[this.overrides[i]![0]] = this.overrides[i]![1];
    for (let i = 0; i < plan.held.length; i++) values[plan.held[i]!.slot] = values[plan.held[i]!.ownSlot]!;
    for (let i = 0; i < plan.phases.length; i++) {
      const phase = plan.phases[i]!;
      this.runLinks(phase.linkFrom, phase.linkTo);
      placeNodes(now, plan.nodeSequence, phase.nodeFrom, phase.nodeTo, this.settled);
    }
    this.settled = true;
  }

  /**
   * All keyed components at a frame, in passes over dense arrays: find those whose record does not stand for the frame,
   * fill these, solve all cubics without a branch, and redo the few that are no easy cubic. The split keeps the solving
   * loop free of branches, which halves its cost (docs/speed.md).
   */
  private curves(frame: number): void {
    const { stretches, solved, missed, targets, fits, odd, lows, highs, values } = this;
    const { records, ranges, solves } = stretches;
    const { tracks, origins } = this.plan;
    const count = targets.length;
    let misses = 0;
    for (let i = 0, at = 0; i < count; i++, at += RANGE_SIZE) {
      missed[misses] = i;
      misses += frame >= ranges[at]! && frame < ranges[at + 1]! ? 0 : 1;
    }
    for (let m = 0; m < misses; m++) fillAt(tracks, origins[missed[m]!]!, frame, stretches, missed[m]!);
    for (let i = 0, at = 0; i < count; i++, at += RECORD_SIZE) {
      const u = (frame - records[at + START]!) * records[at + WIDTH]!;
      const b = records[at + B_TIME]!;
      const c = records[at + C_TIME]!;
      const a = 1 - b - c;
      let s = u;
      let e = ((a * s + b) * s + c) * s - u;
      let g = (3 * a * s + 2 * b) * s + c;
      let h = 6 * a * s + 2 * b;
      s -= (2 * e * g) / (2 * g * g - e * h);
      e = ((a * s + b) * s + c) * s - u;
      g = (3 * a * s + 2 * b) * s + c;
      h = 6 * a * s + 2 * b;
      s -= (2 * e * g) / (2 * g * g - e * h);
      e = ((a * s + b) * s + c) * s - u;
      g = (3 * a * s + 2 * b) * s + c;
      h = 6 * a * s + 2 * b;
      s -= (2 * e * g) / (2 * g * g - e * h);
      solved[i] =
        ((records[at + A_VALUE]! * s + records[at + B_VALUE]!) * s + records[at + C_VALUE]!) * s +
        records[at + VALUE]!;
    }
    for (let i = 0; i < count; i++)
      if (solves[i] !== SOLVE_EASY)
        solved[i] =
          solves[i] === SOLVE_FOLDED
            ? foldedValue(tracks, origins[i]!, frame)
            : valueOfRecord(records, i * RECORD_SIZE, solves[i]!, frame);
    for (let i = 0; i < count; i++) {
      const value = solved[i]!;
      values[targets[i]!] = value < lows[i]! ? lows[i]! : value > highs[i]! ? highs[i]! : value;
    }
    for (let k = 0; k < odd.length; k++) {
      const i = odd[k]!;
      values[targets[i]!] = constrain(solved[i]!, fits[i]!, lows[i]!, highs[i]!);
    }
  }

  /** Works out links `[from, to)` of the order from the values there are now; open for measuring. */
  runLinks(from: number, to: number): void {
    if (from < to) run(this.plan, from, to, this.now);
  }

  /**
   * Takes over an edited document where only values and keys of channels have changed, and works out anew what depends
   * on them at the frame shown. The plan is changed in place: evaluators that share it must be told of the same edit.
   * @param paths places of the document that the edit has touched, each segment by segment
   * @returns false, with nothing changed, where the edit asks for a new plan
   */
  update(next: Shot, paths: readonly (readonly string[])[]): boolean {
    const { plan } = this;
    if (!(this.frame - this.frame === 0) || this.overrides.length > 0) return false;
    const edits = channelEdits(plan, next, paths);
    if (!edits) return false;
    plan.shot = next;
    const readers = readersOfPlan(plan);
    for (const memory of this.memory) {
      memory.frames.fill(NaN);
      memory.summed = 0;
    }
    for (const numbers of this.deeper) for (const edit of edits) edit.store(numbers.values);
    for (const edit of edits) {
      const address = edit.address;
      edit.store(plan.initial);
      const keyed = this.keyedAt(address);
      if (edit.track) this.retrack(address, edit.track, keyed);
      const slot = plan.linkOf.get(address)?.ownSlot ?? plan.slots.get(address)!;
      const layer = plan.layers.find((entry) => entry.address === address);
      if (layer?.stored) edit.store(layer.stored, 0);
      if (keyed.length > 0) this.sampleKeyed(keyed, slot);
      else if (!edit.track) edit.store(this.values);
      if (layer) showLayer(this.now, layer, this.frame);
      const held = plan.linkOf.get(address);
      if (held && !held.expression) this.values[held.slot] = this.values[held.ownSlot]!;
      this.touch(readers.ofSlot.get(slot));
      if (held) this.touch(readers.ofSlot.get(held.slot));
      this.touch(readers.ofHistory.get(address));
    }
    this.settle(readers);
    this.version++;
    return true;
  }

  private readonly keyedOf = new Map<string, number[]>();
  private dirty: Uint8Array | null = null;

  /** Numbers of the keyed components of a channel. */
  private keyedAt(address: string): readonly number[] {
    if (this.keyedOf.size === 0)
      this.plan.keyed.forEach((component, i) => {
        const list = this.keyedOf.get(component.address);
        if (list) list.push(i);
        else this.keyedOf.set(component.address, [i]);
      });
    return this.keyedOf.get(address) ?? [];
  }

  /** Puts new keys in the place of a channel's old ones. */
  private retrack(address: string, track: Track, keyed: readonly number[]): void {
    const { plan } = this;
    const components = compiledComponents(track, keyed.length === 3 ? 3 : 1);
    keyed.forEach((i, component) => {
      const compiled = components[component]!;
      const room = plan.keyed[i]!.room;
      if (plan.sharesTracks) {
        plan.tracks = plan.tracks.slice();
        plan.sharesTracks = false;
      }
      plan.keyed[i] = { ...plan.keyed[i]!, track: compiled, room: Math.max(room, compiled.length) };
      if (compiled.length > room) {
        plan.origins[i] = plan.tracks.length;
        const longer = new Float64Array(plan.tracks.length + compiled.length);
        longer.set(plan.tracks);
        plan.tracks = longer;
      }
      plan.tracks.set(compiled, plan.origins[i]);
      this.stretches.ranges.fill(NaN, i * RANGE_SIZE, (i + 1) * RANGE_SIZE);
    });
    for (const { sub } of plan.probes)
      sub.keyed.forEach((entry, k) => {
        if (entry.address === address)
          (sub.keyed as KeyedComponent[])[k] = plan.keyed[keyed[entry.component]!]!;
      });
  }

  private sampleKeyed(keyed: readonly number[], slot: number): void {
    const { plan, values } = this;
    for (const i of keyed) {
      const { fit, min, max, slot: target } = plan.keyed[i]!;
      values[target] = constrain(sampleAt(plan.tracks, plan.origins[i]!, this.frame), fit, min, max);
    }
    if (plan.oklab.includes(slot)) linearFromOklabAt(values, slot);
  }

  private touch(steps: readonly number[] | undefined): void {
    if (!steps) return;
    this.dirty ??= new Uint8Array(this.plan.order.length + this.plan.nodes.length);
    for (const step of steps) this.dirty[step] = 1;
  }

  /** Works out what is dirty, phase by phase, and what reads it, as far as something really changes. */
  private settle(readers: Readers): void {
    const { dirty, plan, now, values, world } = this;
    if (!dirty) return;
    const links = plan.order.length;
    const before = new Float64Array(MATRIX_SIZE + 1);
    for (let p = 0; p < plan.phases.length; p++) {
      const phase = plan.phases[p]!;
      for (let i = phase.linkFrom; i < phase.linkTo; i++) {
        if (dirty[i] === 0) continue;
        dirty[i] = 0;
        const link = plan.order[i]!;
        const old = values[link.slot]!;
        run(plan, i, i + 1, now);
        if (!Object.is(values[link.slot], old)) this.touch(readers.ofSlot.get(link.slot));
      }
      for (let i = phase.nodeFrom; i < phase.nodeTo; i++) {
        const node = plan.nodeSequence[i]!;
        if (dirty[links + node] === 0) continue;
        dirty[links + node] = 0;
        const at = node * MATRIX_SIZE;
        before.set(world.subarray(at, at + MATRIX_SIZE));
        before[MATRIX_SIZE] = this.shown[node]!;
        placeNode(now, node);
        let same = before[MATRIX_SIZE] === this.shown[node] && plan.nodeRepeat[node]! < 0;
        for (let k = 0; same && k < MATRIX_SIZE; k++) same = Object.is(before[k], world[at + k]);
        if (!same) this.touch(readers.ofNode[node]);
      }
    }
  }

  /** What a probe asks, at a frame; `depth` is that of the numbers that ask. */
  probe(index: number, frame: number, depth: number): number {
    const probe = this.plan.probes[index]!;
    if (frame - frame !== 0) return NaN;
    if (probe.kind === 'at') return this.valueThen(index, probe, frame, depth);
    if (probe.kind === 'travel') return this.travelled(index, probe, frame, depth);
    const rise =
      this.valueThen(index, probe, frame + SPEED_STEP, depth) -
      this.valueThen(index, probe, frame - SPEED_STEP, depth);
    const { num, den } = this.plan.shot.setup.rate;
    return (rise / (2 * SPEED_STEP)) * (num / den);
  }

  private valueThen(index: number, probe: Probe, frame: number, depth: number): number {
    const memory = this.memory[index]!;
    const whole = Math.floor(frame);
    const key = Math.abs(whole + 7 * Math.floor((frame - whole) * MEMORY)) % MEMORY;
    if (memory.frames[key] === frame) return memory.values[key]!;
    const then = (this.deeper[depth] ??= new Numbers(this.plan, this, depth + 1));
    this.evaluateSub(then, probe, frame);
    const value = then.values[probe.slot]!;
    memory.frames[key] = frame;
    memory.values[key] = value;
    return value;
  }

  private evaluateSub(then: Numbers, { sub }: Probe, frame: number): void {
    const { plan } = this;
    const { values } = then;
    then.setClock(frame);
    for (let i = 0; i < sub.keyed.length; i++) {
      const { slot, track, fit, min, max } = sub.keyed[i]!;
      values[slot] = constrain(sampleTrack(track, frame), fit, min, max);
    }
    for (let i = 0; i < sub.oklab.length; i++) linearFromOklabAt(values, sub.oklab[i]!);
    for (let i = 0; i < sub.layers.length; i++) showLayer(then, sub.layers[i]!, frame);
    for (let i = 0; i < sub.held.length; i++) values[sub.held[i]!.slot] = values[sub.held[i]!.ownSlot]!;
    for (let p = 0; p < sub.phases.length; p++) {
      const { links, nodes } = sub.phases[p]!;
      for (let i = 0; i < links.length; i++) run(plan, links[i]!, links[i]! + 1, then);
      for (let i = 0; i < nodes.length; i++) placeNode(then, nodes[i]!);
    }
  }

  /** Way gone since the first frame, frame by frame; sums up to each whole frame are remembered. */
  private travelled(index: number, probe: Probe, frame: number, depth: number): number {
    const { first } = this.plan.shot.setup;
    const memory = this.memory[index]!;
    const whole = Math.floor(frame - first);
    if (!(frame > first) || whole > 1_000_000) return frame > first ? NaN : 0;
    if (memory.sums.length <= whole) {
      const longer = new Float64Array(Math.max(64, (whole + 1) * 2));
      longer.set(memory.sums);
      memory.sums = longer;
    }
    for (; memory.summed < whole; memory.summed++) {
      const k = memory.summed;
      const step =
        this.valueThen(index, probe, first + k + 1, depth) - this.valueThen(index, probe, first + k, depth);
      memory.sums[k + 1] = memory.sums[k]! + Math.abs(step);
    }
    const rest =
      this.valueThen(index, probe, frame, depth) - this.valueThen(index, probe, first + whole, depth);
    return memory.sums[whole]! + Math.abs(rest);
  }

  /** Number of a channel at the evaluated frame; NaN for an unknown address. */
  number(address: string): number {
    const slot = this.plan.slots.get(address);
    return slot === undefined ? NaN : this.values[slot]!;
  }

  /** The channel's value without its link. */
  own(address: string): number {
    const link = this.plan.linkOf.get(address);
    return link ? this.values[link.ownSlot]! : this.number(address);
  }

  /** Linear colour of a colour channel. */
  colour(address: string): [number, number, number] {
    const slot = this.plan.slots.get(address) ?? -1;
    return [this.values[slot] ?? NaN, this.values[slot + 1] ?? NaN, this.values[slot + 2] ?? NaN];
  }

  /** World matrix of a part (a copy), or `null` for an unknown id. Below a repeat it is that of the first copy. */
  worldOf(partId: string): Float64Array | null {
    const node = this.plan.nodeOf.get(partId);
    return node === undefined ? null : this.world.slice(node * MATRIX_SIZE, (node + 1) * MATRIX_SIZE);
  }

  /** Numbers of the evaluated frame, for the few who explain how they came about. */
  get instant(): Instant {
    return this.now;
  }

  /** Whether the link of a channel gives no finite number at the evaluated frame. */
  hasFailed(address: string): boolean {
    const index = this.plan.orderOf.get(address);
    return index !== undefined && this.failed[index] === 1;
  }

  /**
   * World matrices and looks of all copies of a part below a repeat, outer repeats varying slowest; `null` for a part
   * below none. The arrays are kept and filled anew at the next frame.
   */
  copiesOf(partId: string): Instances | null {
    const node = this.plan.nodeOf.get(partId);
    if (node === undefined || this.plan.nodeWithin[node]! < 0) return null;
    return this.instancesOf(node);
  }

  private instancesOf(node: number): Instances {
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
    const { plan, values, now, world } = this;
    const within = plan.nodeWithin[node]!;
    const frame = plan.nodeFrame[node]!;
    const above = frame === plan.nodeParent[node] ? this.instancesOf(frame) : this.framesOf(within);
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
    const { plan, values, now } = this;
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
      ? this.instancesOf(node)
      : frame === plan.nodeParent[node]
        ? this.instancesOf(frame)
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
    const { count, place, look } = this.now.copies[repeat]!;
    const outer = this.plan.nodeWithin[node]! >= 0 ? this.instancesOf(node) : null;
    const outerCount = outer ? outer.count : 1;
    reserve(found, Math.min(count * outerCount, COPIES_IN_ALL));
    for (let k = 0; k < outerCount; k++)
      for (let i = 0; i < count && k * count + i < found.count; i++) {
        const at = k * count + i;
        if (outer)
          multiplyAt(
            found.matrices,
            at * MATRIX_SIZE,
            outer.matrices,
            k * MATRIX_SIZE,
            place,
            i * MATRIX_SIZE,
          );
        else
          multiplyAt(
            found.matrices,
            at * MATRIX_SIZE,
            this.world,
            node * MATRIX_SIZE,
            place,
            i * MATRIX_SIZE,
          );
        for (let c = 0; c < COPY_LOOK_SIZE; c++) {
          const own = look[i * COPY_LOOK_SIZE + c]!;
          const above = outer ? outer.looks[k * COPY_LOOK_SIZE + c]! : c === 1 ? 0 : 1;
          found.looks[at * COPY_LOOK_SIZE + c] = c === 1 ? own + above : own * above;
        }
      }
    return found;
  }

  /** Matrix from the frame of the nearest repeat to a node below it: the places of the parts in between. */
  private relativeTo(node: number): Float64Array {
    const { plan, values } = this;
    const out = new Float64Array([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0]);
    const local = new Float64Array(MATRIX_SIZE);
    for (let at = node; ; at = plan.nodeParent[at]!) {
      composeLocal(local, 0, values, plan.nodeBase[at]!, ROTATION_ORDERS[plan.nodeOrder[at]!]!);
      multiplyAt(out, 0, local, 0, out, 0);
      if (plan.nodeFrame[at]! >= plan.nodes.length) return out;
    }
  }
}

/** A change of one channel's stored value or keys. */
interface ChannelEdit {
  readonly address: string;
  readonly track: Track | null;
  /** Writes the stored value where a channel's first slot, or `at`, is. */
  store(into: Float64Array | number[], at?: number): void;
}

/** The channels that an edit touches, or `null` where it touches anything that a plan is built on. */
function channelEdits(
  plan: Plan,
  next: Shot,
  paths: readonly (readonly string[])[],
): readonly ChannelEdit[] | null {
  const edits = new Map<string, ChannelEdit>();
  for (const path of paths) {
    const [table = '', owner = '', what = '', name = ''] = path;
    if (!['parts', 'shapes', 'looks', 'dials'].includes(table) || path.length < 4) return null;
    if (what !== 'values' && what !== 'tracks') return null;
    const address = `${owner}/${name}`;
    const place = plan.slots.at(owner, name);
    const channel = channelAt(next, address);
    if (!place || channel?.spec !== place.spec) return null;
    const before = trackOf(plan.shot, address);
    const after = trackOf(next, address);
    if ((before === null) !== (after === null) || before?.blend !== after?.blend) return null;
    const stored = storedValue(next, channel);
    const linked = plan.linkOf.get(address);
    edits.set(address, {
      address,
      track: after !== before ? after : null,
      store: (into, at = linked?.ownSlot ?? place.slot) => {
        // Slots of keyed channels in force keep what the keys give.
        if (after && into !== plan.initial) return;
        if (typeof stored === 'number') into[at] = stored;
        else stored.forEach((component, i) => (into[at + i] = component));
      },
    });
  }
  return [...edits.values()];
}

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

/** Writes the value of the topmost clip seen on a channel, or what the channel has without any. */
function showLayer(numbers: Numbers, layer: LayeredChannel, frame: number): void {
  const { values } = numbers;
  const { showings, slot, stored } = layer;
  for (let i = showings.length - 1; i >= 0; i--) {
    const showing = showings[i]!;
    if (!(frame >= showing.from && frame < showing.to)) continue;
    const count = showing.tracks.length;
    for (let component = 0; component < count; component++) {
      const value = showingValue(showing, component, frame);
      values[slot + component] = showing.oklab ? value : constrain(value, layer.fit, layer.min, layer.max);
    }
    if (showing.oklab) linearFromOklabAt(values, slot);
    return;
  }
  if (stored)
    for (let component = 0; component < stored.length; component++)
      values[slot + component] = stored[component]!;
}
