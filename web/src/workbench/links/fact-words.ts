import type { Shot } from '../../../../core/document';
import { METRES_PER_UNIT } from '../../../../core/formula';
import { FACT_MEASURES } from '../../../../core/recipe';

/** A fact of a recipe with its unit: lengths in that of the shot, six digits, a true minus. */
export function factWords(name: string, value: number, unit: Shot['setup']['unit']): string {
  const measure = FACT_MEASURES[name] ?? 'number';
  const shown = measure === 'length' ? value / METRES_PER_UNIT[unit] : value;
  const digits = String(Number(shown.toPrecision(6))).replace('-', '\u2212');
  return measure === 'length' ? `${digits} ${unit}` : measure === 'angle' ? `${digits}\u00b0` : digits;
}
