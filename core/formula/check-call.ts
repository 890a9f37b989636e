import { argument } from './check-argument';
import { combine, dimensionName, isBare, PLAIN, raise, sameDimension, type Dimension } from './dimension';
import { fault } from './error';
import type { Expression } from './expression';
import { FUNCTIONS, type ArgumentRule, type FunctionSpec } from './functions';
import { alike, common, mismatch, power } from './measures';
import { nearestNames } from './nearest';
import type { Ast } from './parse';
import type { Scope } from './scope';

/** The function that is called. @throws FormulaFault where there is none, or it is given too few arguments or too many */
export function functionNamed(ast: Ast & { type: 'call' }): FunctionSpec {
  const { from, to, name } = ast;
  const spec = FUNCTIONS.get(name);
  if (!spec) {
    const near = nearestNames(name, [...FUNCTIONS.keys(), 'if']);
    const fixes = near.map((text) => ({ label: text, from, to: ast.nameTo, insert: text }));
    throw fault(
      'unknown-function',
      from,
      ast.nameTo,
      `There is no function "${name}".${near.length > 0 ? ` Did you mean ${near.join(' or ')}?` : ''}`,
      fixes,
    );
  }
  const least = spec.params.length - (spec.defaults?.length ?? 0);
  const most = spec.variadic ? Infinity : spec.params.length;
  const given = ast.args.length;
  if (given < least || given > most) {
    const takes = spec.variadic
      ? `at least ${least} values`
      : least === most
        ? `${least} ${least === 1 ? 'value' : 'values'}`
        : `${least} or ${most} values`;
    throw fault(
      'argument-count',
      from,
      to,
      `${name}(${spec.params.join(', ')}) takes ${takes}, ${given} ${given === 1 ? 'is' : 'are'} given.`,
    );
  }
  return spec;
}

/** Arguments as a function's rules want them, those of one kind alike. @throws FormulaFault for what it cannot take */
export function fittedArguments(spec: FunctionSpec, args: readonly Expression[], scope: Scope): Expression[] {
  const ruleOf = (i: number): ArgumentRule => spec.rules[Math.min(i, spec.rules.length - 1)]!;
  const out = args.map((arg, i) => argument(spec, arg, ruleOf(i), scope));
  const group = out.filter((_, i) => ruleOf(i) === 'same');
  const fitted = alike(group, scope);
  const result = out.map((arg, i) => (ruleOf(i) === 'same' ? fitted[group.indexOf(arg)]! : arg));
  const per = spec.rules.indexOf('per');
  if (per >= 0) {
    const counted = combine(PLAIN, result[per - 1]!.dimension, -1);
    const rate = result[per]!;
    if (!isBare(rate.dimension) && !sameDimension(rate.dimension, counted))
      throw mismatch(
        rate,
        counted,
        `${spec.name} wants a plain number or ${dimensionName(counted)} here, this is ${dimensionName(rate.dimension)}.`,
      );
  }
  if (spec.name === 'remap') {
    const ranged = alike(result.slice(0, 3), scope);
    return [...ranged, ...result.slice(3)];
  }
  return result;
}

/** What a function gives for arguments. */
export function resultDimension(spec: FunctionSpec, args: readonly Expression[]): Dimension {
  if (spec.result === 'power') return power(args[0]!, args[1]!);
  if (spec.result === 'half') return raise(args[0]?.dimension ?? PLAIN, 0.5);
  if (spec.result !== 'same') return spec.result === 'perSecond' ? PLAIN : spec.result;
  const shared = args.filter((_, i) =>
    ['same', 'plainOrAngle'].includes(spec.rules[Math.min(i, spec.rules.length - 1)]!),
  );
  return common(shared);
}
