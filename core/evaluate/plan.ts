import { compileTrack, type CompiledTrack } from '../curve';
import {
  addressOf,
  channelsOf,
  ownerOf,
  PLACE_CHANNELS,
  treeOrder,
  type ChannelSpec,
  type Owner,
  type Shot,
} from '../document';
import {
  addressesRead,
  checkLink,
  NameTable,
  type Expression,
  type FormulaError,
  type FunctionSpec,
} from '../formula';
import { ROTATION_ORDERS } from '../transform';
import { fitOf } from './constrain';
import { orderLinks } from './order';
import { ProgramBuilder } from './program';

export const CLOCK_FRAME = 0;
export const CLOCK_TIME = 1;
export const CLOCK_PROGRESS = 2;
const CLOCK_SLOTS = 3;
const CLOCK_SLOT = { frame: CLOCK_FRAME, time: CLOCK_TIME, progress: CLOCK_PROGRESS } as const;

/** One keyed component: where its value goes and how it is fitted. */
export interface KeyedComponent {
  readonly slot: number;
  readonly track: CompiledTrack;
  readonly fit: number;
  readonly min: number;
  readonly max: number;
}

/** One link: its formula, or why it is out of force. */
export interface PlannedLink {
  readonly address: string;
  readonly slot: number;
  readonly ownSlot: number;
  readonly expression: Expression | null;
  readonly error: FormulaError | null;
  readonly fit: number;
  readonly min: number;
  readonly max: number;
  /** Range of its instructions; empty when out of force. */
  from: number;
  to: number;
  result: number;
}

/**
 * A shot made ready for evaluation. Immutable: evaluators keep the changing numbers. Slots hold, in this order,
 * the clock, every channel (three slots for a colour), the own values of linked channels, constants, temporaries.
 */
export interface Plan {
  readonly shot: Shot;
  readonly names: NameTable;
  readonly slotCount: number;
  /** Slot of a channel; the first of three for a colour. */
  readonly slots: ReadonlyMap<string, number>;
  /** Numbers that slots start with: stored values and constants. */
  readonly initial: Float64Array;
  readonly keyed: readonly KeyedComponent[];
  readonly links: readonly PlannedLink[];
  /** Links in force, each after all it reads. */
  readonly order: readonly PlannedLink[];
  readonly linkOf: ReadonlyMap<string, PlannedLink>;
  readonly code: Int32Array;
  readonly functions: readonly FunctionSpec['compute'][];
  /** Parts in tree order, with the slot of their first place channel, their parent's node (-1), their rotation order. */
  readonly nodes: readonly string[];
  readonly nodeOf: ReadonlyMap<string, number>;
  readonly nodeBase: Int32Array;
  readonly nodeParent: Int32Array;
  readonly nodeOrder: Uint8Array;
  readonly nodeVisible: Int32Array;
  /** 1 where the world matrix can change from frame to frame. */
  readonly nodeMoves: Uint8Array;
}

/** Prepares a shot for evaluation. Never fails: links in error are out of force and say why. */
export function compile(shot: Shot): Plan {
  return new PlanBuilder(shot).build();
}

class PlanBuilder {
  private readonly names: NameTable;
  private readonly slots = new Map<string, number>();
  private readonly numbers: number[] = [0, 0, 0];
  private readonly moving = new Set<string>();
  private readonly keyed: KeyedComponent[] = [];
  private readonly constants = new Map<number, number>();
  private temporaryBase = 0;
  private temporaryCount = 0;

  constructor(private readonly shot: Shot) {
    this.names = new NameTable(shot);
  }

  build(): Plan {
    const { shot } = this;
    const owners = [
      ...Object.keys(shot.parts),
      ...Object.keys(shot.shapes),
      ...Object.keys(shot.looks),
      ...Object.keys(shot.dials),
    ];
    const linked: { address: string; owner: Owner; spec: ChannelSpec; id: string }[] = [];
    for (const id of owners) {
      const owner = ownerOf(shot, id)!;
      for (const spec of channelsOf(shot, id)) {
        this.channel(id, owner, spec);
        if (owner.links[spec.path]) linked.push({ address: `${id}/${spec.path}`, owner, spec, id });
      }
    }
    const links = linked.map(({ address, owner, spec }) => this.link(address, owner, spec));
    const linkOf = new Map(links.map((link) => [link.address, link]));
    for (const id of owners) this.tracks(id, ownerOf(shot, id)!, linkOf);
    const ordered = this.arrange(links);
    for (const link of links) this.moving.add(link.address);
    const builder = this.program(ordered);
    return { ...this.tree(), ...this.result(links, ordered, builder) };
  }

  private channel(id: string, owner: Owner, spec: ChannelSpec): void {
    const value = owner.values[spec.path] ?? spec.initial;
    this.slots.set(`${id}/${spec.path}`, this.numbers.length);
    if (typeof value === 'number') this.numbers.push(value);
    else this.numbers.push(...value);
  }

  private link(address: string, owner: Owner, spec: ChannelSpec): PlannedLink {
    const slot = this.slots.get(address)!;
    const ownSlot = this.numbers.push(this.numbers[slot]!) - 1;
    const checked = checkLink(this.names, address, owner.links[spec.path]!);
    return {
      address,
      slot,
      ownSlot,
      expression: checked.ok ? checked.expression : null,
      error: checked.ok ? null : checked.error,
      fit: fitOf(spec),
      min: spec.min,
      max: spec.max,
      from: 0,
      to: 0,
      result: 0,
    };
  }

