import { METRES_PER_UNIT, type LengthUnit } from '../../../core/formula';

/** What one step is in each unit of length, in that unit: of a size that is seen in a picture of such things. */
const STEP: Readonly<Record<LengthUnit, number>> = { m: 0.1, cm: 1, mm: 1, px: 10 };

/** One step of an arrow key or of the grid, metres. */
export function stepIn(unit: LengthUnit): number {
  return STEP[unit] * METRES_PER_UNIT[unit];
}
