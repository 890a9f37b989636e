import { EASES, type Ease } from '../curve';
import {
  FRAME_LIMIT,
  sortedKeys,
  splitAddress,
  trackOf,
  type Extend,
  type Key,
  type Manner,
  type Shot,
  type Track,
  type Value,
} from '../document';
import { pathOf } from './address-path';
import { Draft, type Change } from './change';
import { makeId } from './make-id';
import { channelName, demandValue, EditRefused } from './values';

/** Frames nearer to each other than this count as one. */
export const SAME_FRAME = 1e-6;

/** Id of the key of a channel at a frame, or `null`. */
export function keyAt(shot: Shot, address: string, frame: number): string | null {
  const track = trackOf(shot, address);
  const found =
    track &&
    sortedKeys(track)
      .filter(({ key }) => Math.abs(key.frame - frame) < SAME_FRAME)
      .pop();
  return found ? found.id : null;
}

function freshKey(manner: Manner, frame: number, value: Value): Key {
  return { frame, value, manner };
}

/**
 * Keys channels at a frame: a key that is there gets the value, else a new key is put in that moves like the key
 * before it. The first key of a channel makes its track.
 * @throws EditRefused for a value out of limits, a channel that cannot be keyed, a frame out of range
 */
export function keyChannels(
  shot: Shot,
  frame: number,
  entries: readonly (readonly [address: string, value: Value])[],
  random?: () => number,
): Change {
  if (!(Math.abs(frame) <= FRAME_LIMIT))
    throw new EditRefused(`Frame ${frame} is out of range: -${FRAME_LIMIT} to ${FRAME_LIMIT} is allowed.`);
  const draft = new Draft(shot);
  for (const [address, value] of entries) {
    const spec = demandValue(shot, address, value);
    if (!spec.animatable)
      throw new EditRefused(`${spec.label} describes how the part lies or is built: it cannot be keyed.`);
    const existing = keyAt(draft.shot, address, frame);
    const track = trackOf(draft.shot, address);
    const path = pathOf(address, 'tracks');
    if (!track) {
      const keys = {
        [makeId('key', random)]: freshKey(spec.kind === 'switch' ? 'hold' : 'curve', frame, value),
      };
      draft.set(path, { before: 'hold', after: 'hold', keys });
    } else if (existing) draft.set([...path, 'keys', existing, 'value'], value);
    else insertKey(draft, address, track, frame, value, spec.kind === 'switch', random);
  }
  const first = entries[0];
  return draft.change(
    entries.length === 1 && first ? `Key ${channelName(shot, first[0])}` : `Key ${entries.length} channels`,
  );
}

function insertKey(
  draft: Draft,
  address: string,
  track: Track,
  frame: number,
  value: Value,
  holds: boolean,
  random?: () => number,
): void {
  const keys = sortedKeys(track);
  const path = [...pathOf(address, 'tracks'), 'keys'];
  const index = keys.findLastIndex(({ key }) => key.frame <= frame);
  const before = keys[index];
  const after = keys[index + 1];
  const manner = holds ? 'hold' : (before?.key.manner ?? keys[0]?.key.manner ?? 'curve');
  draft.set([...path, makeId('key', random)], freshKey(manner, frame, value));
  // The stretch is cut in two: handles that reached over it are shortened to their share.
  if (!before || !after) return;
  const dt = after.key.frame - before.key.frame;
  if (before.key.right)
    draft.set([...path, before.id, 'right'], scaleHandle(before.key.right, (frame - before.key.frame) / dt));
  if (after.key.left)
    draft.set([...path, after.id, 'left'], scaleHandle(after.key.left, (after.key.frame - frame) / dt));
}

function scaleHandle(
  handle: { reach: number; rise: number },
  share: number,
): { reach: number; rise: number } {
  return { reach: handle.reach * share, rise: handle.rise };
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

/** Changes the value of one key. */
export function setKeyValue(shot: Shot, target: KeyAddress, value: Value): Change {
  demandValue(shot, target.address, value);
  const draft = new Draft(shot);
  if (trackOf(shot, target.address)?.keys[target.key])
    draft.set([...pathOf(target.address, 'tracks'), 'keys', target.key, 'value'], value);
  return draft.change(`Change a key of ${channelName(shot, target.address)}`);
}

/** How a stretch may be set: a manner of keys, an easing keyword of CSS, or `smooth` for automatic handles. */
export type StretchManner = 'hold' | 'linear' | 'smooth' | Ease;

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
  const next = keys[keys.findIndex((entry) => entry.id === id) + 1];
  const kept: Manner = manner === 'hold' || manner === 'linear' ? manner : 'curve';
  const { right: _right, ...bare } = key;
  const dt = next ? next.key.frame - key.frame : 0;
  if (manner === 'hold' || manner === 'linear' || manner === 'smooth' || !next || dt <= 0) {
    draft.set([...path, id], { ...bare, manner: kept });
    if (next && manner === 'smooth' && next.key.left) draft.set([...path, next.id, 'left'], undefined);
    return;
  }
  const [x1, y1, x2, y2] = EASES[manner];
  const numeric = typeof key.value === 'number' && typeof next.key.value === 'number';
  if (!numeric && (y1 !== 0 || y2 !== 1))
    throw new EditRefused(`"${manner}" cannot be set for a colour: ease in, ease out or both can.`);
  const dv = numeric ? (next.key.value as number) - key.value : 0;
  draft.set([...path, id], { ...bare, manner: kept, right: { reach: x1 * dt, rise: y1 * dv } });
  draft.set([...path, next.id, 'left'], { reach: (1 - x2) * dt, rise: (y2 - 1) * dv });
}

/** Sets how a channel goes on before its first or after its last key. */
export function setExtend(shot: Shot, address: string, side: 'before' | 'after', extend: Extend): Change {
  const draft = new Draft(shot);
  if (trackOf(shot, address)) draft.set([...pathOf(address, 'tracks'), side], extend);
  return draft.change(`Set ${channelName(shot, address)} ${side} its keys`);
}

/** Owner of a key's channel. */
export function keyOwner(target: KeyAddress): string {
  return splitAddress(target.address).owner;
}
