import { channelAt, linkOf, type ChannelSpec, type Shot, type Value } from '../../../../core/document';
import { setLink } from '../../../../core/edit';
import { explainFailure, momentOf, type Evaluator, type Plan } from '../../../../core/evaluate';
import type { NameTable } from '../../../../core/formula';
import {
  checkTyped,
  dimensionName,
  eachNode,
  errorAsShown,
  interpret,
  referencesIn,
  textOfLink,
  typedValue,
  COMPONENTS,
  formulasOf,
  type CheckedLink,
  type Expression,
  type FormulaError,
} from '../../../../core/formula';
import { colourFromHex, hexOfColour, noColour } from '../../../../core/math';
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

/** What a formula gives at the evaluated frame: a number, or a colour. */
function valueOfFormula(expression: Expression, evaluator: Evaluator, address: string): Value {
  const numbers = formulasOf(expression).map((formula, i) =>
    interpret(formula, momentOf(evaluator, address, COMPONENTS[i])),
  );
  return numbers.length === 1 ? numbers[0]! : (numbers as [number, number, number]);
}

/** Why a text is no colour, or `null` where it is one or empty. */
function refuseColour(text: string): FormulaError | null {
  if (text.trim() === '' || colourFromHex(text)) return null;
  const message = `${noColour(text.trim())}, or a formula after =.`;
  return { code: 'colour', from: 0, to: text.length, message, fixes: [] };
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
    const link = linkOf(shot, address);
    const found = link && (plan.linkOf.get(address)?.error ?? explainFailure(evaluator, address));
    // Parts may have other names than when it was written.
    if (link && found) problem = errorAsShown(names, link, found);
  } else if (checked?.ok)
    result = describeValue(spec, valueOfFormula(checked.expression, evaluator, address), unit);
  else if (checked) problem = checked.error;
  else if (typeof value !== 'number') problem = refuseColour(text);
  else if (text.trim() !== '') {
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
  // Of a colour, the three formulas of its components stand at the same places.
  const pieces = formulasOf(checked.expression).map((formula, i) => {
    const values = new Map<Expression, number>();
    interpret(formula, momentOf(evaluator, address, COMPONENTS[i]), (node, result) =>
      values.set(node, result),
    );
    let found: Expression | null = null;
    eachNode(formula, (node) => {
      if (at - lead >= node.from && at - lead < node.to) found = node;
    });
    const node = found as Expression | null;
    return { node, value: node && values.get(node) };
  });
  const [first, second, third] = pieces;
  if (!first?.node || first.value === undefined) return null;
  const [from, to] = [lead + first.node.from, lead + first.node.to];
  const numbers = [first, second, third].flatMap((piece) => piece?.value ?? []);
  // A grey is told from a number by how it is written.
  const colour =
    numbers.length === 3 && (numbers.some((value) => value !== numbers[0]) || text[from] === '#');
  const shown = colour
    ? `${hexOfColour(numbers as [number, number, number])}, a colour`
    : `${Math.round(first.value! * 1e4) / 1e4}, ${dimensionName(first.node.dimension)}`;
  return { from, to, text: `${text.slice(from, to)} = ${shown}` };
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
  if (typeof value !== 'number') {
    const colour = colourFromHex(text);
    if (!colour) return false;
    if (linked) session.edit((now) => setLink(now, address, null));
    setChannels(session, [[address, colour]]);
    return true;
  }
  const typed = typedValue(session.shot, address, text, value);
  if (!typed.ok) return false;
  if (linked) session.edit((now) => setLink(now, address, null));
  setChannels(session, [[address, typed.value]]);
  return true;
}
