import {
  channelAt,
  OWNER_TABLES,
  ownerOf,
  splitAddress,
  storedValue,
  trackOf,
  treeOrder,
  type ChannelSpec,
  type Link,
  type Owner,
  type Shot,
} from '../document';
import { NameTable, type CheckedLink, type Expression, type FormulaError, type Linkage } from '../formula';
import { checkRemembering } from './checked-link';
import { fitOf } from './constrain';
import { restricted, schedule, type KnownWork, type Schedule } from './graph';
import { pieceOf, type LoudnessTables, type SoundPiece } from './loudness';
import { Needs } from './needs';
import { NumberStore } from './number-store';
import {
  CLOCK_SLOT,
  CLOCK_SLOTS,
  type LayeredChannel,
  type Measure,
  type Plan,
  type PlannedLink,
  type PlannedLinkage,
  type Probe,
  type SubPlan,
} from './plan';
import { limitsOf } from './link-limits';
import { PlannedTracks } from './plan-tracks';
import { planFollows, planTree, type TreeInput } from './plan-tree';
import { CallTable, joinSegments, type Segment } from './program';
import { ProgramBuilder, type SlotMap } from './program-builder';
import { showingsOf } from './showing';
import { SlotTable } from './slot-table';
import { changesSince, type SincePlan } from './since-plan';

/** Temporaries that plans begin with; a formula that needs more doubles them. */
const TEMPORARIES = 64;
/** Numbers without a use that a plan takes over from those before it, in place of being made from the ground. */
const WASTE = 4096;

/**
 * Prepares a shot for evaluation. Never fails: links in error are out of force and say why.
 * @param loudness tables of the shot's sounds; where one is missing, `level` gives no number
 * @param before plan of an earlier state of the same shot: what has not changed since is taken over, which makes the
 *   plan of an edit several times quicker. It goes on being usable, and the new one gives the same numbers as one
 *   that is made from the ground
 */
export function compile(shot: Shot, loudness: LoudnessTables = {}, before: Plan | null = null): Plan {
  let from = before && wasteOf(before) <= WASTE ? before : null;
  let room = from?.memory.temporaries ?? TEMPORARIES;
  for (;;) {
    const builder = new PlanBuilder(shot, loudness, from, room);
    const plan = builder.build();
    if (builder.temporariesUsed <= room) return plan;
    from = null;
    while (room < builder.temporariesUsed) room *= 2;
  }
}

/** Numbers of a plan that nothing uses: those of what has been removed since it was first made. */
function wasteOf(plan: Plan): number {
  const { temporaries, constants } = plan.memory;
  let own = 0;
  for (const { width } of plan.links) own += width;
  const slots = CLOCK_SLOTS + temporaries + plan.slots.taken + own + constants.size;
  let keys = 0;
  for (const { room } of plan.keyed) keys += room;
  return plan.slotCount - slots + Math.max(0, plan.tracks.length - 2 * keys);
}

type Owners = Readonly<Record<string, Owner>>;

/** All owners of channels, each table beside what it was in the plan before. */
function ownerTables(shot: Shot, before: Plan | null): (readonly [now: Owners, was: Owners | undefined])[] {
  return OWNER_TABLES.map((name) => [shot[name], before?.shot[name]] as const);
}

class PlanBuilder {
  temporariesUsed = 0;
  private readonly names: NameTable;
  private readonly slots: SlotTable;
  private readonly numbers: NumberStore;
  private readonly constants: Map<number, number>;
  private readonly calls: CallTable;
  private readonly segments = new Map<string, Segment & { expression: Expression }>();
  /** Owners of channels on which clips are shown. */
  private readonly clipped = new Set<string>();
  private readonly since: SincePlan | null;
  /** Owners that have gone since the plan before. */
  private readonly gone: ReadonlySet<string>;
  private tracks!: PlannedTracks;
  private layers!: Map<string, LayeredChannel>;
  private readonly nodes: readonly string[];
  private readonly nodeOf: ReadonlyMap<string, number>;
  private links: PlannedLink[] = [];
  private readonly errors = new Map<string, { link: Link; error: FormulaError }>();
  private order: PlannedLink[] = [];
  private orderOf: ReadonlyMap<string, number> = new Map();
  private linkOf = new Map<string, PlannedLink>();
  private work!: Schedule;
  private readonly optionErrors = new Map<string, string>();
  private followOf!: ReadonlyMap<string, number>;
  private readonly probes: Probe[] = [];
  private readonly measures: Measure[] = [];
  private readonly levels: { sound: string; piece: SoundPiece }[] = [];
  private readonly linkages: PlannedLinkage[] = [];
  private readonly pinned: Plan['pinned'][number][] = [];
  private readonly specials = new Map<Expression, number>();

