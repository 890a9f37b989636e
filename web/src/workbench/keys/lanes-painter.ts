import type { KeyAddress } from '../../../../core/edit';
import { themed } from '../../shared/theme';
import type { LaneCurves } from './lane-curves';
import type { LaneRow } from './lanes';
import { rulerStep, type TimeScale } from '../timeline/time-scale';

export const RULER = 32;
export const LANE = 25;
const PEG_HALF = 3.5;
const CURVE_PX = 4;

/** What the lanes show: two pictures of equal content but for `scroll` differ only in what lies where. */
export interface Picture {
  readonly width: number;
  readonly height: number;
  readonly scale: TimeScale;
  readonly rows: readonly LaneRow[];
  readonly scroll: number;
  readonly channel: string | null;
  readonly first: number;
  readonly last: number;
  readonly curves: LaneCurves;
  readonly isChosen: (target: KeyAddress) => boolean;
  /** Where a key is shown while it is dragged. */
  readonly shown: (frame: number, chosen: boolean) => number;
  /** Chosen keys stay where they are too, while copies are dragged. */
  readonly doubling: boolean;
  readonly markers: readonly Marked[];
  /** Painted anew in other colours. */
  readonly evening: boolean;
}

/** A marker as it is shown. */
export interface Marked {
  readonly id: string;
  readonly name: string;
  readonly frame: number;
  /** A beat: a dot without a name. */
  readonly beat?: boolean;
}

/** What the ruler above the lanes shows. */
export interface RulerPicture {
  readonly width: number;
  readonly scale: TimeScale;
  readonly first: number;
  readonly last: number;
  readonly rate: number;
  readonly markers: readonly Marked[];
  /** First and last frame of the chosen keys, when there are several, as they are shown. */
  readonly band: { readonly from: number; readonly to: number } | null;
  readonly evening: boolean;
}

function peg(g: CanvasRenderingContext2D, x: number, y: number, fill: string, half = PEG_HALF): void {
  g.fillStyle = fill;
  g.strokeStyle = themed('field');
  g.lineWidth = 1;
  g.beginPath();
  g.roundRect(x - half, y + 4.5, half * 2, 16, half);
  g.fill();
  g.stroke();
}

function drawCurve(
  g: CanvasRenderingContext2D,
  p: Picture,
  row: LaneRow & { kind: 'lane' },
  y: number,
): void {
  const curve = p.curves.of(row.lane.address);
  if (!curve) return;
  const { scale } = p;
  const left = Math.max(0, scale.x(Math.min(p.first, scale.from)));
  const end = Math.min(p.width, scale.x(Math.max(p.last, scale.to)));
  if (curve.kind === 'colour') {
    for (let x = left; x < end; x += CURVE_PX) {
      g.fillStyle = curve.at(scale.frame(x));
      g.fillRect(x, y + 6, CURVE_PX + 0.5, 13);
    }
    return;
  }
  g.strokeStyle = row.lane.linked ? themed('link') : themed('key');
  g.lineWidth = 1.5;
  g.setLineDash(row.lane.linked ? [4, 3] : []);
  g.beginPath();
  for (let x = left; x <= end; x += CURVE_PX) {
    const level = y + 20.5 - curve.at(scale.frame(x)) * 15;
    if (x === left) g.moveTo(x, level);
    else g.lineTo(x, level);
  }
  g.stroke();
  g.setLineDash([]);
}

function drawRow(g: CanvasRenderingContext2D, p: Picture, index: number): void {
  const row = p.rows[index]!;
  const y = RULER + index * LANE - p.scroll;
  const { scale } = p;
  const seen = (x: number): boolean => x > -8 && x < p.width + 8;
  if (row.kind === 'group') {
    g.fillStyle = themed('head');
    g.fillRect(0, y, p.width, LANE);
    g.fillStyle = themed('line-soft');
    g.fillRect(0, y + LANE - 1, p.width, 1);
    for (const at of row.frames) {
      const x = scale.x(at);
      if (!seen(x)) continue;
      const chosen = row.lanes.some((lane) =>
        lane.keys.some((key) => key.frame === at && p.isChosen({ address: lane.address, key: key.id })),
      );
      peg(g, scale.x(p.shown(at, chosen)), y, chosen ? themed('teal') : themed('mark'), 2.5);
    }
    return;
  }
  const { lane } = row;
  g.fillStyle =
    lane.address === p.channel ? themed('teal-wash') : index % 2 ? themed('panel') : themed('stripe');
  g.fillRect(0, y, p.width, LANE);
  g.fillStyle = themed('line-soft');
  g.fillRect(0, y + LANE - 1, p.width, 1);
  drawCurve(g, p, row, y);
  for (const key of lane.keys) {
    const chosen = p.isChosen({ address: lane.address, key: key.id });
    const x = scale.x(p.shown(key.frame, chosen));
    if (!seen(x) && !chosen) continue;
    if (chosen && p.doubling) peg(g, scale.x(key.frame), y, themed('key'));
    peg(g, x, y, chosen ? themed('teal') : themed('key'));
  }
}

