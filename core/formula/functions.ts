import * as m from '../math';
import { meshedAngle, rodAngle, sliderPosition } from '../mechanism';
import { ANGLE, LENGTH, PLAIN, type Dimension } from './dimension';

/**
 * What an argument must be. `same` arguments share one dimension, which a `same` result has too; `any` takes
 * everything; `bare` takes plain numbers and ratios; `turns` takes an angle, or a bare number of turns.
 */
export type ArgumentRule = 'same' | 'any' | 'bare' | 'turns' | 'angle' | 'length' | 'plainOrAngle';
export type ResultRule = 'same' | 'half' | Dimension;

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
}

const DEG = 180 / Math.PI;
const RAD = Math.PI / 180;

/** Remainder with the sign of the divisor (GLSL `mod`), so that angles wrap into [0, 360). */
export function floorMod(a: number, b: number): number {
  return a - b * Math.floor(a / b);
}

/** Halves round away from zero. */
export function roundHalfAway(x: number): number {
  return x < 0 ? -Math.floor(-x + 0.5) : Math.floor(x + 0.5);
}

const fract = (x: number): number => x - Math.floor(x);

function define(
  name: string,
  params: string,
  rules: readonly ArgumentRule[],
  result: ResultRule,
  compute: (...args: number[]) => number,
  help: string,
  example: string,
  extra: { defaults?: readonly number[]; variadic?: boolean } = {},
): FunctionSpec {
  return { name, params: params.split(' '), rules, result, compute, help, example, ...extra };
}

