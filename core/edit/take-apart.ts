import {
  channelAt,
  linkOf,
  RANGE_LIMIT,
  sortedKeys,
  subtreeOf,
  trackOf,
  usersOf,
  type Shot,
  type Value,
} from '../document';
import { compile, Evaluator } from '../evaluate';
import { identity, invert, transformPoint, type Affine } from '../transform';
import { Draft, type Change } from './change';
import { makeOwn } from './copies';
import { setStretch, type StretchManner } from './keys';
import { putKey } from './put-key';
import { channelName, EditRefused } from './values';

type Triple = readonly [number, number, number];

/**
 * Where parts go: along an axis of the world, each along an axis of its own, away from their common middle, or each where it
 * is free, which has to be found first.
 */
export const WAYS_APART = [
  'x',
  '-x',
  'y',
  '-y',
  'z',
  '-z',
  'own x',
  'own y',
  'own z',
  'out',
  'free',
] as const;
export type WayApart = (typeof WAYS_APART)[number];

export interface TakingApart {
  /** Parts in the order in which they leave. */
  readonly parts: readonly string[];
  readonly way: WayApart;
  /** Where each part is free, directions of the world of length 1, by part. */
  readonly free?: Readonly<Record<string, Triple>>;
  /** How far the first part goes, and by how much further each that follows, metres of the world. */
  readonly distance: number;
  readonly more: number;
  /** Frame at which the first one leaves, how long each is on its way, and how much later than one the next leaves. */
  readonly first: number;
  readonly length: number;
  readonly stagger: number;
  readonly manner: StretchManner;
  /** Frames for which all stay apart before they come back, the last that left first; null where they stay. */
  readonly back: number | null;
  /** What they fade to on their way, 0 to 1; null where they stay as they are. */
  readonly opacity?: number | null;
  /** Colour that their looks take on their way; null where they keep theirs. */
  readonly colour?: Colour | null;
}

type Colour = readonly [number, number, number];

/** Frames at which a part leaves and has arrived, and leaves and has arrived on the way back. */
export interface Journey {
  readonly part: string;
  readonly out: readonly [from: number, to: number];
  readonly back: readonly [from: number, to: number] | null;
}

const AXIS_KEYS = ['x', 'y', 'z'] as const;

/** When each part is on its way. */
export function journeysOf({ parts, first, length, stagger, back }: TakingApart): Journey[] {
  const apart = first + length + stagger * (parts.length - 1);
  return parts.map((part, i) => {
    const from = first + stagger * i;
    const home = apart + (back ?? 0) + stagger * (parts.length - 1 - i);
    return { part, out: [from, from + length], back: back === null ? null : [home, home + length] };
  });
}

/**
 * Lets parts travel out one after another, and back again in mirror, as keys of their location like any others; they, and
 * what hangs below them, can fade and change colour on the way.
 * @throws EditRefused where there is no part, a part hangs below another one of them, a location is linked, on a path, or
 *   keyed behind the frame at which it leaves, or times and lengths are out of range
 */
