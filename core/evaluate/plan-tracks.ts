import { compileComponents } from '../curve';
import { channelsOf, ownerOf, splitAddress, type Owner, type Shot, OWNER_TABLES } from '../document';
import { fitOf } from './constrain';
import { curveTargets } from './curves-pass';
import type { KeyedComponent, Plan } from './plan';
import type { SlotTable } from './slot-table';
import type { SincePlan } from './since-plan';

/** A list of numbers after others. */
function joined(first: Int32Array, more: readonly number[]): Int32Array {
  const whole = new Int32Array(first.length + more.length);
  whole.set(first);
  whole.set(more, first.length);
  return whole;
}

/** The keyed components of a plan; those of owners that stand as they stood are taken over from the plan before. */
export class PlannedTracks {
  /** In the order of `keyed`. */
  keyedOf = new Map<string, readonly [from: number, to: number]>();
  /** Colours whose keys blend in OKLab. */
  oklab: { address: string; slot: number }[] = [];
  private keyed: KeyedComponent[] = [];
  /** Of those taken over, which come first, and of those added. */
  private keptOrigins: Int32Array = new Int32Array(0);
  private readonly origins: number[] = [];
  private length: number;
  private readonly added: { at: number; track: Float64Array }[] = [];
  private readonly kept: boolean;

  /** @param baseSlot slot of a channel's value without its link */
  constructor(
    private readonly shot: Shot,
    private readonly slots: SlotTable,
    private readonly baseSlot: (address: string) => number,
    private readonly before: Plan | null,
    since: SincePlan | null,
  ) {
    this.length = before?.tracks.length ?? 0;
    this.kept = before !== null && since !== null && this.keep(before, since);
    if (this.kept) return;
    if (before && since) this.patch(before, since);
    else
      for (const name of OWNER_TABLES) for (const id in shot[name]) this.add(id, shot[name][id]!, undefined);
  }

  finish(): Pick<Plan, 'keyed' | 'tracks' | 'sharesTracks' | 'origins' | 'curves' | 'oklab'> {
    return {
      keyed: this.keyed,
      tracks: this.pool(),
      sharesTracks: this.before !== null && this.added.length === 0,
      origins: joined(this.keptOrigins, this.origins),
      curves: this.kept ? this.before!.curves : curveTargets(this.keyed),
      oklab: Int32Array.from(this.oklab, ({ slot }) => slot),
    };
  }

  /** Keyed components of a channel. */
  at(address: string): readonly KeyedComponent[] {
    const [from, to] = this.keyedOf.get(splitAddress(address).owner) ?? [0, 0];
    return this.keyed.slice(from, to).filter((entry) => entry.address === address);
  }

  /** Takes over all keys where no edit has touched any; says whether it could. */
  private keep(before: Plan, since: SincePlan): boolean {
    const { shot } = this;
    const keyed = (owner: Owner | null): boolean => {
      for (const path in owner?.tracks) if (path) return true;
      return false;
    };
    if (since.gone.some((id) => keyed(ownerOf(before.shot, id)))) return false;
    for (const id of since.changed) {
      const [was, now] = [ownerOf(before.shot, id), ownerOf(shot, id)!];
      if (!keyed(was) && !keyed(now)) continue;
      if (was?.tracks !== now.tracks || before.slots.baseOf(id) !== this.slots.baseOf(id)) return false;
      // Keyed values are kept within the limits of their channels, which can change while keys stay.
      if (channelsOf(before.shot, id) !== channelsOf(shot, id)) return false;
      for (const path in now.tracks) if (path in was.links !== path in now.links) return false;
    }
    this.keyed = before.keyed.slice();
    this.keptOrigins = before.origins;
    this.keyedOf = new Map(before.memory.keyedOf);
    this.oklab = [...before.memory.oklab];
    return true;
  }

  /** Takes over the keys of all owners but those that have gone or changed, which are planned anew behind them. */
  private patch(before: Plan, since: SincePlan): void {
    const { keyedOf, oklab } = before.memory;
    const leaving = new Set([...since.gone, ...since.changed].filter((id) => keyedOf.has(id)));
    if (leaving.size === 0) {
      this.keyed = before.keyed.slice();
      this.keptOrigins = before.origins;
      this.keyedOf = new Map(keyedOf);
    } else {
      const origins: Int32Array[] = [];
      for (const [id, [from, to]] of keyedOf) {
        if (leaving.has(id)) continue;
        const at = this.keyed.length;
        for (let i = from; i < to; i++) this.keyed.push(before.keyed[i]!);
        origins.push(before.origins.subarray(from, to));
        this.keyedOf.set(id, [at, this.keyed.length]);
      }
      this.keptOrigins = new Int32Array(this.keyed.length);
      let at = 0;
      for (const part of origins) {
        this.keptOrigins.set(part, at);
        at += part.length;
      }
    }
    this.oklab = oklab.filter(({ address }) => !leaving.has(splitAddress(address).owner));
    for (const id of since.changed)
      this.add(id, ownerOf(this.shot, id)!, ownerOf(before.shot, id) ?? undefined);
  }

  private add(id: string, owner: Owner, was: Owner | undefined): void {
    const { before } = this;
    const from = this.keyed.length;
    const known = before?.memory.keyedOf.get(id);
    for (const path in owner.tracks) {
      const track = owner.tracks[path]!;
      const place = this.slots.at(id, path);
      if (!place) continue;
      const { spec } = place;
      const address = `${id}/${path}`;
      const slot = owner.links[path] ? this.baseSlot(address) : place.slot;
      const oklab = spec.kind === 'colour' && track.blend === 'oklab';
      if (oklab) this.oklab.push({ address, slot });
      const width = spec.kind === 'colour' ? 3 : 1;
      const found = known && was?.tracks[path] === track ? this.keptOf(known, address) : [];
      const old = found.length === width ? found : [];
      const components =
        old.length > 0 ? old.map((i) => before!.keyed[i]!.track) : compileComponents(track, width);
      components.forEach((compiled, component) => {
        const kept = old[component];
        this.keyed.push({
          address,
          component,
          slot: slot + component,
          track: compiled,
          room: kept === undefined ? compiled.length : before!.keyed[kept]!.room,
          fit: fitOf(spec),
          // OKLab coordinates are fitted after they have become a colour again.
          min: oklab ? -Infinity : spec.min,
          max: oklab ? Infinity : spec.max,
        });
        this.origins.push(kept === undefined ? this.length : before!.origins[kept]!);
        if (kept !== undefined) return;
        this.added.push({ at: this.length, track: compiled });
        this.length += compiled.length;
      });
    }
    if (this.keyed.length > from) this.keyedOf.set(id, [from, this.keyed.length]);
  }

  /** Numbers of the components of a channel in the plan before. */
  private keptOf([from, to]: readonly [from: number, to: number], address: string): number[] {
    const found: number[] = [];
    for (let i = from; i < to; i++) if (this.before!.keyed[i]!.address === address) found.push(i);
    return found;
  }

  /** All tracks side by side: those of the plan before, where nothing was added. */
  private pool(): Float64Array {
    if (this.before && this.added.length === 0) {
      this.before.sharesTracks = true;
      return this.before.tracks;
    }
    const tracks = new Float64Array(this.length);
    if (this.before) tracks.set(this.before.tracks);
    for (const { at, track } of this.added) tracks.set(track, at);
    return tracks;
  }
}