  constructor(
    private readonly shot: Shot,
    private readonly loudness: LoudnessTables,
    private readonly before: Plan | null,
    private readonly temporaries: number,
  ) {
    this.names = new NameTable(shot);
    this.since = before && changesSince(before, shot);
    this.gone = new Set(this.since?.gone);
    this.slots = new SlotTable(shot, before?.slots ?? null, this.since);
    this.numbers = new NumberStore(before?.initial ?? null, before?.slotCount ?? CLOCK_SLOTS + temporaries);
    this.constants = new Map(before?.memory.constants);
    this.calls = new CallTable(before?.memory.calls ?? null);
    this.nodes = this.since?.sameTree ? before!.nodes : treeOrder(shot).map((entry) => entry.id);
    this.nodeOf = this.since?.sameTree ? before!.nodeOf : new Map(this.nodes.map((id, i) => [id, i]));
  }

  build(): Plan {
    const { shot } = this;
    if (!this.keepLinks()) {
      for (const [table, was] of ownerTables(shot, this.before))
        for (const id in table) this.owner(id, table[id]!, was?.[id]);
      this.linkOf = new Map(this.links.map((link) => [link.address, link]));
    }
    this.tracks = new PlannedTracks(
      shot,
      this.slots,
      (address) => this.baseSlot(address),
      this.before,
      this.since,
    );
    this.showings();
    this.arrange();
    const { slots, nodes, nodeOf, order, clipped, optionErrors } = this;
    const tree: TreeInput = { shot, slots, nodes, nodeOf, order, clipped, optionErrors };
    const same = this.since?.samePlaces && optionErrors.size === 0 ? this.before : null;
    const follows = planFollows(tree, same);
    this.followOf = follows.followOf;
    const program = this.program();
    const initial = this.numbers.finish();
    return {
      shot,
      names: this.names,
      loudness: this.loudness,
      slotCount: initial.length,
      slots: this.slots,
      initial,
      ...this.tracks.finish(),
      layers: [...this.layers.values()],
      links: this.links,
      errors: this.errors,
      order: this.order,
      held: this.links.filter((link) => link.expression === null),
      linkOf: this.linkOf,
      orderOf: this.orderOf,
      ...program,
      functions: this.calls.functions,
      kernels: this.calls.kernels,
      ...limitsOf(this.order, this.before),
      ...planTree(tree, follows, same),
      nodeSequence: Int32Array.from(this.work.nodes),
      phases: this.work.phases,
      probes: this.probes,
      measures: this.measures,
      levels: this.levels,
      linkages: this.linkages,
      pinned: this.pinned,
      optionErrors: this.optionErrors,
      memory: {
        temporaries: this.temporaries,
        constants: this.constants,
        calls: this.calls,
        segments: this.segments,
        keyedOf: this.tracks.keyedOf,
        oklab: this.tracks.oklab,
        work: this.work.loops.length === 0 ? this.work : null,
      },
    };
  }

  /**
   * Takes over all links but those of owners that have changed and those that name what has gone, where no edit has added
   * or removed one, or renamed anything that was there; says whether it could.
   */
  private keepLinks(): boolean {
    const { before, since, shot } = this;
    if (!before || !since?.sameMeanings) return false;
    const pathsOf = (owner: Owner | null): string => (owner ? Object.keys(owner.links).join() : '');
    if (since.gone.some((id) => pathsOf(ownerOf(before.shot, id)) !== '')) return false;
    const touched = new Set<string>();
    for (const id of since.changed) {
      const now = ownerOf(shot, id)!;
      if (pathsOf(ownerOf(before.shot, id)) !== pathsOf(now)) return false;
      for (const path in now.links) touched.add(`${id}/${path}`);
    }
    for (const id of since.changed) this.values(id, ownerOf(shot, id)!);
    this.links = before.links.slice();
    this.linkOf = new Map(before.linkOf);
    for (let i = 0; i < this.links.length; i++) {
      const { address, expression } = this.links[i]!;
      // Loops are found anew each time: what was on one may be on none now.
      const stands = expression !== null && !touched.has(address);
      if (stands && this.gone.size === 0) continue;
      const { owner: id, path } = splitAddress(address);
      const owner = ownerOf(shot, id)!;
      if (stands && !this.namesGone(owner.links[path]!)) continue;
      const link = this.link(address, this.slots.at(id, path)!.spec, owner.links[path]!, owner);
      this.links[i] = link;
      this.linkOf.set(address, link);
    }
    return true;
  }

