import type { Shot } from '../document';
import type { Component } from '../formula';
import { linearFromOklabAt } from '../math';
import { CopyPlaces, type Instances } from './copy-places';
import { CurvesPass } from './curves-pass';
import { MATRIX_SIZE, placeNodes, type Instant } from './node-place';
import { holdOwn, Numbers, showLayer } from './numbers';
import type { Plan } from './plan';
import { Probing } from './probing';
import { run } from './run-program';
import { Update } from './update';

export { type Instances } from './copy-places';
export { COPY_LOOK_SIZE, MATRIX_SIZE } from './node-place';

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
  private readonly probing: Probing;
  private readonly now: Numbers;
  private readonly curves: CurvesPass;
  private readonly copies: CopyPlaces;
  private readonly updating: Update;
  private overrides: readonly (readonly [slot: number, value: number])[] = [];
  private settled = false;

  constructor(readonly plan: Plan) {
    this.probing = new Probing(plan);
    this.now = new Numbers(plan, this.probing, 0);
    this.values = this.now.values;
    this.world = this.now.world;
    this.shown = this.now.shown;
    this.failed = this.now.failed;
    this.curves = new CurvesPass(plan);
    this.copies = new CopyPlaces(plan, this.now);
    this.updating = new Update(plan, this.now, this.curves, this.probing);
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
    this.copies.renew();
    now.setClock(frame);
    this.curves.run(frame, values);
    for (let i = 0; i < plan.oklab.length; i++) linearFromOklabAt(values, plan.oklab[i]!);
    for (let i = 0; i < plan.layers.length; i++) showLayer(now, plan.layers[i]!, frame);
    for (let i = 0; i < this.overrides.length; i++) values[this.overrides[i]![0]] = this.overrides[i]![1];
    for (let i = 0; i < plan.held.length; i++) holdOwn(values, plan.held[i]!);
    for (let i = 0; i < plan.phases.length; i++) {
      const phase = plan.phases[i]!;
      this.runLinks(phase.linkFrom, phase.linkTo);
      placeNodes(now, plan.nodeSequence, phase.nodeFrom, phase.nodeTo, this.settled);
    }
    this.settled = true;
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
    if (!(this.frame - this.frame === 0) || this.overrides.length > 0) return false;
    const taken = this.updating.take(next, paths, this.frame);
    if (taken) this.copies.renew();
    return taken;
  }

  /** Number of a channel at the evaluated frame; NaN for an unknown address. */
  number(address: string): number {
    const slot = this.plan.slots.get(address);
    return slot === undefined ? NaN : this.values[slot]!;
  }

  /** As `number`, of a component of a colour. */
  component(address: string, component: Component): number {
    const slot = this.plan.slots.get(address);
    return slot === undefined ? NaN : this.values[slot + component]!;
  }

  /** The channel's value without its link; a component of it for a colour. */
  own(address: string, component: Component = 0): number {
    const slot = this.plan.linkOf.get(address)?.ownSlot ?? this.plan.slots.get(address);
    return slot === undefined ? NaN : this.values[slot + component]!;
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
    return this.copies.of(node);
  }
}
