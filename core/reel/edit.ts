import {
  CUT,
  REEL_ITEMS,
  type Join,
  type Reel,
  type ReelItem,
  type ReelSound,
  type ShotItem,
} from './schema';
import { framesPerSecond, type Rate } from '../time';
import { fitted, framesInReel, mostJoin } from './layout';

/** An edit that cannot be made, in words. */
export class ReelRefused extends Error {}

const withItems = (reel: Reel, items: readonly ReelItem[]): Reel => fitted({ ...reel, items });

function placeOf(reel: Reel, id: string): number {
  const at = reel.items.findIndex((item) => item.id === id);
  if (at < 0) throw new ReelRefused('This is no longer in the reel.');
  return at;
}

/** Puts something into a reel, before the place `at`. @throws ReelRefused when it is full */
export function putItem(reel: Reel, item: ReelItem, at = reel.items.length): Reel {
  if (reel.items.length >= REEL_ITEMS)
    throw new ReelRefused(`A reel holds ${REEL_ITEMS} shots and titles: put the rest into another one.`);
  return withItems(reel, reel.items.toSpliced(at, 0, item));
}

/** What of a shot a reel asks for. */
export interface ShotFacts {
  readonly id: string;
  readonly name: string;
  readonly rate: Rate;
  readonly first: number;
  readonly last: number;
  readonly width: number;
  readonly height: number;
}

/** Puts a whole shot into a reel. An empty reel takes its rate and size. @param id of the new item */
export function putShot(reel: Reel, shot: ShotFacts, id: string, at = reel.items.length): Reel {
  const { rate, width, height } = shot;
  const fresh = reel.items.length === 0 && reel.sounds.length === 0;
  const into = fresh ? { ...reel, rate, width, height } : reel;
  const frames = framesInReel(shot.first, shot.last, rate, into.rate);
  const item: ShotItem = {
    id,
    kind: 'shot',
    shot: shot.id,
    name: shot.name,
    first: shot.first,
    frames,
    join: CUT,
  };
  return putItem(into, item, at);
}

/** Gives a reel another rate: everything lasts as long as before, to the nearest frame. */
export function changeReelRate(reel: Reel, rate: Rate): Reel {
  const ratio = framesPerSecond(rate) / framesPerSecond(reel.rate);
  const frames = (count: number): number => Math.max(1, Math.round(count * ratio));
  return fitted({
    ...reel,
    rate,
    items: reel.items.map((item) => ({
      ...item,
      frames: frames(item.frames),
      join: item.join.manner === 'cut' ? item.join : { ...item.join, frames: frames(item.join.frames) },
    })),
    sounds: reel.sounds.map((sound) => ({ ...sound, start: 1 + Math.round((sound.start - 1) * ratio) })),
  });
}

export const removeItem = (reel: Reel, id: string): Reel =>
  withItems(reel, reel.items.toSpliced(placeOf(reel, id), 1));

/** Moves an item so that it stands before what is at place `to` now. */
export function moveItem(reel: Reel, id: string, to: number): Reel {
  const from = placeOf(reel, id);
  const [item] = reel.items.slice(from, from + 1);
  const items = reel.items.toSpliced(from, 1);
  return withItems(reel, items.toSpliced(to > from ? to - 1 : to, 0, item!));
}

/** Changes an item. Joins that no longer fit are shortened. */
export function changeItem<Item extends ReelItem>(reel: Reel, item: Item, change: Partial<Item>): Reel {
  const at = placeOf(reel, item.id);
  return withItems(reel, reel.items.with(at, { ...reel.items[at]!, ...change }));
}

/** Changes how an item follows what is before it. @throws ReelRefused when there is no room for so long a join */
export function setJoin(reel: Reel, id: string, join: Join): Reel {
  const at = placeOf(reel, id);
  const most = mostJoin(reel.items, at);
  if (join.manner !== 'cut' && join.frames > most)
    throw new ReelRefused(
      most === 0
        ? 'There is no room for it: what is before or after it is joined all through. Make that join shorter.'
        : `There is room for ${most} frames here, ${join.frames} are too many: lengthen what is before or after.`,
    );
  const cut = join.manner === 'cut' || join.frames === 0;
  const put: Join = cut ? { ...join, manner: 'cut', frames: 0 } : join;
  return withItems(reel, reel.items.with(at, { ...reel.items[at]!, join: put }));
}

/**
 * Cuts an item in two at a frame of it, counted from its start.
 * @param stride frames of its shot for each frame of the reel @param id of the second piece
 */
export function splitItem(reel: Reel, item: ReelItem, into: number, stride: number, id: string): Reel {
  const at = placeOf(reel, item.id);
  if (!(into >= 1 && into < item.frames))
    throw new ReelRefused('Put the playhead inside of it, not on its first frame, to cut it in two.');
  const head = { ...item, frames: into };
  const join: Join = { ...item.join, manner: 'cut', frames: 0 };
  const tail: ReelItem = {
    ...item,
    id,
    frames: item.frames - into,
    join,
    ...(item.kind === 'shot' ? { first: Math.round(item.first + into * stride) } : {}),
  };
  return putItem({ ...reel, items: reel.items.with(at, head) }, tail, at + 1);
}

/** Adds a sound that runs across shots, or changes the one with its id; `null` takes it out. */
export function putSound(reel: Reel, id: string, sound: ReelSound | null): Reel {
  const at = reel.sounds.findIndex((each) => each.id === id);
  const sounds = reel.sounds.toSpliced(
    at < 0 ? reel.sounds.length : at,
    at < 0 ? 0 : 1,
    ...(sound ? [sound] : []),
  );
  return { ...reel, sounds };
}

/** Ids of the shots of a reel, each once. */
export const shotsOfReel = ({ items }: Pick<Reel, 'items'>): string[] => [
  ...new Set(items.filter((item): item is ShotItem => item.kind === 'shot').map(({ shot }) => shot)),
];

/** The reel with other shots in the place of its own, as its copy in another project has them. */
export const withShots = (reel: Reel, other: ReadonlyMap<string, string>): Reel => ({
  ...reel,
  items: reel.items.map((item) =>
    item.kind === 'shot' ? { ...item, shot: other.get(item.shot) ?? item.shot } : item,
  ),
});
