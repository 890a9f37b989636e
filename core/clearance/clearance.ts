import { Matrix4, Vector3 } from 'three';
import { subtreeOf, type Shot } from '../document';
import type { Plan } from '../evaluate';
import { Bodies, type Body, type FileMeshes, MOMENTS, type Moment, poseMatrix, relativePose } from './bodies';
import { depthOf } from './depth';
import { Pair, type Touch } from './pair';

/** Frames that one check looks at, at most. */
export const CLEARANCE_FRAMES = 20_000;
/** Findings of one check. */
export const FINDINGS = 1000;
/** Pairs whose least distance is watched. */
export const WATCHED = 20;
/** Looks at a frame from which boxes are made that hold the whole of it. */
const LOOKS = 8;
/** Moments of a touch at which its depth is looked for first, and rounds in which the deepest one is searched around. */
const DEPTHS = 5;
const DEPTH_ROUNDS = 2;
/** The same of what touches from the first frame to the last. */
const DEPTHS_ALWAYS = 3;
/** Looks by which it is told whether two bodies stand still to one another. */
const STILL_LOOKS = 24;
/** Rounds in which the least distance is searched around the nearest frame. */
const NEAREST_ROUNDS = 6;

/** Shares of the work that are done when all frames have been gone through, and before distances are watched. */
const SWEPT = 0.7;
const WATCHING = 0.9;

export interface ClearanceAsked {
  /** Frames, both with; whole numbers. */
  readonly from: number;
  readonly to: number;
  /** Only pairs with one of these, or with what hangs from them; `null` for all. */
  readonly parts: readonly string[] | null;
  /** Pairs of parts whose least distance is told. */
  readonly watched: readonly (readonly [a: string, b: string])[];
  /** How many ranges are looked at side by side and joined, this one among them; missing for one. */
  readonly pieces?: number;
}

export type Point = readonly [number, number, number];

/** Two bodies that touch from one frame to another. */
export interface Finding {
  /** The same for the same touch, whenever it is told. */
  readonly id: string;
  readonly a: Body;
  readonly b: Body;
  /** First and last frame, in 64ths, at which they touch; `to` is `null` while that is still looked at. */
  readonly from: number;
  readonly to: number | null;
  /** They touch already at the first frame that was looked at, or still at the last. */
  readonly before: boolean;
  readonly after: boolean;
  /** They stand still to one another all the while: so they were put, and how deep is not looked at. */
  readonly still: boolean;
  /** The deepest they come into one another, metres, and the frame; `null` while that is still looked at. */
  readonly depth: number | null;
  readonly deepest: number | null;
  /** Where they meet at the first frame, in the world. */
  readonly place: Point;
}

/** How near a watched pair comes. */
export interface Nearness {
  readonly a: string;
  readonly b: string;
  /** Distance at each frame from the first, metres; 0 where they touch, NaN where one does not show. */
  readonly distances: Float64Array;
  readonly least: number;
  readonly frame: number;
  readonly places: readonly [Point, Point] | null;
}

export interface ClearanceTold {
  finding?(finding: Finding): void;
  share?(share: number): void;
}

export interface Clearance {
  readonly findings: readonly Finding[];
  readonly nearness: readonly Nearness[];
  /** Bodies that were looked at. */
  readonly bodies: number;
  /** What was left out, in words; empty for nothing. */
  readonly note: string;
}

/**
 * Whether the shot says that two parts are meant to touch: by a pin, by a recipe that lets them work on one another (teeth,
 * cams, cranks), or by a word for them or for what they hang from.
 */
export function meantToTouch(shot: Shot): (a: string, b: string) => boolean {
  const pairs = new Set<string>();
  const joined = new Set<string>();
  const word = (a: string, b: string): string => (a < b ? `${a} ${b}` : `${b} ${a}`);
  for (const { a, b } of Object.values(shot.pins)) if (b !== null) joined.add(word(a, b));
  for (const { a, b } of Object.values(shot.contacts)) pairs.add(word(a, b));
  for (const { kind, parts, built = {} } of Object.values(shot.recipes)) {
    const each = (list: readonly string[], found: Set<string>): void => {
      for (const a of list) for (const b of list) if (a !== b) found.add(word(a, b));
    };
    // A roller or a foot hangs from the follower.
    each(Object.values(parts).flat(), kind === 'cam' ? pairs : joined);
    // What a recipe has built was put together by it.
    each(Object.values(built), joined);
  }
  const above = new Map<string, readonly string[]>();
  const chain = (id: string): readonly string[] => {
    let known = above.get(id);
    if (!known) {
      const parent = shot.parts[id]?.parent ?? null;
      above.set(id, (known = parent === null ? [id] : [id, ...chain(parent)]));
    }
    return known;
  };
  return (a, b) =>
    joined.has(word(a, b)) ||
    (pairs.size > 0 && chain(a).some((from) => chain(b).some((to) => pairs.has(word(from, to)))));
}

