import { compiledKey } from '../curve';
import {
  channelAt,
  sortedKeys,
  storedValue,
  subtreeOf,
  trackOf,
  type Clip,
  type Key,
  type Placement,
  type Shot,
  type Track,
} from '../document';
import { spanOfPlacement } from '../evaluate';
import { pathOf } from './address-path';
import { Draft, type Change } from './change';
import { makeId } from './make-id';
import { componentsOf, demandFrame, insertKey } from './put-key';
import { reversedManner } from './retime';
import { EditRefused } from './values';

/** A new clip of what a part and everything below it do between two frames. Their keys stay where they are. */
export function makeClip(
  shot: Shot,
  root: string,
  name: string,
  first: number,
  last: number,
  random?: () => number,
): { change: Change; id: string } {
  const part = shot.parts[root];
  if (!part) throw new EditRefused('This part is no longer in the shot.');
  if (!(last >= first)) throw new EditRefused(`A clip cannot run from frame ${first} to ${last}.`);
  const tracks: Record<string, Track> = {};
  for (const id of subtreeOf(shot, root))
    for (const [path, track] of Object.entries(shot.parts[id]!.tracks)) tracks[`${id}/${path}`] = track;
  if (Object.keys(tracks).length === 0)
    throw new EditRefused(
      `"${part.name}" and what hangs below it have no keys: there is nothing to make a clip of.`,
    );
  const taken = new Set(Object.values(shot.clips).map((clip) => clip.name));
  let free = name;
  for (let n = 2; taken.has(free); n++) free = `${name} ${n}`;
  const id = makeId('clp', random);
  const draft = new Draft(shot);
  draft.set(['clips', id], { name: free, root, first, last, tracks });
  return { change: draft.change(`Make the clip ${free}`), id };
}

/** Shows a clip from a frame on. Where showings overlap, the newest lies on top. */
export function placeClip(
  shot: Shot,
  clip: string,
  start: number,
  options: Partial<Omit<Placement, 'clip' | 'start'>> = {},
  random?: () => number,
): { change: Change; id: string } {
  const source = shot.clips[clip];
  if (!source) throw new EditRefused('This clip is no longer in the shot.');
  demandFrame(start);
  const top = Math.max(-1, ...Object.values(shot.placements).map((placement) => placement.order));
  const id = makeId('plc', random);
  const draft = new Draft(shot);
  draft.set(['placements', id], {
    clip,
    start,
    speed: 1,
    plays: 'once',
    until: null,
    order: top + 1,
    ...options,
  });
  return { change: draft.change(`Show ${source.name} from frame ${start}`), id };
}

/** Changes when, how fast and how a clip is shown. */
export function changePlacement(shot: Shot, id: string, change: Partial<Placement>): Change {
  const now = shot.placements[id];
  if (!now) throw new EditRefused('This showing is no longer in the shot.');
  const next = { ...now, ...change };
  if (!(next.speed >= 0.01 && next.speed <= 100))
    throw new EditRefused(`A clip cannot be shown at ${next.speed} times its speed: 0.01 to 100 is allowed.`);
  demandFrame(next.start);
  if (next.until !== null && next.until < next.start)
    throw new EditRefused(`A showing cannot end at frame ${next.until}, before it starts at ${next.start}.`);
  const draft = new Draft(shot);
  draft.set(['placements', id], next);
  return draft.change(`Change a showing of ${shot.clips[next.clip]?.name ?? 'a clip'}`);
}

/** Takes a showing away; the clip stays. */
export function removePlacement(shot: Shot, id: string): Change {
  const draft = new Draft(shot);
  draft.set(['placements', id], undefined);
  return draft.change('Take a showing away');
}

/** Takes a clip away, with all its showings. */
export function removeClip(shot: Shot, id: string): Change {
  const draft = new Draft(shot);
  for (const [placement, { clip }] of Object.entries(shot.placements))
    if (clip === id) draft.set(['placements', placement], undefined);
  draft.set(['clips', id], undefined);
  return draft.change(`Delete the clip ${shot.clips[id]?.name ?? ''}`);
}

