import type { Shot } from '../document';
import type { Expression } from '../formula';
import { orderLinks } from './order';
import { readsOfLink, readsOfPlace, type Reads } from './reads';

/** What the dependency graph is made of: links in force by address, and what parts ask of other parts. */
export interface GraphInput {
  readonly shot: Shot;
  /** Links that may run, in the order of their numbers. */
  readonly links: readonly { readonly address: string; readonly expression: Expression | null }[];
  /** Parts in tree order; item number of a part is the number of links plus its place here. */
  readonly nodes: readonly string[];
  readonly nodeOf: ReadonlyMap<string, number>;
}

/** The order of work: links and places of parts in phases, each after all it depends on. */
export interface Schedule {
  /** Numbers of links, phase after phase. */
  readonly links: readonly number[];
  /** Numbers of nodes, phase after phase. */
  readonly nodes: readonly number[];
  readonly phases: readonly Phase[];
  /** Items of each loop, in the order in which they depend on one another: links, then `links.length +` nodes. */
  readonly loops: readonly (readonly number[])[];
  /** Items that each item depends on, all in force. */
  readonly reads: readonly (readonly number[])[];
}

/** An earlier schedule without loops, of links of the same addresses, all in force or out of it as now, over the same places. */
export interface KnownWork {
  readonly work: Schedule;
  /** Formula that a link of this number had. */
  expressionOf(link: number): Expression | null;
}

/** Ranges [from, to) in the sequences of links and nodes that are worked out together. */
export interface Phase {
  readonly linkFrom: number;
  readonly linkTo: number;
  readonly nodeFrom: number;
  readonly nodeTo: number;
}

const sameItems = (a: readonly number[], b: readonly number[]): boolean =>
  a.length === b.length && a.every((item, i) => item === b[i]);

/** Items that each item depends on. Items out of force depend on nothing of their own making. */
function dependencies(
  input: GraphInput,
  outOfForce: (item: number) => boolean,
  known: KnownWork | null = null,
): readonly (readonly number[])[] {
  const { shot, links, nodes, nodeOf } = input;
  let linkAt = new Map<string, number>();
  const inForce = (index: number | undefined): index is number =>
    index !== undefined && links[index]!.expression !== null && !outOfForce(index);
  const itemsOf = ({ channels, then, places }: Reads): number[] => {
    const list: number[] = [];
    for (const addresses of [channels, then])
      for (const address of addresses) {
        const index = linkAt.get(address);
        if (inForce(index)) list.push(index);
      }
    for (const part of places) {
      const node = nodeOf.get(part);
      if (node !== undefined) list.push(links.length + node);
    }
    return list;
  };
  const ofLink = (expression: Expression | null, i: number): readonly number[] =>
    expression && !outOfForce(i) ? itemsOf(readsOfLink(shot, expression)) : [];
  const numberLinks = (): void => void (linkAt = new Map(links.map((link, i) => [link.address, i])));
  if (known) {
    const was = known.work.reads;
    let reads: (readonly number[])[] | null = null;
    for (let i = 0; i < links.length; i++) {
      const { expression } = links[i]!;
      if (expression === known.expressionOf(i)) continue;
      if (linkAt.size === 0) numberLinks();
      const now = ofLink(expression, i);
      if (!sameItems(now, was[i]!)) (reads ??= [...was])[i] = now;
    }
    return reads ?? was;
  }
  numberLinks();
  const ofLinks = links.map(({ expression }, i) => ofLink(expression, i));
  const ofNodes = nodes.map((id, i) => {
    const reads = readsOfPlace(shot, id, !outOfForce(links.length + i));
    const list = itemsOf(reads);
    // Only links have to run before: most parts have none.
    for (const owner of reads.owners)
      for (const path in shot.parts[owner.id]!.links) {
        if (!owner.paths.has(path)) continue;
        const index = linkAt.get(`${owner.id}/${path}`);
        if (inForce(index)) list.push(index);
      }
    return list;
  });
  return [...ofLinks, ...ofNodes];
}

/**
 * Finds loops, takes what makes them out of force, and puts the rest in order.
 * @param known what an earlier schedule found out, where it still stands
 */
export function schedule(input: GraphInput, known: KnownWork | null = null): Schedule {
  const whole = dependencies(input, () => false, known);
  // Other formulas that read the same run in the same order.
  if (known && whole === known.work.reads) return known.work;
  let reads = whole;
  const first = orderLinks(reads);
  let { order } = first;
  const broken = new Set(first.loops.flat());
  if (first.loops.length > 0) {
    reads = dependencies(input, (item) => broken.has(item));
    order = orderLinks(reads).order;
  }
  const linkCount = input.links.length;
  const phase = new Int32Array(reads.length);
  let last = 0;
  for (const item of order) {
    let at = 0;
    for (const other of reads[item]!)
      at = Math.max(at, phase[other]! + (item < linkCount && other >= linkCount ? 1 : 0));
    phase[item] = at;
    last = Math.max(last, at);
  }
  const links: number[] = [];
  const nodes: number[] = [];
  const phases: Phase[] = [];
  const byPhase: number[][] = Array.from({ length: last + 1 }, () => []);
  for (const item of order) byPhase[phase[item]!]!.push(item);
  for (const items of byPhase) {
    const linkFrom = links.length;
    const nodeFrom = nodes.length;
    for (const item of items) {
      if (item >= linkCount) nodes.push(item - linkCount);
      else if (input.links[item]!.expression && !broken.has(item)) links.push(item);
    }
    phases.push({ linkFrom, linkTo: links.length, nodeFrom, nodeTo: nodes.length });
  }
  return { links, nodes, phases, loops: first.loops, reads: whole };
}

const ranks = new WeakMap<Schedule, ReadonlyMap<number, number>>();

/** Phases of a schedule with nothing but some of its links (their places in it) and nodes; empty ones are left out. */
export function restricted(
  work: Schedule,
  links: readonly number[],
  nodes: readonly number[],
): { links: number[]; nodes: number[] }[] {
  let rankOf = ranks.get(work);
  if (!rankOf) {
    rankOf = new Map(work.nodes.map((node, rank) => [node, rank]));
    ranks.set(work, rankOf);
  }
  const upwards = (a: number, b: number): number => a - b;
  const inOrder = [...links].sort(upwards);
  const places = nodes.flatMap((node) => rankOf.get(node) ?? []).sort(upwards);
  return work.phases
    .map(({ linkFrom, linkTo, nodeFrom, nodeTo }) => ({
      links: inOrder.filter((i) => i >= linkFrom && i < linkTo),
      nodes: places.filter((i) => i >= nodeFrom && i < nodeTo).map((i) => work.nodes[i]!),
    }))
    .filter((phase) => phase.links.length + phase.nodes.length > 0);
}
