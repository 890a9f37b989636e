import { slopeAtEnd } from '../curve';
import {
  RISE_LIMIT,
  sortedKeys,
  trackOf,
  channelAt,
  type Blend,
  type Handle,
  type HandleKind,
  type Key,
  type Shot,
  type Value,
} from '../document';
import { pathOf } from './address-path';
import { Draft, type Change } from './change';
import type { KeyAddress } from './keys';
import { componentsOf, demandFrame, freeze, insertKey, putKey, SAME_FRAME, setManner } from './put-key';
import { channelName, EditRefused } from './values';

function eachKey(
  shot: Shot,
  targets: readonly KeyAddress[],
  visit: (draft: Draft, path: readonly string[], key: Key, target: KeyAddress) => void,
): Draft {
  const draft = new Draft(shot);
  for (const target of targets) {
    const key = trackOf(draft.shot, target.address)?.keys[target.key];
    if (key) visit(draft, [...pathOf(target.address, 'tracks'), 'keys', target.key], key, target);
  }
  return draft;
}

const labelFor = (shot: Shot, targets: readonly KeyAddress[], what: string): string =>
  targets.length === 1
    ? `${what} of ${channelName(shot, targets[0]!.address)}`
    : `${what} of ${targets.length} keys`;

/** Sets how the handles of keys lie. Kinds that are worked out drop the stored handles, the others write them down. */
export function setHandleKind(shot: Shot, targets: readonly KeyAddress[], kind: HandleKind): Change {
  const draft = eachKey(shot, targets, (draft, path, key, { address, key: id }) => {
    if (kind === 'auto' || kind === 'smooth' || kind === 'flat') {
      const { left: _left, right: _right, handles: _handles, ...bare } = key;
      draft.set(path, kind === 'auto' ? bare : { ...bare, handles: kind });
      return;
    }
    const track = trackOf(draft.shot, address)!;
    const index = sortedKeys(track).findIndex((entry) => entry.id === id);
    freeze(draft, path.slice(0, -1), id, componentsOf(draft.shot, address, track), index, ['left', 'right']);
    draft.set([...path, 'handles'], kind);
    if (kind === 'aligned') alignRight(draft, path);
  });
  return draft.change(labelFor(shot, targets, 'Set the handles'));
}

/** A rise scaled, within what a handle may rise: one in line with an upright one would rise without end. */
function scaled(rise: Handle['rise'], factor: number): Handle['rise'] {
  const one = (part: number): number => Math.max(-RISE_LIMIT, Math.min(RISE_LIMIT, part * factor)) + 0;
  return typeof rise === 'number' ? one(rise) : (rise.map(one) as [number, number, number]);
}

/** Brings the right handle of a key in line with its left one, its reach kept. */
function alignRight(draft: Draft, path: readonly string[]): void {
  const key = keyAtPath(draft, path);
  if (!key?.left || !key.right || key.left.reach === 0) return;
  draft.set([...path, 'right'], {
    reach: key.right.reach,
    rise: scaled(key.left.rise, -key.right.reach / key.left.reach),
  });
}

function keyAtPath(draft: Draft, path: readonly string[]): Key | undefined {
  let node: unknown = draft.shot;
  for (const segment of path) node = (node as Record<string, unknown> | undefined)?.[segment];
  return node as Key | undefined;
}

/** How far a handle may reach, frames: to the neighbouring key, so that time never runs backwards; 0 at the ends. */
export function handleLimit(shot: Shot, { address, key: id }: KeyAddress, side: 'left' | 'right'): number {
  const keys = sortedKeys(trackOf(shot, address) ?? { before: 'hold', after: 'hold', keys: {} });
  const index = keys.findIndex((entry) => entry.id === id);
  const other = keys[index + (side === 'left' ? -1 : 1)];
  return other && index >= 0 ? Math.abs(other.key.frame - keys[index]!.key.frame) : 0;
}

/**
 * Puts a handle's end where it was dragged; it stops at the neighbouring key. The other handle of an aligned key turns
 * with it, its reach kept; a key whose handles were worked out becomes a free one. The stretch that the handle shapes
 * becomes a curve.
 */
export function setHandle(
  shot: Shot,
  { address, key: id }: KeyAddress,
  side: 'left' | 'right',
  wanted: Handle,
): Change {
  if (!(wanted.reach >= 0)) throw new EditRefused(`A handle reaches 0 frames or more, not ${wanted.reach}.`);
  const limit = handleLimit(shot, { address, key: id }, side);
  const handle = { ...wanted, reach: limit > 0 ? Math.min(limit, wanted.reach) : wanted.reach };
  const draft = eachKey(shot, [{ address, key: id }], (draft, path, key) => {
    const track = trackOf(draft.shot, address)!;
    const index = sortedKeys(track).findIndex((entry) => entry.id === id);
    freeze(draft, path.slice(0, -1), id, componentsOf(draft.shot, address, track), index, ['left', 'right']);
    draft.set([...path, side], handle);
    const kind = key.handles === 'aligned' ? 'aligned' : 'free';
    draft.set([...path, 'handles'], kind);
    const other = side === 'left' ? 'right' : 'left';
    const now = keyAtPath(draft, path)!;
    if (kind === 'aligned' && now[other] && handle.reach > SAME_FRAME)
      draft.set([...path, other], {
        reach: now[other].reach,
        rise: scaled(handle.rise, -now[other].reach / handle.reach),
      });
    const keys = sortedKeys(track);
    const owner = side === 'right' ? keys[index] : keys[index - 1];
    if (owner && keys[index + (side === 'right' ? 1 : 0)] && owner.key.manner !== 'curve')
      setManner(draft, [...path.slice(0, -1), owner.id], 'curve');
  });
  return draft.change(`Drag a handle of ${channelName(shot, address)}`);
}