/** Part of a frame after which a value that was held backwards has jumped. */
const JUMP = 1e-3;

/**
 * Turns a showing into keys of the channels it moves: they do the same at every frame of the showing, and what they did
 * outside it is kept. A showing without end is unpacked up to the shot's last frame.
 * @throws EditRefused where another showing lies below it on one of its channels
 */
export function unpackPlacement(shot: Shot, id: string, random?: () => number): Change {
  const placement = shot.placements[id];
  const clip = placement && shot.clips[placement.clip];
  if (!clip) throw new EditRefused('This showing is no longer in the shot.');
  const span = spanOfPlacement(placement, clip);
  const end = Number.isFinite(span.to) ? span.to : Math.max(shot.setup.last, span.from);
  for (const [other, entry] of Object.entries(shot.placements)) {
    const below = entry.order < placement.order || (entry.order === placement.order && other < id);
    const source = shot.clips[entry.clip];
    if (other === id || !below || !source) continue;
    const reach = spanOfPlacement(entry, source);
    const shares = Object.keys(clip.tracks).some((address) => source.tracks[address]);
    if (shares && reach.from < end && reach.to > span.from)
      throw new EditRefused(`"${source.name}" lies below it on the same channels: unpack that one first.`);
  }
  const draft = new Draft(shot);
  for (const [address, track] of Object.entries(clip.tracks)) {
    if (!channelAt(shot, address)) continue;
    const played = playedKeys(shot, address, track, clip, placement, end);
    const around = keysAround(shot, address, span.from, Number.isFinite(span.to) ? end : null);
    const row = [...around.before, ...played, ...around.after];
    // Ids in rising order put keys on one frame in the order of the row.
    const ids = row.map(() => makeId('key', random)).sort();
    const base = trackOf(shot, address);
    draft.set(pathOf(address, 'tracks'), {
      before: base?.before ?? 'hold',
      after: around.after.length > 0 ? (base?.after ?? 'hold') : 'hold',
      ...((base?.blend ?? track.blend) ? { blend: base?.blend ?? track.blend } : {}),
      keys: Object.fromEntries(row.map((key, i) => [ids[i]!, key])),
    });
  }
  draft.set(['placements', id], undefined);
  return draft.change(`Unpack ${clip.name} into keys`);
}

/** A key after which its value is held. */
function held(key: Key): Key {
  const { piece: _piece, ...bare } = key;
  return { ...bare, manner: 'hold' };
}

/** Keys of a track with every handle written down, so that they keep their shape among other neighbours. */
function written(shot: Shot, address: string, track: Track): Key[] {
  const components = componentsOf(shot, address, track);
  return sortedKeys(track).map(({ key }, i) => {
    const keys = components.map((component) => compiledKey(component, i));
    const rise = (values: number[]): number | [number, number, number] =>
      values.length === 1 ? values[0]! : (values as [number, number, number]);
    return {
      ...key,
      left: { reach: keys[0]!.leftReach, rise: rise(keys.map((entry) => entry.leftRise)) },
      right: { reach: keys[0]!.rightReach, rise: rise(keys.map((entry) => entry.rightRise)) },
      handles: 'free' as const,
    };
  });
}

/** A shot in which a channel has the given keys, to work on with the edits of one channel. */
function withTrack(shot: Shot, address: string, track: Track): Draft {
  const draft = new Draft(shot);
  draft.set(pathOf(address, 'tracks'), track);
  return draft;
}

/** Keys of a track between two frames, with keys put in at both. */
function cutKeys(shot: Shot, address: string, track: Track, from: number, to: number): Key[] {
  const draft = withTrack(shot, address, track);
  insertKey(draft, address, from);
  insertKey(draft, address, to);
  const keys = written(draft.shot, address, trackOf(draft.shot, address)!);
  const first = keys.findLastIndex((key) => key.frame <= from + 1e-9);
  const last = keys.findIndex((key) => key.frame >= to - 1e-9);
  return keys.slice(first, Math.max(first, last) + 1);
}

