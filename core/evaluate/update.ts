import { compiledComponents, sampleAt } from '../curve';
import { channelAt, storedValue, trackOf, type Shot, type Track, OWNER_TABLES } from '../document';
import { linearFromOklabAt } from '../math';
import { constrain } from './constrain';
import type { CurvesPass } from './curves-pass';
import { MATRIX_SIZE, placeNode } from './node-place';
import { holdOwn, showLayer, type Numbers } from './numbers';
import type { KeyedComponent, Plan } from './plan';
import type { Probing } from './probing';
import { run } from './run-program';
import { readersOfPlan, type Readers } from './readers';

/** Takes over edits of stored values and keys in place: only what depends on them is worked out anew. */
export class Update {
  private dirty: Uint8Array | null = null;

  constructor(
    private readonly plan: Plan,
    private readonly now: Numbers,
    private readonly curves: CurvesPass,
    private readonly probing: Probing,
  ) {}

  /**
   * Takes over an edited document where only values and keys of channels have changed. The plan is changed in place.
   * @param paths places of the document that the edit has touched, each segment by segment
   * @param frame the frame that was last worked out
   * @returns false, with nothing changed, where the edit asks for a new plan
   */
  take(next: Shot, paths: readonly (readonly string[])[], frame: number): boolean {
    const { plan } = this;
    const edits = channelEdits(plan, next, paths);
    if (!edits) return false;
    plan.shot = next;
    const readers = readersOfPlan(plan);
    this.probing.forget((values) => edits.forEach((edit) => edit.store(values)));
    for (const edit of edits) this.takeChannel(edit, readers, frame);
    this.settle(readers);
    return true;
  }

  private takeChannel(edit: ChannelEdit, readers: Readers, frame: number): void {
    const { plan, now } = this;
    const { values } = now;
    const { address } = edit;
    edit.store(plan.initial);
    const keyed = this.keyedAt(edit.owner, address);
    if (edit.track) this.retrack(address, edit.track, keyed);
    const link = plan.linkOf.get(address);
    const slot = link?.ownSlot ?? plan.slots.get(address)!;
    const layer = plan.layers.find((entry) => entry.address === address);
    if (layer?.stored) edit.store(layer.stored, 0);
    if (keyed.length > 0) this.sampleKeyed(keyed, slot, frame);
    else if (!edit.track) edit.store(values);
    if (layer) showLayer(now, layer, frame);
    if (link && !link.expression) holdOwn(values, link);
    this.touch(readers.ofSlot.get(slot));
    if (link) this.touch(readers.ofSlot.get(link.slot));
    this.touch(readers.ofHistory.get(address));
  }

  /** Numbers of the keyed components of a channel. */
  private keyedAt(owner: string, address: string): readonly number[] {
    const [from, to] = this.plan.memory.keyedOf.get(owner) ?? [0, 0];
    const found: number[] = [];
    for (let i = from; i < to; i++) if (this.plan.keyed[i]!.address === address) found.push(i);
    return found;
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
      this.curves.forget(i);
    });
    for (const { sub } of plan.probes)
      sub.keyed.forEach((entry, k) => {
        if (entry.address === address)
          (sub.keyed as KeyedComponent[])[k] = plan.keyed[keyed[entry.component]!]!;
      });
  }

  private sampleKeyed(keyed: readonly number[], slot: number, frame: number): void {
    const { plan } = this;
    const { values } = this.now;
    for (const i of keyed) {
      const { fit, min, max, slot: target } = plan.keyed[i]!;
      values[target] = constrain(sampleAt(plan.tracks, plan.origins[i]!, frame), fit, min, max);
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
    const { dirty, plan, now } = this;
    if (!dirty) return;
    const { values, world, shown } = now;
    const links = plan.order.length;
    const before = new Float64Array(MATRIX_SIZE + 1);
    for (let p = 0; p < plan.phases.length; p++) {
      const phase = plan.phases[p]!;
      for (let i = phase.linkFrom; i < phase.linkTo; i++) {
        if (dirty[i] === 0) continue;
        dirty[i] = 0;
        const link = plan.order[i]!;
        for (let c = 0; c < link.width; c++) before[c] = values[link.slot + c]!;
        run(plan, i, i + 1, now);
        let same = true;
        for (let c = 0; same && c < link.width; c++) same = Object.is(values[link.slot + c], before[c]);
        if (!same) this.touch(readers.ofSlot.get(link.slot));
      }
      for (let i = phase.nodeFrom; i < phase.nodeTo; i++) {
        const node = plan.nodeSequence[i]!;
        if (dirty[links + node] === 0) continue;
        dirty[links + node] = 0;
        const at = node * MATRIX_SIZE;
        before.set(world.subarray(at, at + MATRIX_SIZE));
        before[MATRIX_SIZE] = shown[node]!;
        placeNode(now, node);
        let same = before[MATRIX_SIZE] === shown[node] && plan.nodeRepeat[node]! < 0;
        for (let k = 0; same && k < MATRIX_SIZE; k++) same = Object.is(before[k], world[at + k]);
        if (!same) this.touch(readers.ofNode[node]);
      }
    }
  }
}

/** A change of one channel's stored value or keys. */
interface ChannelEdit {
  readonly owner: string;
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
    if (!(OWNER_TABLES as readonly string[]).includes(table) || path.length < 4) return null;
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
      owner,
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
