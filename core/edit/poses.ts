import {
  channelAt,
  flipsAcross,
  linkOf,
  PLACE_CHANNELS,
  subtreeOf,
  trackOf,
  type Shot,
  type Value,
} from '../document';
import type { Evaluator } from '../evaluate';
import { readsOwn } from '../formula';
import type { Change } from './change';
import { otherSide } from './copies';
import { keyChannels } from './keys';
import { EditRefused } from './values';

/** Places of parts at a moment, to be put in at another one. */
export interface Pose {
  readonly frame: number;
  readonly parts: readonly {
    readonly id: string;
    readonly name: string;
    readonly values: Readonly<Record<string, number>>;
  }[];
}

const POSED = PLACE_CHANNELS.filter((spec) => spec.animatable && !spec.path.startsWith('pivot'));

/** Whether a pose says something of a channel: one that is linked has a value of its own where the formula reads it. */
function poseable(shot: Shot, address: string): boolean {
  const link = linkOf(shot, address);
  return !link || readsOwn(link.formula);
}

/**
 * The pose of parts and everything below them at the evaluator's frame; of linked channels the value of their own, where
 * their formula reads it.
 */
export function copyPose(shot: Shot, evaluator: Evaluator, roots: readonly string[]): Pose {
  const ids = [...new Set(roots.flatMap((root) => (shot.parts[root] ? subtreeOf(shot, root) : [])))];
  return {
    frame: evaluator.frame,
    parts: ids.map((id) => ({
      id,
      name: shot.parts[id]!.name,
      values: Object.fromEntries(
        POSED.filter((spec) => poseable(shot, `${id}/${spec.path}`)).map((spec) => [
          spec.path,
          evaluator.own(`${id}/${spec.path}`),
        ]),
      ),
    })),
  };
}

/** A pose by the names of its parts, for any shot in which they are called so. */
export interface KeptPose {
  readonly parts: readonly {
    readonly name: string;
    /** Those that differ from what their channels begin with. */
    readonly values: Readonly<Record<string, number>>;
    /** Channels that were linked, without a value of their own: the pose says nothing of them. */
    readonly linked?: readonly string[];
  }[];
}

const INITIAL = new Map(POSED.map((spec) => [spec.path, spec.initial as number]));

/** A pose as it is kept. */
export function keptPose({ parts }: Pose): KeptPose {
  return {
    parts: parts.map(({ name, values }) => {
      const linked = POSED.flatMap((spec) => (spec.path in values ? [] : [spec.path]));
      return {
        name,
        values: Object.fromEntries(
          Object.entries(values).filter(([path, value]) => value !== INITIAL.get(path)),
        ),
        ...(linked.length > 0 ? { linked } : {}),
      };
    }),
  };
}

/** Values that a pose gives to the channels of a shot, and names of its parts that the shot does not have. */
export interface PosedValues {
  readonly entries: readonly (readonly [address: string, value: number])[];
  /** Parts that are moved. */
  readonly parts: number;
  readonly missing: readonly string[];
}

export interface PosingOptions {
  /** From what there is at the evaluator's frame, 0, to the pose, 1. */
  readonly share: number;
  /** What is left goes to what is right by name, and places are turned over across x. */
  readonly mirrored: boolean;
  /** Parts that alone are posed, with all below them; null poses all that the pose has. */
  readonly only: readonly string[] | null;
}

/**
 * What a kept pose comes to in a shot: values of the channels that have keys, and of those that differ from what they are.
 * Linked channels are left out, unless their formula reads what they have of their own.
 * @throws EditRefused for a share outside 0 to 1
 */
export function posedValues(
  shot: Shot,
  evaluator: Evaluator,
  pose: KeptPose,
  { share, mirrored, only }: PosingOptions,
): PosedValues {
  if (!(share >= 0 && share <= 1))
    throw new EditRefused(`A pose is put in by a share from 0 to 1, not by ${share}.`);
  const idOf = namesOf(shot);
  const allowed = only && new Set(only.flatMap((root) => (shot.parts[root] ? subtreeOf(shot, root) : [])));
  const entries: [string, number][] = [];
  const missing: string[] = [];
  let parts = 0;
  for (const { name, values, linked = [] } of pose.parts) {
    const id = counterpart(idOf, name, mirrored) ?? idOf.get(name);
    if (id === undefined) missing.push(name);
    if (id === undefined || (allowed && !allowed.has(id))) continue;
    const before = entries.length;
    for (const { path } of POSED) {
      const address = `${id}/${path}`;
      if (linked.includes(path) || !poseable(shot, address)) continue;
      const now = evaluator.own(address);
      const wanted = turnedOver(path, values[path] ?? INITIAL.get(path)!, mirrored);
      const value = withinLimits(shot, address, share === 1 ? wanted : now + (wanted - now) * share);
      if (trackOf(shot, address) || value !== now) entries.push([address, value]);
    }
    if (entries.length > before) parts++;
  }
  return { entries, parts, missing };
}

const namesOf = (shot: Shot): ReadonlyMap<string, string> =>
  new Map(Object.entries(shot.parts).map(([id, part]) => [part.name, id]));

/** Part on the other side of one of this name, where there is one. */
function counterpart(idOf: ReadonlyMap<string, string>, name: string, mirrored: boolean): string | undefined {
  const side = mirrored ? otherSide(name) : null;
  return side === null ? undefined : idOf.get(side);
}

/** The value next to one that its channel takes: a joint that is held goes as far as it can. */
function withinLimits(shot: Shot, address: string, value: number): number {
  const { min, max } = channelAt(shot, address)!.spec;
  return Math.min(max, Math.max(min, value));
}

const turnedOver = (path: string, value: number, mirrored: boolean): number =>
  mirrored && flipsAcross(path, 'x') ? -value + 0 : value;

/**
 * Keys a pose at a frame. Mirrored, what is left goes to what is right by name ("Left arm", "Arm R") and places are
 * turned over across x; a part without a counterpart is turned over itself. Channels whose link leaves them no value of
 * their own, and parts that are gone, are left out.
 */
export function pastePose(
  shot: Shot,
  pose: Pose,
  frame: number,
  mirrored: boolean,
  random?: () => number,
): Change {
  const idOf = namesOf(shot);
  const entries = pose.parts.flatMap(({ id, name, values }) => {
    const target = counterpart(idOf, name, mirrored) ?? id;
    if (!shot.parts[target]) return [];
    return Object.entries(values).flatMap(([path, value]): [string, Value][] => {
      const address = `${target}/${path}`;
      if (!poseable(shot, address)) return [];
      return [[address, withinLimits(shot, address, turnedOver(path, value, mirrored))]];
    });
  });
  const change = keyChannels(shot, frame, entries, random);
  return { ...change, label: mirrored ? 'Paste the pose mirrored' : 'Paste the pose' };
}
