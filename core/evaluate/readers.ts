import { COPY_PREFIX, splitAddress } from '../document';
import type { Plan, PlannedLink } from './plan';
import { formulaReads, readsOfLink, readsOfPlace, type Reads } from './reads';

/**
 * Who reads what, by number: a step is a link (its place in `plan.order`) or, after all links, a node. Made at the first
 * edit, kept with the plan.
 */
export interface Readers {
  /** Steps that read a channel, by the channel's first slot; and by the own slot of a linked channel. */
  readonly ofSlot: ReadonlyMap<number, readonly number[]>;
  /** Steps that read the place of a node. */
  readonly ofNode: readonly (readonly number[])[];
  /** Links that ask for a channel at other moments: any change of it, at whatever frame, concerns them. */
  readonly ofHistory: ReadonlyMap<string, readonly number[]>;
}

const made = new WeakMap<Plan, Readers>();

export function readersOfPlan(plan: Plan): Readers {
  let readers = made.get(plan);
  if (!readers) {
    readers = makeReaders(plan);
    made.set(plan, readers);
  }
  return readers;
}

function makeReaders(plan: Plan): Readers {
  const { shot } = plan;
  const ofSlot = new Map<number, number[]>();
  const ofNode: number[][] = plan.nodes.map(() => []);
  const ofHistory = new Map<string, number[]>();
  const push = <K>(map: Map<K, number[]>, key: K, step: number): void => {
    const list = map.get(key);
    if (!list) map.set(key, [step]);
    else if (list.at(-1) !== step) list.push(step);
  };
  const add = ({ channels, then, places }: Reads, step: number): void => {
    for (const addresses of [channels, then])
      for (const address of addresses) {
        const slot = plan.slots.get(address);
        if (slot !== undefined) push(ofSlot, slot, step);
      }
    for (const part of places) {
      const node = plan.nodeOf.get(part);
      if (node !== undefined && ofNode[node]!.at(-1) !== step) ofNode[node]!.push(step);
    }
  };
  const probeOf = new Map(plan.probes.map((probe) => [`${probe.kind} ${probe.slot}`, probe]));
  const widthOf = (address: string): number => (plan.slots.specOf(address)?.kind === 'colour' ? 3 : 1);
  /** Notes that a step reads all that the formula of a link does. */
  const formula = (link: PlannedLink, step: number): void => {
    const expression = link.expression!;
    push(ofSlot, link.ownSlot, step);
    add(readsOfLink(shot, expression), step);
    for (const { kind, address } of formulaReads(expression).then) {
      const asked = address === null ? link.ownSlot : plan.slots.get(address)!;
      for (let c = 0; c < widthOf(address ?? link.address); c++)
        for (const read of probeOf.get(`${kind} ${asked + c}`)?.reads ?? []) push(ofHistory, read, step);
    }
  };
  const links = plan.order.length;
  plan.order.forEach((link, step) => {
    formula(link, step);
    // A per-copy channel is worked out again by its repeat, copy after copy.
    const { owner, path } = splitAddress(link.address);
    if (path.startsWith(COPY_PREFIX)) push(ofSlot, link.slot, links + (plan.nodeOf.get(owner) ?? 0));
  });
  plan.nodes.forEach((id, i) => {
    const reads = readsOfPlace(shot, id, !plan.optionErrors.has(id));
    for (const owner of reads.owners)
      for (const path of owner.paths) {
        const place = plan.slots.at(owner.id, path);
        if (place) push(ofSlot, place.slot, links + i);
      }
    add(reads, links + i);
    const repeat = plan.nodeRepeat[i]!;
    // What per-copy links read makes every copy new.
    if (repeat >= 0) for (const link of plan.repeats[repeat]!.links) formula(plan.order[link]!, links + i);
  });
  return { ofSlot, ofNode, ofHistory };
}
