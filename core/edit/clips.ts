import {
  CLIP_PLAYS,
  isWithin,
  sortedKeys,
  splitAddress,
  subtreeOf,
  tableOf,
  trackOf,
  usersOf,
  type Clip,
  type Placement,
  type Shot,
  type Track,
} from '../document';
import { playedOf, spanOfPlacement } from '../evaluate';
import { pathOf } from './address-path';
import { Draft, type Change } from './change';
import { makeId } from './make-id';
import { demandName } from './demand-name';

import { demandFrame } from './put-key';
import { cutKeys, keysAround, repeatsWithin } from './unpack-clip';
import { EditRefused } from './values';

/** Shortest time that a showing may take, frames. */
const SHORTEST = 0.01;
const SLOWEST = 0.01;
const FASTEST = 100;

/** Channels below parts that have keys between two frames, those of their shapes and looks among them. */
export function keyedBetween(shot: Shot, roots: readonly string[], first: number, last: number): string[] {
  const owners = new Set<string>();
  for (const root of roots)
    for (const id of shot.parts[root] ? subtreeOf(shot, root) : [])
      for (const owner of [id, shot.parts[id]!.shape, shot.parts[id]!.look]) if (owner) owners.add(owner);
  const found: string[] = [];
  for (const owner of owners) {
    const table = tableOf(owner)!;
    for (const [path, track] of Object.entries(shot[table][owner]?.tracks ?? {}))
      if (sortedKeys(track).some(({ key }) => key.frame >= first && key.frame <= last))
        found.push(`${owner}/${path}`);
  }
  return found;
}

/** The part that a clip of channels belongs to: the nearest one above all their owners, else the topmost of the first. */
function rootOf(shot: Shot, addresses: readonly string[]): string {
  const parts = addresses.flatMap((address) => {
    const { owner } = splitAddress(address);
    return tableOf(owner) === 'parts' ? [owner] : usersOf(shot, owner).slice(0, 1);
  });
  const chain: string[] = [];
  for (let at: string | null = parts[0] ?? null; at !== null; at = shot.parts[at]?.parent ?? null)
    chain.push(at);
  const above = chain.find((id) => parts.every((part) => isWithin(shot, part, id)));
  const root = above ?? chain.at(-1) ?? Object.keys(shot.parts)[0];
  if (root === undefined) throw new EditRefused('A clip needs a part that it moves: add one first.');
  return root;
}

/** A name that no clip has yet: `name`, `name 2`, ... */
function freeClipName(shot: Shot, name: string): string {
  const wanted = demandName(name);
  const taken = new Set(Object.values(shot.clips).map((clip) => clip.name));
  let free = wanted;
  for (let n = 2; taken.has(free); n++) free = `${wanted} ${n}`;
  return free;
}

/**
 * A clip of what channels do between two frames; their keys become its first showing, and the shot moves as before.
 * Keys outside the frames stay.
 * @param name that of the part that it moves where none is given
 * @throws EditRefused where there are no keys, or no time between the frames
 */
export function makeClip(
  shot: Shot,
  addresses: readonly string[],
  first: number,
  last: number,
  name?: string,
  random?: () => number,
): { change: Change; id: string; placement: string } {
  const keyed = addresses.filter((address) => trackOf(shot, address));
  if (keyed.length === 0)
    throw new EditRefused('There are no keys to make a clip of: choose keys, or keyed parts.');
  if (!(last > first))
    throw new EditRefused(
      `A clip needs some time: frame ${first} to ${last} is none. Choose keys at two frames.`,
    );
  const draft = new Draft(shot);
  const tracks: Record<string, Track> = {};
  const plays = playsOf(shot, keyed, first, last);
  for (const address of keyed) {
    const track = trackOf(shot, address)!;
    tracks[address] = pieceOfTrack(shot, address, track, { first, last }, random);
    leaveOutside(draft, shot, address, { first, last }, plays, random);
  }
  const id = makeId('clp', random);
  const placement = makeId('plc', random);
  const root = rootOf(shot, keyed);
  const free = freeClipName(shot, name ?? shot.parts[root]!.name);
  draft.set(['clips', id], { name: free, root, first, last, tracks });
  draft.set(['placements', placement], {
    clip: id,
    start: first,
    speed: 1,
    plays,
    until: null,
    order: topOrder(shot),
  });
  return { change: draft.change(`Make the clip ${free}`), id, placement };
}

