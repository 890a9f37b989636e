import { FRAME_LIMIT, trackOf, type Owner, type Shot, OWNER_TABLES } from '../document';
import { apply, compose, Draft, type Change } from './change';
import { moveKeys, type KeyAddress } from './keys';
import { SAME_FRAME } from './put-key';
import { scaleKeys } from './retime';
import { EditRefused } from './values';
import { videosOf } from './videos';

/** What goes along when the keys behind a frame are pushed. */
export interface Along {
  /** Markers, and sounds and videos that begin behind the frame. */
  readonly markers: boolean;
  /** The last frame of the shot. */
  readonly range: boolean;
}

const NOTHING: Change = { label: '', patches: [] };

/** Addresses of all channels of a shot that have keys. */
export function keyedChannels(shot: Shot): string[] {
  return OWNER_TABLES.flatMap((table) =>
    Object.entries<Owner>(shot[table]).flatMap(([id, owner]) =>
      Object.keys(owner.tracks).map((path) => `${id}/${path}`),
    ),
  );
}

/** Keys of channels whose frames a test takes. */
function keysWhere(shot: Shot, addresses: readonly string[], test: (frame: number) => boolean): KeyAddress[] {
  return addresses.flatMap((address) =>
    Object.entries(trackOf(shot, address)?.keys ?? {})
      .filter(([, key]) => test(key.frame))
      .map(([key]) => ({ address, key })),
  );
}

/** Moves what is no key: markers, sounds, videos and the end of the range. */
function pushRest(shot: Shot, from: number, place: (frame: number) => number, along: Along): Change {
  const draft = new Draft(shot);
  const behind = (frame: number): boolean => frame > from + SAME_FRAME;
  if (along.markers)
    for (const [id, marker] of Object.entries(shot.markers))
      if (behind(marker.frame)) draft.set(['markers', id, 'frame'], clipped(place(marker.frame)));
  if (along.markers)
    for (const [id, sound] of Object.entries(shot.sounds))
      if (behind(sound.start)) draft.set(['sounds', id, 'start'], clipped(place(sound.start)));
  if (along.markers)
    for (const { path, picture } of videosOf(shot))
      if (behind(picture.video.start))
        draft.set([...path, 'video', 'start'], clipped(place(picture.video.start)));
  const last = Math.round(place(shot.setup.last));
  if (along.range && behind(shot.setup.last) && last > shot.setup.first)
    draft.set(['setup', 'last'], clipped(last));
  return draft.change('');
}

const clipped = (frame: number): number => Math.max(-FRAME_LIMIT, Math.min(FRAME_LIMIT, frame));

/**
 * Pushes all that comes after a frame: keys of the given channels, and markers and the end of the range by choice.
 * @param by frames later when above 0; what is pulled back stops being a push where it would pass a key that stays
 * @throws EditRefused where a key that is pulled back would pass the frame
 */
export function pushAfter(
  shot: Shot,
  addresses: readonly string[],
  from: number,
  by: number,
  along: Along,
): Change {
  const targets = keysWhere(shot, addresses, (frame) => frame > from + SAME_FRAME);
  if (by < 0) {
    const first = Math.min(...targets.map(({ address, key }) => trackOf(shot, address)!.keys[key]!.frame));
    if (first + by <= from)
      throw new EditRefused(
        `The first key behind frame ${from} stands at ${first}: it can be pulled back by less than ${first - from} frames.`,
      );
  }
  const moved = targets.length > 0 ? moveKeys(shot, targets, by) : NOTHING;
  const rest = pushRest(apply(shot, moved), from, (frame) => frame + by, along);
  return { ...compose(moved, rest), label: `Push what follows frame ${from} by ${by} frames` };
}

/**
 * Plays a range slower or faster and lets the rest follow: keys in it are scaled about its beginning, those behind it are
 * pushed by as much as it grows.
 * @param factor 2 takes twice as long
 * @throws EditRefused for an empty range or a factor that is not above 0
 */
export function slowRange(
  shot: Shot,
  addresses: readonly string[],
  from: number,
  to: number,
  factor: number,
  along: Along,
): Change {
  if (!(to > from))
    throw new EditRefused(`The range from ${from} to ${to} is empty: its end must come after its beginning.`);
  if (!(factor > 0))
    throw new EditRefused(`A range cannot be played ${factor} times as long: a factor above 0 is allowed.`);
  const grows = (to - from) * (factor - 1);
  const behind = keysWhere(shot, addresses, (frame) => frame > to + SAME_FRAME);
  const within = keysWhere(
    shot,
    addresses,
    (frame) => frame >= from - SAME_FRAME && frame <= to + SAME_FRAME,
  );
  // What is pushed away first makes room for what grows, and what shrinks makes room for what follows.
  const push = (now: Shot): Change =>
    behind.length > 0 && grows !== 0 ? moveKeys(now, behind, grows) : NOTHING;
  const scale = (now: Shot): Change => (within.length > 0 ? scaleKeys(now, within, from, factor) : NOTHING);
  let change = NOTHING;
  for (const step of grows > 0 ? [push, scale] : [scale, push])
    change = compose(change, step(apply(shot, change)));
  const place = (frame: number): number => (frame <= to ? from + (frame - from) * factor : frame + grows);
  const rest = pushRest(apply(shot, change), from, place, along);
  return {
    ...compose(change, rest),
    label: `${factor >= 1 ? 'Slow down' : 'Speed up'} frames ${from} to ${to}`,
  };
}
