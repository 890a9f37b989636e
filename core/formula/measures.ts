import {
  ANGLE,
  dimensionName,
  isBare,
  isPlain,
  LENGTH,
  PLAIN,
  raise,
  RATIO,
  sameDimension,
  TIME,
  type Dimension,
} from './dimension';
import { fault, type Fix } from './error';
import type { Expression } from './expression';
import type { Scope } from './scope';
import { plainFactor, type LengthUnit } from './units';

/** What has the dimension that is wanted, or is a plain number that takes it on. @throws FormulaFault otherwise */
export function wanted(node: Expression, want: Dimension, scope: Scope): Expression {
  if (sameDimension(node.dimension, want)) return node;
  if (isPlain(node.dimension)) return scaled(node, want, scope);
  throw mismatch(
    node,
    want,
    `This is ${dimensionName(node.dimension)}, but ${dimensionName(want)} belongs here.`,
    scope.unit,
  );
}

/** A plain number as one of a dimension, in the unit that the shot shows. */
export function scaled(node: Expression, dimension: Dimension, scope: Scope): Expression {
  const factor = plainFactor(dimension, scope.unit);
  if (factor === 1) return { ...node, dimension };
  const { from, to } = node;
  if (node.type === 'constant') return { ...node, value: node.value * factor, dimension };
  const right: Expression = { type: 'constant', value: factor, dimension: PLAIN, from, to };
  return { type: 'binary', op: '*', left: node, right, dimension, from, to };
}

const UNIT_OF: [Dimension, string][] = [
  [ANGLE, 'deg'],
  [LENGTH, 'm'],
  [TIME, 's'],
];

/** Stands in a fix for the text that it replaces; the door of this module fills it in. */
export const TEXT_ITSELF = '\u0000';

/** Units in which a plain number stands in a place, as the fixes write them: one of them is the number 1 there. */
function unitOf(dimension: Dimension, shown: LengthUnit): string | undefined {
  if (sameDimension(dimension, LENGTH)) return shown;
  return UNIT_OF.find(([entry]) => sameDimension(entry, dimension))?.[1];
}

/** The refusal of what measures something else than is wanted, with the ways to make it fit. */
export function mismatch(node: Expression, want: Dimension, message: string, shown: LengthUnit = 'm'): Error {
  const { from, to } = node;
  const fixes: Fix[] = [];
  const replace = (label: string, build: (text: string) => string): void => {
    fixes.push({ label, from, to, insert: build(TEXT_ITSELF) });
  };
  const got = unitOf(node.dimension, shown);
  const target = unitOf(want, shown);
  if (isBare(node.dimension) && node.dimension.ratio && sameDimension(want, ANGLE)) {
    for (const name of ['rad', 'deg', 'turns']) replace(`${name}(...)`, (text) => `${name}(${text})`);
  } else if (got && target) {
    // Written with the units that both places show, so that the number stays what it is.
    const factor = rateOf(node);
    if (factor)
      fixes.push({
        label: `${TEXT_ITSELF}${target}/1${got}`,
        from: factor.from,
        to: factor.to,
        insert: `${TEXT_ITSELF}${target}/1${got}`,
      });
    else replace(`* 1${target}/1${got}`, (text) => `(${text}) * 1${target}/1${got}`);
    if (target === 'deg' && sameDimension(node.dimension, LENGTH))
      replace('rolling: rad(... / radius)', (text) => `rad((${text}) / 1m)`);
  } else if (got && isBare(want)) {
    replace(`per unit: / 1${got}`, (text) => `(${text}) / 1${got}`);
  }
  return fault('dimension', from, to, message, fixes);
}

/** The plain number by which something measured is multiplied: 20 in `20 * time`. */
function rateOf(node: Expression): Expression | null {
  if (node.type !== 'binary' || node.op !== '*') return null;
  const [plain, other] = node.left.type === 'constant' ? [node.left, node.right] : [node.right, node.left];
  return plain.type === 'constant' && isPlain(plain.dimension) && !isBare(other.dimension) ? plain : null;
}

export function alike(nodes: readonly Expression[], scope: Scope): Expression[] {
  const leader = nodes.find((node) => !isBare(node.dimension));
  if (!leader) return [...nodes];
  return nodes.map((node) => {
    if (sameDimension(node.dimension, leader.dimension)) return node;
    if (isPlain(node.dimension)) return scaled(node, leader.dimension, scope);
    throw mismatch(
      node,
      leader.dimension,
      `${capital(dimensionName(node.dimension))} cannot go together with ${dimensionName(leader.dimension)}.`,
      scope.unit,
    );
  });
}

export function common(nodes: readonly Expression[]): Dimension {
  const first = nodes[0]?.dimension ?? PLAIN;
  return isBare(first) && nodes.some((node) => node.dimension.ratio) ? RATIO : first;
}

/** Dimension of a power: what measures something can only be raised to a fixed number. */
export function power(base: Expression, exponent: Expression): Dimension {
  if (!isBare(exponent.dimension))
    throw mismatch(
      exponent,
      PLAIN,
      `An exponent is a plain number, not ${dimensionName(exponent.dimension)}.`,
    );
  if (isBare(base.dimension)) return base.dimension;
  if (exponent.type === 'constant') return raise(base.dimension, exponent.value);
  throw fault(
    'dimension',
    exponent.from,
    exponent.to,
    `${capital(dimensionName(base.dimension))} can only be raised to a fixed number.`,
  );
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}