/** What a clip needs of a channel: its keys within the frames, or all of them where it repeats them there. */
function pieceOfTrack(
  shot: Shot,
  address: string,
  track: Track,
  { first, last }: { first: number; last: number },
  random?: () => number,
): Track {
  if (repeatsWithin(track, first, last)) return track;
  return rowTrack(track, cutKeys(shot, address, track, first, last), random);
}

/** How a clip goes on after its end, so that what it was made of looks as before. */
function playsOf(shot: Shot, addresses: readonly string[], first: number, last: number): Placement['plays'] {
  const tracks = addresses.map((address) => trackOf(shot, address)!);
  const ends = (after: Track['after']): boolean =>
    tracks.every((track) => {
      const keys = sortedKeys(track);
      return track.after === after && keys[0]!.key.frame === first && keys.at(-1)!.key.frame === last;
    });
  if (ends('repeat')) return 'loop';
  if (ends('mirror')) return 'back-and-forth';
  const rests = tracks.every(
    (track) => track.after === 'hold' && sortedKeys(track).every(({ key }) => key.frame <= last),
  );
  return rests ? 'hold' : 'once';
}

/** Leaves a channel, whose keys between two frames are in a clip now, as it is outside them. */
function leaveOutside(
  draft: Draft,
  shot: Shot,
  address: string,
  { first, last }: { first: number; last: number },
  plays: Placement['plays'],
  random?: () => number,
): void {
  const track = trackOf(shot, address)!;
  const keys = sortedKeys(track);
  const earlier = keys.some(({ key }) => key.frame < first);
  const later = keys.some(({ key }) => key.frame > last);
  const goesOn = plays !== 'once' && !later;
  // What repeats is the span of the keys: a channel that repeats keeps all of them below the clip.
  if (track.before !== 'hold' || (!goesOn && track.after !== 'hold')) return;
  const around = keysAround(shot, address, first, goesOn ? null : last);
  const [entry, exit] = [around.before.at(-1)!, around.after[0]];
  const same = !exit || JSON.stringify(entry.value) === JSON.stringify(exit.value);
  if (!earlier && !later && same) {
    draft.set(pathOf(address, 'tracks'), undefined);
    draft.set(pathOf(address, 'values'), entry.value);
    return;
  }
  const left = { ...track, after: goesOn ? ('hold' as const) : track.after };
  draft.set(pathOf(address, 'tracks'), rowTrack(left, [...around.before, ...around.after], random, true));
}

/** A track of keys in a row. */
function rowTrack(like: Track, row: Track['keys'][string][], random?: () => number, ends = false): Track {
  const ids = row.map(() => makeId('key', random)).sort();
  return {
    before: ends ? like.before : 'hold',
    after: ends ? like.after : 'hold',
    ...(like.blend ? { blend: like.blend } : {}),
    keys: Object.fromEntries(row.map((key, i) => [ids[i]!, key])),
  };
}

const topOrder = (shot: Shot): number =>
  Math.max(-1, ...Object.values(shot.placements).map((placement) => placement.order)) + 1;

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
  const id = makeId('plc', random);
  const next: Placement = {
    clip,
    start,
    speed: 1,
    plays: 'once',
    until: null,
    order: topOrder(shot),
    ...options,
  };
  demandPlacement(shot, next);
  const draft = new Draft(shot);
  draft.set(['placements', id], next);
  return { change: draft.change(`Show ${source.name} from frame ${start}`), id };
}

/** A showing and its clip. @throws EditRefused where they are gone */
export function placementOf(shot: Shot, id: string): { now: Placement; clip: Clip } {
  const now = shot.placements[id];
  const clip = now && shot.clips[now.clip];
  if (!now || !clip) throw new EditRefused('This showing is no longer in the shot.');
  return { now, clip };
}