function playedKeys(
  shot: Shot,
  address: string,
  track: Track,
  clip: Clip,
  placement: Placement,
  end: number,
): Key[] {
  const length = clip.last - clip.first;
  const { speed, start, plays } = placement;
  const pass = length / speed;
  const out: Key[] = [];
  const add = (keys: readonly Key[], at: number, backwards: boolean): void => {
    const mapped = played(keys, at, speed, backwards);
    const before = out.at(-1);
    const next = mapped[0];
    // The turning point of a back-and-forth is one key: it arrives by one pass and leaves by the next.
    if (before && next && plays === 'back-and-forth' && before.frame === next.frame) {
      out[out.length - 1] = { ...next, ...(before.left ? { left: before.left } : {}) };
      out.push(...mapped.slice(1));
    } else out.push(...mapped);
  };
  if (length <= 0)
    return [
      {
        frame: start,
        value: cutKeys(shot, address, track, clip.first, clip.first)[0]!.value,
        manner: 'hold',
      },
    ];
  const passes = plays === 'loop' || plays === 'back-and-forth' ? Math.ceil((end - start) / pass - 1e-9) : 1;
  for (let n = 0; n < Math.max(1, passes); n++) {
    const from = start + n * pass;
    const backwards = plays === 'back-and-forth' && n % 2 === 1;
    const gone = Math.min(length, (end - from) * speed);
    const keys = backwards
      ? cutKeys(shot, address, track, clip.last - gone, clip.last)
      : cutKeys(shot, address, track, clip.first, clip.first + gone);
    add(keys, from, backwards);
  }
  out[out.length - 1] = held(out.at(-1)!);
  return out;
}

function played(keys: readonly Key[], at: number, speed: number, backwards: boolean): Key[] {
  const origin = backwards ? keys.at(-1)!.frame : keys[0]!.frame;
  const scaled = (handle: Key['left']): Key['left'] => handle && { ...handle, reach: handle.reach / speed };
  if (!backwards)
    return keys.map((key) => ({
      ...key,
      frame: at + (key.frame - origin) / speed,
      left: scaled(key.left),
      right: scaled(key.right),
    }));
  const out: Key[] = [];
  const list = [...keys].reverse();
  list.forEach((key, i) => {
    const earlier = list[i + 1];
    const { piece: _piece, ...bare } = key;
    const frame = at + (origin - key.frame) / speed;
    const manner = earlier ? reversedManner(earlier.manner) : 'hold';
    const piece = earlier?.piece;
    const gain =
      piece &&
      (typeof piece.gain === 'number'
        ? -piece.gain
        : (piece.gain.map((part) => -part) as [number, number, number]));
    out.push({
      ...bare,
      frame,
      manner,
      left: scaled(key.right),
      right: scaled(key.left),
      ...(piece && gain !== undefined ? { piece: { from: 1 - piece.to, to: 1 - piece.from, gain } } : {}),
    });
    // Played backwards, a held value is there from just after its end on.
    if (earlier?.manner === 'hold') out.push({ frame: frame + JUMP, value: earlier.value, manner: 'hold' });
  });
  return out;
}

/** What a channel does before and from the end of a showing, ending and beginning with keys of its own there. */
function keysAround(
  shot: Shot,
  address: string,
  from: number,
  to: number | null,
): { before: Key[]; after: Key[] } {
  const track = trackOf(shot, address);
  if (!track) {
    const stored = storedValue(shot, channelAt(shot, address)!);
    return {
      before: [{ frame: from, value: stored, manner: 'hold' }],
      after: to === null ? [] : [{ frame: to, value: stored, manner: 'hold' }],
    };
  }
  const draft = withTrack(shot, address, track);
  insertKey(draft, address, from);
  if (to !== null) insertKey(draft, address, to);
  const keys = written(draft.shot, address, trackOf(draft.shot, address)!);
  const before = keys.filter((key) => key.frame <= from);
  return {
    before: before.map((key, i) => (i === before.length - 1 ? held(key) : key)),
    after: to === null ? [] : keys.filter((key) => key.frame >= to),
  };
}
