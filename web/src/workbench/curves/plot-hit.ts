import { compiledKey } from '../../../../core/curve';
import { keyList, sortedKeys } from '../../../../core/document';
import type { KeyAddress } from '../../../../core/edit';
import { RULER } from '../keys/lanes-painter';
import type { Line } from './lines';
import type { PlotMap } from './plot-map';
import { pegsOf, STRIP, stripsOf } from './plot-painter';

export interface Point {
  readonly x: number;
  readonly y: number;
}

/** An end of a handle of a chosen key. */
export interface HandleEnd {
  readonly line: Line;
  readonly target: KeyAddress;
  readonly side: 'left' | 'right';
  readonly key: Point;
  readonly at: Point;
}

const PEG_PX = 7;
const HANDLE_PX = 8;
const CURVE_PX = 7;

/** Handles of more keys would be a thicket: none is shown then, and none is caught. */
const HANDLED_AT_MOST = 40;

/** Ends of the handles that can be dragged: those of chosen keys, on the sides where a curve lies. */
export function handlesOf(map: PlotMap, lines: readonly Line[], chosen: readonly KeyAddress[]): HandleEnd[] {
  const ends: HandleEnd[] = [];
  if (chosen.length === 0 || chosen.length > HANDLED_AT_MOST) return ends;
  const wantedOf = idsByCurve(chosen);
  for (const line of lines) {
    const wanted = wantedOf.get(line.address);
    if (!wanted || !line.track || line.spec.kind !== 'number' || line.linked) continue;
    const keys = sortedKeys(line.track);
    const height = map.heights(line);
    keys.forEach(({ id, key }, i) => {
      if (!wanted.has(id)) return;
      const { frame, value, leftReach, leftRise, rightReach, rightRise } = compiledKey(
        line.components[0]!,
        i,
      );
      const at: Point = { x: map.scale.x(frame), y: height(value) };
      const end = (side: 'left' | 'right', reach: number, rise: number): void =>
        void ends.push({
          line,
          target: { address: line.address, key: id },
          side,
          key: at,
          at: { x: map.scale.x(frame + (side === 'left' ? -reach : reach)), y: height(value + rise) },
        });
      if (i > 0 && keys[i - 1]!.key.manner === 'curve') end('left', leftReach, leftRise);
      if (i < keys.length - 1 && key.manner === 'curve') end('right', rightReach, rightRise);
    });
  }
  return ends;
}

/** Ids of keys by the address of their curve. */
export function idsByCurve(keys: readonly KeyAddress[]): ReadonlyMap<string, ReadonlySet<string>> {
  const found = new Map<string, Set<string>>();
  for (const { address, key } of keys) {
    const ids = found.get(address);
    if (ids) ids.add(key);
    else found.set(address, new Set([key]));
  }
  return found;
}

/** What lies at a point of the plot. */
export interface PlotHit {
  readonly peg: KeyAddress | null;
  readonly handle: HandleEnd | null;
  /** The curve under the pointer. */
  readonly line: Line | null;
  /** Whether the pointer is on that curve before its first or after its last key. */
  readonly outside: 'before' | 'after' | null;
}

const NOTHING: PlotHit = { peg: null, handle: null, line: null, outside: null };

/** The peg nearest to a point, the curve that leads first. */
function pegAt(map: PlotMap, lines: readonly Line[], lead: string | null, at: Point): KeyAddress | null {
  let best: { away: number; target: KeyAddress } | null = null;
  const strips = stripsOf(lines, RULER);
  const middle = map.scale.frame(at.x);
  const reach = PEG_PX / map.scale.perFrame;
  for (const line of lines) {
    const strip = strips.get(line.address);
    for (const { id, frame, value } of pegsOf(line)) {
      if (Math.abs(frame - middle) > reach) continue;
      const dx = Math.abs(map.scale.x(frame) - at.x);
      const y = strip === undefined ? map.y(line, value) : strip + STRIP / 2;
      const dy = Math.abs(y - at.y);
      if (dy > PEG_PX + 2) continue;
      const away = Math.hypot(dx, dy) - (line.address === lead ? PEG_PX : 0);
      if (!best || away < best.away) best = { away, target: { address: line.address, key: id } };
    }
  }
  return best?.target ?? null;
}

