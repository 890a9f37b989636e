import type { Dimension } from '../dimension';

/**
 * What an argument must be. `same` arguments share one dimension, which a `same` result has too; `any` takes
 * everything; `bare` takes plain numbers and ratios; `turns` takes an angle, or a bare number of turns; `word` takes one
 * of the function's words; `exponent` takes what `^` takes on its right; `per` takes a bare number, or what is counted per
 * unit of the argument before. `ref` takes a channel, `part` and `sound` a name: such functions are worked out from the shot.
 */
export type ArgumentRule =
  | 'same'
  | 'any'
  | 'bare'
  | 'turns'
  | 'angle'
  | 'length'
  | 'plainOrAngle'
  | 'time'
  | 'frequency'
  | 'word'
  | 'exponent'
  | 'per'
  | 'ref'
  | 'part'
  | 'sound';
/** `half` is the dimension of a square root, `power` that of the first argument to the power of the second. */
export type ResultRule = 'same' | 'half' | 'power' | 'perSecond' | Dimension;

export interface FunctionSpec {
  readonly name: string;
  readonly params: readonly string[];
  readonly rules: readonly ArgumentRule[];
  /** Arguments that may be left out at the end, and what stands in for them. */
  readonly defaults?: readonly number[];
  /** The last parameter may be repeated. */
  readonly variadic?: boolean;
  readonly result: ResultRule;
  readonly help: string;
  readonly example: string;
  /** Computes in house units: metres, degrees, seconds. NaN marks an input outside the function's domain. */
  readonly compute: (...args: number[]) => number;
  /** Words of a `word` argument; it is computed as the number of the word in this list. */
  readonly words?: readonly string[];
  /** Why these arguments give no number, in words; `null` when nothing special is known. */
  readonly trouble?: (...args: number[]) => string | null;
  /** Worked out from the shot at another moment or place, not from numbers alone; or three numbers at once. */
  readonly special?: 'probe' | 'measure' | 'level' | 'colour';
}

/** Remainder with the sign of the divisor (GLSL `mod`), so that angles wrap into [0, 360). */
export function floorMod(a: number, b: number): number {
  return a - b * Math.floor(a / b);
}

/** Halves round away from zero. */
export function roundHalfAway(x: number): number {
  const size = Math.abs(x);
  const whole = Math.floor(size);
  // Not floor(size + 0.5): the sum can be rounded up to the next whole number.
  const rounded = size - whole >= 0.5 ? whole + 1 : whole;
  return x < 0 ? -rounded : rounded;
}

/** Describes a function for the checker, the machine and the help. */
export function define(
  name: string,
  params: string,
  rules: readonly ArgumentRule[],
  result: ResultRule,
  compute: (...args: number[]) => number,
  help: string,
  example: string,
  extra: Partial<Pick<FunctionSpec, 'defaults' | 'variadic' | 'words' | 'trouble' | 'special'>> = {},
): FunctionSpec {
  return {
    name,
    params: params.split(' '),
    rules,
    result,
    compute: extra.special ? compute : strict(compute, rules.length, extra.variadic ?? false),
    help,
    example,
    ...extra,
  };
}

/** The function with a value only where every argument is a finite number: what is no number is not passed over. */
function strict(compute: FunctionSpec['compute'], count: number, variadic: boolean): FunctionSpec['compute'] {
  // One for each number of arguments: gathering them in a list would make work for the collector at every frame.
  if (variadic || count > 6)
    return (...all) => (all.every((value) => value - value === 0) ? compute(...all) : NaN);
  if (count === 1) return (a) => (a - a === 0 ? compute(a) : NaN);
  if (count === 2) return (a, b) => (a - a + (b - b) === 0 ? compute(a, b) : NaN);
  if (count === 3) return (a, b, c) => (a - a + (b - b) + (c - c) === 0 ? compute(a, b, c) : NaN);
  return (a, b, c, d, e = 0, f = 0) =>
    a - a + (b - b) + (c - c) + (d - d) + (e - e) + (f - f) === 0 ? compute(a, b, c, d, e, f) : NaN;
}
