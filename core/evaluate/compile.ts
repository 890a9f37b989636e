import { compiledComponents } from '../curve';
import {
  channelAt,
  channelsOf,
  COPY_CHANNELS,
  ownerOf,
  PLACE_CHANNELS,
  splitAddress,
  storedValue,
  trackOf,
  treeOrder,
  type ChannelSpec,
  type Link,
  type Owner,
  type Shot,
} from '../document';
import {
  addressesRead,
  checkLink,
  eachNode,
  NameTable,
  partsMeasured,
  type CheckedLink,
  type Expression,
} from '../formula';
import { ROTATION_ORDERS } from '../transform';
import { fitOf } from './constrain';
import { anchorOf, pathPoints, schedule, type Schedule } from './graph';
import type { LoudnessTables } from './loudness';
import {
  CLOCK_SLOT,
  CLOCK_SLOTS,
  type KeyedComponent,
  type LayeredChannel,
  type Measure,
  type Plan,
  type PlannedAim,
  type PlannedFollow,
  type PlannedLink,
  type PlannedRepeat,
  type Probe,
  type SubPlan,
} from './plan';
import { ProgramBuilder, type SlotMap } from './program';
import { showingsOf } from './showing';
import { SlotTable } from './slot-table';

/**
 * Prepares a shot for evaluation. Never fails: links in error are out of force and say why.
 * @param loudness tables of the shot's sounds; where one is missing, `level` gives no number
 */
export function compile(shot: Shot, loudness: LoudnessTables = {}): Plan {
  return new PlanBuilder(shot, loudness).build();
}

/** Answers of the formula checker by link, with what they rest on: links never change in place. */
interface Remembered {
  readonly setup: Shot['setup'];
  readonly address: string;
  readonly checked: CheckedLink;
  readonly relies: readonly (readonly [address: string, spec: ChannelSpec])[];
}
const remembered = new WeakMap<Link, Remembered>();

function checkRemembering(names: NameTable, address: string, spec: ChannelSpec, link: Link): CheckedLink {
  const { shot } = names;
  const known = remembered.get(link);
  if (
    known?.address === address &&
    known.setup === shot.setup &&
    known.relies.every(([other, entry]) => channelAt(shot, other)?.spec === entry) &&
    Object.values(link.refs).every((id) => names.nameOf(id) !== null)
  )
    return known.checked;
  const checked = checkLink(names, address, link);
  if (!checked.ok) return checked;
  const relies = addressesRead(checked.expression).map(
    (other) => [other, channelAt(shot, other)!.spec] as const,
  );
  // What a name of a part reaches can move to another shape or look, which the addresses alone do not tell.
  const direct = relies.every(([other]) => other.startsWith('prt_'));
  if (direct)
    remembered.set(link, { setup: shot.setup, address, checked, relies: [...relies, [address, spec]] });
  return checked;
}

class PlanBuilder {
  private readonly names: NameTable;
  private readonly slots: SlotTable;
  private readonly numbers: number[] = new Array<number>(CLOCK_SLOTS).fill(0);
  /** Owners of channels on which clips are shown. */
  private readonly clipped = new Set<string>();
  private readonly keyed: KeyedComponent[] = [];
  private keyedOf: Map<string, KeyedComponent[]> | null = null;
  private readonly oklab = new Map<string, number>();
  private readonly layers = new Map<string, LayeredChannel>();
  private readonly constants = new Map<number, number>();
  private readonly nodes: readonly string[];
  private readonly nodeOf: ReadonlyMap<string, number>;
  private links: PlannedLink[] = [];
  private order: PlannedLink[] = [];
  private orderOf = new Map<string, number>();
  private linkOf = new Map<string, PlannedLink>();
  private work!: Schedule;
  private readonly optionErrors = new Map<string, string>();
  private readonly followOf = new Map<string, number>();
  private readonly probes: Probe[] = [];
  private readonly measures: Measure[] = [];
  private readonly levels: { sound: string; start: number }[] = [];
  private readonly specials = new Map<Expression, number>();
  private temporaryBase = 0;
  private temporaryCount = 0;

  constructor(
    private readonly shot: Shot,
    private readonly loudness: LoudnessTables,
  ) {
    this.names = new NameTable(shot);
    this.slots = new SlotTable(shot, CLOCK_SLOTS);
    this.nodes = treeOrder(shot).map((entry) => entry.id);
    this.nodeOf = new Map(this.nodes.map((id, i) => [id, i]));
  }

