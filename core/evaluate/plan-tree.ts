import { COPY_CHANNELS, PLACE_CHANNELS, type Part, type Shot } from '../document';
import { readsOuter } from '../formula';
import { ROTATION_ORDERS } from '../transform';
import type { Plan, PlannedAim, PlannedFollow, PlannedLink, PlannedRepeat } from './plan';
import { pathPoints } from './reads';
import type { SlotTable } from './slot-table';

/** What the tree of parts is planned from. */
export interface TreeInput {
  readonly shot: Shot;
  readonly slots: SlotTable;
  /** Parts in tree order. */
  readonly nodes: readonly string[];
  readonly nodeOf: ReadonlyMap<string, number>;
  readonly order: readonly PlannedLink[];
  /** Owners of channels on which clips are shown. */
  readonly clipped: ReadonlySet<string>;
  readonly optionErrors: ReadonlyMap<string, string>;
}

type PlannedTree = Pick<
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
>;

const WATCHED: ReadonlySet<string> = new Set([...PLACE_CHANNELS.map((spec) => spec.path), 'visible']);
const moves = new WeakMap<Part, boolean>();

/** Whether keys or links of a part itself move it or switch it on and off. */
export function movesItself(part: Part): boolean {
  let found = moves.get(part);
  if (found === undefined) {
    found = [part.tracks, part.links].some((record) => Object.keys(record).some((path) => WATCHED.has(path)));
    moves.set(part, found);
  }
  return found;
}

/**
 * Parts that follow a path, with the points of it.
 * @param same plan with the same places of parts and slots
 */
export function planFollows(
  { shot, slots, nodes, nodeOf, optionErrors }: TreeInput,
  same: Plan | null,
): { follows: readonly PlannedFollow[]; followOf: ReadonlyMap<string, number> } {
  if (same && same.follows.length === 0) return { follows: [], followOf: new Map() };
  const follows: PlannedFollow[] = [];
  const followOf = new Map<string, number>();
  for (const id of nodes) {
    const follow = shot.parts[id]!.follow;
    if (!follow || optionErrors.has(id)) continue;
    followOf.set(id, follows.length);
    follows.push({
      points: Int32Array.from(pathPoints(shot, follow.path), (point) => nodeOf.get(point)!),
      closed: follow.closed,
      turn: follow.turn,
      alongSlot: slots.get(`${id}/along`)!,
    });
  }
  return { follows, followOf };
}

/**
 * The tree of parts as arrays, parents before what hangs from them.
 * @param same plan with the same places of parts and slots, whose arrays are taken over
 */
export function planTree(
  input: TreeInput,
  { follows, followOf }: ReturnType<typeof planFollows>,
  same: Plan | null,
): PlannedTree {
  const { shot, slots, nodes, nodeOf, clipped, optionErrors } = input;
  if (same) {
    const repeats = same.repeats.map(({ node }) => planRepeat(input, nodes[node]!, node));
    const { nodeBase, nodeParent, nodeFrame, nodeOrder, nodeVisible, nodeMoves, nodePlain } = same;
    const { nodeAim, nodeFollow, nodeRepeat, nodeWithin } = same;
    return {
      ...{ nodes, nodeOf, nodeBase, nodeParent, nodeFrame, nodeOrder, nodeVisible, nodeMoves, nodePlain },
      ...{ nodeAim, nodeFollow, nodeRepeat, nodeWithin, follows, repeats },
    };
  }
  const count = nodes.length;
  const nodeBase = new Int32Array(count);
  const nodeParent = new Int32Array(count);
  const nodeFrame = new Int32Array(count);
  const nodeOrder = new Uint8Array(count);
  const nodeVisible = new Int32Array(count);
  const nodeMoves = new Uint8Array(count);
  const nodePlain = new Uint8Array(count);
  const nodeFollow = new Int32Array(count).fill(-1);
  const nodeRepeat = new Int32Array(count).fill(-1);
  const nodeWithin = new Int32Array(count).fill(-1);
  const nodeAim: (PlannedAim | null)[] = [];
  const repeats: PlannedRepeat[] = [];
  nodes.forEach((id, i) => {
    const part = shot.parts[id]!;
    nodeBase[i] = slots.slotOf(id, PLACE_CHANNELS[0]!.path);
    nodeVisible[i] = slots.slotOf(id, 'visible');
    const parent = part.parent === null ? -1 : (nodeOf.get(part.parent) ?? -1);
    const repeatAbove = parent < 0 ? -1 : nodeRepeat[parent]!;
    nodeParent[i] = parent;
    nodeFrame[i] = repeatAbove >= 0 ? count + repeatAbove : parent;
    nodeWithin[i] = parent < 0 ? -1 : repeatAbove >= 0 ? repeatAbove : nodeWithin[parent]!;
    nodeOrder[i] = ROTATION_ORDERS.indexOf(part.rotationOrder);
    nodeFollow[i] = followOf.get(id) ?? -1;
    const target = part.aim && !optionErrors.has(id) ? nodeOf.get(part.aim.target) : undefined;
    nodeAim.push(target === undefined ? null : { ...part.aim!, target });
    if (part.kind === 'repeat') {
      nodeRepeat[i] = repeats.length;
      repeats.push(planRepeat(input, id, i));
    }
    const plain = target === undefined && nodeFollow[i] < 0 && nodeRepeat[i]! < 0;
    nodePlain[i] = plain ? 1 : 0;
    const alive = !plain || movesItself(part) || clipped.has(id);
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
    nodePlain,
    nodeAim,
    nodeFollow,
    nodeRepeat,
    nodeWithin,
    follows,
    repeats,
  };
}

/** The repeat below which a part hangs nearest, or `null`. */
function repeatAround(shot: Shot, id: string): string | null {
  for (let up = shot.parts[id]!.parent; up !== null; up = shot.parts[up]?.parent ?? null)
    if (shot.parts[up]?.kind === 'repeat') return up;
  return null;
}

function planRepeat({ shot, slots, order }: TreeInput, id: string, node: number): PlannedRepeat {
  const part = shot.parts[id]!;
  const step = part.repeat?.step ?? null;
  const hub = step !== null && shot.parts[step]?.parent === id ? step : null;
  const slot = (path: string): number => slots.slotOf(id, path);
  const copies = new Set(COPY_CHANNELS.map((spec) => `${id}/${spec.path}`));
  const links = order.flatMap((link, i) => (copies.has(link.address) ? [i] : []));
  const around = repeatAround(shot, id);
  const tells = links.some((i) => order[i]!.expression !== null && readsOuter(order[i]!.expression));
  return {
    node,
    pattern: part.repeat?.pattern ?? 'row',
    stepBase: hub === null ? -1 : slots.slotOf(hub, PLACE_CHANNELS[0]!.path),
    stepOrder: hub === null ? 0 : ROTATION_ORDERS.indexOf(shot.parts[hub]!.rotationOrder),
    copiesSlot: slot('copies'),
    gapSlot: slot('gap'),
    spanSlot: slot('span'),
    copyBase: slot(COPY_CHANNELS[0]!.path),
    links,
    outerSlot: around !== null && tells ? slots.slotOf(around, 'copies') : -1,
  };
}
