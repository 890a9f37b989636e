import {
  channelAt,
  isWithin,
  movedKey,
  ownerOf,
  sortedKeys,
  splitAddress,
  tableOf,
  trackOf,
  usersOf,
  type Clip,
  type Key,
  type Owner,
  type OwnerTable,
  type Placement,
  type Shot,
  type Track,
} from '../document';
import { playedOf, shownAddress } from '../evaluate';
import { apply, Draft, valueAt, type Change } from './change';
import { movedBy } from './unpack-clip';

/** How frames of a clip lie on those of the shot. */
interface Moments {
  readonly start: number;
  readonly first: number;
  readonly speed: number;
}

/** A clip as it is seen while its keys are edited where one of its showings stands. */
interface Opening {
  readonly id: string;
  readonly placement: Placement;
  readonly clip: Clip;
}

/**
 * A clip that is open: its keys stand in the channels that a showing moves, at the frames of that showing, and whatever
 * is done to them there is done to the clip. A showing that plays backwards or mirrored shows its clip as it was made.
 */
export class OpenedClip {
  private moments: Moments = { start: 0, first: 0, speed: 1 };
  private shownTracks = new WeakMap<Track, Track>();
  private realKeys = new WeakMap<Key, Key>();
  private readonly owners = new WeakMap<Owner, { readonly tracks: Owner['tracks']; readonly shown: Owner }>();

  /** @param showing id of the placement */
  constructor(readonly showing: string) {}

  private opening(shot: Shot): Opening | null {
    const placement = shot.placements[this.showing];
    const clip = placement && shot.clips[placement.clip];
    if (!placement || !clip) return null;
    const moments = {
      start: placement.start,
      first: playedOf(placement, clip).first,
      speed: placement.speed,
    };
    const { start, first, speed } = this.moments;
    if (start !== moments.start || first !== moments.first || speed !== moments.speed) {
      this.moments = moments;
      this.shownTracks = new WeakMap();
      this.realKeys = new WeakMap();
    }
    return { id: placement.clip, placement, clip };
  }

  /** Frames of the shot between which the clip is seen, first and last; `null` where it is there no longer. */
  span(shot: Shot): { first: number; last: number } | null {
    const open = this.opening(shot);
    if (!open) return null;
    const { first, last } = playedOf(open.placement, open.clip);
    return {
      first: open.placement.start,
      last: open.placement.start + (last - first) / open.placement.speed,
    };
  }

  /** The shot with the clip's keys in its channels; `null` where the showing or its clip are there no longer. */
  shown(shot: Shot): Shot | null {
    const open = this.opening(shot);
    if (!open) return null;
    const { placement, clip } = open;
    const byOwner = new Map<string, Record<string, Track>>();
    for (const [source, track] of Object.entries(clip.tracks)) {
      const address = shownAddress(placement, source);
      if (address === null || !channelAt(shot, address)) continue;
      const { owner, path } = splitAddress(address);
      const tracks = byOwner.get(owner) ?? { ...ownerOf(shot, owner)!.tracks };
      tracks[path] = this.shownTrack(track);
      byOwner.set(owner, tracks);
    }
    const tables: Partial<Record<OwnerTable, Record<string, Owner>>> = {};
    for (const [id, tracks] of byOwner) {
      const table = tableOf(id)!;
      tables[table] ??= { ...shot[table] };
      tables[table][id] = this.shownOwner(ownerOf(shot, id)!, tracks);
    }
    const moved = new Set(movedBy(placement, clip));
    const placements = Object.fromEntries(
      Object.entries(shot.placements).filter(([id, other]) => {
        const source = shot.clips[other.clip];
        return (
          id !== this.showing && !(source && movedBy(other, source).some((address) => moved.has(address)))
        );
      }),
    );
    return { ...shot, ...tables, placements } as Shot;
  }

  private shownOwner(owner: Owner, tracks: Owner['tracks']): Owner {
    const known = this.owners.get(owner);
    const paths = Object.keys(tracks);
    const same =
      known &&
      Object.keys(known.tracks).length === paths.length &&
      paths.every((path) => known.tracks[path] === tracks[path]);
    if (same) return known.shown;
    const shown = { ...owner, tracks };
    this.owners.set(owner, { tracks, shown });
    return shown;
  }

  private shownTrack(track: Track): Track {
    const known = this.shownTracks.get(track);
    if (known) return known;
    const { start, first, speed } = this.moments;
    const keys = Object.fromEntries(
      Object.entries(track.keys).map(([id, key]) => {
        const shown = movedKey(key, start + (key.frame - first) / speed, 1 / speed);
        this.realKeys.set(shown, key);
        return [id, shown];
      }),
    );
    const shown = { ...track, keys };
    this.shownTracks.set(track, shown);
    return shown;
  }