export function takeApart(shot: Shot, options: TakingApart, random?: () => number): Change {
  demand(shot, options);
  const evaluator = new Evaluator(compile(shot));
  evaluator.evaluate(options.first);
  const middle = middleOf(evaluator, options.parts);
  const draft = new Draft(shot);
  const stretches: { address: string; key: string }[] = [];
  /** Keys a channel at home, away and home again, as the part travels; holds while it is away. */
  const journey = (address: string, { out, back }: Journey, home: Value, away: Value): void => {
    demandFree(draft.shot, address, out[0]);
    const put = (at: number, value: Value): string => putKey(draft, address, at, value, random);
    const leaves = put(out[0], home);
    put(out[1], away);
    stretches.push({ address, key: leaves });
    if (!back) return;
    const returns = back[0] > out[1] ? put(back[0], away) : keyIdAt(draft.shot, address, out[1]);
    put(back[1], home);
    stretches.push({ address, key: returns });
  };
  journeysOf(options).forEach((way, i) => {
    const { part, out } = way;
    const { frame, world } = framesOf(shot, evaluator, part);
    const direction =
      options.way === 'free'
        ? (options.free?.[part] ?? unknownWay(shot, part))
        : directionOf(options.way, pivotIn(evaluator, world, part), middle, world);
    const distance = options.distance + options.more * i;
    const moved = turnedBack(frame, [
      direction[0] * distance,
      direction[1] * distance,
      direction[2] * distance,
    ]);
    evaluator.evaluate(out[0]);
    AXIS_KEYS.forEach((axis, k) => {
      // Less than a thousandth of a millimetre is rounding.
      if (Math.abs(moved[k]!) < 1e-6) return;
      const address = `${part}/location.${axis}`;
      const home = evaluator.number(address);
      journey(address, way, home, home + moved[k]!);
    });
    dress(draft, evaluator, way, options, journey, random);
    evaluator.evaluate(options.first);
  });
  for (const { path, after } of setStretch(draft.shot, stretches, options.manner).patches)
    draft.set(path, after);
  const count = options.parts.length;
  return draft.change(`Take ${count === 1 ? shot.parts[options.parts[0]!]!.name : `${count} parts`} apart`);
}

/**
 * Lets a part, and what hangs below it, fade and change colour while it travels. Looks that others have, too, become its
 * own first; parts of it that share one go on sharing it.
 */
function dress(
  draft: Draft,
  evaluator: Evaluator,
  way: Journey,
  { opacity = null, colour = null }: TakingApart,
  journey: (address: string, way: Journey, home: Value, away: Value) => void,
  random?: () => number,
): void {
  const ids = subtreeOf(draft.shot, way.part);
  for (const fades of ids.map((id) => `${id}/opacity`))
    if (opacity !== null && channelAt(draft.shot, fades))
      journey(fades, way, evaluator.number(fades), opacity);
  if (colour === null) return;
  for (const look of new Set(ids.flatMap((id) => draft.shot.parts[id]!.look ?? []))) {
    const users = usersOf(draft.shot, look);
    const mine = users.filter((id) => ids.includes(id));
    const home = evaluator.colour(`${look}/colour`);
    if (mine.length < users.length) {
      const [first, ...others] = mine;
      for (const { path, after } of makeOwn(draft.shot, first!, 'look', random).patches)
        draft.set(path, after);
      for (const id of others) draft.set(['parts', id, 'look'], draft.shot.parts[first!]!.look);
    }
    journey(`${draft.shot.parts[mine[0]!]!.look!}/colour`, way, home, [colour[0], colour[1], colour[2]]);
  }
}

const keyIdAt = (shot: Shot, address: string, frame: number): string =>
  sortedKeys(trackOf(shot, address)!).find(({ key }) => Math.abs(key.frame - frame) < 1e-9)!.id;

function demand(shot: Shot, options: TakingApart): void {
  const { parts, length, stagger, back, first, opacity = null } = options;
  if (parts.length === 0) throw new EditRefused('Choose the parts that are to travel out.');
  for (const id of parts) {
    if (!shot.parts[id]) throw new EditRefused('One of the parts is no longer in the shot.');
    for (let up = shot.parts[id].parent; up !== null; up = shot.parts[up]!.parent)
      if (parts.includes(up))
        throw new EditRefused(
          `${shot.parts[id].name} hangs below ${shot.parts[up]!.name}, which travels, too: leave one of them out.`,
        );
    if (shot.parts[id].follow)
      throw new EditRefused(`${shot.parts[id].name} follows a path: it cannot be taken out by its location.`);
  }
  if (!(length >= 1) || length > RANGE_LIMIT)
    throw new EditRefused(`A part may be on its way for 1 to ${RANGE_LIMIT} frames, not ${length}.`);
  if (!(stagger >= 0) || stagger > RANGE_LIMIT)
    throw new EditRefused(`The next part may leave 0 to ${RANGE_LIMIT} frames later, not ${stagger}.`);
  if (back !== null && (!(back >= 0) || back > RANGE_LIMIT))
    throw new EditRefused(`Parts may stay apart for 0 to ${RANGE_LIMIT} frames, not ${back}.`);
  if (opacity !== null && !(opacity >= 0 && opacity <= 1))
    throw new EditRefused(`Parts may fade to an opacity from 0 to 1, not ${opacity}.`);
  if (!Number.isFinite(first)) throw new EditRefused('The first frame is no number.');
}

