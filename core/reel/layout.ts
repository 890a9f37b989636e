import { framesPerSecond, type Rate } from '../time';
import type { Join, Reel, ReelItem } from './schema';

/** Reels are counted from this frame. */
export const REEL_FIRST = 1;

/** Where an item lies: the frames of the reel from its cut to the next one, and the frames that join it. */
export interface Span {
  readonly item: ReelItem;
  /** First frame after its cut, and the one after its last before the next cut. */
  readonly start: number;
  readonly end: number;
  /** Frames in which it and what is before it are both seen: from this one, up to but without `joined`. */
  readonly joins: number;
  readonly joined: number;
}

/** Frames of a join that lie before the cut. The first item has nothing before it: all of its join lies after. */
const beforeCut = (at: number, { frames }: Join): number => (at === 0 ? 0 : Math.floor(frames / 2));

/** All items with their frames. */
export function spansOf({ items }: Pick<Reel, 'items'>): Span[] {
  let start = REEL_FIRST;
  return items.map((item, at) => {
    const joins = start - beforeCut(at, item.join);
    const span = { item, start, end: start + item.frames, joins, joined: joins + item.join.frames };
    start = span.end;
    return span;
  });
}

/** Frames of a whole reel. */
export const reelFrames = ({ items }: Pick<Reel, 'items'>): number =>
  items.reduce((sum, { frames }) => sum + frames, 0);

/** A picture of an item: `into` counts frames of the reel from its cut on, and may lie before it or after its end. */
export interface Shown {
  readonly at: number;
  readonly item: ReelItem;
  readonly into: number;
}

/** What a frame of a reel shows: one picture, or one that comes over another. */
export interface ReelPicture {
  /** What is going, or `null` where that is black, or where nothing is joined. */
  readonly below: Shown | null;
  readonly shown: Shown;
  /** How far what comes has come, between 0 and 1; missing where there is one picture only. */
  readonly join?: {
    readonly manner: 'dissolve' | 'wipe';
    readonly from: Join['from'];
    readonly share: number;
  };
}

/**
 * What a frame shows. A join of `n` frames goes in equal steps: its pictures have 1 to `n` parts of `n + 1` of what
 * comes.
 * @returns `null` beyond the ends of the reel
 */
export function reelPicture(spans: readonly Span[], frame: number): ReelPicture | null {
  const at = spans.findIndex(({ start, end }) => frame >= start && frame < end);
  if (at < 0) return null;
  const coming = spans[at + 1] && frame >= spans[at + 1]!.joins ? at + 1 : at;
  const { item, start, joins, joined } = spans[coming]!;
  const shown: Shown = { at: coming, item, into: frame - start };
  const { manner, from, frames } = item.join;
  if (manner === 'cut' || frame < joins || frame >= joined) return { below: null, shown };
  const before = spans[coming - 1];
  const below = before ? { at: coming - 1, item: before.item, into: frame - before.start } : null;
  return { below, shown, join: { manner, from, share: (frame - joins + 1) / (frames + 1) } };
}

/** Frames of a shot for each frame of a reel: both keep their time. */
export const strideOf = (shot: Rate, reel: Rate): number => framesPerSecond(shot) / framesPerSecond(reel);

/** A frame of what is drawn by itself: a shot, by its id, or a title, by that of its item. */
export interface Layer {
  readonly scene: string;
  /** Whole or not, where a shot and the reel have different rates. */
  readonly frame: number;
}

/**
 * What is drawn of an item. All frames of a title are the same picture.
 * @param rateOf rate of a shot, or `null` where it is not known
 */
export function layerOf(
  { item, into }: Shown,
  reel: Pick<Reel, 'rate'>,
  rateOf: (shot: string) => Rate | null,
): Layer {
  if (item.kind === 'title') return { scene: item.id, frame: 0 };
  return { scene: item.shot, frame: item.first + into * strideOf(rateOf(item.shot) ?? reel.rate, reel.rate) };
}

/** Frames of a reel that a shot's frames `first` to `last` take, at least one. */
export const framesInReel = (first: number, last: number, shot: Rate, reel: Rate): number =>
  Math.max(1, Math.round((last - first + 1) / strideOf(shot, reel)));

/** Most frames that the join into an item may have, so that it meets neither the join before nor the one after it. */
export function mostJoin(items: Reel['items'], at: number): number {
  const item = items[at]!;
  const next = items[at + 1];
  const after = item.frames - (next ? beforeCut(at + 1, next.join) : 0);
  if (at === 0) return Math.max(0, after);
  const before = items[at - 1]!;
  const free = before.frames - (before.join.frames - beforeCut(at - 1, before.join));
  // An odd one has its middle frame after the cut.
  return Math.max(0, after > free ? 2 * free + 1 : 2 * after);
}

/** A reel whose joins fit into what has become shorter. */
export function fitted(reel: Reel): Reel {
  const items: ReelItem[] = [...reel.items];
  items.forEach((item, at) => {
    const { manner, frames, from } = item.join;
    const most = mostJoin(items, at);
    const fits = manner === 'cut' ? 0 : Math.min(frames, most);
    if (fits === frames && (manner === 'cut') === (frames === 0)) return;
    items[at] = { ...item, join: { manner: fits === 0 ? 'cut' : manner, frames: fits, from } };
  });
  return items.every((item, at) => item === reel.items[at]) ? reel : { ...reel, items };
}
