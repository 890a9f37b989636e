import * as m from '../math';
import { EASING_NAMES, EASINGS } from '../easing';
import {
  CAM_LAWS,
  camLift,
  camTrouble,
  crankTrouble,
  fourBar,
  fourBarTrouble,
  intermittentAngle,
  intermittentTrouble,
  meshedAngle,
  rackTravel,
  rodAngle,
  rollAngle,
  screwTravel,
  sliderPosition,
} from '../mechanism';
import { ANGLE, LENGTH, PLAIN, type Dimension } from './dimension';
import { jitter, smoothNoise } from './noise';

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
  /** Worked out from the shot at another moment or place, not from numbers alone. */
  readonly special?: 'probe' | 'measure' | 'level';
}

const DEG = 180 / Math.PI;
const RAD = Math.PI / 180;

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

const fract = (x: number): number => x - Math.floor(x);

function define(
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

const ALL: readonly FunctionSpec[] = [
  define(
    'sin',
    'angle',
    ['angle'],
    PLAIN,
    (a) => m.sinDeg(a),
    'Sine of an angle; a plain number is degrees: sin(0.5rad) for radians.',
    'sin(30deg)',
  ),
  define(
    'cos',
    'angle',
    ['angle'],
    PLAIN,
    (a) => m.cosDeg(a),
    'Cosine of an angle; a plain number is degrees: cos(0.5rad) for radians.',
    'cos(60deg)',
  ),
  define(
    'tan',
    'angle',
    ['angle'],
    PLAIN,
    (a) => m.sinDeg(a) / m.cosDeg(a),
    'Tangent of an angle; a plain number is degrees: tan(0.5rad) for radians.',
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
    ['any', 'exponent'],
    'power',
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
    { defaults: [0], trouble: crankTrouble },
  ),
  define(
    'rodangle',
    'angle throw rod offset',
    ['angle', 'length', 'length', 'length'],
    ANGLE,
    (a, r, l, e) => rodAngle(a, r, l, e),
    'Swing of the rod between crank and slider.',
    'rodangle(90deg, 2m, 6m)',
    { defaults: [0], trouble: crankTrouble },
  ),
  define(
    'mesh',
    'angle teeth1 teeth2',
    ['angle', 'bare', 'bare'],
    ANGLE,
    (a, z1, z2) => meshedAngle(a, z1, z2),
    'Turn of a gear with teeth2 driven by one with teeth1.',
    'mesh(360deg, 20, 40)',
    { trouble: (_a, _z1, z2) => (z2 === 0 ? 'a gear has no 0 teeth' : null) },
  ),
  define(
    'rack',
    'angle radius',
    ['angle', 'length'],
    LENGTH,
    (a, r) => rackTravel(a, r),
    'Way of a rack moved by a pinion of this pitch radius.',
    'rack(360deg, 0.5m)',
  ),
  define(
    'roll',
    'distance radius',
    ['length', 'length'],
    ANGLE,
    (d, r) => rollAngle(d, r),
    'Turn of a wheel that rolls this far on ground below it: negative to the right.',
    'roll(3.14159265m, 0.5m)',
    { trouble: (_d, r) => (r === 0 ? 'a wheel of radius 0 cannot roll' : null) },
  ),
  define(
    'cam',
    'law angle lift rise dwell fall',
    ['word', 'angle', 'length', 'angle', 'angle', 'angle'],
    LENGTH,
    (law, a, lift, rise, dwell, fall) => camLift(CAM_LAWS[law]!, a, lift, rise, dwell, fall),
    `Lift of a follower: up over rise, up for dwell, down over fall, down for the rest of the turn. Laws: ${CAM_LAWS.join(', ')}.`,
    'cam(cycloidal, 60deg, 20mm, 120deg, 60deg, 120deg)',
    { words: CAM_LAWS, trouble: (_law, _a, _lift, rise, dwell, fall) => camTrouble(rise, dwell, fall) },
  ),
  define(
    'intermittent',
    'angle slots',
    ['angle', 'bare'],
    ANGLE,
    (a, n) => intermittentAngle(a, n),
    'Turn of a slotted wheel that a crank pin moves one step each turn; at 0 the pin points away from the wheel.',
    'intermittent(200deg, 4)',
    { trouble: (_a, n) => intermittentTrouble(n) },
  ),
  define(
    'fourbar',
    'angle crank coupler rocker ground branch',
    ['angle', 'length', 'length', 'length', 'length', 'bare'],
    ANGLE,
    (t, a, b, c, d, branch) => fourBar(t, a, b, c, d, branch).rocker,
    'Direction of the rocker of a four-bar linkage; branch 1 is the open form, -1 the crossed one.',
    'fourbar(40deg, 40mm, 120mm, 80mm, 100mm)',
    { defaults: [1], trouble: fourBarTrouble },
  ),
  define(
    'coupler',
    'angle crank coupler rocker ground branch',
    ['angle', 'length', 'length', 'length', 'length', 'bare'],
    ANGLE,
    (t, a, b, c, d, branch) => fourBar(t, a, b, c, d, branch).coupler,
    'Direction of the coupler of a four-bar linkage.',
    'coupler(40deg, 40mm, 120mm, 80mm, 100mm)',
    { defaults: [1], trouble: fourBarTrouble },
  ),
  define(
    'screw',
    'angle lead',
    ['angle', 'length'],
    LENGTH,
    (a, lead) => screwTravel(a, lead),
    'Way of a nut on a screw; lead is the way per turn, starts times pitch.',
    'screw(720deg, 1.5mm)',
  ),
  define(
    'pulse',
    'x width',
    ['turns', 'bare'],
    PLAIN,
    (x, width) => (fract(x / 360) < width ? 1 : 0),
    '1 for the first share of each turn, else 0.',
    'pulse(0.1, 0.25)',
  ),
  define(
    'noise',
    'seed x',
    ['bare', 'any'],
    PLAIN,
    (seed, x) => smoothNoise(seed, x),
    'Smooth wandering between -1 and 1, about one swing per unit of x; the same for ever for the same seed.',
    'noise(3, 1.5)',
  ),
  define(
    'jitter',
    'seed x rate',
    ['bare', 'any', 'per'],
    PLAIN,
    (seed, x, rate) => jitter(seed, x, rate),
    'A new value from -1 to 1, rate times per unit of x, held in between; the same for ever for the same seed.',
    'jitter(3, 1.5, 8)',
  ),
  define(
    'ease',
    'kind x',
    ['word', 'bare'],
    PLAIN,
    (kind, x) => EASINGS[kind]!(x),
    `An easing equation from 0 to 1; x is cut to 0..1. Kinds: a family (sine, quad, cubic, quart, quint, expo, circ, back, elastic, bounce) with -in, -out or -in-out.`,
    'ease("back-out", 0.5)',
    { words: EASING_NAMES },
  ),
  define(
    'at',
    'value frame',
    ['ref', 'bare'],
    'same',
    () => NaN,
    'A channel at another frame.',
    'at(A.scale.x, 10)',
    { special: 'probe' },
  ),
  define(
    'delay',
    'value time',
    ['ref', 'time'],
    'same',
    () => NaN,
    'A channel as it was this long ago.',
    'delay(A.scale.x, 6f)',
    { special: 'probe' },
  ),
  define(
    'speed',
    'value',
    ['ref'],
    'perSecond',
    () => NaN,
    'How fast a channel changes, per second.',
    'speed(A.scale.x) * 1s',
    { special: 'probe' },
  ),
  define(
    'travel',
    'value',
    ['ref'],
    'same',
    () => NaN,
    'Way that a channel has gone since the first frame, there and back added up frame by frame.',
    'travel(A.scale.x)',
    { special: 'probe' },
  ),
  ...(['x', 'y', 'z'] as const).map((axis) =>
    define(
      `world${axis}`,
      'part',
      ['part'],
      LENGTH,
      () => NaN,
      `Where the pivot of a part stands in the world, along ${axis}.`,
      `world${axis}(A)`,
      { special: 'measure' },
    ),
  ),
  define(
    'distance',
    'part1 part2',
    ['part', 'part'],
    LENGTH,
    () => NaN,
    'Distance between the pivots of two parts.',
    'distance(A, B)',
    { special: 'measure' },
  ),
  define(
    'pathlength',
    'part',
    ['part'],
    LENGTH,
    () => NaN,
    'Length of the path that a part follows.',
    'pathlength(B)',
    { special: 'measure' },
  ),
  define(
    'level',
    'sound low high',
    ['sound', 'frequency', 'frequency'],
    PLAIN,
    () => NaN,
    'How loud a sound is now between two frequencies: 0 is silence, 1 a full-scale sine.',
    'level(organ, 60Hz, 250Hz)',
    { special: 'level' },
  ),
];

export const FUNCTIONS: ReadonlyMap<string, FunctionSpec> = new Map(ALL.map((spec) => [spec.name, spec]));

/** Radians of an angle in degrees; for callers that leave the house unit. */
export function radians(degrees: number): number {
  return degrees * RAD;
}