function demandFree(shot: Shot, address: string, from: number): void {
  const name = channelName(shot, address);
  if (linkOf(shot, address))
    throw new EditRefused(`${name} is linked: unlink it, or put a hub above the part and let that travel.`);
  const later = sortedKeys(trackOf(shot, address) ?? { before: 'hold', after: 'hold', keys: {} }).find(
    ({ key }) => key.frame > from,
  );
  if (later)
    throw new EditRefused(
      `${name} has a key at frame ${later.key.frame}, behind frame ${from} at which it would leave: begin later, or put a hub above the part and let that travel.`,
    );
}

/** What a part hangs from in the world, and the part itself. */
function framesOf(shot: Shot, evaluator: Evaluator, part: string): { frame: Affine; world: Affine } {
  const { parent } = shot.parts[part]!;
  const node = evaluator.plan.nodeOf.get(part)!;
  const above = evaluator.plan.nodeFrame[node]!;
  const frame =
    parent === null || above < 0 ? identity() : evaluator.world.slice(above * 12, (above + 1) * 12);
  return { frame, world: evaluator.worldOf(part)! };
}

function pivotIn(evaluator: Evaluator, world: Affine, part: string): Triple {
  const [x = 0, y = 0, z = 0] = AXIS_KEYS.map((axis) => evaluator.number(`${part}/pivot.${axis}`));
  return transformPoint(world, x, y, z);
}

function middleOf(evaluator: Evaluator, parts: readonly string[]): Triple {
  const sum = [0, 0, 0];
  for (const part of parts)
    pivotIn(evaluator, evaluator.worldOf(part)!, part).forEach(
      (value, k) => (sum[k]! += value / parts.length),
    );
  return [sum[0]!, sum[1]!, sum[2]!];
}

function unknownWay(shot: Shot, part: string): never {
  throw new EditRefused(`Where ${shot.parts[part]!.name} is free has not been found yet.`);
}

/** Direction of length 1 in the world. What stands in the middle goes up. */
function directionOf(way: Exclude<WayApart, 'free'>, pivot: Triple, middle: Triple, world: Affine): Triple {
  const unit = ([x, y, z]: Triple): Triple => {
    const length = Math.sqrt(x * x + y * y + z * z);
    return length > 1e-9 ? [x / length, y / length, z / length] : [0, 1, 0];
  };
  if (way === 'out') return unit([pivot[0] - middle[0], pivot[1] - middle[1], pivot[2] - middle[2]]);
  const axis = AXIS_KEYS.indexOf(way.at(-1) as 'x');
  if (way.startsWith('own')) return unit([world[axis]!, world[4 + axis]!, world[8 + axis]!]);
  const sign = way.startsWith('-') ? -1 : 1;
  return [0, 1, 2].map((k) => (k === axis ? sign : 0)) as unknown as Triple;
}

/** A way of the world in the measure of a frame. */
function turnedBack(frame: Affine, way: Triple): Triple {
  const inverse = invert(frame);
  if (!inverse) return [0, 0, 0];
  const at = transformPoint(inverse, ...way);
  const from = transformPoint(inverse, 0, 0, 0);
  return [at[0] - from[0], at[1] - from[1], at[2] - from[2]];
}
