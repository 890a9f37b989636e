import {
  compiledComponents,
  compiledKey,
  keyCount,
  sampleTrack,
  splitStretch,
  type CompiledTrack,
} from '../curve';
import {
  channelAt,
  FRAME_LIMIT,
  sortedKeys,
  trackOf,
  type Handle,
  type Key,
  type Manner,
  type Shot,
  type Track,
  type Value,
} from '../document';
import { linearFromOklabAt } from '../math';
import { pathOf } from './address-path';
import type { Draft } from './change';
import { makeId } from './make-id';
import { EditRefused } from './values';

/** Frames nearer to each other than this count as one. */
export const SAME_FRAME = 1e-6;

/** @throws EditRefused for a frame out of range */
export function demandFrame(frame: number): void {
  if (!(Math.abs(frame) <= FRAME_LIMIT))
    throw new EditRefused(`Frame ${frame} is out of range: -${FRAME_LIMIT} to ${FRAME_LIMIT} is allowed.`);
}

/** Id of the key of a track at a frame, or `null`; of two keys on one frame the later one. */
export function keyIn(track: Track, frame: number): string | null {
  const found = sortedKeys(track).findLast(({ key }) => Math.abs(key.frame - frame) < SAME_FRAME);
  return found ? found.id : null;
}

/** Components of a channel's track, compiled. */
export function componentsOf(shot: Shot, address: string, track: Track): readonly CompiledTrack[] {
  return compiledComponents(track, channelAt(shot, address)?.spec.kind === 'colour' ? 3 : 1);
}

/** Value of a track at a frame as a key would hold it: colours in linear light, within 0..1. */
export function curveValue(shot: Shot, address: string, track: Track, frame: number): Value {
  const numbers = componentsOf(shot, address, track).map((component) => sampleTrack(component, frame));
  return valueOf(numbers, track);
}

function valueOf(numbers: readonly number[], track: Track): Value {
  if (numbers.length === 1) return numbers[0]!;
  const colour = Float64Array.from(numbers);
  if (track.blend === 'oklab') linearFromOklabAt(colour, 0);
  return [...colour].map((part) => Math.max(0, Math.min(1, part))) as [number, number, number];
}

const handleOf = (arms: readonly { reach: number; rise: number }[]): Handle => ({
  reach: arms[0]!.reach,
  rise: arms.length === 1 ? arms[0]!.rise : (arms.map(({ rise }) => rise) as [number, number, number]),
});

const sameValue = (a: Value, b: Value): boolean =>
  typeof a === 'number' && typeof b === 'number'
    ? Math.abs(a - b) <= 1e-12 * Math.max(1, Math.abs(a), Math.abs(b))
    : JSON.stringify(a) === JSON.stringify(b);

/**
 * Puts a key into a channel at a frame, or gives the key that is there the value. A new key that has the curve's own
 * value leaves the curve as it is; another value bends the curve through it, and the new key moves like the one before.
 * @returns id of the key
 */
export function putKey(
  draft: Draft,
  address: string,
  frame: number,
  value: Value,
  random?: () => number,
): string {
  demandFrame(frame);
  const spec = channelAt(draft.shot, address)?.spec;
  const track = trackOf(draft.shot, address);
  const holds = spec?.kind === 'switch';
  if (!track) {
    const id = makeId('key', random);
    const key: Key = { frame, value, manner: holds ? 'hold' : 'curve' };
    draft.set(pathOf(address, 'tracks'), { before: 'hold', after: 'hold', keys: { [id]: key } });
    // From now on the keys say what the value is; the last of them leaves it behind when it is removed.
    draft.set(pathOf(address, 'values'), undefined);
    return id;
  }
  const existing = keyIn(track, frame);
  const path = [...pathOf(address, 'tracks'), 'keys'];
  if (existing) {
    draft.set([...path, existing, 'value'], value);
    return existing;
  }
  if (sameValue(curveValue(draft.shot, address, track, frame), value)) {
    const id = insertKey(draft, address, frame, random);
    draft.set([...path, id, 'value'], value);
    return id;
  }
  const keys = sortedKeys(track);
  const index = keys.findLastIndex(({ key }) => key.frame <= frame);
  const before = keys[index];
  const after = keys[index + 1];
  const manner: Manner = holds ? 'hold' : (before?.key.manner ?? keys[0]?.key.manner ?? 'curve');
  const id = makeId('key', random);
  draft.set([...path, id], { frame, value, manner });
  if (!before || !after) return id;
  // The stretch is cut in two: handles that reached over it are shortened to their share.
  const dt = after.key.frame - before.key.frame;
  const shorten = (handle: Handle, share: number): Handle => ({ ...handle, reach: handle.reach * share });
  if (before.key.right)
    draft.set([...path, before.id, 'right'], shorten(before.key.right, (frame - before.key.frame) / dt));
  if (before.key.piece) draft.set([...path, before.id, 'piece'], undefined);
  if (after.key.left)
    draft.set([...path, after.id, 'left'], shorten(after.key.left, (after.key.frame - frame) / dt));
  return id;
}

/**
 * Puts a key on a channel's curve without any change of the curve's shape. Handles that were worked out from the
 * neighbours are written down where the new key would bend them.
 * @returns id of the key; of the key that is there already, where one is
 */
