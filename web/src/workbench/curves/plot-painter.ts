import {
  accelerationAt,
  compiledKey,
  sampleTrack,
  speedAt,
  type CompiledTrack,
} from '../../../../core/curve';
import { keyList, type Track } from '../../../../core/document';
import { hexOfColour, linearFromOklabAt } from '../../../../core/math';
import { themed } from '../../shared/theme';
import { RULER } from '../keys/lanes-painter';
import type { Marked } from '../keys/lanes-painter';
import type { KeptPicture } from './kept-picture';
import type { Line } from './lines';
import { axesShown, paintGround, paintNumbers } from './plot-axes';
import type { PlotMap } from './plot-map';

/** Height of the strip of a colour's gradient. */
export const STRIP = 12;
const SAMPLE_PX = 3;
/** A stretch narrower than this is drawn straight. */
const NARROW_PX = 2;
const COMPONENT_COLOURS = ['x', 'y', 'z'] as const;

/** What lies below the curves. */
export interface BelowPicture {
  readonly top: number;
  readonly height: number;
  readonly label: string;
  /** Value at a frame, in shown units. */
  readonly at: (frame: number) => number;
}

/** What the plot is painted from. */
export interface PlotPicture {
  readonly map: PlotMap;
  readonly lines: readonly Line[];
  readonly lead: string | null;
  readonly first: number;
  readonly last: number;
  readonly rate: number;
  readonly markers: readonly Marked[];
  /** Curves as they were before the last edit. */
  readonly before: readonly Line[];
  /** Another channel laid over: drawn on the axis of the one that leads. */
  readonly overlay: { readonly line: Line; readonly at: (frame: number) => number } | null;
  readonly band: number | null;
  readonly below: BelowPicture | null;
  /** Ids of the chosen keys by the address of their curve. */
  readonly chosen: ReadonlyMap<string, ReadonlySet<string>>;
  /** Curves that change while something is dragged or tried. */
  readonly moving: ReadonlySet<string>;
  readonly evening: boolean;
}

/** Number of the last entry at or before a frame, -1 before the first. */
function lastAtOrBefore(frames: ArrayLike<{ readonly frame: number }>, frame: number): number {
  let low = 0;
  let high = frames.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (frames[middle]!.frame <= frame) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}

/** Adds a curve of one component to the path, between the edges of the plot. A stretch of handles is one Bezier curve. */
export function traceTrack(
  g: CanvasRenderingContext2D,
  map: PlotMap,
  line: Line,
  component: CompiledTrack,
): void {
  const keys = keyList(line.track!);
  const { scale, width } = map;
  const [left, right] = [scale.frame(0), scale.frame(width)];
  const y = map.heights(line);
  const sampled = (from: number, to: number, step: number): void => {
    for (let x = from; x < to; x += step) g.lineTo(x, y(sampleTrack(component, scale.frame(x))));
    g.lineTo(to, y(sampleTrack(component, scale.frame(to))));
  };
  const [firstKey, lastKey] = [keys[0]!, keys.at(-1)!];
  const startX = Math.max(0, scale.x(firstKey.frame));
  g.moveTo(0, y(sampleTrack(component, left)));
  if (firstKey.frame > left) {
    if (line.track!.before === 'hold' || line.track!.before === 'straight')
      g.lineTo(Math.min(width, startX), y(sampleTrack(component, Math.min(right, firstKey.frame - 1e-9))));
    else sampled(0, Math.min(width, startX), SAMPLE_PX);
  }
  const from = Math.max(0, lastAtOrBefore(keys, left));
  const to = Math.min(keys.length - 2, lastAtOrBefore(keys, right));
  let a = compiledKey(component, from);
  if (from > 0 || firstKey.frame <= left) g.moveTo(scale.x(a.frame), y(a.value));
  else g.lineTo(scale.x(a.frame), y(a.value));
  let drawn = scale.x(a.frame);
  for (let i = from; i <= to; i++) {
    const b = compiledKey(component, i + 1);
    const [x0, x1] = [scale.x(a.frame), scale.x(b.frame)];
    const { manner, piece } = keys[i]!;
    if (x1 - x0 < NARROW_PX && i < to) {
      // Many keys on one pixel are one stroke.
      if (x1 - drawn >= 1) {
        g.lineTo(x1, y(b.value));
        drawn = x1;
      }
    } else {
      if (manner === 'hold') g.lineTo(x1, y(a.value));
      else if (manner === 'curve') {
        const dt = b.frame - a.frame;
        if (a.rightReach <= dt && b.leftReach <= dt)
          g.bezierCurveTo(
            scale.x(a.frame + a.rightReach),
            y(a.value + a.rightRise),
            scale.x(b.frame - b.leftReach),
            y(b.value + b.leftRise),
            x1,
            y(b.value),
          );
        else sampled(Math.max(0, x0), Math.min(width, x1), SAMPLE_PX);
      } else if (manner !== 'linear' || piece)
        sampled(Math.max(0, x0), Math.min(width, x1), Math.max(1, Math.min(SAMPLE_PX, (x1 - x0) / 24)));
      g.lineTo(x1, y(b.value));
      drawn = x1;
    }
    a = b;
  }
  if (lastKey.frame >= right) return;
  const endX = Math.max(0, scale.x(lastKey.frame));
  const { after } = line.track!;
  if (after === 'hold' || after === 'straight') g.lineTo(width, y(sampleTrack(component, right)));
  else sampled(endX, width, SAMPLE_PX);
}

