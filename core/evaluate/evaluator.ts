import { fillStretch, foldFrame, RECORD_SIZE, stretchIndex, valueOfRecord, type Folded } from '../curve';
import { secondsAt } from '../time';
import { composeLocal, multiplyAt, ROTATION_ORDERS } from '../transform';
import { constrain } from './constrain';
import { CLOCK_FRAME, CLOCK_PROGRESS, CLOCK_TIME, type Plan } from './plan';
import { run } from './program';

/** Numbers per world matrix. */
export const MATRIX_SIZE = 12;

/**
 * Works out all values of a plan at one frame after another. It owns its arrays, so several evaluators of one
 * plan can be used side by side. What it gives depends on the plan and the frame alone, never on the frames
 * worked out before. `evaluate` allocates nothing.
 */
export class Evaluator {
  readonly values: Float64Array;
  /** World matrices, 12 numbers for each node of the plan. */
  readonly world: Float64Array;
  /** 1 for each node that is shown, its parents included. */
  readonly shown: Uint8Array;
  /** 1 for each link in force (in `plan.order`) whose result is no finite number at this frame. */
  readonly failed: Uint8Array;
  frame = NaN;
  private readonly records: Float64Array;
  // What the loop over curves needs of each, side by side: reaching into objects costs more than the curve.
  private readonly lastFrames: Float64Array;
  private readonly targets: Int32Array;
  private readonly fits: Uint8Array;
  private readonly lows: Float64Array;
  private readonly highs: Float64Array;
  private readonly local = new Float64Array(MATRIX_SIZE);
  private readonly folded: Folded = { frame: 0, add: 0 };
  private overrides: readonly (readonly [slot: number, value: number])[] = [];
  private settled = false;

  constructor(readonly plan: Plan) {
    this.values = plan.initial.slice();
    this.world = new Float64Array(plan.nodes.length * MATRIX_SIZE);
    this.shown = new Uint8Array(plan.nodes.length);
    this.failed = new Uint8Array(plan.order.length);
    this.records = new Float64Array(plan.keyed.length * RECORD_SIZE);
    this.lastFrames = Float64Array.from(plan.keyed, ({ track }) => track.frames[track.count - 1]!);
    this.targets = Int32Array.from(plan.keyed, ({ slot }) => slot);
    this.fits = Uint8Array.from(plan.keyed, ({ fit }) => fit);
    this.lows = Float64Array.from(plan.keyed, ({ min }) => min);
    this.highs = Float64Array.from(plan.keyed, ({ max }) => max);
    // NaN matches no frame: the first evaluation fills every record.
    for (let i = 0; i < plan.keyed.length; i++) this.records[i * RECORD_SIZE] = NaN;
  }

  /**
   * Values that stand in for keys until the next call, as when somebody has changed a keyed value without keying
   * it. Addresses of the plan; a colour is three numbers.
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
    const { plan, values } = this;
    const { setup } = plan.shot;
    this.frame = frame;
    values[CLOCK_FRAME] = frame;
    values[CLOCK_TIME] = secondsAt(frame, setup.first, setup.rate);
    values[CLOCK_PROGRESS] =
      setup.last === setup.first ? 0 : (frame - setup.first) / (setup.last - setup.first);
    this.curves(frame);
    for (let i = 0; i < this.overrides.length; i++) values[this.overrides[i]![0]] = this.overrides[i]![1];
    this.runFormulas();
    this.matrices();
    this.settled = true;
  }

  private curves(frame: number): void {
    const { records, folded, values, lastFrames, targets, fits, lows, highs } = this;
    const count = targets.length;
    for (let i = 0, at = 0; i < count; i++, at += RECORD_SIZE) {
      let value: number;
      if (frame >= records[at]! && frame < records[at + 10]! && frame <= lastFrames[i]!) {
        value = valueOfRecord(records, at, frame);
      } else {
        const { track } = this.plan.keyed[i]!;
        foldFrame(track, frame, folded);
        if (!(folded.frame >= records[at]! && folded.frame < records[at + 10]!))
          fillStretch(track, Math.max(0, stretchIndex(track, folded.frame)), records, at);
        value = valueOfRecord(records, at, folded.frame) + folded.add;
      }
      values[targets[i]!] = constrain(value, fits[i]!, lows[i]!, highs[i]!);
    }
  }

  /** Works out all links from the values there are now; a part of `evaluate`, open for measuring. */
  runFormulas(): void {
    const { values, failed } = this;
    const { order, code, functions, links } = this.plan;
    for (let i = 0; i < links.length; i++) {
      const link = links[i]!;
      if (link.expression === null) values[link.slot] = values[link.ownSlot]!;
    }
    for (let i = 0; i < order.length; i++) {
      const link = order[i]!;
      run(code, link.from, link.to, values, functions);
      const result = values[link.result]!;
      const sound = result - result === 0;
      failed[i] = sound ? 0 : 1;
      values[link.slot] = sound ? constrain(result, link.fit, link.min, link.max) : values[link.ownSlot]!;
    }
  }

  private matrices(): void {
    const { world, local, values, shown, settled } = this;
    const { nodeBase, nodeParent, nodeOrder, nodeMoves, nodeVisible } = this.plan;
    for (let i = 0; i < nodeBase.length; i++) {
      if (settled && nodeMoves[i] === 0) continue;
      const parent = nodeParent[i]!;
      const order = ROTATION_ORDERS[nodeOrder[i]!]!;
      if (parent < 0) composeLocal(world, i * MATRIX_SIZE, values, nodeBase[i]!, order);
      else {
        composeLocal(local, 0, values, nodeBase[i]!, order);
        multiplyAt(world, i * MATRIX_SIZE, world, parent * MATRIX_SIZE, local, 0);
      }
      shown[i] = values[nodeVisible[i]!] !== 0 && (parent < 0 || shown[parent] === 1) ? 1 : 0;
    }
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

  /** World matrix of a part (a copy), or `null` for an unknown id. */
  worldOf(partId: string): Float64Array | null {
    const node = this.plan.nodeOf.get(partId);
    return node === undefined ? null : this.world.slice(node * MATRIX_SIZE, (node + 1) * MATRIX_SIZE);
  }

  /** Whether the link of a channel gives no finite number at the evaluated frame. */
  hasFailed(address: string): boolean {
    const index = this.plan.order.findIndex((link) => link.address === address);
    return index >= 0 && this.failed[index] === 1;
  }
}
