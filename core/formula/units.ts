import { pow } from '../math';
import { framesPerSecond, type Rate } from '../time';
import { ANGLE, LENGTH, TIME, type Dimension } from './dimension';

/** Metres in one shown unit of length. */
export const METRES_PER_UNIT = { m: 1, cm: 0.01, mm: 0.001, px: 0.01 } as const;
export type LengthUnit = keyof typeof METRES_PER_UNIT;

export interface Unit {
  readonly dimension: Dimension;
  /** Factor to the house unit: metres, degrees, seconds. */
  readonly factor: number;
  readonly help: string;
}

const RATE: Dimension = { length: 0, angle: 0, time: -1, ratio: false };
const SPIN: Dimension = { length: 0, angle: 1, time: -1, ratio: false };

const FIXED: Readonly<Record<string, Unit>> = {
  deg: { dimension: ANGLE, factor: 1, help: 'degrees' },
  turn: { dimension: ANGLE, factor: 360, help: 'whole turns' },
  rad: { dimension: ANGLE, factor: 180 / Math.PI, help: 'radians' },
  mm: { dimension: LENGTH, factor: 0.001, help: 'millimetres' },
  cm: { dimension: LENGTH, factor: 0.01, help: 'centimetres' },
  m: { dimension: LENGTH, factor: 1, help: 'metres' },
  px: { dimension: LENGTH, factor: 0.01, help: 'pixels of a layer, 100 to the metre' },
  s: { dimension: TIME, factor: 1, help: 'seconds' },
  rpm: { dimension: SPIN, factor: 6, help: 'turns per minute' },
  Hz: { dimension: RATE, factor: 1, help: 'times per second' },
};

const FIXED_UNITS: ReadonlyMap<string, Unit> = new Map(Object.entries(FIXED));

export const UNIT_NAMES: readonly string[] = [...FIXED_UNITS.keys(), 'f'];

/** The unit written after a number; `f` is one frame of the given rate. `null` when unknown. */
export function unitNamed(name: string, rate: Rate): Unit | null {
  if (name === 'f') return { dimension: TIME, factor: 1 / framesPerSecond(rate), help: 'frames' };
  return FIXED_UNITS.get(name) ?? null;
}

/** Factor that turns a plain number into the house unit of a place: the shot's unit for lengths, else 1. */
export function plainFactor(dimension: Dimension, unit: LengthUnit): number {
  const metres = METRES_PER_UNIT[unit];
  return dimension.length === 0 || metres === 1 ? 1 : pow(metres, dimension.length);
}