function strokeLine(g: CanvasRenderingContext2D, map: PlotMap, line: Line): void {
  if (line.linked && line.track && line.components.length === 1) {
    // What a link does to the keys of its channel is drawn as the pair.
    g.save();
    g.setLineDash([]);
    g.lineWidth = 1;
    g.globalAlpha = 0.6;
    g.beginPath();
    traceTrack(g, map, line, line.components[0]!);
    g.stroke();
    g.restore();
  }
  if (!line.track || line.linked) {
    if (!line.at) return;
    g.beginPath();
    for (let x = 0; x <= map.width; x += SAMPLE_PX) {
      const y = map.y(line, line.at(map.scale.frame(x)));
      if (x === 0) g.moveTo(x, y);
      else g.lineTo(x, y);
    }
    g.stroke();
    return;
  }
  line.components.forEach((component, i) => {
    if (line.components.length > 1) g.strokeStyle = themed(COMPONENT_COLOURS[i]!);
    g.beginPath();
    traceTrack(g, map, line, component);
    g.stroke();
  });
}

function paintGradient(g: CanvasRenderingContext2D, p: PlotPicture, line: Line, top: number): void {
  const { scale, width } = p.map;
  const colour = new Float64Array(3);
  const keyed = (frame: number): string => {
    line.components.forEach((component, i) => (colour[i] = sampleTrack(component, frame)));
    if (line.track?.blend === 'oklab') linearFromOklabAt(colour, 0);
    return hexOfColour([colour[0]!, colour[1]!, colour[2]!]);
  };
  for (let x = 0; x < width; x += SAMPLE_PX) {
    g.fillStyle = (line.shade ?? keyed)(scale.frame(x));
    g.fillRect(x, top, SAMPLE_PX + 0.5, STRIP);
  }
  const [pegs, chosen] = [new Path2D(), new Path2D()];
  for (const { id, frame } of pegsOf(line)) {
    const x = scale.x(frame);
    if (x > -8 && x < width + 8)
      addPeg(p.chosen.get(line.address)?.has(id) ? chosen : pegs, x, top + STRIP / 2);
  }
  drawPegs(g, pegs, 'key');
  drawPegs(g, chosen, 'teal');
}

/** A key of a curve, as a peg of the plot. */
export interface Peg {
  readonly id: string;
  readonly frame: number;
  readonly value: number;
}

const pegsOfTrack = new WeakMap<Track, readonly Peg[]>();

/** Keys of a curve with their ids. */
export function pegsOf({ track }: Line): readonly Peg[] {
  if (!track) return [];
  let pegs = pegsOfTrack.get(track);
  if (!pegs) {
    pegs = Object.entries(track.keys).map(([id, key]) => ({
      id,
      frame: key.frame,
      value: typeof key.value === 'number' ? key.value : 0,
    }));
    pegsOfTrack.set(track, pegs);
  }
  return pegs;
}

/** Adds a peg to the pegs of one colour. */
function addPeg(pegs: Path2D, x: number, y: number, half = 3.5): void {
  pegs.roundRect(x - half, y - half * 2, half * 2, half * 4, half);
}

/** Draws pegs of one colour in one go. */
function drawPegs(g: CanvasRenderingContext2D, pegs: Path2D, colour: string): void {
  g.fillStyle = themed(colour);
  g.strokeStyle = themed('field');
  g.lineWidth = 1;
  g.fill(pegs);
  g.stroke(pegs);
}

/** Where the strips of gradients lie. */
export function stripsOf(lines: readonly Line[], top: number): ReadonlyMap<string, number> {
  const colours = lines.filter((line) => line.spec.kind === 'colour' && (line.track ?? line.shade));
  return new Map(colours.map((line, i) => [line.address, top + 3 + i * (STRIP + 3)]));
}

