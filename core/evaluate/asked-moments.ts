import { COPIES_IN_ALL, COPY_CHANNELS, splitAddress, storedValue, channelAt, type Shot } from '../document';
import { eachNode, type Expression, type ProbeKind } from '../formula';
import type { Plan } from './plan';
import { formulaReads } from './reads';

/** Links that one frame may have worked out at other moments; more would take longer than anybody waits. */
export const MOMENTS_A_FRAME = 500_000;

/** How many moments of the channel asked for each kind looks at; what runs from the first frame
 * is remembered from frame to frame. */
const LOOKS: Record<ProbeKind, number> = {
  at: 1,
  speed: 2,
  travel: 4,
  gone: 8,
  follow: 8,
  since: 12,
  ratchet: 4,
};
const COPY_PATHS: ReadonlySet<string> = new Set(COPY_CHANNELS.map((spec) => spec.path));

/** Copies of a repeat, those of the repeats above it counted too, as they are stored. */
function copiesOf(shot: Shot, id: string): number {
  let copies = 1;
  for (let at: string | null = id; at !== null; at = shot.parts[at]?.parent ?? null)
    if (shot.parts[at]?.kind === 'repeat')
      copies *= storedValue(shot, channelAt(shot, `${at}/copies`)!) as number;
  return Math.min(copies, COPIES_IN_ALL);
}

interface Costs {
  /** Links that one look at the channel at another moment works out, its own among them. */
  readonly channel: (address: string) => number;
  readonly link: (expression: Expression) => number;
}

/** What looks at other moments cost at most. Each look works out anew all that the channel hangs from. */
function costsIn(plan: Plan): Costs {
  const known = new Map<string, number>();
  /** Links that a channel hangs from at its moment, itself among them. */
  const above = (address: string): Set<string> => {
    const found = new Set<string>();
    const open = [address];
    for (let next = open.pop(); next !== undefined; next = open.pop()) {
      const expression = plan.linkOf.get(next)?.expression;
      if (!expression || found.has(next)) continue;
      found.add(next);
      open.push(...formulaReads(expression).now);
    }
    return found;
  };
  const channel = (address: string): number => {
    const before = known.get(address);
    if (before !== undefined) return before;
    // Loops are held by the plan; should one come here, it costs more than is allowed.
    known.set(address, Infinity);
    let cost = 0;
    for (const each of above(address)) cost += 1 + link(plan.linkOf.get(each)!.expression!);
    known.set(address, cost);
    return cost;
  };
  const link = (expression: Expression): number => {
    let cost = 0;
    eachNode(expression, (node) => {
      if (node.type === 'probe' && node.address !== null)
        cost += LOOKS[node.kind] * Math.max(1, channel(node.address));
    });
    return cost;
  };
  return { channel, link };
}

/**
 * The link that asks most of other moments, and how many links all of them have worked out in one frame, at most.
 * `null` where none asks.
 */
export function askedMoments(plan: Plan): { readonly address: string; readonly moments: number } | null {
  const { link } = costsIn(plan);
  let most: { address: string; cost: number } | null = null;
  let moments = 0;
  for (const { address, expression } of plan.order) {
    if (!expression || formulaReads(expression).then.length === 0) continue;
    const { owner, path } = splitAddress(address);
    const each = COPY_PATHS.has(path) ? copiesOf(plan.shot, owner) : 1;
    const cost = link(expression) * each;
    moments += cost;
    if (!most || cost > most.cost) most = { address, cost };
  }
  return most && { address: most.address, moments };
}
