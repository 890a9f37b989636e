import { cosDeg, pow, sin } from '../math';

/**
 * The named easing equations of R. Penner (2002), chapter 7, "Motion, Tweening, and Easing",
 * with his constants: back overshoots by s = 1.70158 (times 1.525 for in-out), elastic has the
 * period 0.3 (0.45 for in-out). Each maps the share of time gone (0 to 1) to the share of the way gone, with 0 at 0
 * and 1 at 1. "In" starts slowly, "out" ends slowly.
 */
export const EASING_FAMILIES = [
  'sine',
  'quad',
  'cubic',
  'quart',
  'quint',
  'expo',
  'circ',
  'back',
  'elastic',
  'bounce',
] as const;
export type EasingFamily = (typeof EASING_FAMILIES)[number];

export const EASING_DIRECTIONS = ['in', 'out', 'in-out'] as const;
export type EasingDirection = (typeof EASING_DIRECTIONS)[number];
export type EasingName = `${EasingFamily}-${EasingDirection}`;

export const EASING_NAMES: readonly EasingName[] = EASING_FAMILIES.flatMap((family) =>
  EASING_DIRECTIONS.map((direction): EasingName => `${family}-${direction}`),
);

const BACK = 1.70158;
const ELASTIC_PERIOD = 0.3;
const TAU = 2 * Math.PI;

function bounceOut(t: number): number {
  if (t < 1 / 2.75) return 7.5625 * t * t;
  if (t < 2 / 2.75) {
    const u = t - 1.5 / 2.75;
    return 7.5625 * u * u + 0.75;
  }
  if (t < 2.5 / 2.75) {
    const u = t - 2.25 / 2.75;
    return 7.5625 * u * u + 0.9375;
  }
  const u = t - 2.625 / 2.75;
  return 7.5625 * u * u + 0.984375;
}

function elasticIn(t: number, period: number): number {
  const u = t - 1;
  return -(pow(2, 10 * u) * sin(((u - period / 4) * TAU) / period));
}

const IN: Record<EasingFamily, (t: number) => number> = {
  sine: (t) => 1 - cosDeg(90 * t),
  quad: (t) => t * t,
  cubic: (t) => t * t * t,
  quart: (t) => t * t * t * t,
  quint: (t) => t * t * t * t * t,
  expo: (t) => pow(2, 10 * (t - 1)),
  circ: (t) => 1 - Math.sqrt(1 - t * t),
  back: (t) => t * t * ((BACK + 1) * t - BACK),
  elastic: (t) => elasticIn(t, ELASTIC_PERIOD),
  bounce: (t) => 1 - bounceOut(1 - t),
};

/** First halves of the in-out forms that are not the plain in form at half size. */
const HALF: Partial<Record<EasingFamily, (t: number) => number>> = {
  back: (t) => t * t * ((BACK * 1.525 + 1) * t - BACK * 1.525),
  elastic: (t) => elasticIn(t, ELASTIC_PERIOD * 1.5),
};

function make(family: EasingFamily, direction: EasingDirection): (t: number) => number {
  const whole = IN[family];
  const half = HALF[family] ?? whole;
  const inner = (t: number): number => {
    if (direction === 'in') return whole(t);
    if (direction === 'out') return 1 - whole(1 - t);
    return t < 0.5 ? half(2 * t) / 2 : 1 - half(2 - 2 * t) / 2;
  };
  // Expo and elastic do not quite reach their ends by the equation alone.
  return (t) => (t <= 0 ? 0 : t >= 1 ? 1 : inner(t));
}

/** The equations in the order of `EASING_NAMES`. */
export const EASINGS: readonly ((t: number) => number)[] = EASING_FAMILIES.flatMap((family) =>
  EASING_DIRECTIONS.map((direction) => make(family, direction)),
);

/** Share of the way gone at a share of the time (cut to 0..1) by a named equation. */
export function easingValue(name: EasingName, t: number): number {
  return EASINGS[EASING_NAMES.indexOf(name)]!(t);
}

/** The easing that plays another one backwards: in and out change places. */
export function reversedEasing(name: EasingName): EasingName {
  if (name.endsWith('-in-out')) return name;
  return (name.endsWith('-in') ? name.replace(/-in$/, '-out') : name.replace(/-out$/, '-in')) as EasingName;
}

/** Slopes of the in forms at their slow end and at their fast end, by the derivative of each equation. */
const END_SLOPES: Readonly<Record<EasingFamily, readonly [slow: number, fast: number]>> = {
  sine: [0, Math.PI / 2],
  quad: [0, 2],
  cubic: [0, 3],
  quart: [0, 4],
  quint: [0, 5],
  expo: [(10 * Math.LN2) / 1024, 10 * Math.LN2],
  // The quarter of a circle ends upright: it has no slope there.
  circ: [0, Infinity],
  back: [0, BACK + 3],
  elastic: elasticSlopes(ELASTIC_PERIOD),
  bounce: [(2 * 7.5625 * 0.125) / 2.75, 0],
};

/** The same for the halves of in-out forms that are not the plain in form at half size. */
const HALF_SLOW_SLOPES: Partial<Record<EasingFamily, number>> = {
  back: 0,
  elastic: elasticSlopes(ELASTIC_PERIOD * 1.5)[0],
};

/** d/dt of -2^(10u) sin((u - p/4) tau / p), u = t - 1, at t = 0 and at t = 1. */
function elasticSlopes(period: number): readonly [number, number] {
  const at = (u: number): number => {
    const angle = ((u - period / 4) * TAU) / period;
    const scale = pow(2, 10 * u);
    return -scale * (10 * Math.LN2 * sin(angle) + (TAU / period) * sin(angle + TAU / 4));
  };
  return [at(-1), at(0)];
}

/**
 * Slope of a named equation at its beginning or end: share of the way per share of the time, by the derivative of the
 * equation inside (0, 1). Infinite where a circle ends upright.
 */
export function easingEndSlope(name: EasingName, end: 'start' | 'finish'): number {
  const family = EASING_FAMILIES.find((entry) => name.startsWith(`${entry}-`))!;
  const [slow, fast] = END_SLOPES[family];
  if (name.endsWith('-in-out')) return HALF_SLOW_SLOPES[family] ?? slow;
  return name.endsWith('-in') === (end === 'start') ? slow : fast;
}