/** Levels the handles of keys. */
export function flattenKeys(shot: Shot, targets: readonly KeyAddress[]): Change {
  return { ...setHandleKind(shot, targets, 'flat'), label: labelFor(shot, targets, 'Level the handles') };
}

/**
 * Gives the curve after each key the slope that it arrives with (or the other way round), so that the motion goes through
 * without a jolt. Stretches that are not curves become curves on that side.
 */
export function matchSlope(
  shot: Shot,
  targets: readonly KeyAddress[],
  follows: 'left' | 'right' = 'right',
): Change {
  const draft = eachKey(shot, targets, (draft, path, _key, { address, key: id }) => {
    const track = trackOf(draft.shot, address)!;
    const keys = sortedKeys(track);
    const index = keys.findIndex((entry) => entry.id === id);
    const before = keys[index - 1];
    const after = keys[index + 1];
    if (!before || !after) return;
    const components = componentsOf(draft.shot, address, track);
    const folder = path.slice(0, -1);
    freeze(draft, folder, id, components, index, ['left', 'right']);
    const slopes = components.map((component) =>
      follows === 'right'
        ? slopeAtEnd(component, index - 1, 'finish')
        : slopeAtEnd(component, index, 'start'),
    );
    const reach =
      follows === 'right'
        ? (after.key.frame - keys[index]!.key.frame) / 3
        : (keys[index]!.key.frame - before.key.frame) / 3;
    const sign = follows === 'right' ? 1 : -1;
    const rise: Handle['rise'] =
      slopes.length === 1
        ? sign * slopes[0]! * reach
        : (slopes.map((slope) => sign * slope * reach) as [number, number, number]);
    draft.set([...path, follows], { reach, rise });
    draft.set([...path, 'handles'], 'aligned');
    // The stretch on the side that follows has to be one that handles shape.
    const owner = follows === 'right' ? keys[index]! : before;
    if (owner.key.manner !== 'curve') {
      setManner(draft, [...folder, owner.id], 'curve');
    }
  });
  return draft.change(labelFor(shot, targets, 'Match the slope'));
}

/** Sets how a colour channel blends between its keys. @throws EditRefused for a channel that is no colour */
export function setBlend(shot: Shot, address: string, blend: Blend): Change {
  if (channelAt(shot, address)?.spec.kind !== 'colour')
    throw new EditRefused(`${channelName(shot, address)} is no colour: only colours blend.`);
  const draft = new Draft(shot);
  if (trackOf(shot, address))
    draft.set([...pathOf(address, 'tracks'), 'blend'], blend === 'linear' ? undefined : blend);
  return draft.change(`Set how ${channelName(shot, address)} blends`);
}

/**
 * Closes a loop: puts the first key's value at the last frame of the loop, and lets the curve arrive there with the slope
 * with which it starts.
 */
export function closeLoop(
  shot: Shot,
  addresses: readonly string[],
  last: number,
  random?: () => number,
): Change {
  demandFrame(last);
  const draft = new Draft(shot);
  for (const address of addresses) {
    const track = trackOf(draft.shot, address);
    const first = track && sortedKeys(track)[0];
    if (!first || first.key.frame >= last) continue;
    const slopes =
      Object.keys(track.keys).length > 1
        ? componentsOf(draft.shot, address, track).map((component) => slopeAtEnd(component, 0, 'start'))
        : null;
    const id = putKey(draft, address, last, first.key.value, random);
    const now = trackOf(draft.shot, address)!;
    const keys = sortedKeys(now);
    const index = keys.findIndex((entry) => entry.id === id);
    const before = keys[index - 1];
    if (!slopes || before?.key.manner !== 'curve') continue;
    const reach = (last - before.key.frame) / 3;
    const path = [...pathOf(address, 'tracks'), 'keys'];
    freeze(draft, path, before.id, componentsOf(draft.shot, address, now), index - 1, ['right']);
    // The first key leaves as it did before the new key was there.
    if (before.id !== first.id)
      freeze(draft, path, first.id, componentsOf(draft.shot, address, now), 0, ['right']);
    draft.set([...path, id, 'left'], {
      reach,
      rise:
        slopes.length === 1
          ? -slopes[0]! * reach
          : (slopes.map((slope) => -slope * reach) as [number, number, number]),
    });
  }
  return draft.change('Close the loop');
}

/**
 * Lets channels hold what they have until a frame: the value of the key before it is kept up to there, and what comes
 * after starts from the frame. Channels without keys get one that holds their value.
 * @param valueOf value of a channel without keys
 */
export function holdUntil(
  shot: Shot,
  addresses: readonly string[],
  frame: number,
  valueOf: (address: string) => Value,
  random?: () => number,
): Change {
  demandFrame(frame);
  const draft = new Draft(shot);
  for (const address of addresses) {
    const track = trackOf(draft.shot, address);
    if (!track) {
      putKey(draft, address, frame, valueOf(address), random);
      continue;
    }
    const before = sortedKeys(track).findLast(({ key }) => key.frame < frame);
    if (!before) {
      insertKey(draft, address, frame, random);
      continue;
    }
    const path = [...pathOf(address, 'tracks'), 'keys'];
    const id = putKey(draft, address, frame, before.key.value, random);
    setManner(draft, [...path, id], before.key.piece ? 'curve' : before.key.manner);
    if (before.key.right) draft.set([...path, before.id, 'right'], undefined);
    setManner(draft, [...path, before.id], 'hold');
  }
  return draft.change(`Hold until frame ${frame}`);
}
