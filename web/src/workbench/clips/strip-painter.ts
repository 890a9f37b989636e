import { compiledComponents, sampleTrack, type CompiledTrack } from '../../../../core/curve';
import type { Clip } from '../../../../core/document';
import { clipFrame, runOf, shareOf, type Run } from '../../../../core/evaluate';
import { themed } from '../../shared/theme';
import type { TimeScale } from '../timeline/time-scale';
import type { Strip, StripRow } from './strip-rows';

export const STRIP = 22;
const PAD = 3;
const CURVES_DRAWN = 3;
const SAMPLES = 48;
const CURVE_PX = 2;
const SHORT_PX = 26;

export interface StripPicture {
  readonly row: StripRow;
  readonly scale: TimeScale;
  readonly width: number;
  readonly chosen: ReadonlySet<string>;
  /** Showing whose clip is open. */
  readonly opened: string | null;
}

/** Height of a row, pixels. */
export const heightOf = (row: StripRow): number => row.layers * STRIP + 2 * PAD;

/** Where a strip lies, pixels. */
export function boxOf({ row, scale, width }: Pick<StripPicture, 'row' | 'scale' | 'width'>, strip: Strip) {
  const left = scale.x(strip.from);
  const right = Number.isFinite(strip.to) ? scale.x(strip.to) : Math.max(width + 40, left + 40);
  const top = PAD + (row.layers - 1 - strip.layer) * STRIP + 1;
  return { left, right, top, height: STRIP - 2 };
}

interface ClipCurve {
  readonly track: CompiledTrack;
  readonly low: number;
  readonly high: number;
}

const curvesOf = new WeakMap<Clip, readonly ClipCurve[]>();

/** The curves of a clip that go furthest for what they are. */
function clipCurves(clip: Clip): readonly ClipCurve[] {
  const known = curvesOf.get(clip);
  if (known) return known;
  const found: ClipCurve[] = [];
  for (const track of Object.values(clip.tracks)) {
    if (Object.values(track.keys).some((key) => typeof key.value !== 'number')) continue;
    const [compiled] = compiledComponents(track, 1);
    let [low, high] = [Infinity, -Infinity];
    for (let i = 0; i <= SAMPLES; i++) {
      const value = sampleTrack(compiled!, clip.first + ((clip.last - clip.first) * i) / SAMPLES);
      low = Math.min(low, value);
      high = Math.max(high, value);
    }
    found.push({ track: compiled!, low, high });
  }
  const moving = found.filter(({ low, high }) => high - low > 1e-9).slice(0, CURVES_DRAWN);
  curvesOf.set(clip, moving);
  return moving;
}

/** Draws the showings of one part: each with its name, its curves, the ends of its passes and how it is blended. */
export function paintStrips(g: CanvasRenderingContext2D, p: StripPicture): void {
  g.fillStyle = themed('field');
  g.fillRect(0, 0, p.width, heightOf(p.row));
  for (const strip of p.row.strips) paintStrip(g, p, strip);
}

function paintStrip(g: CanvasRenderingContext2D, p: StripPicture, strip: Strip): void {
  const box = boxOf(p, strip);
  if (box.right < -4 || box.left > p.width + 4) return;
  const { placement } = strip;
  const open = p.opened === strip.id;
  const chosen = p.chosen.has(strip.id);
  const run = runOf(placement, strip.clip);
  g.save();
  g.globalAlpha = placement.off ? 0.45 : 1;
  const outline = new Path2D();
  outline.roundRect(box.left, box.top, Math.max(3, box.right - box.left), box.height, 3);
  g.fillStyle = open ? themed('brass-wash') : chosen ? themed('teal-wash') : themed('clip-wash');
  g.fill(outline);
  g.save();
  g.clip(outline);
  paintCurves(g, p, strip, run);
  paintPasses(g, p, run, box);
  paintBlends(g, p, run, box);
  g.restore();
  g.strokeStyle = open ? themed('brass') : chosen ? themed('teal') : themed('clip');
  g.lineWidth = chosen || open ? 2 : 1;
  g.setLineDash(placement.off ? [3, 3] : []);
  g.stroke(outline);
  g.setLineDash([]);
  paintName(g, p, strip, box);
  if (chosen) paintGrips(g, p, strip, box);
  g.restore();
}

type Box = ReturnType<typeof boxOf>;

function paintCurves(g: CanvasRenderingContext2D, p: StripPicture, strip: Strip, run: Run): void {
  const box = boxOf(p, strip);
  const [from, to] = [Math.max(0, box.left), Math.min(p.width, box.right)];
  g.strokeStyle = themed('clip');
  g.lineWidth = 1;
  g.globalAlpha *= 0.7;
  for (const { track, low, high } of clipCurves(strip.clip)) {
    g.beginPath();
    for (let x = from; x <= to; x += CURVE_PX) {
      const value = sampleTrack(track, clipFrame(run, p.scale.frame(x)));
      const share = (value - low) / (high - low);
      const y = box.top + box.height - 3 - Math.max(0, Math.min(1, share)) * (box.height - 6);
      if (x === from) g.moveTo(x, y);
      else g.lineTo(x, y);
    }
    g.stroke();
  }
  g.globalAlpha /= 0.7;
}