  build(): Plan {
    const { shot } = this;
    const owners = [shot.parts, shot.shapes, shot.looks, shot.dials].flatMap((table) => Object.keys(table));
    const linked: [string, ChannelSpec, Link][] = [];
    for (const id of owners) {
      const owner = ownerOf(shot, id)!;
      for (const spec of this.slots.add(id).specs) {
        const value = owner.values[spec.path] ?? spec.initial;
        if (typeof value === 'number') this.numbers.push(value);
        else this.numbers.push(...value);
      }
      for (const [path, link] of Object.entries(owner.links)) {
        const spec = this.slots.at(id, path)?.spec;
        if (spec) linked.push([`${id}/${path}`, spec, link]);
      }
    }
    this.links = linked.map(([address, spec, link]) => this.link(address, spec, link));
    this.linkOf = new Map(this.links.map((link) => [link.address, link]));
    for (const id of owners) this.tracks(id, ownerOf(shot, id)!);
    this.showings();
    this.arrange();
    const follows = this.follows();
    const program = this.program();
    const initial = new Float64Array(Math.max(CLOCK_SLOTS, this.numbers.length) + this.temporaryCount);
    initial.set(this.numbers);
    return {
      shot,
      names: this.names,
      loudness: this.loudness,
      slotCount: initial.length,
      slots: this.slots,
      initial,
      keyed: this.keyed,
      ...pool(this.keyed),
      oklab: Int32Array.from(this.oklab.values()),
      layers: [...this.layers.values()],
      links: this.links,
      order: this.order,
      held: this.links.filter((link) => link.expression === null),
      linkOf: this.linkOf,
      orderOf: this.orderOf,
      code: Int32Array.from(program.code),
      functions: program.functions,
      kernels: program.kernels,
      fit: Uint8Array.from(this.order, (link) => link.fit),
      min: Float64Array.from(this.order, (link) => link.min),
      max: Float64Array.from(this.order, (link) => link.max),
      ...this.tree(follows),
      nodeSequence: Int32Array.from(this.work.nodes),
      phases: this.work.phases,
      probes: this.probes,
      measures: this.measures,
      levels: this.levels,
      optionErrors: this.optionErrors,
    };
  }