  /** Gives an owner its slots and puts its values there. */
  private values(id: string, owner: Owner): void {
    const { slots, numbers } = this;
    if (!slots.knows(id)) numbers.reserve(slots.add(id, numbers.length));
    let at = slots.baseOf(id);
    for (const spec of slots.specsOf(id)) {
      const value = owner.values[spec.path] ?? spec.initial;
      if (typeof value === 'number') numbers.set(at++, value);
      else for (const component of value) numbers.set(at++, component);
    }
  }

  /** Gives an owner its slots, puts its values there, and plans its links. */
  private owner(id: string, owner: Owner, was: Owner | undefined): void {
    const { slots } = this;
    if (owner !== was) this.values(id, owner);
    for (const path in owner.links) {
      const address = `${id}/${path}`;
      const old =
        owner === was && this.since!.sameMeanings && !this.namesGone(owner.links[path]!)
          ? this.before!.linkOf.get(address)
          : undefined;
      // Loops are found anew each time: what was on one may be on none now.
      if (old?.expression) {
        this.links.push(old);
        continue;
      }
      const spec = slots.at(id, path)?.spec;
      if (spec) this.links.push(this.link(address, spec, owner.links[path]!, owner));
    }
  }

  /** Whether a link names something that has gone since the plan before. */
  private namesGone({ refs }: Link): boolean {
    if (this.gone.size > 0) for (const name in refs) if (this.gone.has(refs[name]!)) return true;
    return false;
  }

  private link(address: string, spec: ChannelSpec, link: Link, owner: Owner): PlannedLink {
    const stored = owner.values[spec.path] ?? spec.initial;
    const width = spec.kind === 'colour' ? 3 : 1;
    const ownSlot = this.before?.linkOf.get(address)?.ownSlot ?? this.numbers.reserve(width);
    if (typeof stored === 'number') this.numbers.set(ownSlot, stored);
    else stored.forEach((component, i) => this.numbers.set(ownSlot + i, component));
    const known = this.before?.errors.get(address);
    // An error can rest on any name there is; where none has changed it stands.
    const was = known?.link === link && this.since!.sameNames ? known.error : null;
    const checked: CheckedLink = was
      ? { ok: false, error: was }
      : checkRemembering(this.names, address, link);
    if (!checked.ok) this.errors.set(address, { link, error: checked.error });
    return {
      address,
      slot: this.slots.get(address)!,
      ownSlot,
      width,
      expression: checked.ok ? checked.expression : null,
      error: checked.ok ? null : checked.error,
      fit: fitOf(spec),
      min: spec.min,
      max: spec.max,
    };
  }

  /** Slot of a channel's value without its link. */
  private baseSlot(address: string): number {
    return this.linkOf.get(address)?.ownSlot ?? this.slots.get(address)!;
  }