export function insertKey(draft: Draft, address: string, frame: number, random?: () => number): string {
  demandFrame(frame);
  const track = trackOf(draft.shot, address);
  if (!track) throw new EditRefused('This channel has no keys yet: key it first.');
  const existing = keyIn(track, frame);
  if (existing) return existing;
  const keys = sortedKeys(track);
  const components = componentsOf(draft.shot, address, track);
  const path = [...pathOf(address, 'tracks'), 'keys'];
  const id = makeId('key', random);
  const index = keys.findLastIndex(({ key }) => key.frame <= frame);
  const first = keys[index];
  const last = keys[index + 1];
  const value = curveValue(draft.shot, address, track, frame);
  if (!first || !last) {
    const end = first ?? last!;
    if ((first ? track.after : track.before) === 'straight') {
      freeze(draft, path, end.id, components, first ? index : 0, ['left', 'right']);
      draft.set([...path, id], { frame, value, manner: 'linear' });
      if (first) setManner(draft, [...path, first.id], 'linear');
      return id;
    }
    // Outside the keys a channel stands. The new stretch moves as the one at the end does, and is level because its ends
    // are equal: it does not hold, so that it follows when one of them changes.
    levelArm(draft, path, end, components, first ? index : 0, first ? 'right' : 'left');
    if (end.key.piece && first) draft.set([...path, end.id, 'piece'], undefined);
    draft.set([...path, id], { frame, value, manner: end.key.manner });
    return id;
  }
  const cut = (frame - first.key.frame) / (last.key.frame - first.key.frame);
  const base: Key = { frame, value, manner: first.key.manner };
  // What lies beyond the stretch must not follow the new neighbour.
  freeze(draft, path, first.id, components, index, ['left']);
  freeze(draft, path, last.id, components, index + 1, ['right']);
  if (first.key.manner === 'curve') {
    const halves = components.map((component) =>
      splitStretch(compiledKey(component, index), compiledKey(component, index + 1), frame),
    );
    const numbers = halves.map((half) => half.value);
    draft.set([...path, id], {
      ...base,
      value: valueOf(numbers, track),
      left: handleOf(halves.map((half) => half.left)),
      right: handleOf(halves.map((half) => half.right)),
      handles: 'aligned',
    });
    draft.set([...path, first.id, 'right'], handleOf(halves.map((half) => half.firstRight)));
    draft.set([...path, last.id, 'left'], handleOf(halves.map((half) => half.lastLeft)));
    return id;
  }
  // The left handle of a key that ends another kind of stretch still bends nothing, but must not start to.
  freeze(draft, path, first.id, components, index, ['right']);
  freeze(draft, path, last.id, components, index + 1, ['left']);
  if (first.key.manner === 'hold' || first.key.manner === 'linear') {
    draft.set([...path, id], base);
    return id;
  }
  const piece = first.key.piece ?? { from: 0, to: 1, gain: wholeGain(components, index) };
  const middle = piece.from + (piece.to - piece.from) * cut;
  draft.set([...path, first.id, 'piece'], { ...piece, to: middle });
  draft.set([...path, id], { ...base, piece: { ...piece, from: middle } });
  return id;
}

/**
 * Lays the handle of an end key level on the side that had no stretch so far, where the key's handles would bend the
 * level stretch that comes there, and keeps the handle on its other side as it is.
 */
function levelArm(
  draft: Draft,
  path: readonly string[],
  end: { readonly id: string; readonly key: Key },
  components: readonly CompiledTrack[],
  index: number,
  side: 'left' | 'right',
): void {
  const { handles } = end.key;
  // Automatic handles lie level beside a level stretch by themselves.
  if (!end.key[side] && handles !== 'smooth' && handles !== 'aligned') return;
  freeze(draft, path, end.id, components, index, [side === 'left' ? 'right' : 'left']);
  const reach = end.key[side]?.reach ?? 0;
  draft.set([...path, end.id, side], { reach, rise: 0 });
  if (handles === 'aligned' || handles === 'smooth') draft.set([...path, end.id, 'handles'], 'free');
}

function wholeGain(components: readonly CompiledTrack[], index: number): Value {
  const gains = components.map(
    (component) => compiledKey(component, index + 1).value - compiledKey(component, index).value,
  );
  return gains.length === 1 ? gains[0]! : (gains as [number, number, number]);
}

/** Sets how the stretch after a key moves; a piece of an easing goes with it. */
export function setManner(draft: Draft, keyPath: readonly string[], manner: Manner): void {
  draft.set([...keyPath, 'piece'], undefined);
  draft.set([...keyPath, 'manner'], manner);
}

/** Writes down the handles of a key that are worked out, so that they stay as they are. */
export function freeze(
  draft: Draft,
  path: readonly string[],
  id: string,
  components: readonly CompiledTrack[],
  index: number,
  sides: readonly ('left' | 'right')[],
): void {
  const keys = components.map((component) => compiledKey(component, index));
  const count = keyCount(components[0]!);
  for (const side of sides) {
    if (side === 'left' ? index === 0 : index === count - 1) continue;
    const arms = keys.map((key) =>
      side === 'left'
        ? { reach: key.leftReach, rise: key.leftRise }
        : { reach: key.rightReach, rise: key.rightRise },
    );
    draft.set([...path, id, side], handleOf(arms));
  }
}
