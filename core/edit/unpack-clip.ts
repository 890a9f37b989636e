import { compiledKey } from '../curve';
import {
  channelAt,
  sortedKeys,
  splitAddress,
  flipsAcross,
  storedValue,
  trackOf,
  type Clip,
  type Key,
  type Placement,
  type Shot,
  type Track,
} from '../document';
import { compile, Evaluator, playedOf, shownAddress, spanOfPlacement } from '../evaluate';
import { pathOf } from './address-path';
import { Draft, type Change } from './change';
import { makeId } from './make-id';
import { negatedKey } from './negated-key';
import { componentsOf, curveValue, insertKey, SAME_FRAME } from './put-key';
import { reversedManner } from './retime';
import { EditRefused } from './values';

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
  if (placement.off)
    throw new EditRefused('This showing is switched off: switch it on to unpack what it does.');
  const span = spanOfPlacement(placement, clip);
  const end = Number.isFinite(span.to) ? span.to : Math.max(shot.setup.last, span.from);
  for (const [other, entry] of Object.entries(shot.placements)) {
    const below = entry.order < placement.order || (entry.order === placement.order && other < id);
    const source = shot.clips[entry.clip];
    if (other === id || !below || !source) continue;
    const reach = spanOfPlacement(entry, source);
    const moved = movedBy(entry, source);
    const shares = !entry.off && movedBy(placement, clip).some((address) => moved.includes(address));
    if (shares && reach.from < end && reach.to > span.from)
      throw new EditRefused(`"${source.name}" lies below it on the same channels: unpack that one first.`);
  }
  const draft = new Draft(shot);
  const blend = blending(shot, placement, span, end);
  for (const [source, track] of Object.entries(clip.tracks)) {
    const address = shownAddress(placement, source);
    if (address === null || !channelAt(shot, address)) continue;
    const turned = placement.mirrored && flipsAcross(splitAddress(source).path, 'x');
    const shown = turned ? withKeys(track, negatedKey) : track;
    const played = blend(address, playedKeys(shot, address, shown, clip, placement, end), track);
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

/** Addresses of the channels that a placement moves. */
export const movedBy = (placement: Placement, clip: Clip): string[] =>
  Object.keys(clip.tracks).flatMap((source) => shownAddress(placement, source) ?? []);

const withKeys = (track: Track, turn: (key: Key) => Key): Track => ({
  ...track,
  keys: Object.fromEntries(Object.entries(track.keys).map(([id, key]) => [id, turn(key)])),
});

/**
 * What becomes of the keys of a showing where it is blended over what lies below: keys on every frame there, straight
 * from one to the next.
 */
function blending(
  shot: Shot,
  placement: Placement,
  span: { from: number; to: number },
  end: number,
): (address: string, played: Key[], track: Track) => Key[] {
  const { blendIn = 0, blendOut = 0 } = placement;
  const into = Math.min(end, span.from + blendIn);
  const out = Math.max(into, Number.isFinite(span.to) ? end - blendOut : end);
  if (into <= span.from && out >= end) return (_, played) => played;
  const evaluator = new Evaluator(compile(withoutLinks(shot)));
  return (address, played, track) => {
    const spec = channelAt(shot, address)!.spec;
    const steps = spec.kind === 'switch' || spec.whole === true;
    const at = (frame: number): Key => {
      // The last moment of a showing, which is no longer seen at its end.
      evaluator.evaluate(frame >= span.to ? span.to - JUMP : frame);
      const value = spec.kind === 'colour' ? evaluator.colour(address) : evaluator.number(address);
      return {
        frame,
        value: typeof value === 'number' ? value : ([...value] as [number, number, number]),
        manner: steps ? 'hold' : 'linear',
      };
    };
    const baked = (from: number, to: number): Key[] => framesBetween(from, to).slice(0, -1).map(at);
    const kept = out > into ? cutRow(shot, address, played, track, into, out) : [];
    const lead = into > span.from ? baked(span.from, into) : [];
    if (out >= end) return [...lead, ...kept];
    return [...lead, ...kept.slice(0, -1), ...baked(out, end), { ...at(end), manner: 'hold' }];
  };
}

/** A frame, the whole ones up to another one, and that. */
function framesBetween(from: number, to: number): number[] {
  const frames = [from];
  for (let frame = Math.floor(from) + 1; frame < to - SAME_FRAME; frame++) frames.push(frame);
  if (to > from) frames.push(to);
  return frames;
}

/** The part of a row of keys between two frames, its ends cut to fit. */
function cutRow(
  shot: Shot,
  address: string,
  row: readonly Key[],
  like: Track,
  from: number,
  to: number,
): Key[] {
  const ids = row.map(() => makeId('key')).sort();
  const track: Track = {
    ...like,
    before: 'hold',
    after: 'hold',
    keys: Object.fromEntries(row.map((key, i) => [ids[i]!, key])),
  };
  return cutKeys(shot, address, track, from, to);
}

/** A shot whose channels are moved by nothing but keys and clips. */
function withoutLinks(shot: Shot): Shot {
  const bare = <T extends { links: object }>(table: Readonly<Record<string, T>>): Record<string, T> =>
    Object.fromEntries(Object.entries(table).map(([id, owner]) => [id, { ...owner, links: {} }]));
  return {
    ...shot,
    parts: bare(shot.parts),
    shapes: bare(shot.shapes),
    looks: bare(shot.looks),
    dials: bare(shot.dials),
  };
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

/** Whether a track does something other than rest or run straight on outside its keys, between two frames. */
export function repeatsWithin(track: Track, from: number, to: number): boolean {
  const keys = sortedKeys(track);
  const plain = (way: Track['before']): boolean => way === 'hold' || way === 'straight';
  return (
    (!plain(track.before) && from < keys[0]!.key.frame) ||
    (!plain(track.after) && to > keys.at(-1)!.key.frame)
  );
}

/** Keys of a track between two frames, with keys put in at both; on every frame where it repeats its keys there. */
export function cutKeys(shot: Shot, address: string, track: Track, from: number, to: number): Key[] {
  if (repeatsWithin(track, from, to))
    return framesBetween(from, to).map((frame) => ({
      frame,
      value: curveValue(shot, address, track, frame),
      manner: 'linear',
    }));
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
  const { first, last } = playedOf(placement, clip);
  const length = last - first;
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
        value: cutKeys(shot, address, track, first, first)[0]!.value,
        manner: 'hold',
      },
    ];
  const passes = plays === 'loop' || plays === 'back-and-forth' ? Math.ceil((end - start) / pass - 1e-9) : 1;
  for (let n = 0; n < Math.max(1, passes); n++) {
    const from = start + n * pass;
    const backwards = (plays === 'back-and-forth' && n % 2 === 1) !== (placement.backwards === true);
    const gone = Math.min(length, (end - from) * speed);
    const keys = backwards
      ? cutKeys(shot, address, track, last - gone, last)
      : cutKeys(shot, address, track, first, first + gone);
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
export function keysAround(
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
