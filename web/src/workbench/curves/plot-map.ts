import { METRES_PER_UNIT } from '../../../../core/formula';
import type { Setup } from '../../../../core/document';
import type { TimeScale } from '../timeline/time-scale';
import type { Line } from './lines';

/** A value axis: one for each kind of quantity, or one for each curve when every curve has the full height. */
export interface ValueAxis {
  readonly id: string;
  readonly low: number;
  readonly high: number;
  /** House units of one shown unit, and the shown unit's sign. */
  readonly per: number;
  readonly unit: string;
}

/** Where frames and values lie in the plot. */
export interface PlotMap {
  readonly scale: TimeScale;
  readonly width: number;
  readonly top: number;
  readonly bottom: number;
  readonly axes: ReadonlyMap<string, ValueAxis>;
  readonly lift: { readonly zoom: number; readonly pan: number };
  axisOf(line: Line): ValueAxis;
  y(line: Line, value: number): number;
  /** Where the values of one curve lie: for many of them. */
  heights(line: Line): (value: number) => number;
  value(line: Line, y: number): number;
}

const ROOM = 0.08;
const PAD = 10;

const axisId = (line: Line, normalised: boolean): string =>
  normalised ? line.address : line.spec.kind === 'colour' ? 'colour' : line.spec.quantity;

function shownUnit(line: Line, unit: Setup['unit']): { per: number; unit: string } {
  if (line.spec.quantity === 'length') return { per: METRES_PER_UNIT[unit], unit };
  if (line.spec.quantity === 'angle') return { per: 1, unit: '°' };
  return { per: 1, unit: line.spec.unit ?? '' };
}

/** Lays curves out between two heights. */
export function plotMap(
  lines: readonly Line[],
  scale: TimeScale,
  size: { readonly width: number; readonly top: number; readonly bottom: number },
  look: { readonly normalised: boolean; readonly lift: { readonly zoom: number; readonly pan: number } },
  unit: Setup['unit'],
): PlotMap {
  const found = new Map<string, { low: number; high: number; line: Line }>();
  for (const line of lines) {
    const id = axisId(line, look.normalised);
    const known = found.get(id);
    if (known) {
      known.low = Math.min(known.low, line.low);
      known.high = Math.max(known.high, line.high);
    } else found.set(id, { low: line.low, high: line.high, line });
  }
  const axes = new Map(
    [...found].map(([id, { low, high, line }]): [string, ValueAxis] => {
      const still = high - low <= 1e-9 * Math.max(1, Math.abs(high));
      const grown = still
        ? Math.max(0.5 * shownUnit(line, unit).per, Math.abs(high) * 0.1)
        : (high - low) * ROOM;
      return [id, { id, low: low - grown, high: high + grown, ...shownUnit(line, unit) }];
    }),
  );
  const { zoom, pan } = look.lift;
  const height = Math.max(1, size.bottom - size.top - 2 * PAD);
  const axisOf = (line: Line): ValueAxis => axes.get(axisId(line, look.normalised))!;
  const heights = (line: Line) => {
    const { low, high } = axisOf(line);
    return (value: number): number => {
      const share = ((value - low) / (high - low) - 0.5) * zoom + 0.5 + pan;
      return size.top + PAD + (1 - share) * height;
    };
  };
  return {
    scale,
    ...size,
    axes,
    lift: look.lift,
    axisOf,
    y: (line, value) => heights(line)(value),
    heights,
    value: (line, y) => {
      const { low, high } = axisOf(line);
      const share = (1 - (y - size.top - PAD) / height - 0.5 - pan) / zoom + 0.5;
      return low + share * (high - low);
    },
  };
}