const ALL: readonly FunctionSpec[] = [
  define('sin', 'angle', ['angle'], PLAIN, (a) => m.sinDeg(a), 'Sine of an angle.', 'sin(30deg)'),
  define('cos', 'angle', ['angle'], PLAIN, (a) => m.cosDeg(a), 'Cosine of an angle.', 'cos(60deg)'),
  define(
    'tan',
    'angle',
    ['angle'],
    PLAIN,
    (a) => m.sinDeg(a) / m.cosDeg(a),
    'Tangent of an angle.',
    'tan(45deg)',
  ),
  define(
    'asin',
    'x',
    ['bare'],
    ANGLE,
    (x) => m.asin(x) * DEG,
    'Angle whose sine is x; x from -1 to 1.',
    'asin(0.5)',
  ),
  define(
    'acos',
    'x',
    ['bare'],
    ANGLE,
    (x) => m.acos(x) * DEG,
    'Angle whose cosine is x; x from -1 to 1.',
    'acos(0.5)',
  ),
  define(
    'atan',
    'x',
    ['bare'],
    ANGLE,
    (x) => m.atan(x) * DEG,
    'Angle whose tangent is x, from -90 to 90 degrees.',
    'atan(1)',
  ),
  define(
    'atan2',
    'y x',
    ['same', 'same'],
    ANGLE,
    (y, x) => m.atan2(y, x) * DEG,
    'Direction of the point (x, y), from -180 to 180 degrees.',
    'atan2(1, -1)',
  ),
  define(
    'sqrt',
    'x',
    ['any'],
    'half',
    (x) => Math.sqrt(x),
    'Square root; x must not be negative.',
    'sqrt(9)',
  ),
  define('abs', 'x', ['same'], 'same', (x) => Math.abs(x), 'Size without the sign.', 'abs(-3)'),
  define(
    'sign',
    'x',
    ['any'],
    PLAIN,
    (x) => (x > 0 ? 1 : x < 0 ? -1 : x),
    '1, 0 or -1 as x is above, at or below zero.',
    'sign(-8)',
  ),
  define(
    'floor',
    'x',
    ['plainOrAngle'],
    'same',
    (x) => Math.floor(x),
    'Largest whole number not above x (degrees for an angle).',
    'floor(2.7)',
  ),
  define(
    'ceil',
    'x',
    ['plainOrAngle'],
    'same',
    (x) => Math.ceil(x),
    'Smallest whole number not below x (degrees for an angle).',
    'ceil(2.1)',
  ),
  define(
    'round',
    'x',
    ['plainOrAngle'],
    'same',
    (x) => roundHalfAway(x),
    'Nearest whole number; halves go away from zero.',
    'round(2.5)',
  ),
  define(
    'mod',
    'x by',
    ['same', 'same'],
    'same',
    (a, b) => floorMod(a, b),
    'What is left after whole steps of by; it has the sign of by.',
    'mod(-90deg, 360deg)',
  ),
  define(
    'min',
    'a b',
    ['same', 'same'],
    'same',
    (...all) => Math.min(...all),
    'Smallest of the values.',
    'min(3, 1, 2)',
    { variadic: true },
  ),
  define(
    'max',
    'a b',
    ['same', 'same'],
    'same',
    (...all) => Math.max(...all),
    'Largest of the values.',
    'max(3, 1, 2)',
    { variadic: true },
  ),
  define(
    'clamp',
    'x low high',
    ['same', 'same', 'same'],
    'same',
    (x, low, high) => Math.max(low, Math.min(high, x)),
    'x kept between low and high; low wins when they are the wrong way round.',
    'clamp(7, 0, 5)',
  ),
  define(
    'mix',
    'a b share',
    ['same', 'same', 'bare'],
    'same',
    (a, b, t) => a * (1 - t) + b * t,
    'From a (share 0) to b (share 1), and beyond.',
    'mix(10, 20, 0.25)',
  ),
  define(
    'remap',
    'x from1 to1 from2 to2',
    ['any', 'any', 'any', 'same', 'same'],
    'same',
    (x, a, b, c, d) => c + ((x - a) / (b - a)) * (d - c),
    'Moves x from the range from1..to1 to the range from2..to2.',
    'remap(5, 0, 10, 0, 100)',
  ),
  define(
    'smoothstep',
    'low high x',
    ['same', 'same', 'same'],
    PLAIN,
    (a, b, x) => {
      const t = Math.max(0, Math.min(1, (x - a) / (b - a)));
      return t * t * (3 - 2 * t);
    },
    '0 below low, 1 above high, eased in between.',
    'smoothstep(0, 1, 0.25)',
  ),
  define(
    'step',
    'edge x',
    ['same', 'same'],
    PLAIN,
    (edge, x) => (x < edge ? 0 : 1),
    '0 below the edge, 1 from the edge on.',
    'step(5, 7)',
  ),
  define(
    'pow',
    'x exponent',
    ['bare', 'bare'],
    PLAIN,
    (x, y) => m.pow(x, y),
    'x to a power; the same as x ^ exponent.',
    'pow(2, 10)',
  ),
  define('exp', 'x', ['bare'], PLAIN, (x) => m.exp(x), 'e to the power x.', 'exp(1)'),
  define('log', 'x', ['bare'], PLAIN, (x) => m.log(x), 'Natural logarithm; x must be above 0.', 'log(e)'),
  define(
    'hypot',
    'x y',
    ['same', 'same'],
    'same',
    (...all) => Math.sqrt(all.reduce((sum, x) => sum + x * x, 0)),
    'Length of the diagonal: square root of the sum of squares.',
    'hypot(3, 4)',
    { variadic: true },
  ),
  define('rad', 'x', ['bare'], ANGLE, (x) => x * DEG, 'The angle of x radians.', 'rad(pi)'),
  define('deg', 'x', ['bare'], ANGLE, (x) => x, 'The angle of x degrees.', 'deg(90)'),
  define('turns', 'x', ['bare'], ANGLE, (x) => x * 360, 'The angle of x whole turns.', 'turns(0.25)'),
  define(
    'wave',
    'x',
    ['turns'],
    PLAIN,
    (x) => m.sinDeg(x),
    'Sine wave from -1 to 1, once per turn.',
    'wave(0.25)',
  ),
  define(
    'tri',
    'x',
    ['turns'],
    PLAIN,
    (x) => 4 * Math.abs(fract(x / 360 - 0.25) - 0.5) - 1,
    'Triangle wave from -1 to 1 in step with the sine.',
    'tri(0.1)',
  ),
  define('saw', 'x', ['turns'], PLAIN, (x) => fract(x / 360), 'Rises from 0 to 1 once per turn.', 'saw(2.3)'),
  define(
    'square',
    'x',
    ['turns'],
    PLAIN,
    (x) => (fract(x / 360) < 0.5 ? 1 : -1),
    '1 in the first half of each turn, -1 in the second.',
    'square(0.6)',
  ),
  define(
    'slider',
    'angle throw rod offset',
    ['angle', 'length', 'length', 'length'],
    LENGTH,
    (a, r, l, e) => sliderPosition(a, r, l, e),
    'Where a slider stands that a crank of this throw drives through a rod.',
    'slider(90deg, 2m, 6m)',
    { defaults: [0] },
  ),
  define(
    'rodangle',
    'angle throw rod offset',
    ['angle', 'length', 'length', 'length'],
    ANGLE,
    (a, r, l, e) => rodAngle(a, r, l, e),
    'Swing of the rod between crank and slider.',
    'rodangle(90deg, 2m, 6m)',
    { defaults: [0] },
  ),
  define(
    'mesh',
    'angle teeth1 teeth2',
    ['angle', 'bare', 'bare'],
    ANGLE,
    (a, z1, z2) => meshedAngle(a, z1, z2),
    'Turn of a gear with teeth2 driven by one with teeth1.',
    'mesh(360deg, 20, 40)',
  ),
];

export const FUNCTIONS: ReadonlyMap<string, FunctionSpec> = new Map(ALL.map((spec) => [spec.name, spec]));

/** Radians of an angle in degrees; for callers that leave the house unit. */
export function radians(degrees: number): number {
  return degrees * RAD;
}