/** Pegs of curves that do not lead are left out beyond so many: they would only cover one another. */
const PEGS_AT_MOST = 600;
/** Beyond so many chosen keys they are plain too, and drawn in one go. */
const SHAPED_AT_MOST = 120;
/** Beyond so many curves those that do not lead are drawn as hairlines, with plain pegs. */
const CROWD = 24;

/** Whether so many curves are drawn that most of them stand still in a picture of their own. */
export const isCrowd = (p: PlotPicture): boolean => p.lines.length > CROWD;

/** Curves of a crowd that stand still: neither the one that leads nor those that are changed. */
export const standing = (p: PlotPicture): readonly Line[] =>
  p.lines.filter((line) => line.address !== p.lead && !p.moving.has(line.address));

/** Draws curves that stand still with plain pegs, on nothing; pauses after each curve. */
export function* paintStanding(g: CanvasRenderingContext2D, p: PlotPicture): Generator<void, void> {
  const { map } = p;
  let room = PEGS_AT_MOST;
  const lines = standing(p);
  for (const line of lines) {
    // A line of one pixel is drawn several times as fast as a wider one.
    drawLine(g, map, line, 1, 0.6);
    yield;
  }
  g.setLineDash([]);
  g.globalAlpha = 1;
  for (const line of lines) {
    if (!line.track || line.spec.kind === 'colour') continue;
    const pegs = pegsOf(line);
    if (pegs.length > room) break;
    room -= pegs.length;
    g.fillStyle = line.linked ? themed('mark') : themed(line.colour);
    g.beginPath();
    const height = map.heights(line);
    for (const { frame, value } of pegs)
      g.rect(Math.round(map.scale.x(frame)) - 2, Math.round(height(value)) - 4, 4, 8);
    g.fill();
    yield;
  }
}

function drawLine(g: CanvasRenderingContext2D, map: PlotMap, line: Line, width: number, alpha: number): void {
  g.globalAlpha = alpha;
  g.strokeStyle = themed(line.colour);
  g.lineWidth = width;
  g.setLineDash(line.linked ? [5, 3] : []);
  strokeLine(g, map, line);
}

function paintPegs(g: CanvasRenderingContext2D, p: PlotPicture): void {
  const { map } = p;
  const crowd = isCrowd(p);
  const lead = p.lines.find((line) => line.address === p.lead);
  let plain = -SHAPED_AT_MOST;
  for (const ids of p.chosen.values()) plain += ids.size;
  const plainPegs = new Path2D();
  for (const line of [...p.lines.filter((entry) => entry !== lead), ...(lead ? [lead] : [])]) {
    if (!line.track || line.spec.kind === 'colour') continue;
    const still = crowd && line !== lead && !p.moving.has(line.address);
    const ids = p.chosen.get(line.address);
    if (still && !ids) continue;
    const height = map.heights(line);
    const half = line === lead ? 3.5 : 2.75;
    // Of many curves most have none of their own.
    let pegs: Path2D | undefined;
    let chosenPegs: Path2D | undefined;
    for (const { id, frame, value } of pegsOf(line)) {
      const x = map.scale.x(frame);
      if (x < -8 || x > map.width + 8) continue;
      const chosen = ids?.has(id) === true;
      if (still && !chosen) continue;
      const y = height(value);
      if (chosen && plain > 0) plainPegs.rect(Math.round(x) - 3, Math.round(y) - 6, 6, 12);
      else if (chosen) addPeg((chosenPegs ??= new Path2D()), x, y, half);
      else addPeg((pegs ??= new Path2D()), x, y, half);
    }
    if (pegs) drawPegs(g, pegs, line.linked ? 'mark' : line.colour);
    if (chosenPegs) drawPegs(g, chosenPegs, 'teal');
  }
  if (plain <= 0) return;
  g.fillStyle = themed('teal');
  g.fill(plainPegs);
}

function paintBelow(g: CanvasRenderingContext2D, p: PlotPicture, below: BelowPicture): void {
  const { scale, width } = p.map;
  const { top, height } = below;
  g.fillStyle = themed('stripe');
  g.fillRect(0, top, width, height);
  g.fillStyle = themed('line');
  g.fillRect(0, top, width, 1);
  const values: number[] = [];
  let [low, high] = [0, 0];
  for (let x = 0; x <= width; x += SAMPLE_PX) {
    const value = below.at(scale.frame(x));
    values.push(value);
    low = Math.min(low, value);
    high = Math.max(high, value);
  }
  if (high - low < 1e-12) high = low + 1;
  const y = (value: number): number => top + 5 + (1 - (value - low) / (high - low)) * (height - 10);
  g.fillStyle = themed('line-strong');
  g.fillRect(0, Math.round(y(0)), width, 1);
  g.strokeStyle = themed('teal');
  g.lineWidth = 1.4;
  g.beginPath();
  values.forEach((value, i) => (i === 0 ? g.moveTo(0, y(value)) : g.lineTo(i * SAMPLE_PX, y(value))));
  g.stroke();
  g.fillStyle = themed('ink-2');
  g.font = '600 10.5px "Archivo Variable", sans-serif';
  g.fillText(below.label, 6, top + 13);
}

