import { channelsOf, splitAddress, type ChannelSpec, type Shot } from '../document';

interface Layout {
  readonly size: number;
  readonly places: ReadonlyMap<string, { readonly offset: number; readonly spec: ChannelSpec }>;
}

const layouts = new WeakMap<readonly ChannelSpec[], Layout>();

function layoutOf(specs: readonly ChannelSpec[]): Layout {
  let layout = layouts.get(specs);
  if (!layout) {
    let size = 0;
    const places = new Map(
      specs.map((spec) => {
        const place = [spec.path, { offset: size, spec }] as const;
        size += spec.kind === 'colour' ? 3 : 1;
        return place;
      }),
    );
    layout = { size, places };
    layouts.set(specs, layout);
  }
  return layout;
}

function samePlaces(a: Layout, b: Layout): boolean {
  if (a.size !== b.size || a.places.size !== b.places.size) return false;
  for (const [path, { offset }] of a.places) if (b.places.get(path)?.offset !== offset) return false;
  return true;
}

interface Place {
  readonly base: number;
  readonly layout: Layout;
}

/**
 * Where every channel of a shot has its slots. Owners of one kind share a layout, so the table holds one number for each
 * owner, not one for each channel: making it is what opening a large shot waits for.
 */
export class SlotTable {
  private readonly owners: Map<string, Place>;
  /** Channels in the table. */
  size = 0;
  /** Slots that its channels take. */
  taken = 0;

  /**
   * @param before table of an earlier state of the shot: owners that are still there keep their slots
   * @param touched which owners have gone or changed since
   */
  constructor(
    private readonly shot: Shot,
    before: SlotTable | null,
    touched: { readonly gone: readonly string[]; readonly changed: readonly string[] } | null,
  ) {
    this.owners = new Map(before?.owners);
    if (!before || !touched) return;
    this.size = before.size;
    this.taken = before.taken;
    for (const id of touched.gone) this.remove(id);
    for (const id of touched.changed) {
      const entry = this.owners.get(id);
      if (!entry) continue;
      const layout = layoutOf(channelsOf(shot, id));
      if (layout === entry.layout) continue;
      // Limits can change while the channels stay, as those of a dial do.
      if (samePlaces(layout, entry.layout)) this.owners.set(id, { base: entry.base, layout });
      else this.remove(id);
    }
  }

  private remove(owner: string): void {
    const entry = this.owners.get(owner);
    if (!entry) return;
    this.owners.delete(owner);
    this.size -= entry.layout.places.size;
    this.taken -= entry.layout.size;
  }

  /** Whether an owner has slots already. */
  knows(owner: string): boolean {
    return this.owners.has(owner);
  }

  /**
   * Gives an owner its slots.
   * @returns how many slots they are
   */
  add(owner: string, base: number): number {
    const layout = layoutOf(channelsOf(this.shot, owner));
    this.owners.set(owner, { base, layout });
    this.size += layout.places.size;
    this.taken += layout.size;
    return layout.size;
  }

  /** Channels of an owner, in the order of their slots. */
  specsOf(owner: string): readonly ChannelSpec[] {
    return channelsOf(this.shot, owner);
  }

  /** First slot of an owner, or -1. */
  baseOf(owner: string): number {
    return this.owners.get(owner)?.base ?? -1;
  }

  /** Slot of a channel, the first of three for a colour. */
  get(address: string): number | undefined {
    const { owner, path } = splitAddress(address);
    const entry = this.owners.get(owner);
    const place = entry?.layout.places.get(path);
    return place ? entry!.base + place.offset : undefined;
  }

  /** Slot of a channel that its owner has, the first of three for a colour. */
  slotOf(owner: string, path: string): number {
    const { base, layout } = this.owners.get(owner)!;
    return base + layout.places.get(path)!.offset;
  }

  has(address: string): boolean {
    return this.get(address) !== undefined;
  }

  specOf(address: string): ChannelSpec | undefined {
    const { owner, path } = splitAddress(address);
    return this.at(owner, path)?.spec;
  }

  at(owner: string, path: string): { slot: number; spec: ChannelSpec } | undefined {
    const entry = this.owners.get(owner);
    const place = entry?.layout.places.get(path);
    return entry && place ? { slot: entry.base + place.offset, spec: place.spec } : undefined;
  }
}
