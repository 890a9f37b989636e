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

/**
 * Where every channel of a shot has its slots. Owners of one kind share a layout, so the table holds one number for each
 * owner, not one for each channel: making it is what opening a large shot waits for.
 */
export class SlotTable {
  private readonly owners = new Map<string, { readonly base: number; readonly layout: Layout }>();
  /** Channels in the table. */
  size = 0;
  /** First slot after all channels. */
  end: number;

  constructor(
    private readonly shot: Shot,
    start: number,
  ) {
    this.end = start;
  }

  /** Gives an owner its slots. */
  add(owner: string): { readonly base: number; readonly specs: readonly ChannelSpec[] } {
    const specs = channelsOf(this.shot, owner);
    const layout = layoutOf(specs);
    const base = this.end;
    this.owners.set(owner, { base, layout });
    this.size += specs.length;
    this.end += layout.size;
    return { base, specs };
  }

  /** Slot of a channel, the first of three for a colour. */
  get(address: string): number | undefined {
    const { owner, path } = splitAddress(address);
    return this.at(owner, path)?.slot;
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