  private tracks(id: string, owner: Owner, linkOf: ReadonlyMap<string, PlannedLink>): void {
    for (const spec of channelsOf(this.shot, id)) {
      const track = owner.tracks[spec.path];
      if (!track) continue;
      const address = `${id}/${spec.path}`;
      const link = linkOf.get(address);
      const slot = link ? link.ownSlot : this.slots.get(address)!;
      const components = spec.kind === 'colour' ? 3 : 1;
      for (let i = 0; i < components; i++)
        this.keyed.push({
          slot: slot + i,
          track: compileTrack(track, i),
          fit: fitOf(spec),
          min: spec.min,
          max: spec.max,
        });
      this.moving.add(address);
    }
  }

  /** Puts links in order and takes those in loops out of force. */
  private arrange(links: PlannedLink[]): PlannedLink[] {
    const indexOf = new Map(links.map((link, i) => [link.address, i]));
    const reads = links.map((link) =>
      link.expression
        ? addressesRead(link.expression)
            .map((address) => indexOf.get(address))
            .filter((i) => i !== undefined)
        : [],
    );
    const { order, loops } = orderLinks(reads);
    for (const loop of loops) {
      const chain = loop.map((i) => this.sentenceName(links[i]!.address));
      const message = `This link is part of a loop: ${[...chain, chain[0]].join(' reads ')}. Let one of them read something else.`;
      for (const i of loop) {
        const link = links[i]!;
        const to = this.formulaOf(link.address).length;
        links[i] = { ...link, expression: null, error: { code: 'loop', from: 0, to, message, fixes: [] } };
      }
    }
    return order.map((i) => links[i]!).filter((link) => link.expression !== null);
  }

  private formulaOf(address: string): string {
    const slash = address.indexOf('/');
    return ownerOf(this.shot, address.slice(0, slash))?.links[address.slice(slash + 1)]?.formula ?? '';
  }

  private sentenceName(address: string): string {
    const slash = address.indexOf('/');
    const owner = address.slice(0, slash);
    return `${this.names.nameOf(owner) ?? owner}.${address.slice(slash + 1)}`;
  }

  private program(ordered: readonly PlannedLink[]): ProgramBuilder {
    // Constants are placed while instructions are written, temporaries after all constants: two rounds.
    const emit = (): ProgramBuilder => {
      this.temporaryCount = 0;
      const builder = new ProgramBuilder({
        channel: (address) => this.slots.get(address)!,
        clock: (name) => CLOCK_SLOT[name],
        constant: (value) => this.constant(value),
        temporary: (offset, count) => {
          this.temporaryCount = Math.max(this.temporaryCount, offset + count);
          return this.temporaryBase + offset;
        },
      });
      for (const link of ordered) {
        link.from = builder.code.length;
        link.result = builder.add(link.expression!, link.ownSlot);
        link.to = builder.code.length;
      }
      return builder;
    };
    emit();
    this.temporaryBase = this.numbers.length;
    return emit();
  }

  private constant(value: number): number {
    // -0 and 0 are told apart, since 1 / x differs; NaN is free to stand for -0 as a map key.
    const key = Object.is(value, -0) ? NaN : value;
    let slot = this.constants.get(key);
    if (slot === undefined) {
      slot = this.numbers.push(value) - 1;
      this.constants.set(key, slot);
    }
    return slot;
  }

  private tree(): Pick<
    Plan,
    'nodes' | 'nodeOf' | 'nodeBase' | 'nodeParent' | 'nodeOrder' | 'nodeVisible' | 'nodeMoves'
  > {
    const { shot } = this;
    const nodes = treeOrder(shot).map((entry) => entry.id);
    const nodeOf = new Map(nodes.map((id, i) => [id, i]));
    const count = nodes.length;
    const nodeBase = new Int32Array(count);
    const nodeParent = new Int32Array(count);
    const nodeOrder = new Uint8Array(count);
    const nodeVisible = new Int32Array(count);
    const nodeMoves = new Uint8Array(count);
    nodes.forEach((id, i) => {
      const part = shot.parts[id]!;
      nodeBase[i] = this.slots.get(`${id}/${PLACE_CHANNELS[0]!.path}`)!;
      nodeParent[i] = part.parent === null ? -1 : (nodeOf.get(part.parent) ?? -1);
      nodeOrder[i] = ROTATION_ORDERS.indexOf(part.rotationOrder);
      nodeVisible[i] = this.slots.get(`${id}/visible`)!;
      const moves = [...PLACE_CHANNELS.map((spec) => spec.path), 'visible'].some((path) =>
        this.moving.has(addressOf({ owner: id, path })),
      );
      nodeMoves[i] = moves || (nodeParent[i] >= 0 && nodeMoves[nodeParent[i]] === 1) ? 1 : 0;
    });
    return { nodes, nodeOf, nodeBase, nodeParent, nodeOrder, nodeVisible, nodeMoves };
  }

  private result(
    links: readonly PlannedLink[],
    order: readonly PlannedLink[],
    builder: ProgramBuilder,
  ): Omit<Plan, 'nodes' | 'nodeOf' | 'nodeBase' | 'nodeParent' | 'nodeOrder' | 'nodeVisible' | 'nodeMoves'> {
    const slotCount = Math.max(CLOCK_SLOTS, this.numbers.length) + this.temporaryCount;
    const initial = new Float64Array(slotCount);
    initial.set(this.numbers);
    return {
      shot: this.shot,
      names: this.names,
      slotCount,
      slots: this.slots,
      initial,
      keyed: this.keyed,
      links,
      order,
      linkOf: new Map(links.map((link) => [link.address, link])),
      code: Int32Array.from(builder.code),
      functions: builder.functions,
    };
  }
}