/**
 * Draws the plot: grid, curves, pegs, and what lies below. The ruler above it is not touched.
 * @param kept what of it is kept from picture to picture
 * @param crowd draws the curves of a crowd that stand still
 */
export function paintPlot(
  g: CanvasRenderingContext2D,
  p: PlotPicture,
  kept: { readonly ground: KeptPicture; readonly numbers: KeptPicture },
  crowd?: (g: CanvasRenderingContext2D) => void,
): void {
  const { map } = p;
  const { scale, width, top } = map;
  const bottom = p.below ? p.below.top : map.bottom;
  g.save();
  g.beginPath();
  g.rect(0, RULER, width, bottom - RULER + (p.below?.height ?? 0));
  g.clip();
  const [left, right] = axesShown(p);
  const axes = [map, left && map.axisOf(left), right && map.axisOf(right), p.evening];
  kept.ground.draw(g, [...axes, p.first, p.rate, bottom], width, bottom, (own) =>
    paintGround(own, p, bottom),
  );
  g.save();
  g.beginPath();
  g.rect(0, top, width, bottom - top);
  g.clip();
  const lead = p.lines.find((line) => line.address === p.lead);
  if (p.band !== null && lead?.at) {
    g.fillStyle = themed('brass');
    g.globalAlpha = 0.22;
    g.beginPath();
    for (let x = 0; x <= width; x += SAMPLE_PX) g.lineTo(x, map.y(lead, lead.at(scale.frame(x)) + p.band));
    for (let x = width; x >= 0; x -= SAMPLE_PX) g.lineTo(x, map.y(lead, lead.at(scale.frame(x)) - p.band));
    g.fill();
    g.globalAlpha = 1;
  }
  g.lineWidth = 1;
  g.globalAlpha = 0.75;
  for (const line of p.before) {
    g.strokeStyle = themed('ink-3');
    strokeLine(g, map, line);
  }
  if (isCrowd(p)) {
    g.globalAlpha = 1;
    crowd?.(g);
    for (const line of p.lines)
      if (line !== lead && p.moving.has(line.address)) drawLine(g, map, line, 1.3, 0.8);
  } else for (const line of p.lines) if (line !== lead) drawLine(g, map, line, 1.3, 0.8);
  if (lead) drawLine(g, map, lead, 2.1, 1);
  g.setLineDash([2, 3]);
  g.globalAlpha = 1;
  if (p.overlay && lead) {
    g.strokeStyle = themed('now');
    g.lineWidth = 1.6;
    g.beginPath();
    for (let x = 0; x <= width; x += SAMPLE_PX) g.lineTo(x, map.y(lead, p.overlay.at(scale.frame(x))));
    g.stroke();
  }
  g.setLineDash([]);
  kept.numbers.draw(g, axes, width, map.bottom, (own) => paintNumbers(own, p));
  paintPegs(g, p);
  g.restore();
  for (const [address, at] of stripsOf(p.lines, RULER))
    paintGradient(
      g,
      p,
      p.lines.find((line) => line.address === address)!,
      at,
    );
  // What lies outside the range is dimmed.
  g.fillStyle = 'rgb(90 84 70 / 0.1)';
  const [x0, x1] = [scale.x(p.first), scale.x(p.last)];
  if (x0 > 0) g.fillRect(0, RULER, x0, bottom - RULER);
  if (x1 < width) g.fillRect(x1, RULER, width - x1, bottom - RULER);
  for (const marker of p.markers) {
    g.fillStyle = 'rgb(168 118 26 / 0.35)';
    g.fillRect(scale.x(marker.frame) - 0.5, RULER, 1, bottom - RULER);
  }
  if (p.below) paintBelow(g, p, p.below);
  g.restore();
}

/** Speed or acceleration of a curve in shown units per second. */
export function motionOf(
  line: Line,
  kind: 'speed' | 'acceleration',
  per: number,
  rate: number,
): (frame: number) => number {
  const at = line.at ?? (() => 0);
  return kind === 'speed'
    ? (frame) => (speedAt(at, frame) * rate) / per
    : (frame) => (accelerationAt(at, frame) * rate * rate) / per;
}
