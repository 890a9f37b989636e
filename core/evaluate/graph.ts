import { childrenOf, type Shot } from '../document';
import { addressesRead, partsMeasured, type Expression } from '../formula';
import { orderLinks } from './order';

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
}

/** Ranges [from, to) in the sequences of links and nodes that are worked out together. */
export interface Phase {
  readonly linkFrom: number;
  readonly linkTo: number;
  readonly nodeFrom: number;
  readonly nodeTo: number;
}

/** Children of the part that a follower's path goes through, in order. */
export function pathPoints(shot: Shot, path: string): string[] {
  return shot.parts[path] ? childrenOf(shot, path) : [];
}

/**
 * What the place of a part's pivot depends on: where it hangs, its location and its pivot, not its own turn, size or aim.
 * So two parts can face each other, and a part's size can follow its own distance from the camera.
 */
export function anchorOf(shot: Shot, id: string): { channels: readonly string[]; node: string | null } {
  const part = shot.parts[id];
  if (!part) return { channels: [], node: null };
  const names = part.follow ? ['pivot'] : ['location', 'pivot'];
  const channels = names.flatMap((name) => ['x', 'y', 'z'].map((axis) => `${id}/${name}.${axis}`));
  return { channels, node: part.follow ? id : part.parent };
}

/** Items that each item depends on. Items out of force depend on nothing of their own making. */
function dependencies(input: GraphInput, outOfForce: (item: number) => boolean): number[][] {
  const { shot, links, nodes, nodeOf } = input;
  const linkAt = new Map(links.map((link, i) => [link.address, i]));
  const item = (node: number): number => links.length + node;
  const out: number[][] = [];
  const channel = (list: number[], address: string): void => {
    const index = linkAt.get(address);
    if (index !== undefined && links[index]!.expression && !outOfForce(index)) list.push(index);
  };
  const place = (list: number[], part: string): void => {
    const node = nodeOf.get(part);
    if (node !== undefined) list.push(item(node));
  };
  const anchor = (list: number[], part: string): void => {
    const { channels, node } = anchorOf(shot, part);
    for (const address of channels) channel(list, address);
    if (node !== null) place(list, node);
  };
  links.forEach(({ expression }, i) => {
    const list: number[] = [];
    out.push(list);
    if (!expression || outOfForce(i)) return;
    for (const address of addressesRead(expression)) channel(list, address);
    const measured = partsMeasured(expression);
    for (const part of measured.place) anchor(list, part);
    for (const part of measured.paths) {
      const follow = shot.parts[part]?.follow;
      if (follow) for (const point of pathPoints(shot, follow.path)) anchor(list, point);
    }
  });
  nodes.forEach((id, i) => {
    const list: number[] = [];
    out.push(list);
    const part = shot.parts[id]!;
    for (const path of Object.keys(part.links)) channel(list, `${id}/${path}`);
    if (part.parent !== null) place(list, part.parent);
    const step = part.repeat?.step;
    if (step) for (const path of Object.keys(shot.parts[step]?.links ?? {})) channel(list, `${step}/${path}`);
    if (outOfForce(item(i))) return;
    if (part.aim) anchor(list, part.aim.target);
    if (part.follow) for (const point of pathPoints(shot, part.follow.path)) anchor(list, point);
  });
  return out;
}

/** Finds loops, takes what makes them out of force, and puts the rest in order. */
export function schedule(input: GraphInput): Schedule {
  let reads = dependencies(input, () => false);
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
  return { links, nodes, phases, loops: first.loops };
}
