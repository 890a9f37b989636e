import { scaleLinear } from 'd3-scale';
import { themed } from '../../shared/theme';
import { RULER } from '../keys/lanes-painter';
import { rulerStep } from '../timeline/time-scale';
import type { Line } from './lines';
import type { PlotMap, ValueAxis } from './plot-map';

/** Width of a digit of the axes' numbers. */
const NUMBER_PX = 6.4;

/** What ground, grid and numbers are painted from. */
export interface AxesPicture {
  readonly map: PlotMap;
  readonly lines: readonly Line[];
  readonly lead: string | null;
  readonly first: number;
  readonly rate: number;
}

/** Ticks of a value axis in shown units, with their texts. */
export function ticksOf(
  axis: ValueAxis,
  map: PlotMap,
  line: Line,
): readonly { readonly y: number; readonly text: string }[] {
  const [low, high] = [map.value(line, map.bottom) / axis.per, map.value(line, map.top) / axis.per];
  const count = Math.max(2, Math.round((map.bottom - map.top) / 34));
  const scale = scaleLinear().domain([low, high]);
  const format = scale.tickFormat(count);
  return scale.ticks(count).map((tick) => ({
    y: map.y(line, tick * axis.per),
    text: `${format(tick)}${axis.unit === '°' ? '°' : axis.unit && ` ${axis.unit}`}`,
  }));
}

/** The curve whose axis stands on the left, and one of another axis, which stands on the right. */
export function axesShown({ map, lines, lead }: AxesPicture): readonly [Line | undefined, Line | undefined] {
  const first = lines.find((line) => line.address === lead) ?? lines[0];
  return [first, first && lines.find((line) => map.axisOf(line) !== map.axisOf(first))];
}

/** Draws the ground and the grid. */
export function paintGround(g: CanvasRenderingContext2D, p: AxesPicture, bottom: number): void {
  const { map } = p;
  const { scale, width, top } = map;
  g.fillStyle = themed('field');
  g.fillRect(0, RULER, width, bottom - RULER);
  g.fillStyle = themed('line-soft');
  const every = rulerStep(scale.perFrame, p.rate);
  const start = p.first + Math.ceil((scale.frame(0) - p.first) / every) * every;
  for (let frame = start; frame <= scale.frame(width); frame += every)
    g.fillRect(Math.round(scale.x(frame)), top, 1, bottom - top);
  const [lead] = axesShown(p);
  if (!lead) return;
  for (const { y } of ticksOf(map.axisOf(lead), map, lead)) {
    if (y < top || y > map.bottom) continue;
    g.fillStyle = themed('line-soft');
    g.fillRect(0, Math.round(y), width, 1);
  }
}

/** Draws the numbers of the axes, which lie over the curves. */
export function paintNumbers(g: CanvasRenderingContext2D, p: AxesPicture): void {
  const { map } = p;
  const { width, top } = map;
  const texts = (line: Line, right: boolean): void => {
    g.font = '10.5px "Spline Sans Mono Variable", monospace';
    g.textAlign = right ? 'right' : 'left';
    for (const { y, text } of ticksOf(map.axisOf(line), map, line)) {
      if (y < top + 8 || y > map.bottom - 2) continue;
      const x = right ? width - 5 : 5;
      // A ground keeps it legible where a curve passes.
      const wide = text.length * NUMBER_PX + 4;
      g.globalAlpha = 0.82;
      g.fillStyle = themed('field');
      g.fillRect(right ? x - wide + 2 : x - 2, y - 13, wide, 13);
      g.globalAlpha = 1;
      g.fillStyle = themed('ink-3');
      g.fillText(text, x, y - 3);
    }
  };
  const [lead, other] = axesShown(p);
  if (lead) texts(lead, false);
  if (other) texts(other, true);
}
