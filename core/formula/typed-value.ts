import type { Shot } from '../document';
import type { FormulaError } from './error';
import { addressesRead, interpret, partsMeasured, readsClock } from './expression';
import { checkArithmetic, NameTable } from './link';
import { UNIT_NAMES } from './units';

export type TypedValue = { ok: true; value: number } | { ok: false; error: FormulaError };

/** A number and its unit with room between them, as people write it: "12 mm". */
const SPACED_UNIT = new RegExp(`(\\d)\\s+(${UNIT_NAMES.join('|')}|[°º])(?![\\p{L}\\d])`, 'gu');

/**
 * Number typed into a field: arithmetic and units (`-3*360`, `12mm`, `90deg + 1turn`), or a change of what is there
 * (`+=10`, `-=5`, `*=2`, `/=3`, `*2`, `/2`). A bare number has the field's unit. Of several chosen parts `index` counts
 * from 0 in the order in which they were chosen, and `count` is how many there are.
 * @param current value there now, in house units
 * @returns the number in house units
 */
export function typedValue(
  shot: Shot,
  address: string,
  text: string,
  current: number,
  among: { readonly index: number; readonly count: number } = { index: 0, count: 1 },
): TypedValue {
  const trimmed = text.trim().replace(SPACED_UNIT, '$1$2');
  const relative = /^([+\-*/])=|^([*/])/.exec(trimmed);
  const operator = relative?.[1] ?? relative?.[2];
  const skipped = relative?.[0].length ?? 0;
  const body = operator ? `own ${operator} (${trimmed.slice(skipped)})` : trimmed.replace(/[°º]/g, 'deg');
  const shift = operator ? skipped - 'own x ('.length : 0;
  const checked = checkArithmetic(new NameTable(shot), address, body, among.count);
  if (!checked.ok) {
    const place = (at: number): number => Math.max(0, Math.min(trimmed.length, at + shift));
    return {
      ok: false,
      error: { ...checked.error, from: place(checked.error.from), to: place(checked.error.to), fixes: [] },
    };
  }
  const refuse = (code: FormulaError['code'], message: string): TypedValue => ({
    ok: false,
    error: { code, from: 0, to: trimmed.length, message, fixes: [] },
  });
  const measured = partsMeasured(checked.expression);
  if (
    addressesRead(checked.expression).length + Object.values(measured).flat().length > 0 ||
    readsClock(checked.expression)
  )
    return refuse(
      'unknown-name',
      'A field takes a number. To follow another value, begin with = and it becomes a link.',
    );
  const none = (): number => NaN;
  const value = interpret(checked.expression, {
    own: current,
    clock: (name) => (name === 'index' ? among.index : NaN),
    channel: none,
    probe: none,
    measure: none,
    pinned: () => NaN,
    level: none,
  });
  if (!Number.isFinite(value)) return refuse('not-a-number', `"${trimmed}" gives no number.`);
  return { ok: true, value };
}