/**
 * Which solids of a shot touch or run into one another, from when to when to 1/64 frame, where and how deep, and the least
 * distance of watched pairs. Boxes first, then halves of a frame until two bodies are farther apart than they move
 * (conservative advancement; Ericson, Real-Time Collision Detection, 5.5), then triangles. Faces that lie in one another
 * touch. What moves between two looks, 1/8 frame apart, in a way that its ends do not show may be missed.
 * @param told what is found while it is found; a finding may come again with more known of it
 * @throws RangeError for frames or pairs that are none, and for more than `SOLIDS` solids
 */
export function clearance(
  plan: Plan,
  asked: ClearanceAsked,
  meshes: FileMeshes = {},
  told: ClearanceTold = {},
): Clearance {
  const { shot } = plan;
  const { from, to } = asked;
  if (!Number.isInteger(from) || !Number.isInteger(to) || to < from)
    throw new RangeError(`Frames ${from} to ${to} are none: whole numbers, the first one first.`);
  if (to - from + 1 > CLEARANCE_FRAMES)
    throw new RangeError(`${to - from + 1} frames are too many: at most ${CLEARANCE_FRAMES}.`);
  if (asked.watched.length > WATCHED)
    throw new RangeError(`${asked.watched.length} pairs are too many to watch: at most ${WATCHED}.`);
  const bodies = new Bodies(plan, meshes);
  const search = new Search(bodies, shot, asked, told);
  for (let frame = from; frame < to; frame++) {
    search.frame(frame);
    told.share?.(((frame - from + 1) / (to - from)) * SWEPT);
  }
  if (from === to) search.still(from);
  const deep = asked.watched.length > 0 ? WATCHING : 1;
  const findings = search.end((share) => told.share?.(SWEPT + (deep - SWEPT) * share));
  const nearness = asked.watched.map(([a, b], i) => {
    const found = nearnessOf(bodies, shot, [a, b], from, to);
    told.share?.(WATCHING + ((1 - WATCHING) * (i + 1)) / asked.watched.length);
    return found;
  });
  return {
    findings,
    nearness,
    bodies: bodies.list.length,
    note:
      search.full !== null
        ? `There are more than ${FINDINGS} findings: those after frame ${search.full} are left out.`
        : '',
  };
}

class Search {
  /** Frame at which there were too many findings. */
  full: number | null = null;
  private readonly pairs = new Map<number, Pair>();
  /** The last finding of each pair, and those before it. */
  private readonly lastOf = new Map<Pair, Finding>();
  private readonly settled: [Pair, Finding][] = [];
  private count = 0;
  private readonly wanted: ReadonlySet<string> | null;
  private readonly meant: (a: string, b: string) => boolean;
  private readonly meantBodies = new Map<number, boolean>();
  private readonly first: number;
  private readonly last: number;
  private readonly depthsAlways: number;

  constructor(
    private readonly bodies: Bodies,
    shot: Shot,
    { parts, from, to, pieces = 1 }: ClearanceAsked,
    private readonly told: ClearanceTold,
  ) {
    this.wanted = parts && new Set(parts.flatMap((id) => [...subtreeOf(shot, id)]));
    this.meant = meantToTouch(shot);
    this.first = from * MOMENTS;
    this.last = to * MOMENTS;
    // What touches all through is looked at in every one of the pieces.
    this.depthsAlways = Math.max(1, Math.round(DEPTHS_ALWAYS / pieces));
  }

  /** Looks at what happens from a frame to the next one. */
  frame(frame: number): void {
    const [from, to] = [frame * MOMENTS, (frame + 1) * MOMENTS];
    const moments = Array.from({ length: LOOKS + 1 }, (_, i) => this.bodies.at(from + (i * MOMENTS) / LOOKS));
    for (const pair of this.near(moments)) pair.look(from, to, (touch) => this.take(pair, touch));
  }

  /** Looks at one frame alone. */
  still(frame: number): void {
    const at = frame * MOMENTS;
    for (const pair of this.near([this.bodies.at(at)])) pair.look(at, at, (touch) => this.take(pair, touch));
  }

  /**
   * Looks how deep all that was found comes; what touches at the last frame goes on for all that is known.
   * @param share told the share of this that is done
   */
  end(share: (share: number) => void): Finding[] {
    for (const pair of this.pairs.values())
      if (pair.open) this.take(pair, { from: pair.open.from, to: this.last });
    const all = [...this.settled, ...this.lastOf].sort(([, a], [, b]) => a.from - b.from);
    return all.map(([pair, finding], i) => {
      const [from, to] = [finding.from * MOMENTS, finding.to! * MOMENTS];
      const after = to === this.last;
      const still = finding.before && after && this.standsStill(pair, from, to);
      const whole = { ...finding, after, still, ...(still ? {} : this.deepest(pair, from, to)) };
      this.told.finding?.(whole);
      share((i + 1) / all.length);
      return whole;
    });
  }

