import { COPY_PREFIX, PLACE_CHANNELS, splitAddress } from '../document';
import { addressesRead, eachNode, partsMeasured } from '../formula';
import { anchorOf, pathPoints } from './graph';
import type { Plan, PlannedLink } from './plan';

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
  const ofSlot = new Map<number, number[]>();
  const ofNode: number[][] = plan.nodes.map(() => []);
  const ofHistory = new Map<string, number[]>();
  const push = <K>(map: Map<K, number[]>, key: K, step: number): void => {
    const list = map.get(key);
    if (!list) map.set(key, [step]);
    else if (list.at(-1) !== step) list.push(step);
  };
  const slot = (address: string, step: number): void => {
    const found = plan.slots.get(address);
    if (found !== undefined) push(ofSlot, found, step);
  };
  const node = (part: string, step: number): void => {
    const found = plan.nodeOf.get(part);
    if (found !== undefined && ofNode[found]!.at(-1) !== step) ofNode[found]!.push(step);
  };
  const anchor = (part: string, step: number): void => {
    const { channels, node: hangs } = anchorOf(plan.shot, part);
    for (const address of channels) slot(address, step);
    if (hangs !== null) node(hangs, step);
  };
  const probeOf = new Map(plan.probes.map((probe) => [`${probe.kind} ${probe.slot}`, probe]));
  /** Notes that a step reads all that the formula of a link does. */
  const formula = (link: PlannedLink, step: number): void => {
    const expression = link.expression!;
    push(ofSlot, link.ownSlot, step);
    for (const address of addressesRead(expression)) slot(address, step);
    const { place, paths } = partsMeasured(expression);
    for (const part of place) anchor(part, step);
    for (const part of paths) {
      const follow = plan.shot.parts[part]?.follow;
      if (follow) for (const point of pathPoints(plan.shot, follow.path)) anchor(point, step);
    }
    eachNode(expression, (inner) => {
      if (inner.type !== 'probe') return;
      const asked = inner.address === null ? link.ownSlot : plan.slots.get(inner.address);
      for (const address of probeOf.get(`${inner.kind} ${asked}`)?.reads ?? [])
        push(ofHistory, address, step);
    });
  };
  plan.order.forEach((link, step) => {
    formula(link, step);
    // A per-copy channel is worked out again by its repeat, copy after copy.
    const { owner, path } = splitAddress(link.address);
    if (path.startsWith(COPY_PREFIX))
      push(ofSlot, link.slot, plan.order.length + (plan.nodeOf.get(owner) ?? 0));
  });
  const links = plan.order.length;
  plan.nodes.forEach((id, i) => {
    const step = links + i;
    const part = plan.shot.parts[id]!;
    for (const spec of PLACE_CHANNELS) slot(`${id}/${spec.path}`, step);
    slot(`${id}/visible`, step);
    if (part.parent !== null) node(part.parent, step);
    if (plan.nodeAim[i]) anchor(part.aim!.target, step);
    if (plan.nodeFollow[i]! >= 0) {
      slot(`${id}/along`, step);
      for (const point of pathPoints(plan.shot, part.follow!.path)) anchor(point, step);
    }
    const repeat = plan.nodeRepeat[i]!;
    if (repeat < 0) return;
    const { copiesSlot, gapSlot, spanSlot, copyBase, stepBase, links: perCopy } = plan.repeats[repeat]!;
    for (const read of [copiesSlot, gapSlot, spanSlot]) push(ofSlot, read, step);
    for (let k = 0; k < 14; k++) push(ofSlot, copyBase + k, step);
    if (stepBase >= 0) for (let k = 0; k < PLACE_CHANNELS.length; k++) push(ofSlot, stepBase + k, step);
    // What per-copy links read makes every copy new.
    for (const link of perCopy) formula(plan.order[link]!, step);
  });
  return { ofSlot, ofNode, ofHistory };
}