  private realTrack(track: Track): Track {
    const { start, first, speed } = this.moments;
    const keys = Object.fromEntries(
      Object.entries(track.keys).map(([id, key]) => [
        id,
        this.realKeys.get(key) ?? movedKey(key, first + (key.frame - start) * speed, speed),
      ]),
    );
    return { ...track, keys };
  }

  /**
   * The change of the shot that does what a change of what is shown does. Keys of what the clip moves, and new ones of
   * anything that hangs below its part, are the clip's.
   * @param change made on `shown(shot)`
   */
  back(shot: Shot, change: Change): Change {
    const open = this.opening(shot);
    const before = this.shown(shot);
    if (!open || !before) return change;
    const after = apply(before, change);
    const sourceOf = this.sources(shot, open);
    const touched = new Set<string>();
    for (const { path } of change.patches)
      for (const address of tracksAt(before, after, path))
        if (sourceOf(address) !== null) touched.add(address);
    const draft = new Draft(shot);
    for (const { path } of change.patches) {
      const [table, id, what, channel] = path;
      const address = `${id}/${channel}`;
      if (what === 'tracks' && channel !== undefined && touched.has(address)) continue;
      // What a channel is without keys is not the clip's business.
      if (what === 'values' && channel !== undefined && touched.has(address)) continue;
      const owner = id !== undefined && tableOf(id) === table ? ownerOf(after, id) : null;
      if (owner && path.length <= 3 && (what === undefined || what === 'tracks')) {
        const tracks = withReal(shot, id!, owner.tracks, touched);
        draft.set(path, what === 'tracks' ? tracks : { ...owner, tracks });
      } else draft.set(path, valueAt(after, path));
    }
    for (const address of touched) {
      const track = trackOf(after, address);
      draft.set(['clips', open.id, 'tracks', sourceOf(address)!], track ? this.realTrack(track) : undefined);
    }
    follow(draft, open);
    return draft.change(`${change.label} in ${open.clip.name}`);
  }

  /** By the address of a channel, which of the clip's tracks is meant; `null` where its keys are the shot's own. */
  private sources(shot: Shot, { placement, clip }: Opening): (address: string) => string | null {
    const known = new Map<string, string>();
    for (const source of Object.keys(clip.tracks)) {
      const address = shownAddress(placement, source);
      if (address !== null) known.set(address, source);
    }
    const ownOf = new Map(Object.entries(placement.onto ?? {}).map(([own, other]) => [other, own]));
    return (address) => {
      const found = known.get(address);
      if (found !== undefined) return found;
      if (trackOf(shot, address)) return null;
      const { owner, path } = splitAddress(address);
      const own = placement.onto ? ownOf.get(owner) : owner;
      if (own === undefined) return null;
      const parts = tableOf(own) === 'parts' ? [own] : usersOf(shot, own);
      return parts.some((part) => isWithin(shot, part, clip.root)) ? `${own}/${path}` : null;
    };
  }
}

/** Addresses of channels whose keys a patch at a path may have changed. */
function tracksAt(before: Shot, after: Shot, path: readonly string[]): string[] {
  const [table, id, what, channel] = path;
  if (id === undefined || tableOf(id) !== table) return [];
  if (what === 'tracks' && channel !== undefined) return [`${id}/${channel}`];
  if (what !== undefined && what !== 'tracks') return [];
  const [was, now] = [ownerOf(before, id), ownerOf(after, id)];
  // A part that came or went takes its keys with it; the clip keeps what it has.
  if (!was || !now) return [];
  const paths = new Set([...Object.keys(was.tracks), ...Object.keys(now.tracks)]);
  return [...paths].map((entry) => `${id}/${entry}`);
}

/** Tracks of an owner, those of some channels as the shot itself has them. */
function withReal(
  shot: Shot,
  id: string,
  tracks: Owner['tracks'],
  own: ReadonlySet<string>,
): Owner['tracks'] {
  const out = { ...tracks };
  for (const address of own) {
    const { owner, path } = splitAddress(address);
    if (owner !== id) continue;
    const real = trackOf(shot, address);
    if (real) out[path] = real;
    else delete out[path];
  }
  return out;
}

/** Latest frame at which a clip has a key. */
const latest = (clip: Clip): number =>
  Math.max(...Object.values(clip.tracks).map((track) => sortedKeys(track).at(-1)?.key.frame ?? -Infinity));

/** A clip that ends with its last key goes on doing so. */
function follow(draft: Draft, { id, clip }: Opening): void {
  const now = draft.shot.clips[id];
  if (!now || Math.abs(latest(clip) - clip.last) > 1e-6) return;
  const last = latest(now);
  if (last !== clip.last && last > clip.first) draft.set(['clips', id, 'last'], last);
}