function demandPlacement(shot: Shot, next: Placement): void {
  const clip = shot.clips[next.clip];
  if (!clip) throw new EditRefused('This clip is no longer in the shot.');
  if (!(next.speed >= SLOWEST && next.speed <= FASTEST))
    throw new EditRefused(
      `A clip cannot be shown at ${next.speed} times its speed: ${SLOWEST} to ${FASTEST} is allowed.`,
    );
  demandFrame(next.start);
  if (next.until !== null) demandFrame(next.until);
  if (!CLIP_PLAYS.includes(next.plays)) throw new EditRefused(`"${next.plays}" is no way to go on.`);
  if (next.until !== null && next.until < next.start)
    throw new EditRefused(`A showing cannot end at frame ${next.until}, before it starts at ${next.start}.`);
  const { from = clip.first, to = clip.last } = next;
  demandFrame(from);
  demandFrame(to);
  if (to < from)
    throw new EditRefused(
      `Frames ${from} to ${to} of a clip cannot be played: the first comes after the last.`,
    );
  for (const [what, frames] of [
    ['beginning', next.blendIn],
    ['end', next.blendOut],
  ] as const)
    if (frames !== undefined && !(frames >= 0))
      throw new EditRefused(`The blend at the ${what} must be 0 frames or more, not ${frames}.`);
}

/** What of a showing can be changed; `undefined` takes an option back. */
export type PlacementOptions = { readonly [K in keyof Placement]?: Placement[K] | undefined };

/** Changes when, how fast and how a clip is shown. */
export function changePlacement(shot: Shot, id: string, options: PlacementOptions): Change {
  const { now, clip } = placementOf(shot, id);
  const next = Object.fromEntries(
    Object.entries({ ...now, ...options }).filter(([, value]) => value !== undefined),
  ) as unknown as Placement;
  demandPlacement(shot, next);
  const draft = new Draft(shot);
  draft.set(['placements', id], next);
  return draft.change(`Change a showing of ${clip.name}`);
}

/** Moves showings by frames. */
export function moveShowings(shot: Shot, ids: readonly string[], by: number): Change {
  const draft = new Draft(shot);
  for (const id of ids) {
    const { now } = placementOf(shot, id);
    const next = { ...now, start: now.start + by, until: now.until === null ? null : now.until + by };
    demandPlacement(shot, next);
    draft.set(['placements', id], next);
  }
  return draft.change(ids.length === 1 ? 'Move a showing' : `Move ${ids.length} showings`);
}

/**
 * Lets a showing begin or end at another frame: less of the clip is played, or more of it. Pulled beyond the clip's
 * end, it plays over and over up to there; one that goes on after its end goes on for longer or shorter. Of one that is
 * held without end, the end of its pass is meant.
 */
export function trimShowing(shot: Shot, id: string, edge: 'from' | 'to', frame: number): Change {
  const { now, clip } = placementOf(shot, id);
  const { first, last } = playedOf(now, clip);
  const span = spanOfPlacement(now, clip);
  const shortest = SHORTEST * now.speed;
  if (edge === 'from') {
    const at = Number.isFinite(span.to) ? Math.min(frame, span.to - SHORTEST) : frame;
    if (now.plays === 'loop' || now.plays === 'back-and-forth')
      return changePlacement(shot, id, { start: at });
    const cut = (at - now.start) * now.speed;
    if (now.backwards) {
      const to = Math.min(clip.last, Math.max(first + shortest, last - cut));
      return changePlacement(shot, id, { to, start: now.start + (last - to) / now.speed });
    }
    const from = Math.max(clip.first, Math.min(last - shortest, first + cut));
    return changePlacement(shot, id, { from, start: now.start + (from - first) / now.speed });
  }
  const at = Math.max(now.start + SHORTEST, frame);
  const passEnds = now.start + (last - first) / now.speed + 1e-9;
  const rests = now.plays === 'hold' && (now.until === null || now.until <= passEnds);
  if ((now.plays !== 'once' && !rests) || (now.until !== null && rests && at <= passEnds))
    return changePlacement(shot, id, { until: at });
  const whole = now.backwards ? last - clip.first : clip.last - first;
  const played = (at - now.start) * now.speed;
  if (played > whole + 1e-9) {
    const all = now.backwards ? { from: clip.first } : { to: clip.last };
    return changePlacement(shot, id, { ...all, plays: 'loop', until: at });
  }
  return changePlacement(shot, id, now.backwards ? { from: last - played } : { to: first + played });
}

