import { channelAt, linkOf, type ChannelSpec, type Shot, type Value } from '../../../../core/document';
import { setLink } from '../../../../core/edit';
import { explainFailure, momentOf, type Evaluator, type Plan } from '../../../../core/evaluate';
import type { NameTable } from '../../../../core/formula';
import {
  checkTyped,
  dimensionName,
  eachNode,
  interpret,
  referencesIn,
  textOfLink,
  typedValue,
  type CheckedLink,
  type Expression,
  type FormulaError,
} from '../../../../core/formula';
import { describeValue, editableValue } from '../../shared/format';
import { setChannels } from '../actions/values';
import type { Session } from '../session';
import type { FormulaHover, FormulaMark } from './formula-field';

/** What the bar is asked to show. */
export interface BarOf {
  readonly shot: Shot;
  readonly plan: Plan;
  readonly evaluator: Evaluator;
  readonly names: NameTable;
  readonly address: string;
  /** What the channel has now. */
  readonly value: Value;
  /** What is being typed; `null` while nothing is. */
  readonly typed: string | null;
}

/** What the bar shows of a channel. */
export interface BarReading {
  readonly spec: ChannelSpec;
  /** Text in the field. */
  readonly text: string;
  readonly linked: boolean;
  readonly isFormula: boolean;
  /** Where the formula begins in the text: = and the spaces after it belong to the bar. */
  readonly lead: number;
  readonly formula: string;
  readonly checked: CheckedLink | null;
  readonly problem: FormulaError | null;
  /** The value at this frame, or what is typed gives. */
  readonly result: string;
}

/** How a link stands in the bar; nothing for a channel without one. */
export function restingText(shot: Shot, names: NameTable, address: string): string {
  const link = linkOf(shot, address);
  return link ? `= ${textOfLink(names, link)}` : '';
}

/** Reads what stands in the bar: the text is checked once. `null` for an unknown channel. */
export function readBar({ shot, plan, evaluator, names, address, value, typed }: BarOf): BarReading | null {
  const spec = channelAt(shot, address)?.spec;
  if (!spec) return null;
  const { unit } = shot.setup;
  const resting = restingText(shot, names, address);
  const plain =
    typeof value === 'number' ? editableValue(spec, value, unit) : describeValue(spec, value, unit);
  const text = typed ?? (resting || plain);
  const isFormula = text.trimStart().startsWith('=');
  const after = isFormula ? text.indexOf('=') + 1 : text.length - text.trimStart().length;
  const lead = after + (text.length - after - text.slice(after).trimStart().length);
  const formula = text.slice(lead);
  const checked = isFormula ? checkTyped(names, address, formula) : null;
  let problem: FormulaError | null = null;
  let result = describeValue(spec, value, unit);
  if (typed === null) {
    if (resting) problem = plan.linkOf.get(address)?.error ?? explainFailure(evaluator, address);
  } else if (checked?.ok)
    result = describeValue(spec, interpret(checked.expression, momentOf(evaluator, address)), unit);
  else if (checked) problem = checked.error;
  else if (typeof value === 'number' && text.trim() !== '') {
    const number = typedValue(shot, address, text, value);
    if (!number.ok) problem = number.error;
  }
  return { spec, text, linked: resting !== '', isFormula, lead, formula, checked, problem, result };
}

/** References and the place at fault, as they are marked in the text. */
export function marksOf({ isFormula, lead, formula, problem }: BarReading): FormulaMark[] {
  const references = isFormula ? referencesIn(formula) : [];
  return [
    ...references.map(({ from, to }): FormulaMark => ({
      from: lead + from,
      to: lead + to,
      kind: 'reference',
    })),
    ...(problem ? [{ from: lead + problem.from, to: lead + problem.to, kind: 'fault' as const }] : []),
  ];
}

/** What the innermost piece of the formula at a place of the text gives, and what it measures. */
export function hoverAt(
  { checked, lead, text }: BarReading,
  evaluator: Evaluator,
  address: string,
  at: number,
): FormulaHover | null {
  if (!checked?.ok) return null;
  const values = new Map<Expression, number>();
  interpret(checked.expression, momentOf(evaluator, address), (node, result) => values.set(node, result));
  let found: Expression | null = null;
  eachNode(checked.expression, (node) => {
    if (at - lead >= node.from && at - lead < node.to) found = node;
  });
  const node = found as Expression | null;
  if (node === null || !values.has(node)) return null;
  const shown = Math.round(values.get(node)! * 1e4) / 1e4;
  const [from, to] = [lead + node.from, lead + node.to];
  return { from, to, text: `${text.slice(from, to)} = ${shown}, ${dimensionName(node.dimension)}` };
}

/**
 * Keeps what is typed: a formula as a link, a number as the value (in place of a link, if there is one), nothing as no link.
 * @returns false, with nothing kept, for a number that cannot be read
 */
export function keepTyped(session: Session, address: string, reading: BarReading, value: Value): boolean {
  const { text, isFormula, linked, formula } = reading;
  if (isFormula) {
    const written = formula.trim();
    session.edit((now) => setLink(now, address, written === '' ? null : written));
    return true;
  }
  if (text.trim() === '') {
    if (linked) session.edit((now) => setLink(now, address, null));
    return linked || typeof value !== 'number';
  }
  if (typeof value !== 'number') return true;
  const typed = typedValue(session.shot, address, text, value);
  if (!typed.ok) return false;
  if (linked) session.edit((now) => setLink(now, address, null));
  setChannels(session, [[address, typed.value]]);
  return true;
}