/** Draws the ruler with the markers over it. */
export function paintRuler(g: CanvasRenderingContext2D, p: RulerPicture): void {
  const { scale, width } = p;
  g.fillStyle = themed('head');
  g.fillRect(0, 0, width, RULER);
  const every = rulerStep(scale.perFrame, p.rate);
  const minor = scale.perFrame >= 4 ? 1 : Math.max(1, every / 4);
  const start =
    p.first + Math.ceil((Math.max(scale.frame(0), p.first - (p.last - p.first)) - p.first) / minor) * minor;
  const end = scale.frame(width);
  const isMajor = (f: number): boolean => Math.abs(((f - p.first) / every) % 1) < 1e-9;
  const isOut = (f: number): boolean => f < p.first || f > p.last;
  // Strokes of one colour together: changing the colour costs more than the stroke.
  for (const strong of [false, true]) {
    g.fillStyle = strong ? themed('ink-2') : themed('line-strong');
    g.beginPath();
    for (let f = start; f <= end; f += minor) {
      const major = isMajor(f);
      if ((major && !isOut(f)) !== strong) continue;
      g.rect(Math.round(scale.x(f)), RULER - (major ? 15 : 5), 1, major ? 15 : 5);
    }
    g.fill();
  }
  g.font = '10.5px "Spline Sans Mono Variable", monospace';
  g.textAlign = 'left';
  const letter = g.measureText('0').width;
  for (let f = start; f <= end; f += minor) {
    if (!isMajor(f)) continue;
    g.fillStyle = isOut(f) ? themed('outside') : themed('ink-2');
    const text = String(f);
    const wide = text.length * letter;
    // The last number would be cut off: it stands before its stroke.
    const x = scale.x(f);
    g.fillText(text, x + 4 + wide > width ? x - wide - 4 : x + 4, 25);
  }
  if (p.band) {
    const [a, b] = [scale.x(p.band.from), scale.x(p.band.to)];
    g.fillStyle = themed('teal');
    g.globalAlpha = 0.25;
    g.fillRect(a, RULER - 8, b - a, 8);
    g.globalAlpha = 1;
    for (const x of [a, b]) {
      g.beginPath();
      g.roundRect(x - 3, RULER - 10, 6, 10, 2);
      g.fill();
    }
  }
  for (const marker of p.markers) {
    const x = scale.x(marker.frame);
    if (x < -60 || x > width + 4) continue;
    g.fillStyle = themed('brass');
    if (marker.beat) {
      g.fillRect(x - 0.5, 0, 1, 7);
      g.beginPath();
      g.arc(x, 8.5, 2.5, 0, 2 * Math.PI);
      g.fill();
      continue;
    }
    g.fillRect(x - 0.75, 0, 1.5, RULER);
    g.font = '600 10px "Archivo Variable", sans-serif';
    const text = marker.name.length > 16 ? `${marker.name.slice(0, 15)}…` : marker.name;
    const wide = g.measureText(text).width + 7;
    g.fillRect(x, 0, wide, 12);
    g.fillStyle = themed('on-key');
    g.fillText(text, x + 3.5, 9);
  }
}

/** Draws the lanes that lie between two heights of the picture, without the ruler. */
export function paintLanes(g: CanvasRenderingContext2D, p: Picture, top: number, bottom: number): void {
  const { width, scale } = p;
  g.save();
  g.beginPath();
  g.rect(0, top, width, bottom - top);
  g.clip();
  g.fillStyle = themed('panel');
  g.fillRect(0, top, width, bottom - top);
  const index = (y: number): number => (y - RULER + p.scroll) / LANE;
  const end = Math.min(p.rows.length, Math.ceil(index(bottom)));
  for (let i = Math.max(0, Math.floor(index(top))); i < end; i++) drawRow(g, p, i);
  // What lies outside the range is dimmed.
  g.fillStyle = 'rgb(90 84 70 / 0.13)';
  const [before, after] = [scale.x(p.first), scale.x(p.last)];
  if (before > 0) g.fillRect(0, top, before, bottom - top);
  if (after < width) g.fillRect(after, top, width - after, bottom - top);
  for (const marker of p.markers) {
    g.fillStyle = 'rgb(168 118 26 / 0.35)';
    g.fillRect(scale.x(marker.frame) - 0.5, top, 1, bottom - top);
  }
  g.restore();
}
