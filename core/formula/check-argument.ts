import {
  ANGLE,
  combine,
  dimensionName,
  isBare,
  isPlain,
  LENGTH,
  PLAIN,
  sameDimension,
  TIME,
  type Dimension,
} from './dimension';
import { fault, type Fix } from './error';
import type { Expression } from './expression';
import { folded } from './fold';
import type { ArgumentRule, FunctionSpec } from './functions';
import { mismatch, scaled } from './measures';
import { nearestNames } from './nearest';
import type { Ast } from './parse';
import { writtenName, type Scope } from './scope';

const STILL_LIMIT = 1e9;
const FREQUENCY = combine(PLAIN, TIME, -1);
/** One of a function's words, as its number in the list. Case, spaces, hyphens and underscores do not count. */
export function word(spec: FunctionSpec, arg: Ast): Expression {
  const { from, to } = arg;
  const plain = (text: string): string => text.toLowerCase().replaceAll(/[\s_-]/g, '');
  const words = spec.words ?? [];
  const listed = `${spec.name} takes one of ${words.join(', ')}.`;
  if (arg.type !== 'name')
    throw fault(
      'unknown-name',
      from,
      to,
      `A word belongs here: ${listed}`,
      wordFixes(words.slice(0, 4), from, to),
    );
  const index = words.findIndex((word) => plain(word) === plain(arg.name));
  if (index < 0)
    throw fault(
      'unknown-name',
      from,
      to,
      `"${arg.name}" is none of its words: ${listed}`,
      wordFixes(nearestNames(arg.name, words), from, to),
    );
  return { type: 'constant', value: index, dimension: PLAIN, from, to };
}

/** An argument as its rule wants it. @throws FormulaFault when it measures something else */
export function argument(spec: FunctionSpec, arg: Expression, rule: ArgumentRule, scope: Scope): Expression {
  const d = arg.dimension;
  const refuse = (want: Dimension, words: string): Error =>
    mismatch(arg, want, `${spec.name} wants ${words} here, this is ${dimensionName(d)}.`, scope.unit);
  switch (rule) {
    case 'angle':
      if (sameDimension(d, ANGLE)) return arg;
      if (isPlain(d)) return scaled(arg, ANGLE, scope);
      throw refuse(ANGLE, 'an angle');
    case 'length':
      if (sameDimension(d, LENGTH)) return arg;
      if (isPlain(d)) return scaled(arg, LENGTH, scope);
      throw refuse(LENGTH, 'a length');
    case 'bare':
      if (isBare(d)) return arg;
      throw refuse(PLAIN, 'a plain number');
    case 'plainOrAngle':
      if (isBare(d) || sameDimension(d, ANGLE)) return arg;
      throw refuse(PLAIN, 'a plain number or an angle');
    case 'turns': {
      if (sameDimension(d, ANGLE)) return arg;
      if (!isBare(d)) throw refuse(ANGLE, 'an angle or a number of turns');
      const { from, to } = arg;
      const turn: Expression = { type: 'constant', value: 360, dimension: ANGLE, from, to };
      return folded({ type: 'binary', op: '*', left: arg, right: turn, dimension: ANGLE, from, to });
    }
    case 'time':
      if (sameDimension(d, TIME)) return arg;
      if (isPlain(d)) return scaled(arg, TIME, scope);
      throw refuse(TIME, 'a time');
    case 'frequency':
      if (isPlain(d) || sameDimension(d, FREQUENCY)) return arg;
      throw refuse(FREQUENCY, 'a frequency such as 200Hz');
    default:
      return arg;
  }
}

/** Words to be put in the place of what is there. */
export function wordFixes(words: readonly string[], from: number, to: number): Fix[] {
  return words.map((word) => ({ label: word, from, to, insert: writtenName(word) }));
}

/** A number that stands still: above 0, or from 0 on. @throws FormulaFault for anything else */
export function still(spec: FunctionSpec, arg: Expression, fromZero: boolean): number {
  const { from, to } = arg;
  if (arg.type !== 'constant')
    throw fault(
      'not-a-number',
      from,
      to,
      `${spec.name} wants a number here that stands still: all that was before follows from it.`,
    );
  if (!(arg.value > 0 || (fromZero && arg.value === 0)) || arg.value > STILL_LIMIT)
    throw fault(
      'not-a-number',
      from,
      to,
      `${spec.name} wants a number ${fromZero ? 'from 0 on' : 'above 0'} here, up to ${STILL_LIMIT}: this is ${arg.value}.`,
    );
  return arg.value;
}