  /** Pairs whose boxes come together: swept along x, then compared along y and z. */
  private near(moments: readonly Moment[]): Pair[] {
    const swept = sweptBoxes(moments, this.bodies.list.length).sort((a, b) => a.low[0]! - b.low[0]!);
    let active: Swept[] = [];
    const out: Pair[] = [];
    for (const box of swept) {
      active = active.filter(({ high }) => high[0]! >= box.low[0]!);
      for (const other of active) {
        if ([1, 2].some((axis) => box.low[axis]! > other.high[axis]! || other.low[axis]! > box.high[axis]!))
          continue;
        const pair = this.pairOf(Math.min(box.body, other.body), Math.max(box.body, other.body));
        if (pair) out.push(pair);
      }
      active.push(box);
    }
    return out;
  }

  private pairOf(a: number, b: number): Pair | null {
    const word = a * 2 ** 24 + b;
    const known = this.pairs.get(word);
    if (known) return known;
    let left = this.meantBodies.get(word);
    if (left === undefined) {
      const { list } = this.bodies;
      const [one, other] = [list[a]!.part, list[b]!.part];
      left =
        (this.wanted !== null && !this.wanted.has(one) && !this.wanted.has(other)) || this.meant(one, other);
      this.meantBodies.set(word, left);
    }
    if (left) return null;
    const pair = new Pair(a, b, this.bodies);
    this.pairs.set(word, pair);
    return pair;
  }

  private take(pair: Pair, touch: Touch): void {
    const last = this.lastOf.get(pair);
    if (touch.to !== null) {
      if (last) this.tell(pair, { ...last, to: touch.to / MOMENTS });
      return;
    }
    // What comes apart for less than a frame goes on touching: what rests on something trembles.
    if (last && last.to !== null && touch.from / MOMENTS - last.to < 1) {
      this.tell(pair, { ...last, to: null });
      return;
    }
    if (last) this.settled.push([pair, last]);
    if (this.count >= FINDINGS) {
      this.full ??= Math.floor(touch.from / MOMENTS);
      this.lastOf.delete(pair);
      return;
    }
    const [a, b] = [this.bodies.list[pair.a]!, this.bodies.list[pair.b]!];
    this.count++;
    this.tell(pair, {
      id: `${wordOf(a)} ${wordOf(b)} ${touch.from}`,
      a,
      b,
      from: touch.from / MOMENTS,
      to: null,
      before: touch.from === this.first,
      after: false,
      still: false,
      depth: null,
      deepest: null,
      place: this.placeAt(pair, touch.from),
    });
  }

  private tell(pair: Pair, finding: Finding): void {
    this.lastOf.set(pair, finding);
    this.told.finding?.(finding);
  }

  private placeAt(pair: Pair, moment: number): Point {
    const now = this.bodies.at(moment);
    const [a, b] = [now.solids[pair.a], now.solids[pair.b]];
    if (!a || !b) return [0, 0, 0];
    const relative = relativePose(new Matrix4(), now, pair.a, pair.b);
    const place = a.crossing(b, relative)?.middle ?? new Vector3(...b.middle).applyMatrix4(relative);
    return place.applyMatrix4(poseMatrix(new Matrix4(), now, pair.a)).toArray();
  }

  private depthAt(pair: Pair, moment: number): number {
    const now = this.bodies.at(moment);
    const [a, b] = [now.solids[pair.a], now.solids[pair.b]];
    return a && b ? depthOf(a, b, relativePose(new Matrix4(), now, pair.a, pair.b)) : 0;
  }

  /** Whether two bodies stand still to one another, as far as some looks tell. */
  private standsStill(pair: Pair, from: number, to: number): boolean {
    const first = this.bodies.at(from);
    const [start, now] = [new Matrix4(), new Matrix4()];
    relativePose(start, first, pair.a, pair.b);
    for (const moment of evenly(from, to, STILL_LOOKS)) {
      const then = this.bodies.at(moment);
      if ([pair.a, pair.b].some((body) => then.solids[body] !== first.solids[body])) return false;
      relativePose(now, then, pair.a, pair.b);
      if (now.elements.some((value, i) => Math.abs(value - start.elements[i]!) > 1e-9)) return false;
    }
    return true;
  }