/** Stretches a showing so that it ends at another frame: it plays the same, slower or faster. */
export function stretchShowing(shot: Shot, id: string, frame: number): Change {
  const { now, clip } = placementOf(shot, id);
  const { first, last } = playedOf(now, clip);
  const span = spanOfPlacement(now, clip);
  const lasts = Number.isFinite(span.to) ? span.to - span.from : (last - first) / now.speed;
  const wanted = Math.max(SHORTEST, frame - now.start);
  const speed = Math.max(SLOWEST, Math.min(FASTEST, now.speed * (lasts / wanted)));
  const until = now.until === null ? null : now.start + lasts * (now.speed / speed);
  return changePlacement(shot, id, { speed, until });
}

/** Shows clips once more, right after the showings that are given. @returns the new showings */
export function repeatShowings(
  shot: Shot,
  ids: readonly string[],
  random?: () => number,
): { change: Change; ids: string[] } {
  const spans = ids.map((id) => {
    const { now, clip } = placementOf(shot, id);
    const { from, to } = spanOfPlacement(now, clip);
    const { first, last } = playedOf(now, clip);
    return { from, to: Number.isFinite(to) ? to : from + (last - first) / now.speed };
  });
  const by = Math.max(...spans.map(({ to }) => to)) - Math.min(...spans.map(({ from }) => from));
  const draft = new Draft(shot);
  let order = topOrder(shot);
  const made = ids.map((id) => {
    const { now } = placementOf(shot, id);
    const next = {
      ...now,
      start: now.start + by,
      until: now.until === null ? null : now.until + by,
      order: order++,
    };
    demandPlacement(shot, next);
    const copy = makeId('plc', random);
    draft.set(['placements', copy], next);
    return copy;
  });
  return { change: draft.change('Show once more'), ids: made };
}

/** Gives a showing a clip of its own, which is changed without the others following. */
export function untieShowing(
  shot: Shot,
  id: string,
  random?: () => number,
): { change: Change; clip: string } {
  const { clip } = placementOf(shot, id);
  const own = makeId('clp', random);
  const draft = new Draft(shot);
  const name = freeClipName(shot, clip.name);
  draft.set(['clips', own], { ...clip, name });
  draft.set(['placements', id, 'clip'], own);
  return { change: draft.change(`Make ${name} a clip of its own`), clip: own };
}

/** Takes showings away; their clips stay. */
export function removeShowings(shot: Shot, ids: readonly string[]): Change {
  const draft = new Draft(shot);
  for (const id of ids) if (shot.placements[id]) draft.set(['placements', id], undefined);
  return draft.change(ids.length === 1 ? 'Take a showing away' : `Take ${ids.length} showings away`);
}

/** Takes a clip away, with all its showings. */
export function removeClip(shot: Shot, id: string): Change {
  const draft = new Draft(shot);
  for (const [placement, { clip }] of Object.entries(shot.placements))
    if (clip === id) draft.set(['placements', placement], undefined);
  draft.set(['clips', id], undefined);
  return draft.change(`Delete the clip ${shot.clips[id]?.name ?? ''}`);
}

/** Renames a clip, or says which of its frames are played. */
export function changeClip(
  shot: Shot,
  id: string,
  options: { readonly name?: string; readonly first?: number; readonly last?: number },
): Change {
  const clip = shot.clips[id];
  if (!clip) throw new EditRefused('This clip is no longer in the shot.');
  const { name, first = clip.first, last = clip.last } = options;
  demandFrame(first);
  demandFrame(last);
  if (!(last > first)) throw new EditRefused(`A clip cannot run from frame ${first} to ${last}.`);
  const draft = new Draft(shot);
  if (name !== undefined && name !== clip.name) {
    const wanted = demandName(name);
    if (Object.values(shot.clips).some((other) => other !== clip && other.name === wanted))
      throw new EditRefused(`Another clip is called "${wanted}".`);
    draft.set(['clips', id, 'name'], wanted);
  }
  if (first !== clip.first) draft.set(['clips', id, 'first'], first);
  if (last !== clip.last) draft.set(['clips', id, 'last'], last);
  return draft.change(`Change the clip ${clip.name}`);
}
