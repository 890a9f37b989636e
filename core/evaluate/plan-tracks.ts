import { compiledComponents } from '../curve';
import { channelsOf, ownerOf, splitAddress, type Owner, type Shot, OWNER_TABLES } from '../document';
import { fitOf } from './constrain';
import { curveTargets } from './curves-pass';
import type { KeyedComponent, Plan } from './plan';
import type { SlotTable } from './slot-table';
import type { SincePlan } from './since-plan';

type Owners = Readonly<Record<string, Owner>>;

/** All owners of channels, each table beside what it was in the plan before. */
export function ownerTables(
  shot: Shot,
  before: Plan | null,
): (readonly [now: Owners, was: Owners | undefined])[] {
  return OWNER_TABLES.map((name) => [shot[name], before?.shot[name]] as const);
}

/** The keyed components of a plan; those of owners that stand as they stood are taken over from the plan before. */
export class PlannedTracks {
  keyedOf = new Map<string, readonly [from: number, to: number]>();
  /** Colours whose keys blend in OKLab. */
  oklab: { address: string; slot: number }[] = [];
  private keyed: KeyedComponent[] = [];
  private origins: number[] = [];
  private length: number;
  private readonly added: { at: number; track: Float64Array }[] = [];
  private readonly kept: boolean;
  /** Such colours of the plan before, by owner. */
  private readonly oklabBefore = new Map<string, Plan['memory']['oklab'][number][]>();

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
    for (const entry of before?.memory.oklab ?? []) {
      const { owner } = splitAddress(entry.address);
      this.oklabBefore.set(owner, [...(this.oklabBefore.get(owner) ?? []), entry]);
    }
    for (const [table, was] of ownerTables(shot, before))
      for (const id in table) this.add(id, table[id]!, was?.[id]);
  }

  finish(): Pick<Plan, 'keyed' | 'tracks' | 'sharesTracks' | 'origins' | 'curves' | 'oklab'> {
    return {
      keyed: this.keyed,
      tracks: this.pool(),
      sharesTracks: this.before !== null && this.added.length === 0,
      origins: this.kept ? this.before!.origins.slice() : Int32Array.from(this.origins),
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
    this.keyedOf = new Map(before.memory.keyedOf);
    this.oklab = [...before.memory.oklab];
    return true;
  }

  private add(id: string, owner: Owner, was: Owner | undefined): void {
    const { before } = this;
    const from = this.keyed.length;
    const known = before?.memory.keyedOf.get(id);
    if (before && owner === was) {
      if (!known) return;
      for (let i = known[0]; i < known[1]; i++) {
        this.keyed.push(before.keyed[i]!);
        this.origins.push(before.origins[i]!);
      }
      this.oklab.push(...(this.oklabBefore.get(id) ?? []));
      this.keyedOf.set(id, [from, this.keyed.length]);
      return;
    }
    for (const path in owner.tracks) {
      const track = owner.tracks[path]!;
      const place = this.slots.at(id, path);
      if (!place) continue;
      const { spec } = place;
      const address = `${id}/${path}`;
      const slot = owner.links[path] ? this.baseSlot(address) : place.slot;
      const oklab = spec.kind === 'colour' && track.blend === 'oklab';
      if (oklab) this.oklab.push({ address, slot });
      compiledComponents(track, spec.kind === 'colour' ? 3 : 1).forEach((compiled, component) => {
        let room = compiled.length;
        let origin = -1;
        if (known && was?.tracks[path] === track)
          for (let i = known[0]; i < known[1]; i++) {
            const old = before!.keyed[i]!;
            if (old.track !== compiled || old.address !== address || old.component !== component) continue;
            origin = before!.origins[i]!;
            room = old.room;
          }
        this.keyed.push({
          address,
          component,
          slot: slot + component,
          track: compiled,
          room,
          fit: fitOf(spec),
          // OKLab coordinates are fitted after they have become a colour again.
          min: oklab ? -Infinity : spec.min,
          max: oklab ? Infinity : spec.max,
        });
        this.origins.push(origin < 0 ? this.length : origin);
        if (origin >= 0) return;
        this.added.push({ at: this.length, track: compiled });
        this.length += compiled.length;
      });
    }
    if (this.keyed.length > from) this.keyedOf.set(id, [from, this.keyed.length]);
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
