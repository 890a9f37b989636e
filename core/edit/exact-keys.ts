import {
  channelAt,
  sortedKeys,
  trackOf,
  type Handle,
  type Key,
  type Shot,
  type Track,
  type Value,
} from '../document';
import { pathOf } from './address-path';
import { apply, compose, Draft, type Change } from './change';
import { moveKeys, type KeyAddress } from './keys';
import { demandFrame, SAME_FRAME } from './put-key';
import { channelName, demandValue, EditRefused } from './values';

/** Key number `index` of a track with its neighbours. */
export interface KeyPlace {
  readonly track: Track;
  readonly key: Key;
  readonly index: number;
  readonly count: number;
  readonly before: Key | null;
  readonly after: Key | null;
}

/** A key with its neighbours in time, or `null` where it is gone. */
export function keyPlace(shot: Shot, { address, key: id }: KeyAddress): KeyPlace | null {
  const track = trackOf(shot, address);
  if (!track?.keys[id]) return null;
  const keys = sortedKeys(track);
  const index = keys.findIndex((entry) => entry.id === id);
  return {
    track,
    key: keys[index]!.key,
    index,
    count: keys.length,
    before: keys[index - 1]?.key ?? null,
    after: keys[index + 1]?.key ?? null,
  };
}

/** The keys at addresses that are there, in the order of the addresses; quick for many keys of few curves. */
export function keysAt(
  shot: Shot,
  targets: readonly KeyAddress[],
): { readonly target: KeyAddress; readonly key: Key }[] {
  const found: { readonly target: KeyAddress; readonly key: Key }[] = [];
  let [address, track]: [string | null, Track | null] = [null, null];
  for (const target of targets) {
    if (target.address !== address) {
      address = target.address;
      track = trackOf(shot, address);
    }
    const key = track?.keys[target.key];
    if (key) found.push({ target, key });
  }
  return found;
}

const manyOf = (shot: Shot, targets: readonly KeyAddress[], what: string): string =>
  targets.length === 1
    ? `${what} a key of ${channelName(shot, targets[0]!.address)}`
    : `${what} ${targets.length} keys`;

/** Gives a value the number that its channel can hold: whole where it counts, within its limits. */
function fitting(shot: Shot, address: string, value: number): number {
  const spec = channelAt(shot, address)?.spec;
  if (!spec) return value;
  const kept = Math.max(spec.min ?? -Infinity, Math.min(spec.max ?? Infinity, value));
  return spec.whole ? Math.round(kept) : kept;
}

/** Writes values over the numbers of keys; colours and switches stay. */
function revalue(
  draft: Draft,
  targets: readonly KeyAddress[],
  change: (key: Key & { readonly value: number }, address: string, id: string) => Key,
): void {
  for (const { address, key: id } of targets) {
    const key = trackOf(draft.shot, address)?.keys[id];
    if (!key || typeof key.value !== 'number') continue;
    if (channelAt(draft.shot, address)?.spec.kind !== 'number') continue;
    const next = change(key as Key & { readonly value: number }, address, id);
    draft.set([...pathOf(address, 'tracks'), 'keys', id], {
      ...next,
      value: fitting(draft.shot, address, next.value as number),
    });
  }
}

/**
 * Moves keys in time and in value at once. Values stop at the limits of their channel; colours and switches move in time
 * only.
 * @param frames later when above 0 @param rise in the unit of each channel
 */
export function shiftKeys(shot: Shot, targets: readonly KeyAddress[], frames: number, rise: number): Change {
  const moved = frames === 0 ? null : moveKeys(shot, targets, frames);
  if (rise === 0) return moved ?? { label: manyOf(shot, targets, 'Move'), patches: [] };
  const draft = new Draft(moved ? apply(shot, moved) : shot);
  revalue(draft, targets, (key) => ({ ...key, value: key.value + rise }));
  const raised = draft.change(manyOf(shot, targets, 'Move'));
  return moved ? compose(moved, raised) : raised;
}

const scaledHandle = (handle: Handle | undefined, factor: number): Handle | undefined =>
  handle && typeof handle.rise === 'number' ? { ...handle, rise: handle.rise * factor } : handle;

/** Scales the values of keys about a value; handles go along. A factor of -1 turns them upside down. */
export function scaleValues(
  shot: Shot,
  targets: readonly KeyAddress[],
  about: number,
  factor: number,
): Change {
  if (!Number.isFinite(factor) || !Number.isFinite(about))
    throw new EditRefused(`Values cannot be scaled by ${factor}: a number is allowed.`);
  const draft = new Draft(shot);
  revalue(draft, targets, (key) => {
    const { left, right, ...bare } = key;
    const [before, after] = [scaledHandle(left, factor), scaledHandle(right, factor)];
    return {
      ...bare,
      value: about + (key.value - about) * factor,
      ...(before ? { left: before } : {}),
      ...(after ? { right: after } : {}),
    };
  });
  return draft.change(`Scale the values of ${targets.length} keys`);
}

/** Gives several keys the same value, or puts it on top of theirs. @throws EditRefused for a value out of limits */
export function setKeyValues(
  shot: Shot,
  entries: readonly (readonly [target: KeyAddress, value: Value])[],
): Change {
  const draft = new Draft(shot);
  for (const [{ address, key }, value] of entries) {
    demandValue(shot, address, value);
    if (trackOf(shot, address)?.keys[key])
      draft.set([...pathOf(address, 'tracks'), 'keys', key, 'value'], value);
  }
  return draft.change(
    manyOf(
      shot,
      entries.map(([target]) => target),
      'Set the value of',
    ),
  );
}

/**
 * Puts a key on a frame that was typed. It may pass its neighbours; a key that stands on that frame is refused rather than
 * replaced, since nobody types a number to lose a key.
 * @throws EditRefused for a frame out of range or taken
 */
export function setKeyFrame(shot: Shot, target: KeyAddress, frame: number): Change {
  demandFrame(frame);
  const track = trackOf(shot, target.address);
  const key = track?.keys[target.key];
  if (!track || !key) return { label: 'Move a key', patches: [] };
  const taken = Object.entries(track.keys).some(
    ([id, other]) => id !== target.key && Math.abs(other.frame - frame) < SAME_FRAME,
  );
  if (taken)
    throw new EditRefused(
      `${channelName(shot, target.address)} has a key at frame ${frame} already: remove that one first, or choose another frame.`,
    );
  return moveKeys(shot, [target], frame - key.frame);
}

/**
 * Smooths a run of keys: each chosen key that has a neighbour on both sides goes a share of the way to the straight line
 * between the two (one step of Laplacian smoothing), all of them at once. Frames stay.
 * @param strength share of that way, above 0 up to 1
 */
export function smoothKeys(shot: Shot, targets: readonly KeyAddress[], strength = 0.5): Change {
  if (!(strength > 0 && strength <= 1))
    throw new EditRefused(`Keys are smoothed by a share above 0 up to 1, not ${strength}.`);
  const draft = new Draft(shot);
  revalue(draft, targets, (key, address, id) => {
    const place = keyPlace(shot, { address, key: id })!;
    const { before, after } = place;
    if (!before || !after || typeof before.value !== 'number' || typeof after.value !== 'number') return key;
    const span = after.frame - before.frame;
    if (!(span > 0)) return key;
    const line = before.value + ((after.value - before.value) * (key.frame - before.frame)) / span;
    const { left: _left, right: _right, ...bare } = key;
    return { ...bare, value: key.value + (line - key.value) * strength };
  });
  return draft.change(manyOf(shot, targets, 'Smooth'));
}
