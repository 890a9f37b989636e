import { channelAt, trackOf, type Shot } from '../../../../core/document';
import { stretchManner, type KeyAddress } from '../../../../core/edit';
import { describeValue } from '../../shared/format';
import { mannerWords } from './key-words';
import { coveredRow, headsOfRows, type LaneRow } from './lanes';
import { LANE, RULER, type Marked } from './lanes-painter';
import type { TimeScale } from '../timeline/time-scale';

const HIT_PX = 6;
const FLAG_HEIGHT = 13;
const FLAG_WIDEST = 100;
const FLAG_LETTER = 6;

/** What of the lanes lies where. */
export interface LaneMap {
  readonly rows: readonly LaneRow[];
  readonly scale: TimeScale;
  /** How far the lanes are scrolled, pixels. */
  readonly scroll: number;
  readonly markers: readonly Marked[];
  readonly band: { readonly from: number; readonly to: number } | null;
}

export interface Point {
  readonly x: number;
  readonly y: number;
}

export interface Hit {
  readonly row: LaneRow | null;
  readonly frame: number;
  /** Keys under the pointer: one of a lane, or all of a group at a frame. */
  readonly keys: readonly KeyAddress[];
  readonly keyFrame: number | null;
}

/** Frames to the hundredth, as they are told. */
export const tidyFrame = (frame: number): number => Math.round(frame * 100) / 100;

const rowAt = (map: LaneMap, y: number): number => Math.floor((y - RULER + map.scroll) / LANE);

const headOver = (map: LaneMap): LaneRow | null =>
  headsOfRows(map.rows)[coveredRow(map.scroll, LANE)] ?? null;

/** What lies at a point of the lanes. */
export function hitAt(map: LaneMap, { x, y }: Point): Hit {
  const { scale } = map;
  const frame = scale.frame(x);
  const head = y < RULER || y >= RULER + LANE ? null : headOver(map);
  const row = head ?? (y < RULER ? null : (map.rows[rowAt(map, y)] ?? null));
  // The head that lies over the top row shows no keys.
  if (!row || head) return { row, frame, keys: [], keyFrame: null };
  const frames = row.kind === 'group' ? row.frames : row.lane.keys.map((key) => key.frame);
  let keyFrame: number | null = null;
  for (const at of frames)
    if (
      Math.abs(scale.x(at) - x) <= HIT_PX &&
      (keyFrame === null || Math.abs(at - frame) < Math.abs(keyFrame - frame))
    )
      keyFrame = at;
  const keys =
    keyFrame === null
      ? []
      : (row.kind === 'group' ? row.lanes : [row.lane]).flatMap((lane) =>
          lane.keys
            .filter((key) => key.frame === keyFrame)
            .map((key) => ({ address: lane.address, key: key.id })),
        );
  return { row, frame, keys, keyFrame };
}

/** Rows between two heights. */
export function rowsWithin(map: LaneMap, top: number, bottom: number): readonly LaneRow[] {
  return map.rows.slice(Math.max(0, rowAt(map, top)), rowAt(map, bottom) + 1);
}

/** Keys in a box; those of a folded group count as one row. */
export function keysWithin(map: LaneMap, a: Point, b: Point): KeyAddress[] {
  const [low, high] = [map.scale.frame(Math.min(a.x, b.x)), map.scale.frame(Math.max(a.x, b.x))];
  const found = new Map<string, KeyAddress>();
  for (const row of rowsWithin(map, Math.min(a.y, b.y), Math.max(a.y, b.y)))
    for (const lane of row.kind === 'group' ? (row.folded ? row.lanes : []) : [row.lane])
      for (const key of lane.keys)
        if (key.frame >= low && key.frame <= high)
          found.set(`${lane.address} ${key.id}`, { address: lane.address, key: key.id });
  return [...found.values()];
}

/** Grip of the band of the chosen keys that is at a place of the ruler. */
export function gripAt({ band, scale }: LaneMap, x: number): 'from' | 'to' | null {
  if (!band) return null;
  if (Math.abs(scale.x(band.to) - x) <= HIT_PX) return 'to';
  return Math.abs(scale.x(band.from) - x) <= HIT_PX ? 'from' : null;
}

/** Marker whose flag is at a point of the ruler. */
export function markerAt({ markers, scale }: LaneMap, { x, y }: Point): string | null {
  if (y > FLAG_HEIGHT) return null;
  const flag = markers.findLast(
    (marker) =>
      x >= scale.x(marker.frame) - 3 &&
      x <= scale.x(marker.frame) + Math.min(FLAG_WIDEST, marker.name.length * FLAG_LETTER + 8),
  );
  return flag?.id ?? null;
}

/** How it moves on from a key; nothing after the last. */
function wayOn(shot: Shot, target: KeyAddress): string {
  const manner = stretchManner(shot, target);
  return manner === null ? '' : `, then ${mannerWords(manner)}`;
}

/** Facts of what the pointer is over, or `null` where there are none. */
export function factsOf(shot: Shot, hit: Hit): string | null {
  const { row, keys, keyFrame, frame } = hit;
  if (row?.kind === 'group')
    return keyFrame === null
      ? null
      : `frame ${tidyFrame(keyFrame)}: ${keys.length} ${keys.length === 1 ? 'key' : 'keys'} of ${row.name}`;
  if (row?.kind !== 'lane') return null;
  const { lane } = row;
  const spec = channelAt(shot, lane.address)?.spec;
  const track = trackOf(shot, lane.address);
  if (!spec || !track) return null;
  const value = (id: string): string => describeValue(spec, track.keys[id]!.value, shot.setup.unit);
  if (keys.length > 0) {
    const key = track.keys[keys[0]!.key]!;
    return `frame ${tidyFrame(key.frame)}: ${value(keys[0]!.key)}${wayOn(shot, { address: lane.address, key: keys[0]!.key })}`;
  }
  const index = lane.keys.findLastIndex((key) => key.frame <= frame);
  const [a, b] = [lane.keys[index], lane.keys[index + 1]];
  if (!a || !b) return null;
  return `frames ${tidyFrame(a.frame)} to ${tidyFrame(b.frame)}: ${value(a.id)} to ${value(b.id)}, ${mannerWords(stretchManner(shot, { address: lane.address, key: a.id }) ?? a.manner)}`;
}