  private showings(): void {
    const width = (address: string): 1 | 3 | null => {
      const spec = this.slots.specOf(address);
      return !spec?.animatable ? null : spec.kind === 'colour' ? 3 : 1;
    };
    this.layers = new Map();
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

  /** What the plan before found out of who waits for whom, where nothing else than formulas has changed. */
  private knownWork(): KnownWork | null {
    const { before, since, links } = this;
    const work = before?.memory.work;
    if (!before || !work || !since?.samePlaces || before.links.length !== links.length) return null;
    for (let i = 0; i < links.length; i++) {
      const was = before.links[i]!;
      const now = links[i]!;
      if (was === now) continue;
      if (was.address !== now.address || (was.expression === null) !== (now.expression === null)) return null;
    }
    return { work, expressionOf: (link) => before.links[link]!.expression };
  }

  /** Puts links and places in order, and takes what makes loops out of force. */
  private arrange(): void {
    const { links } = this;
    this.work = schedule(
      { shot: this.shot, links, nodes: this.nodes, nodeOf: this.nodeOf },
      this.knownWork(),
    );
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
          this.linkOf.set(link.address, links[item]);
        } else {
          const id = this.nodes[item - links.length]!;
          const part = this.shot.parts[id]!;
          if (part.aim || part.follow) this.optionErrors.set(id, message);
        }
      }
    }
    this.order = this.work.links.map((i) => links[i]!);
    const { before } = this;
    this.orderOf =
      before && this.work === before.memory.work
        ? before.orderOf
        : new Map(this.order.map((link, i) => [link.address, i]));
  }

  private formulaOf(address: string): string {
    const { owner, path } = splitAddress(address);
    return ownerOf(this.shot, owner)?.links[path]?.formula ?? '';
  }

  private itemName(item: number): string {
    const link = this.links[item];
    if (!link) return `the place of ${this.shot.parts[this.nodes[item - this.links.length]!]!.name}`;
    const { owner, path } = splitAddress(link.address);
    return `${this.names.nameOf(owner) ?? owner}.${path}`;
  }

  /**
   * Instructions of all links in force. Those of a formula that has not been checked anew are taken over: it is checked
   * anew whenever anything that it reads has other channels, so that the slots in them hold.
   */
  private program(): Pick<Plan, 'code' | 'starts'> {
    const map: SlotMap = {
      channel: (address) => this.slots.get(address)!,
      clock: (name) => CLOCK_SLOT[name],
      constant: (value) => this.constant(value),
      temporary: (offset, count) => {
        this.temporariesUsed = Math.max(this.temporariesUsed, offset + count);
        return CLOCK_SLOTS + offset;
      },
      special: (node, own) => this.special(node, own),
    };
    const builder = new ProgramBuilder(map, this.calls);
    const known = this.before?.memory.segments;
    const segments = this.order.map((link) => {
      const expression = link.expression!;
      const kept = known?.get(link.address);
      if (kept?.expression === expression) {
        this.segments.set(link.address, kept);
        return kept;
      }
      const made = { ...builder.segment(expression, link), expression };
      if (!made.special) this.segments.set(link.address, made);
      return made;
    });
    return joinSegments(segments);
  }

  private constant(value: number): number {
    // -0 and 0 are told apart, since 1 / x differs; NaN is free to stand for -0 as a map key.
    const key = Object.is(value, -0) ? NaN : value;
    let slot = this.constants.get(key);
    if (slot === undefined) {
      slot = this.numbers.push(value);
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
      else if (node.type === 'pinned')
        index = this.pinned.push({ ...node, linkage: this.linkage(node.linkage) }) - 1;
      else index = this.levels.push({ sound: node.sound, piece: pieceOf(this.shot.sounds[node.sound]) }) - 1;
      this.specials.set(node, index);
    }
    return index;
  }

  private linkage(linkage: Linkage): number {
    const known = this.linkages.findIndex((one) => one.linkage === linkage);
    if (known >= 0) return known;
    const slots = Int32Array.from(linkage.inputs, (address) =>
      address === null ? -1 : (this.slots.get(address) ?? -1),
    );
    return this.linkages.push({ linkage, slots }) - 1;
  }

  private probe(node: Expression & { type: 'probe' }, own: string): Probe {
    const ofOwn = node.address === null;
    const address = node.address ?? own;
    const formulaOf = (other: string): Expression | null => this.linkOf.get(other)?.expression ?? null;
    const needs = new Needs(this.shot, formulaOf, ofOwn);
    needs.channel(address);
    const reads = new Needs(this.shot, formulaOf, ofOwn, true);
    reads.channel(address);
    const addresses = [...needs.addresses];
    const links = addresses.flatMap((entry) =>
      ofOwn && entry === own ? [] : (this.orderOf.get(entry) ?? []),
    );
    const sub: SubPlan = {
      keyed: addresses.flatMap((entry) => this.tracks.at(entry)),
      oklab: Int32Array.from(
        this.tracks.oklab.flatMap((entry) => (needs.addresses.has(entry.address) ? entry.slot : [])),
      ),
      layers: addresses.flatMap((entry) => this.layers.get(entry) ?? []),
      held: addresses.flatMap((entry) => {
        const link = this.linkOf.get(entry);
        return link && !link.expression ? [link] : [];
      }),
      phases: restricted(
        this.work,
        links,
        [...needs.parts].map((id) => this.nodeOf.get(id)!),
      ),
    };
    const { kind, spring, pitch, component = 0 } = node;
    const slot = (ofOwn ? this.baseSlot(own) : this.slots.get(address)!) + component;
    return {
      kind,
      ...(spring ? { spring } : {}),
      ...(pitch ? { pitch } : {}),
      slot,
      sub,
      reads: [...reads.addresses],
    };
  }
}