/** A stroke where each pass ends and the next begins. */
function paintPasses(g: CanvasRenderingContext2D, p: StripPicture, run: Run, box: Box): void {
  const pass = (run.length / run.speed) * p.scale.perFrame;
  if (run.plays === 'once' || !(pass > 3)) return;
  g.fillStyle = themed('clip');
  if (run.plays === 'hold') {
    const x = box.left + pass;
    g.fillRect(Math.round(x), box.top, 1, box.height);
    return;
  }
  const first = Math.max(1, Math.ceil(-box.left / pass));
  for (let n = first; box.left + n * pass < Math.min(p.width, box.right - 2); n++)
    for (let y = box.top; y < box.top + box.height; y += 4)
      g.fillRect(Math.round(box.left + n * pass), y, 1, 2);
}

/** The share with which it counts, as a curve at its ends; what it leaves to what lies below is shaded. */
function paintBlends(g: CanvasRenderingContext2D, p: StripPicture, run: Run, box: Box): void {
  const stretches: [number, number][] = [];
  if (run.blendIn > 0) stretches.push([run.from, Math.min(run.to, run.from + run.blendIn)]);
  if (run.blendOut > 0 && Number.isFinite(run.to))
    stretches.push([Math.max(run.from, run.to - run.blendOut), run.to]);
  for (const [from, to] of stretches) {
    const [x0, x1] = [p.scale.x(from), p.scale.x(to)];
    const y = (x: number): number => box.top + box.height * (1 - shareOf(run, p.scale.frame(x)));
    g.beginPath();
    g.moveTo(x0, box.top);
    for (let x = x0; x < x1; x += CURVE_PX) g.lineTo(x, y(x));
    g.lineTo(x1, y(x1 - 0.01));
    g.lineTo(x1, box.top);
    g.closePath();
    g.fillStyle = themed('field');
    g.globalAlpha *= 0.75;
    g.fill();
    g.globalAlpha /= 0.75;
    g.beginPath();
    for (let x = x0; x < x1; x += CURVE_PX) {
      if (x === x0) g.moveTo(x, y(x));
      else g.lineTo(x, y(x));
    }
    g.strokeStyle = themed('ink-2');
    g.lineWidth = 1;
    g.stroke();
  }
}

/** Handles of the blends, at the upper corners. */
function paintGrips(g: CanvasRenderingContext2D, p: StripPicture, strip: Strip, box: Box): void {
  const { blendIn = 0, blendOut = 0 } = strip.placement;
  const grips = [Math.max(box.left + 3, box.left + blendIn * p.scale.perFrame)];
  if (Number.isFinite(strip.to)) grips.push(Math.min(box.right - 3, box.right - blendOut * p.scale.perFrame));
  g.fillStyle = themed('field');
  g.strokeStyle = themed('teal');
  g.lineWidth = 1.5;
  for (const x of grips) {
    g.beginPath();
    g.rect(x - 3, box.top - 0.5, 6, 6);
    g.fill();
    g.stroke();
  }
}

/** Words that fit on a strip: its name, then how it is shown other than as it was made. */
function paintName(g: CanvasRenderingContext2D, p: StripPicture, strip: Strip, box: Box): void {
  const left = Math.max(2, box.left) + (p.chosen.has(strip.id) ? 6 : 0);
  const room = Math.min(p.width, box.right) - left - 12;
  if (room < SHORT_PX) return;
  const { speed, backwards, mirrored, off } = strip.placement;
  const more = [
    speed !== 1 && `×${Math.round(speed * 100) / 100}`,
    backwards && 'backwards',
    mirrored && 'mirrored',
    off && 'off',
  ].filter(Boolean);
  g.font = '600 11px "Archivo Variable", sans-serif';
  let text = [strip.clip.name, ...more].join(' · ');
  while (text.length > 2 && g.measureText(text).width > room) text = `${text.slice(0, -2)}…`;
  const wide = g.measureText(text).width;
  g.fillStyle = p.opened === strip.id ? themed('brass-wash') : themed('clip-wash');
  if (p.chosen.has(strip.id) && p.opened !== strip.id) g.fillStyle = themed('teal-wash');
  g.globalAlpha *= 0.85;
  g.fillRect(left + 4, box.top + 4, wide + 4, 12);
  g.globalAlpha /= 0.85;
  g.fillStyle = themed('ink');
  g.textAlign = 'left';
  g.fillText(text, left + 6, box.top + 14);
}
