import { compiledKey, EASES, type Ease } from '../curve';
import {
  FRAME_LIMIT,
  linkOf,
  PLACE_CHANNELS,
  sortedKeys,
  subtreeOf,
  trackOf,
  type Extend,
  type Handle,
  type Key,
  type Manner,
  type Shot,
  type Value,
} from '../document';
import type { EasingName } from '../easing';
import type { Evaluator } from '../evaluate';
import { pathOf } from './address-path';
import { Draft, type Change } from './change';
import { componentsOf, curveValue, demandFrame, insertKey, keyIn, putKey, SAME_FRAME } from './put-key';
import { channelName, demandValue, EditRefused } from './values';

/** Id of the key of a channel at a frame, or `null`. */
export function keyAt(shot: Shot, address: string, frame: number): string | null {
  const track = trackOf(shot, address);
  return track && keyIn(track, frame);
}

/**
 * Keys channels at a frame: a key that is there gets the value, else a new key is put in that moves like the key
 * before it. A key that has the value the curve has there leaves the curve's shape as it is. The first key of a channel
 * makes its track.
 * @throws EditRefused for a value out of limits, a channel that cannot be keyed, a frame out of range
 */
export function keyChannels(
  shot: Shot,
  frame: number,
  entries: readonly (readonly [address: string, value: Value])[],
  random?: () => number,
): Change {
  demandFrame(frame);
  const draft = new Draft(shot);
  for (const [address, value] of entries) {
    const spec = demandValue(shot, address, value);
    if (!spec.animatable)
      throw new EditRefused(`${spec.label} describes how the part lies or is built: it cannot be keyed.`);
    putKey(draft, address, frame, value, random);
  }
  const first = entries[0];
  return draft.change(
    entries.length === 1 && first ? `Key ${channelName(shot, first[0])}` : `Key ${entries.length} channels`,
  );
}

/** Puts keys on the curves of channels at a frame without changing their shape; channels without keys are left alone. */
export function insertKeys(
  shot: Shot,
  addresses: readonly string[],
  frame: number,
  random?: () => number,
): Change {
  const draft = new Draft(shot);
  for (const address of addresses) if (trackOf(draft.shot, address)) insertKey(draft, address, frame, random);
  return draft.change(
    addresses.length === 1 ? `Put a key into ${channelName(shot, addresses[0]!)}` : 'Put keys in',
  );
}

/**
 * Keys the pose of a part and everything below it: every channel of their place that has no link, with its value at the
 * evaluator's frame.
 */
export function keyPose(shot: Shot, evaluator: Evaluator, root: string, random?: () => number): Change {
  const addresses = subtreeOf(shot, root).flatMap((id) =>
    PLACE_CHANNELS.filter((spec) => spec.animatable && !spec.path.startsWith('pivot'))
      .map((spec) => `${id}/${spec.path}`)
      .filter((address) => !linkOf(shot, address)),
  );
  const entries = addresses.map((address) => [address, evaluator.number(address)] as const);
  const change = keyChannels(shot, evaluator.frame, entries, random);
  return { ...change, label: `Key the pose of ${shot.parts[root]?.name ?? ''}` };
}

/** A key of a channel. */
export interface KeyAddress {
  readonly address: string;
  readonly key: string;
}

/** Takes keys away. A channel that loses its last key keeps that key's value as its stored value. */
export function removeKeys(shot: Shot, targets: readonly KeyAddress[]): Change {
  const draft = new Draft(shot);
  for (const { address, key } of targets) {
    const track = trackOf(draft.shot, address);
    const gone = track?.keys[key];
    if (!track || !gone) continue;
    if (Object.keys(track.keys).length > 1) draft.set([...pathOf(address, 'tracks'), 'keys', key], undefined);
    else {
      draft.set(pathOf(address, 'values'), gone.value);
      draft.set(pathOf(address, 'tracks'), undefined);
    }
  }
  const first = targets[0];
  return draft.change(
    targets.length === 1 && first
      ? `Remove a key of ${channelName(shot, first.address)}`
      : `Remove ${targets.length} keys`,
  );
}