export function plotHit(
  map: PlotMap,
  lines: readonly Line[],
  lead: string | null,
  chosen: readonly KeyAddress[],
  at: Point,
): PlotHit {
  const handle = handlesOf(map, lines, chosen).find(
    (end) => Math.hypot(end.at.x - at.x, end.at.y - at.y) <= HANDLE_PX,
  );
  // A handle that lies on its own key gives way to the key.
  const onKey = handle && Math.hypot(handle.key.x - handle.at.x, handle.key.y - handle.at.y) < 4;
  // A steep handle may end over the ruler: it is seen there, and caught there.
  if (handle && !onKey) return { ...NOTHING, handle, line: handle.line };
  if (at.y < RULER) return NOTHING;
  const peg = pegAt(map, lines, lead, at);
  if (peg) return { ...NOTHING, peg, line: lines.find((line) => line.address === peg.address) ?? null };
  const frame = map.scale.frame(at.x);
  // A steep curve is near where it passes within a few pixels to either side.
  const near = [-3, 0, 3].map((dx) => map.scale.frame(at.x + dx));
  const passes = (entry: Line): boolean => {
    if (!entry.at || entry.spec.kind === 'colour') return false;
    const height = map.heights(entry);
    let [low, high] = [Infinity, -Infinity];
    for (const moment of near) {
      const y = height(entry.at(moment));
      low = Math.min(low, y);
      high = Math.max(high, y);
    }
    return at.y >= low - CURVE_PX && at.y <= high + CURVE_PX;
  };
  const leading = lines.find((entry) => entry.address === lead);
  const line = leading && passes(leading) ? leading : lines.find(passes);
  if (!line) return NOTHING;
  const keys = line.track && !line.linked ? keyList(line.track) : [];
  const outside =
    keys.length === 0
      ? null
      : frame < keys[0]!.frame
        ? 'before'
        : frame > keys.at(-1)!.frame
          ? 'after'
          : null;
  return { ...NOTHING, line, outside };
}

/** Keys in a box of the plot. */
export function pegsWithin(map: PlotMap, lines: readonly Line[], a: Point, b: Point): KeyAddress[] {
  const [x0, x1] = [Math.min(a.x, b.x), Math.max(a.x, b.x)];
  const [y0, y1] = [Math.min(a.y, b.y), Math.max(a.y, b.y)];
  const [from, to] = [map.scale.frame(x0), map.scale.frame(x1)];
  const strips = stripsOf(lines, RULER);
  const found: KeyAddress[] = [];
  for (const line of lines) {
    const strip = strips.get(line.address);
    const height = map.heights(line);
    for (const { id, frame, value } of pegsOf(line)) {
      if (frame < from || frame > to) continue;
      const y = strip === undefined ? height(value) : strip + STRIP / 2;
      if (y >= y0 && y <= y1) found.push({ address: line.address, key: id });
    }
  }
  return found;
}

/** Box round the chosen keys, whose edges scale them; `null` for fewer than two places. */
export function boxOf(
  map: PlotMap,
  lines: readonly Line[],
  chosen: readonly KeyAddress[],
): { readonly x0: number; readonly y0: number; readonly x1: number; readonly y1: number } | null {
  if (chosen.length < 2) return null;
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  const byAddress = new Map(lines.map((line) => [line.address, line]));
  // The keys of one curve mostly follow one another.
  let [of, line]: [string | null, Line | undefined] = [null, undefined];
  let height: (value: number) => number = Number;
  for (const { address, key: id } of chosen) {
    if (address !== of) {
      of = address;
      line = byAddress.get(address);
      if (line) height = map.heights(line);
    }
    const key = line?.track?.keys[id];
    if (!key || typeof key.value !== 'number') continue;
    const [x, y] = [map.scale.x(key.frame), height(key.value)];
    x0 = Math.min(x0, x);
    x1 = Math.max(x1, x);
    y0 = Math.min(y0, y);
    y1 = Math.max(y1, y);
  }
  return x1 - x0 > 4 || y1 - y0 > 4 ? { x0, y0, x1, y1 } : null;
}

/** How far outside the chosen keys their box is drawn. */
export const BOX_ROOM = 9;

/** Edge of the box round the chosen keys that is at a point. */
export function edgeAt(
  box: { x0: number; y0: number; x1: number; y1: number } | null,
  { x, y }: Point,
): 'left' | 'right' | 'top' | 'bottom' | null {
  if (!box) return null;
  const near = (a: number, b: number): boolean => Math.abs(a - b) <= 5;
  const inX = x >= box.x0 - BOX_ROOM && x <= box.x1 + BOX_ROOM;
  const inY = y >= box.y0 - BOX_ROOM && y <= box.y1 + BOX_ROOM;
  if (inY && box.x1 - box.x0 > 4) {
    if (near(x, box.x1 + BOX_ROOM)) return 'right';
    if (near(x, box.x0 - BOX_ROOM)) return 'left';
  }
  if (inX && box.y1 - box.y0 > 4) {
    if (near(y, box.y0 - BOX_ROOM)) return 'top';
    if (near(y, box.y1 + BOX_ROOM)) return 'bottom';
  }
  return null;
}
