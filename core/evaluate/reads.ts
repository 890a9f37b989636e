import { childrenOf, COPY_CHANNELS, PLACE_CHANNELS, type Shot } from '../document';
import { eachNode, partsMeasured, type Expression, type ProbeKind } from '../formula';

/**
 * The one place that knows who reads what. The order of work, what is worked out anew after an edit, what another moment
 * of a value needs, and the map of links are all made from it; only the plain reference evaluation has its own.
 */

/** What a formula names, by itself. */
export interface FormulaReads {
  /** Channels read at the frame that is worked out. */
  readonly now: readonly string[];
  /** What is asked for at other moments; `null` is the channel's own value. */
  readonly then: readonly { readonly kind: ProbeKind; readonly address: string | null }[];
  /** Parts whose pivot is measured. */
  readonly pivots: readonly string[];
  /** Parts whose whole place is measured. */
  readonly whole: readonly string[];
  /** Parts whose path is measured. */
  readonly paths: readonly string[];
}

/** What one step of work, a link or the place of a part, reads of others. */
export interface Reads {
  /** Addresses of channels read at the frame that is worked out. */
  readonly channels: readonly string[];
  /** Addresses of channels asked for at other moments. */
  readonly then: readonly string[];
  /** Parts whose own place has to be worked out before. */
  readonly places: readonly string[];
}

const remembered = new WeakMap<Expression, FormulaReads>();

/** What a formula names; formulas never change, so that it is found once for each. */
export function formulaReads(expression: Expression): FormulaReads {
  let reads = remembered.get(expression);
  if (!reads) {
    const now = new Set<string>();
    const then = new Map<string, FormulaReads['then'][number]>();
    eachNode(expression, (node) => {
      if (node.type === 'channel') now.add(node.address);
      if (node.type === 'probe')
        then.set(`${node.kind} ${node.address ?? ''}`, { kind: node.kind, address: node.address });
      if (node.type === 'pinned')
        for (const address of node.linkage.inputs) if (address !== null) now.add(address);
    });
    const { pivot, place, path } = partsMeasured(expression);
    reads = { now: [...now], then: [...then.values()], pivots: pivot, whole: place, paths: path };
    remembered.set(expression, reads);
  }
  return reads;
}

/** Every channel that a formula reads, at whatever frame. */
export function addressesOf(expression: Expression): string[] {
  const { now, then } = formulaReads(expression);
  return [...new Set([...now, ...then.flatMap(({ address }) => address ?? [])])];
}

/** Children of the part that a follower's path goes through, in order. */
export function pathPoints(shot: Shot, path: string): string[] {
  return shot.parts[path] ? childrenOf(shot, path) : [];
}

/** What the place of a part reads: of some owners all channels of a list, and what it reads of others. */
export interface PlaceReads extends Reads {
  readonly owners: readonly { readonly id: string; readonly paths: ReadonlySet<string> }[];
}

const STEP_PATHS: ReadonlySet<string> = new Set(PLACE_CHANNELS.map((spec) => spec.path));
const PLAIN_PATHS: ReadonlySet<string> = new Set([...STEP_PATHS, 'visible']);
const FOLLOWER_PATHS: ReadonlySet<string> = new Set([...PLAIN_PATHS, 'along']);
const REPEAT_PATHS: ReadonlySet<string> = new Set([
  ...FOLLOWER_PATHS,
  'copies',
  'gap',
  'span',
  ...COPY_CHANNELS.map((spec) => spec.path),
]);

/** Paths of a part's own channels on which its place depends: where it stands and whether it is shown. */
export function placePaths(part: Shot['parts'][string]): ReadonlySet<string> {
  return part.kind === 'repeat' ? REPEAT_PATHS : part.follow ? FOLLOWER_PATHS : PLAIN_PATHS;
}

const NONE: readonly string[] = [];

class Collector implements Reads {
  readonly channels: string[] = [];
  readonly then: string[] = [];
  readonly places: string[] = [];

  constructor(private readonly shot: Shot) {}

  /**
   * What the place of a part's pivot depends on: where it hangs, its location and its pivot, not its own turn, size or
   * aim. So two parts can face each other, and a part's size can follow its own distance from the camera.
   */
  pivot(id: string): void {
    const part = this.shot.parts[id];
    if (!part) return;
    for (const name of part.follow ? ['pivot'] : ['location', 'pivot'])
      for (const axis of ['x', 'y', 'z']) this.channels.push(`${id}/${name}.${axis}`);
    const hangs = part.follow ? id : part.parent;
    if (hangs !== null) this.places.push(hangs);
  }

  path(id: string): void {
    const follow = this.shot.parts[id]?.follow;
    if (follow) for (const point of pathPoints(this.shot, follow.path)) this.pivot(point);
  }
}

/** What the link of a channel reads. A formula without others' values or places reads nothing. */
export function readsOfLink(shot: Shot, expression: Expression): Reads {
  const { now, then, pivots, whole, paths } = formulaReads(expression);
  if (then.length + pivots.length + whole.length + paths.length === 0)
    return { channels: now, then: NONE, places: NONE };
  const reads = new Collector(shot);
  reads.channels.push(...now);
  for (const { address } of then) if (address !== null) reads.then.push(address);
  for (const id of pivots) reads.pivot(id);
  for (const id of whole) if (shot.parts[id]) reads.places.push(id);
  for (const id of paths) reads.path(id);
  return reads;
}

/**
 * What the place of a part reads.
 * @param options whether its aim and its follow are in force: where they make a loop they are not
 */
export function readsOfPlace(shot: Shot, id: string, options = true): PlaceReads {
  const part = shot.parts[id]!;
  if (!part.aim && !part.follow && part.kind !== 'repeat') return hanging(id, part.parent);
  const reads = new Collector(shot);
  const owners = [{ id, paths: placePaths(part) }];
  if (part.parent !== null) reads.places.push(part.parent);
  const step = part.repeat?.step;
  if (step && shot.parts[step]) owners.push({ id: step, paths: STEP_PATHS });
  if (options && part.aim) reads.pivot(part.aim.target);
  if (options && part.follow) reads.path(id);
  const { channels, then, places } = reads;
  return { channels, then, places, owners };
}

/** What a part reads that only hangs from another, as most do. */
function hanging(id: string, parent: string | null): PlaceReads {
  const places = parent === null ? NONE : [parent];
  return { channels: NONE, then: NONE, places, owners: [{ id, paths: PLAIN_PATHS }] };
}