/**
 * Takes all keys of channels away; each keeps the value that it has at the evaluator's frame.
 */
export function removeAllKeys(shot: Shot, evaluator: Evaluator, addresses: readonly string[]): Change {
  const draft = new Draft(shot);
  let count = 0;
  for (const address of addresses) {
    const track = trackOf(draft.shot, address);
    if (!track) continue;
    count += Object.keys(track.keys).length;
    draft.set(pathOf(address, 'values'), curveValue(shot, address, track, evaluator.frame));
    draft.set(pathOf(address, 'tracks'), undefined);
  }
  return draft.change(`Remove all ${count} keys`);
}

/**
 * Moves keys in time. A key that lands on another key of its channel takes that key's place. Handles of the
 * stretches at either side keep their share of the stretch, so that an eased stretch stays eased.
 * @param by frames, later when above 0
 */
export function moveKeys(shot: Shot, targets: readonly KeyAddress[], by: number): Change {
  const draft = new Draft(shot);
  const byChannel = new Map<string, Set<string>>();
  for (const { address, key } of targets)
    byChannel.set(address, (byChannel.get(address) ?? new Set()).add(key));
  for (const [address, moved] of byChannel) moveInTrack(draft, address, moved, by);
  const first = targets[0];
  return draft.change(
    targets.length === 1 && first
      ? `Move a key of ${channelName(shot, first.address)}`
      : `Move ${targets.length} keys`,
  );
}

function moveInTrack(draft: Draft, address: string, moved: ReadonlySet<string>, by: number): void {
  const track = trackOf(draft.shot, address);
  if (!track) return;
  const path = [...pathOf(address, 'tracks'), 'keys'];
  const before = sortedKeys(track);
  const landed = new Map<string, Key>();
  for (const { id, key } of before) {
    if (!moved.has(id)) landed.set(id, key);
  }
  for (const { id, key } of before) {
    if (!moved.has(id)) continue;
    const frame = key.frame + by;
    if (Math.abs(frame) > FRAME_LIMIT)
      throw new EditRefused(`Frame ${frame} is out of range: -${FRAME_LIMIT} to ${FRAME_LIMIT} is allowed.`);
    for (const [other, otherKey] of landed)
      if (!moved.has(other) && Math.abs(otherKey.frame - frame) < SAME_FRAME) landed.delete(other);
    landed.set(id, { ...key, frame });
  }
  const after = [...landed]
    .map(([id, key]) => ({ id, key }))
    .sort((a, b) => a.key.frame - b.key.frame || (a.id < b.id ? -1 : 1));
  const gapBefore = gapsOf(before);
  const gapAfter = gapsOf(after);
  for (const { id } of before) if (!landed.has(id)) draft.set([...path, id], undefined);
  for (const { id, key } of after) {
    const old = gapBefore.get(id)!;
    const now = gapAfter.get(id)!;
    let next: Key = key;
    if (key.left && old.left > 0 && now.left > 0 && old.left !== now.left)
      next = { ...next, left: { reach: (key.left.reach * now.left) / old.left, rise: key.left.rise } };
    if (key.right && old.right > 0 && now.right > 0 && old.right !== now.right)
      next = { ...next, right: { reach: (key.right.reach * now.right) / old.right, rise: key.right.rise } };
    if (next !== track.keys[id]) draft.set([...path, id], next);
  }
}

function gapsOf(keys: readonly { id: string; key: Key }[]): Map<string, { left: number; right: number }> {
  return new Map(
    keys.map(({ id, key }, i) => [
      id,
      {
        left: i > 0 ? key.frame - keys[i - 1]!.key.frame : 0,
        right: i < keys.length - 1 ? keys[i + 1]!.key.frame - key.frame : 0,
      },
    ]),
  );
}

/**
 * How a stretch may be set: a manner of keys, an easing keyword of CSS, a named easing, or `smooth` for automatic
 * handles.
 */
export type StretchManner = 'hold' | 'linear' | 'smooth' | Ease | EasingName;

