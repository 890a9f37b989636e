import { FRAME_LIMIT, sortedKeys, trackOf, type Handle, type Key, type Manner, type Shot } from '../document';
import { EASING_NAMES, reversedEasing, type EasingName } from '../easing';
import { pathOf } from './address-path';
import { apply, Draft, type Change } from './change';
import { moveKeys, type KeyAddress } from './keys';
import { SAME_FRAME } from './put-key';
import { EditRefused } from './values';

/** The keys of one channel, as they are and as an edit wants them. */
interface Retimed {
  readonly id: string;
  readonly key: Key;
  readonly moved: boolean;
}

/** Groups keys by channel. */
export function byChannel(targets: readonly KeyAddress[]): Map<string, Set<string>> {
  const groups = new Map<string, Set<string>>();
  for (const { address, key } of targets) groups.set(address, (groups.get(address) ?? new Set()).add(key));
  return groups;
}

/** Writes the keys of a channel; a moved key that lands on another takes its place. */
function write(draft: Draft, address: string, wanted: readonly Retimed[]): void {
  const track = trackOf(draft.shot, address)!;
  const path = [...pathOf(address, 'tracks'), 'keys'];
  const moved = wanted.filter((entry) => entry.moved);
  const gone = wanted.filter(
    (entry) =>
      !entry.moved && moved.some((other) => Math.abs(other.key.frame - entry.key.frame) < SAME_FRAME),
  );
  for (const { id } of gone) draft.set([...path, id], undefined);
  for (const { id, key } of moved) {
    if (!(Math.abs(key.frame) <= FRAME_LIMIT))
      throw new EditRefused(
        `Frame ${key.frame} is out of range: -${FRAME_LIMIT} to ${FRAME_LIMIT} is allowed.`,
      );
    if (JSON.stringify(track.keys[id]) !== JSON.stringify(key)) draft.set([...path, id], key);
  }
}

function stretched(handle: Handle | undefined, factor: number): Handle | undefined {
  return handle && { ...handle, reach: handle.reach * factor };
}

function withHandles(key: Key, left: Handle | undefined, right: Handle | undefined): Key {
  const { left: _left, right: _right, ...bare } = key;
  return { ...bare, ...(left ? { left } : {}), ...(right ? { right } : {}) };
}

/** Moves each chosen key in time by a rule that needs no other key. */
function moveEach(
  shot: Shot,
  targets: readonly KeyAddress[],
  label: string,
  moved: (key: Key) => Key,
): Change {
  const draft = new Draft(shot);
  for (const [address, ids] of byChannel(targets)) {
    const track = trackOf(draft.shot, address);
    if (!track) continue;
    write(
      draft,
      address,
      sortedKeys(track).map(({ id, key }) =>
        ids.has(id) ? { id, key: moved(key), moved: true } : { id, key, moved: false },
      ),
    );
  }
  return draft.change(label);
}

/**
 * Scales keys in time about a frame: a factor of 2 takes twice as long. Handles between chosen keys go along.
 * @param whole moves each key on to the nearest whole frame
 * @throws EditRefused for a factor that is not above 0
 */
export function scaleKeys(
  shot: Shot,
  targets: readonly KeyAddress[],
  about: number,
  factor: number,
  whole = false,
): Change {
  if (!(factor > 0))
    throw new EditRefused(`Keys cannot be scaled by ${factor}: a factor above 0 is allowed.`);
  return moveEach(shot, targets, `Scale ${targets.length} keys in time`, (key) =>
    withHandles(
      { ...key, frame: scaledFrame(key.frame, about, factor, whole) },
      stretched(key.left, factor),
      stretched(key.right, factor),
    ),
  );
}

/** Where a key stands after keys have been scaled in time. */
export function scaledFrame(frame: number, about: number, factor: number, whole: boolean): number {
  const scaled = about + (frame - about) * factor;
  return whole ? Math.round(scaled) + 0 : scaled;
}

/** How a stretch moves when it is played backwards. */
export function reversedManner(manner: Manner): Manner {
  return (EASING_NAMES as readonly string[]).includes(manner) ? reversedEasing(manner as EasingName) : manner;
}

/** Keys in order, each turned round inside the span that they all have. @returns in the same order as they were given */
export function reversedRow(keys: readonly Key[]): Key[] {
  const start = keys[0]!.frame;
  const end = keys.at(-1)!.frame;
  return keys.map((key, i) => {
    // The stretch that came before this key now comes after it.
    const source = keys[i - 1] ?? key;
    const { piece: _piece, ...bare } = key;
    const piece = keys[i - 1] ? source.piece : undefined;
    return {
      ...withHandles({ ...bare, frame: start + end - key.frame }, key.right, key.left),
      manner: keys[i - 1] ? reversedManner(source.manner) : keys.at(-1)!.manner,
      ...(piece ? { piece: { from: 1 - piece.to, to: 1 - piece.from, gain: negative(piece.gain) } } : {}),
    };
  });
}

/**
 * Turns the order of keys round inside the span that they have: each stretch between two of them is played backwards. A
 * held stretch holds the value that it now begins with.
 */
export function reverseKeys(shot: Shot, targets: readonly KeyAddress[]): Change {
  const draft = new Draft(shot);
  for (const [address, ids] of byChannel(targets)) {
    const track = trackOf(draft.shot, address);
    if (!track) continue;
    const keys = sortedKeys(track);
    const chosen = keys.filter(({ id }) => ids.has(id));
    if (chosen.length < 2) continue;
    const row = reversedRow(chosen.map(({ key }) => key));
    const reversed = new Map(chosen.map(({ id }, i) => [id, row[i]!]));
    write(
      draft,
      address,
      keys.map(({ id, key }) => ({ id, key: reversed.get(id) ?? key, moved: reversed.has(id) })),
    );
  }
  return draft.change(`Reverse ${targets.length} keys`);
}

function negative(gain: NonNullable<Key['piece']>['gain']): NonNullable<Key['piece']>['gain'] {
  return typeof gain === 'number' ? -gain : (gain.map((part) => -part) as [number, number, number]);
}

/** Moves keys to whole frames. */
export function snapKeys(shot: Shot, targets: readonly KeyAddress[]): Change {
  return moveEach(shot, targets, `Snap ${targets.length} keys to frames`, (key) => ({
    ...key,
    frame: Math.round(key.frame) + 0,
  }));
}

/** Every key of the given parts, their shapes and looks as far as no other part shares them. */
export function keysOfPart(shot: Shot, id: string): KeyAddress[] {
  return Object.entries(shot.parts[id]?.tracks ?? {}).flatMap(([path, track]) =>
    Object.keys(track.keys).map((key) => ({ address: `${id}/${path}`, key })),
  );
}

/** Moves the keys of each part later than those of the part before it by `frames`; the first stays. */
export function staggerParts(shot: Shot, ids: readonly string[], frames: number): Change {
  const done: Change[] = [];
  let now = shot;
  ids.forEach((id, i) => {
    if (i === 0 || frames === 0) return;
    const change = moveKeys(now, keysOfPart(now, id), frames * i);
    done.push(change);
    now = apply(now, change);
  });
  return {
    label: `Stagger ${ids.length} parts by ${frames} frames`,
    patches: done.flatMap((change) => change.patches),
  };
}