  private link(address: string, spec: ChannelSpec, link: Link): PlannedLink {
    const slot = this.slots.get(address)!;
    const ownSlot = this.numbers.push(this.numbers[slot]!) - 1;
    const checked = checkRemembering(this.names, address, spec, link);
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
    };
  }

  /** Slot of a channel's value without its link. */
  private baseSlot(address: string): number {
    return this.linkOf.get(address)?.ownSlot ?? this.slots.get(address)!;
  }

  private tracks(id: string, owner: Owner): void {
    for (const [path, track] of Object.entries(owner.tracks)) {
      const address = `${id}/${path}`;
      const place = this.slots.at(id, path);
      if (!place) continue;
      const { spec } = place;
      const slot = owner.links[path] ? this.baseSlot(address) : place.slot;
      const oklab = spec.kind === 'colour' && track.blend === 'oklab';
      const components = compiledComponents(track, spec.kind === 'colour' ? 3 : 1).map(
        (compiled, component): KeyedComponent => ({
          address,
          component,
          slot: slot + component,
          track: compiled,
          room: compiled.length,
          fit: fitOf(spec),
          // OKLab coordinates are fitted after they have become a colour again.
          min: oklab ? -Infinity : spec.min,
          max: oklab ? Infinity : spec.max,
        }),
      );
      this.keyed.push(...components);
      if (oklab) this.oklab.set(address, slot);
    }
  }

  private keyedAt(address: string): readonly KeyedComponent[] {
    if (!this.keyedOf) {
      this.keyedOf = new Map();
      for (const component of this.keyed) {
        const list = this.keyedOf.get(component.address);
        if (list) list.push(component);
        else this.keyedOf.set(component.address, [component]);
      }
    }
    return this.keyedOf.get(address) ?? [];
  }

  private showings(): void {
    const width = (address: string): 1 | 3 | null => {
      const spec = this.slots.specOf(address);
      return !spec?.animatable ? null : spec.kind === 'colour' ? 3 : 1;
    };
    for (const [address, showings] of showingsOf(this.shot, width)) {
      const spec = this.slots.specOf(address)!;
      const slot = this.baseSlot(address);
      const stored = storedValue(this.shot, channelAt(this.shot, address)!);
      this.layers.set(address, {
        address,
        slot,
        fit: fitOf(spec),
        min: spec.min,
        max: spec.max,
        stored: trackOf(this.shot, address) ? null : typeof stored === 'number' ? [stored] : [...stored],
        showings,
      });
      this.clipped.add(splitAddress(address).owner);
    }
  }

  /** Puts links and places in order, and takes what makes loops out of force. */
  private arrange(): void {
    const { links } = this;
    this.work = schedule({ shot: this.shot, links, nodes: this.nodes, nodeOf: this.nodeOf });
    for (const loop of this.work.loops) {
      const chain = loop.map((item) => this.itemName(item));
      const message = `This is part of a loop: ${[...chain, chain[0]].join(' reads ')}. Let one of them read something else.`;
      for (const item of loop) {
        const link = links[item];
        if (link) {
          const to = this.formulaOf(link.address).length;
          links[item] = {
            ...link,
            expression: null,
            error: { code: 'loop', from: 0, to, message, fixes: [] },
          };
        } else {
          const id = this.nodes[item - links.length]!;
          const part = this.shot.parts[id]!;
          if (part.aim || part.follow) this.optionErrors.set(id, message);
        }
      }
    }
    this.linkOf = new Map(links.map((link) => [link.address, link]));
    this.order = this.work.links.map((i) => links[i]!);
    this.orderOf = new Map(this.order.map((link, i) => [link.address, i]));
  }

  private formulaOf(address: string): string {
    const slash = address.indexOf('/');
    return ownerOf(this.shot, address.slice(0, slash))?.links[address.slice(slash + 1)]?.formula ?? '';
  }

  private itemName(item: number): string {
    const link = this.links[item];
    if (!link) return `the place of ${this.shot.parts[this.nodes[item - this.links.length]!]!.name}`;
    const slash = link.address.indexOf('/');
    const owner = link.address.slice(0, slash);
    return `${this.names.nameOf(owner) ?? owner}.${link.address.slice(slash + 1)}`;
  }

  private program(): ProgramBuilder {
    // Constants are placed while instructions are written, temporaries after all constants: two rounds.
    const emit = (): ProgramBuilder => {
      this.temporaryCount = 0;
      const map: SlotMap = {
        channel: (address) => this.slots.get(address)!,
        clock: (name) => CLOCK_SLOT[name],
        constant: (value) => this.constant(value),
        temporary: (offset, count) => {
          this.temporaryCount = Math.max(this.temporaryCount, offset + count);
          return this.temporaryBase + offset;
        },
        special: (node, own) => this.special(node, own),
      };
      const builder = new ProgramBuilder(map);
      this.order.forEach((link, index) => {
        link.from = builder.code.length;
        builder.add(link.expression!, { ...link, index });
        link.to = builder.code.length;
      });
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

  private special(node: Parameters<SlotMap['special']>[0], own: string): number {
    let index = this.specials.get(node);
    if (index === undefined) {
      if (node.type === 'probe') index = this.probes.push(this.probe(node, own)) - 1;
      else if (node.type === 'measure')
        index =
          this.measures.push({
            kind: node.kind,
            nodes: node.parts.map((part) => this.nodeOf.get(part) ?? -1),
            follow: this.followOf.get(node.parts[0]!) ?? -1,
          }) - 1;
      else
        index = this.levels.push({ sound: node.sound, start: this.shot.sounds[node.sound]?.start ?? 0 }) - 1;
      this.specials.set(node, index);
    }
    return index;
  }

  private probe(node: Expression & { type: 'probe' }, own: string): Probe {
    const address = node.address ?? own;
    const needs = new Needs(this.shot, this.linkOf, node.address === null);
    needs.channel(address);
    const reads = new Needs(this.shot, this.linkOf, node.address === null, true);
    reads.channel(address);
    const inOrder = (link: number): boolean => needs.addresses.has(this.order[link]!.address);
    const phases = this.work.phases.map((phase) => ({
      links: range(phase.linkFrom, phase.linkTo).filter(
        (i) => inOrder(i) && !(node.address === null && this.order[i]!.address === own),
      ),
      nodes: this.work.nodes
        .slice(phase.nodeFrom, phase.nodeTo)
        .filter((i) => needs.parts.has(this.nodes[i]!)),
    }));
    const sub: SubPlan = {
      keyed: [...needs.addresses].flatMap((entry) => this.keyedAt(entry)),
      oklab: Int32Array.from([...needs.addresses].flatMap((entry) => this.oklab.get(entry) ?? [])),
      layers: [...needs.addresses].flatMap((entry) => this.layers.get(entry) ?? []),
      held: [...needs.addresses].flatMap((entry) => {
        const link = this.linkOf.get(entry);
        return link && !link.expression ? [link] : [];
      }),
      phases: phases.filter((phase) => phase.links.length + phase.nodes.length > 0),
    };
    const slot = node.address === null ? this.baseSlot(own) : this.slots.get(address)!;
    return { kind: node.kind, slot, sub, reads: [...reads.addresses] };
  }

  private follows(): PlannedFollow[] {
    const out: PlannedFollow[] = [];
    for (const id of this.nodes) {
      const follow = this.shot.parts[id]!.follow;
      if (!follow || this.optionErrors.has(id)) continue;
      const points = pathPoints(this.shot, follow.path).map((point) => this.nodeOf.get(point)!);
      this.followOf.set(id, out.length);
      out.push({
        points: Int32Array.from(points),
        closed: follow.closed,
        turn: follow.turn,
        alongSlot: this.slots.get(`${id}/along`)!,
      });
    }
    return out;
  }

  private tree(
    follows: readonly PlannedFollow[],
  ): Pick<
    Plan,
    | 'nodes'
    | 'nodeOf'
    | 'nodeBase'
    | 'nodeParent'
    | 'nodeFrame'
    | 'nodeOrder'
    | 'nodeVisible'
    | 'nodeMoves'
    | 'nodePlain'
    | 'nodeAim'
    | 'nodeFollow'
    | 'nodeRepeat'
    | 'nodeWithin'
    | 'follows'
    | 'repeats'
  > {
    const { shot, nodes, nodeOf } = this;
    const count = nodes.length;
    const nodeBase = new Int32Array(count);
    const nodeParent = new Int32Array(count);
    const nodeFrame = new Int32Array(count);
    const nodeOrder = new Uint8Array(count);
    const nodeVisible = new Int32Array(count);
    const nodeMoves = new Uint8Array(count);
    const nodeFollow = new Int32Array(count).fill(-1);
    const nodeRepeat = new Int32Array(count).fill(-1);
    const nodeWithin = new Int32Array(count).fill(-1);
    const nodeAim: (PlannedAim | null)[] = [];
    const repeats: PlannedRepeat[] = [];
    const watched = new Set([...PLACE_CHANNELS.map((spec) => spec.path), 'visible']);
    nodes.forEach((id, i) => {
      const part = shot.parts[id]!;
      nodeBase[i] = this.slots.at(id, PLACE_CHANNELS[0]!.path)!.slot;
      const parent = part.parent === null ? -1 : (nodeOf.get(part.parent) ?? -1);
      nodeParent[i] = parent;
      nodeFrame[i] = parent >= 0 && nodeRepeat[parent]! >= 0 ? count + nodeRepeat[parent]! : parent;
      nodeWithin[i] = parent < 0 ? -1 : nodeRepeat[parent]! >= 0 ? nodeRepeat[parent]! : nodeWithin[parent]!;
      nodeOrder[i] = ROTATION_ORDERS.indexOf(part.rotationOrder);
      nodeVisible[i] = this.slots.at(id, 'visible')!.slot;
      nodeFollow[i] = this.followOf.get(id) ?? -1;
      const aims = part.aim && !this.optionErrors.has(id) && nodeOf.has(part.aim.target);
      nodeAim.push(aims ? { ...part.aim, target: nodeOf.get(part.aim.target)! } : null);
      if (part.kind === 'repeat') {
        nodeRepeat[i] = repeats.length;
        repeats.push(this.repeat(id, i));
      }
      const alive =
        nodeAim[i] !== null ||
        nodeFollow[i] >= 0 ||
        nodeRepeat[i]! >= 0 ||
        [part.tracks, part.links].some((record) => Object.keys(record).some((path) => watched.has(path))) ||
        this.clipped.has(id);
      nodeMoves[i] = alive || (parent >= 0 && nodeMoves[parent] === 1) ? 1 : 0;
    });
    return {
      nodes,
      nodeOf,
      nodeBase,
      nodeParent,
      nodeFrame,
      nodeOrder,
      nodeVisible,
      nodeMoves,
      nodePlain: Uint8Array.from(nodes, (_, i) =>
        nodeAim[i] === null && nodeFollow[i]! < 0 && nodeRepeat[i]! < 0 ? 1 : 0,
      ),
      nodeAim,
      nodeFollow,
      nodeRepeat,
      nodeWithin,
      follows,
      repeats,
    };
  }

  private repeat(id: string, node: number): PlannedRepeat {
    const part = this.shot.parts[id]!;
    const step = part.repeat?.step ?? null;
    const hub = step !== null && this.shot.parts[step]?.parent === id ? step : null;
    const slot = (path: string): number => this.slots.get(`${id}/${path}`)!;
    return {
      node,
      pattern: part.repeat?.pattern ?? 'row',
      stepBase: hub === null ? -1 : this.slots.get(`${hub}/${PLACE_CHANNELS[0]!.path}`)!,
      stepOrder: hub === null ? 0 : ROTATION_ORDERS.indexOf(this.shot.parts[hub]!.rotationOrder),
      copiesSlot: slot('copies'),
      gapSlot: slot('gap'),
      spanSlot: slot('span'),
      copyBase: slot(COPY_CHANNELS[0]!.path),
      links: this.order.flatMap((link, i) =>
        COPY_CHANNELS.some((spec) => link.address === `${id}/${spec.path}`) ? [i] : [],
      ),
    };
  }
}

function pool(keyed: readonly KeyedComponent[]): Pick<Plan, 'tracks' | 'origins'> {
  const origins = new Int32Array(keyed.length);
  const length = keyed.reduce((sum, { track }) => sum + track.length, 0);
  const tracks = new Float64Array(length);
  let at = 0;
  keyed.forEach(({ track }, i) => {
    origins[i] = at;
    tracks.set(track, at);
    at += track.length;
  });
  return { tracks, origins };
}

function range(from: number, to: number): number[] {
  return Array.from({ length: to - from }, (_, i) => from + i);
}

/** Everything that one value depends on. */
class Needs {
  readonly addresses = new Set<string>();
  readonly parts = new Set<string>();

  /**
   * @param ownOnly stop at the first channel's own value, without its link
   * @param probing follow what is read at other moments too
   */
  constructor(
    private readonly shot: Shot,
    private readonly linkOf: ReadonlyMap<string, PlannedLink>,
    private ownOnly: boolean,
    private readonly probing = false,
  ) {}

  channel(address: string): void {
    if (this.addresses.has(address)) return;
    this.addresses.add(address);
    const skip = this.ownOnly;
    this.ownOnly = false;
    const expression = this.linkOf.get(address)?.expression;
    if (!expression || skip) return;
    eachNode(expression, (node) => {
      if (node.type === 'channel') this.channel(node.address);
      if (node.type === 'probe' && this.probing && node.address !== null) this.channel(node.address);
    });
    const { place, paths } = partsMeasured(expression);
    for (const part of place) this.anchor(part);
    for (const part of paths) this.path(part);
  }

  private path(part: string): void {
    const follow = this.shot.parts[part]?.follow;
    if (follow) for (const point of pathPoints(this.shot, follow.path)) this.anchor(point);
  }

  private anchor(id: string): void {
    const { channels, node } = anchorOf(this.shot, id);
    for (const address of channels) this.channel(address);
    if (node !== null) this.part(node);
  }

  part(id: string): void {
    const part = this.shot.parts[id];
    if (!part || this.parts.has(id)) return;
    this.parts.add(id);
    for (const spec of channelsOf(this.shot, id)) this.channel(`${id}/${spec.path}`);
    if (part.parent !== null) this.part(part.parent);
    if (part.aim) this.anchor(part.aim.target);
    if (part.follow) this.path(id);
    const step = part.repeat?.step;
    if (step && this.shot.parts[step])
      for (const spec of PLACE_CHANNELS) this.channel(`${step}/${spec.path}`);
  }
}