/** Share by which handles may differ from those of a keyword through rounding. */
const ALIKE = 1e-6;

/**
 * How the stretch after a key moves, in the words of `setStretch`; `own` for handles of no keyword, `null` where no
 * stretch begins.
 */
export function stretchManner(shot: Shot, target: KeyAddress): StretchManner | 'own' | null {
  const track = trackOf(shot, target.address);
  if (!track?.keys[target.key]) return null;
  const keys = sortedKeys(track);
  const index = keys.findIndex((entry) => entry.id === target.key);
  const [a, b] = [keys[index]!.key, keys[index + 1]?.key];
  if (!b) return null;
  if (a.manner !== 'curve') return a.manner;
  if (!a.right && !b.left && a.handles !== 'flat' && b.handles !== 'flat') return 'smooth';
  const components = componentsOf(shot, target.address, track);
  const dt = b.frame - a.frame;
  const fits = (ease: Ease): boolean => {
    const [x1, y1, x2, y2] = EASES[ease];
    return components.every((component) => {
      const [from, to] = [compiledKey(component, index), compiledKey(component, index + 1)];
      const rise = to.value - from.value;
      const near = (value: number, wanted: number, scale: number): boolean =>
        Math.abs(value - wanted) <= ALIKE * Math.max(Math.abs(scale), 1e-9);
      return (
        near(from.rightReach, x1 * dt, dt) &&
        near(from.rightRise, y1 * rise, rise) &&
        near(to.leftReach, (1 - x2) * dt, dt) &&
        near(to.leftRise, (y2 - 1) * rise, rise)
      );
    });
  };
  return (Object.keys(EASES) as Ease[]).find(fits) ?? 'own';
}

/** Sets how the stretches after the given keys move. */
export function setStretch(shot: Shot, targets: readonly KeyAddress[], manner: StretchManner): Change {
  const draft = new Draft(shot);
  for (const target of targets) stretchOne(draft, target, manner);
  const first = targets[0];
  return draft.change(first ? `Set a stretch of ${channelName(shot, first.address)}` : 'Set a stretch');
}

function stretchOne(draft: Draft, { address, key: id }: KeyAddress, manner: StretchManner): void {
  const track = trackOf(draft.shot, address);
  const key = track?.keys[id];
  if (!track || !key) return;
  const path = [...pathOf(address, 'tracks'), 'keys'];
  const keys = sortedKeys(track);
  const index = keys.findIndex((entry) => entry.id === id);
  const next = keys[index + 1];
  const { right: _right, piece: _piece, ...bare } = key;
  const dt = next ? next.key.frame - key.frame : 0;
  if (!Object.hasOwn(EASES, manner)) {
    const kept: Manner = manner === 'smooth' ? 'curve' : (manner as Manner);
    draft.set([...path, id], { ...bare, manner: kept });
    if (next && manner === 'smooth' && next.key.left) draft.set([...path, next.id, 'left'], undefined);
    return;
  }
  if (!next || dt <= 0) {
    draft.set([...path, id], { ...bare, manner: 'curve' });
    return;
  }
  const [x1, y1, x2, y2] = EASES[manner as Ease];
  const rises = componentsOf(draft.shot, address, track).map(
    (component) => compiledKey(component, index + 1).value - compiledKey(component, index).value,
  );
  const rise = (share: number): Handle['rise'] =>
    rises.length === 1 ? rises[0]! * share : (rises.map((dv) => dv * share) as [number, number, number]);
  draft.set([...path, id], { ...bare, manner: 'curve', right: { reach: x1 * dt, rise: rise(y1) } });
  draft.set([...path, next.id, 'left'], { reach: (1 - x2) * dt, rise: rise(y2 - 1) });
}

/** Sets how a channel goes on before its first or after its last key. */
export function setExtend(shot: Shot, address: string, side: 'before' | 'after', extend: Extend): Change {
  const draft = new Draft(shot);
  if (trackOf(shot, address)) draft.set([...pathOf(address, 'tracks'), side], extend);
  return draft.change(`Set ${channelName(shot, address)} ${side} its keys`);
}