  private deepest(pair: Pair, from: number, to: number): { depth: number; deepest: number } {
    let [depth, deepest] = [0, from];
    const look = (moment: number): void => {
      const found = this.depthAt(pair, moment);
      if (found > depth) [depth, deepest] = [found, moment];
    };
    // What touches all the while comes no deeper at one frame than at another, as a rule.
    const always = from === this.first && to === this.last;
    const moments = evenly(from, to, always ? this.depthsAlways : DEPTHS);
    moments.forEach(look);
    let step = moments.length < 2 ? 0 : (to - from) / (moments.length - 1);
    for (let round = 0; !always && round < DEPTH_ROUNDS && step > 1; round++) {
      step /= 2;
      const middle = deepest;
      for (const moment of [middle - step, middle + step].map(Math.round))
        if (moment >= from && moment <= to) look(moment);
    }
    return { depth, deepest: deepest / MOMENTS };
  }
}

/** Whole numbers spread evenly from one to another, both with; a single one is the last. */
function evenly(from: number, to: number, most: number): number[] {
  const count = Math.min(most, to - from + 1);
  return Array.from({ length: count }, (_, i) =>
    count === 1 ? to : from + Math.round(((to - from) * i) / (count - 1)),
  );
}

const wordOf = ({ part, copy }: Body): string => (copy === null ? part : `${part}#${copy}`);

interface Swept {
  readonly body: number;
  readonly low: Float64Array;
  readonly high: Float64Array;
}

/** Boxes that hold each body that shows at all moments, and half of the longest step between two of them more. */
function sweptBoxes(moments: readonly Moment[], count: number): Swept[] {
  const out: Swept[] = [];
  for (let body = 0; body < count; body++) {
    const shown = moments.filter(({ solids }) => solids[body]);
    if (shown.length === 0) continue;
    const [low, high] = [new Float64Array(3).fill(Infinity), new Float64Array(3).fill(-Infinity)];
    for (let axis = 0; axis < 3; axis++) {
      let step = 0;
      shown.forEach(({ boxes }, i) => {
        const [least, most] = [boxes[body * 6 + axis]!, boxes[body * 6 + 3 + axis]!];
        low[axis] = Math.min(low[axis]!, least);
        high[axis] = Math.max(high[axis]!, most);
        const before = shown[i - 1]?.boxes;
        if (before)
          step = Math.max(
            step,
            Math.abs(least - before[body * 6 + axis]!),
            Math.abs(most - before[body * 6 + 3 + axis]!),
          );
      });
      low[axis]! -= step / 2;
      high[axis]! += step / 2;
    }
    out.push({ body, low, high });
  }
  return out;
}

/** How near two parts with all that hangs from them come: at each frame, then around the nearest one to 1/64 frame. */
function nearnessOf(
  bodies: Bodies,
  shot: Shot,
  [a, b]: readonly [string, string],
  from: number,
  to: number,
): Nearness {
  const [ours, theirs] = [subtreeOf(shot, a), subtreeOf(shot, b)].map((ids) => new Set(ids));
  const distanceAt = (moment: number): { distance: number; places: [Point, Point] | null } => {
    const now = bodies.at(moment);
    let [distance, places]: [number, [Point, Point] | null] = [Infinity, null];
    bodies.list.forEach(({ part }, i) => {
      bodies.list.forEach(({ part: other }, j) => {
        const [one, two] = [now.solids[i], now.solids[j]];
        if (!ours!.has(part) || !theirs!.has(other) || i === j || !one || !two) return;
        const relative = relativePose(new Matrix4(), now, i, j);
        if (distance > 0 && one.touches(two, relative)) [distance, places] = [0, null];
        const near = distance > 0 ? one.nearest(two, relative, distance) : null;
        if (!near) return;
        distance = Math.max(0, near.distance);
        const world = poseMatrix(new Matrix4(), now, i);
        const placed = (point: Point): Point => new Vector3(...point).applyMatrix4(world).toArray();
        places = [placed(near.a), placed(near.b)];
      });
    });
    return { distance: distance === Infinity ? NaN : distance, places };
  };
  const distances = Float64Array.from(
    { length: to - from + 1 },
    (_, i) => distanceAt((from + i) * MOMENTS).distance,
  );
  let [least, best] = [Infinity, from * MOMENTS];
  distances.forEach((distance, i) => {
    if (distance < least) [least, best] = [distance, (from + i) * MOMENTS];
  });
  for (let round = 0, step = MOMENTS / 2; round < NEAREST_ROUNDS && least > 0; round++, step /= 2) {
    const middle = best;
    for (const moment of [middle - step, middle + step])
      if (moment >= from * MOMENTS && moment <= to * MOMENTS) {
        const { distance } = distanceAt(moment);
        if (distance < least) [least, best] = [distance, moment];
      }
  }
  return {
    a,
    b,
    distances,
    least: least === Infinity ? NaN : least,
    frame: best / MOMENTS,
    places: distanceAt(best).places,
  };
}
