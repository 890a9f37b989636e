import { brentLeast, brentRoot } from './brent';
import { simplexLeast, spread, type Limits } from './simplex';

/** What is wanted of a number: that it is one, or as near as can be; that it is least, or most. */
export type Wanted = { readonly kind: 'is'; readonly target: number } | { readonly kind: 'least' | 'most' };

/** Something that may be changed, within limits; whole numbers only where it is. */
export interface Unknown extends Limits {
  readonly whole: boolean;
  /** What it is now: of several answers the nearest comes first. */
  readonly now: number;
}

export interface Answer {
  readonly at: readonly number[];
  /** What the number is there. */
  readonly value: number;
  /** Of a number that is wanted, whether it is that one. */
  readonly exact: boolean;
}

export interface Solved {
  /** The best first; of those that are as good, the nearest to what is now. */
  readonly answers: readonly Answer[];
  readonly tries: number;
  /** What is to be known of it, in a sentence, or `null`. */
  readonly note: string | null;
}

/** Places at which one unknown is looked at before it is closed in on. */
const SCAN = 120;
/** Combinations of whole numbers that are all tried. */
const ALL = 60_000;
/** Starts for several unknowns, each. */
const STARTS = 12;
/** Answers that are told. */
const TOLD = 8;
/** Share of the limits within which an unknown is found. */
const FINE = 1e-12;
/** Share of a wanted number, at least of 1, by which it may be missed and still be that number. */
const EXACT = 1e-9;

/**
 * Finds what some unknowns must be so that a number is what is wanted. One unknown is looked at all over, then closed in
 * on by Brent's methods, so that several answers are all found; several by simplexes from many starts; whole numbers by
 * trying them all where there are not too many. The same question always has the same answer.
 * @param number what is wanted to be something, at values of the unknowns; NaN where it has no value
 * @param told share that is done
 */
export function solve(
  number: (at: readonly number[]) => number,
  unknowns: readonly Unknown[],
  wanted: Wanted,
  told: (share: number) => void = () => undefined,
): Solved {
  let tries = 0;
  const value = (at: readonly number[]): number => {
    tries++;
    return number(at);
  };
  /** How far from what is wanted; least is best. */
  const miss = (v: number): number => {
    if (!Number.isFinite(v)) return Infinity;
    return wanted.kind === 'is' ? Math.abs(v - wanted.target) : wanted.kind === 'least' ? v : -v;
  };
  const whole = unknowns.every((unknown) => unknown.whole);
  const count = unknowns.reduce((all, { least, most }) => all * (Math.floor(most) - Math.ceil(least) + 1), 1);
  const found =
    whole && count <= ALL
      ? everyWhole(value, miss, unknowns, told)
      : unknowns.length === 1 && !whole
        ? oneUnknown(value, miss, unknowns[0]!, wanted, told)
        : { places: several(value, miss, unknowns, told), note: null };
  const answers = found.places
    .map((at) => {
      const v = value(at);
      return { at, value: v, exact: wanted.kind === 'is' && isExact(v, wanted.target) };
    })
    .filter((answer) => Number.isFinite(answer.value));
  const span = (at: readonly number[]): number =>
    at.reduce(
      (sum, x, i) => sum + ((x - unknowns[i]!.now) / (unknowns[i]!.most - unknowns[i]!.least || 1)) ** 2,
      0,
    );
  answers.sort((a, b) => {
    if (a.exact !== b.exact) return a.exact ? -1 : 1;
    const apart = miss(a.value) - miss(b.value);
    return !a.exact && Math.abs(apart) > 1e-12 * Math.max(1, Math.abs(miss(a.value)))
      ? apart
      : span(a.at) - span(b.at);
  });
  const best = answers[0];
  const good = answers.filter(
    (answer) =>
      answer.exact || (best && !best.exact && miss(answer.value) <= miss(best.value) + closeTo(best.value)),
  );
  return {
    answers: good.slice(0, TOLD),
    tries,
    note: best ? found.note : 'It has no value anywhere within the limits.',
  };
}

const closeTo = (value: number): number => 1e-9 * Math.max(1, Math.abs(value));
const isExact = (value: number, target: number): boolean =>
  Math.abs(value - target) <= EXACT * Math.max(1, Math.abs(target));

interface Places {
  readonly places: readonly (readonly number[])[];
  readonly note: string | null;
}

function oneUnknown(
  value: (at: readonly number[]) => number,
  miss: (v: number) => number,
  { least, most }: Unknown,
  wanted: Wanted,
  told: (share: number) => void,
): Places {
  const f = (x: number): number => value([x]);
  const fine = FINE * (most - least);
  const xs = Array.from({ length: SCAN + 1 }, (_, i) => least + ((most - least) * i) / SCAN);
  const ys = xs.map((x, i) => {
    if (i % 12 === 0) told((0.7 * i) / SCAN);
    return f(x);
  });
  const places: number[] = [];
  let jump: number | null = null;
  if (wanted.kind === 'is') {
    const off = ys.map((y) => y - wanted.target);
    for (let i = 0; i < SCAN; i++) {
      const [a, b] = [off[i]!, off[i + 1]!];
      if (Math.abs(a) === Infinity || Math.abs(b) === Infinity)
        jump = Math.abs(a) === Infinity ? xs[i]! : xs[i + 1]!;
      else if (a === 0) places.push(xs[i]!);
      else if (a * b < 0) {
        const root = brentRoot((x) => f(x) - wanted.target, xs[i]!, xs[i + 1]!, fine);
        if (root.found) places.push(root.x);
        else jump = root.x;
      }
    }
    if (off[SCAN] === 0) places.push(xs[SCAN]!);
  }
  const several =
    wanted.kind === 'is' && places.length > 1
      ? `There are ${places.length} answers within the limits.`
      : null;
  if (places.length === 0)
    for (let i = 0; i <= SCAN; i++) {
      const here = miss(ys[i]!);
      const around = [ys[i - 1], ys[i + 1]].map((y) => (y === undefined ? Infinity : miss(y)));
      if (!(here < Infinity) || around.some((other) => other < here)) continue;
      const [a, b] = [xs[Math.max(0, i - 1)]!, xs[Math.min(SCAN, i + 1)]!];
      places.push(brentLeast((x) => miss(f(x)), a, b, fine).x);
    }
  told(1);
  return {
    places: places.map((x) => [x]),
    note:
      several ??
      (jump === null
        ? null
        : `It jumps over the number at ${Number(jump.toPrecision(6))}, without being it anywhere.`),
  };
}

function everyWhole(
  value: (at: readonly number[]) => number,
  miss: (v: number) => number,
  unknowns: readonly Unknown[],
  told: (share: number) => void,
): Places {
  const best: { at: number[]; miss: number }[] = [];
  const ranges = unknowns.map(({ least, most }) => [Math.ceil(least), Math.floor(most)] as const);
  const at = ranges.map(([low]) => low);
  const count = ranges.reduce((all, [low, high]) => all * (high - low + 1), 1);
  for (let i = 0; i < count; i++) {
    if (i % 500 === 0) told(i / count);
    const off = miss(value(at));
    if (off < Infinity && (best.length < TOLD || off <= best.at(-1)!.miss)) {
      best.push({ at: [...at], miss: off });
      best.sort((a, b) => a.miss - b.miss);
      if (best.length > 4 * TOLD) best.pop();
    }
    for (let k = at.length - 1; k >= 0; k--) {
      if (++at[k]! <= ranges[k]![1]) break;
      at[k] = ranges[k]![0];
    }
  }
  told(1);
  return { places: best.map((each) => each.at), note: null };
}

function several(
  value: (at: readonly number[]) => number,
  miss: (v: number) => number,
  unknowns: readonly Unknown[],
  told: (share: number) => void,
): number[][] {
  const fit = (at: readonly number[]): number[] => at.map((x, i) => (unknowns[i]!.whole ? Math.round(x) : x));
  const f = (at: readonly number[]): number => miss(value(fit(at)));
  const starts = [unknowns.map(({ now }) => now), ...spread(unknowns, STARTS * unknowns.length)];
  const found: { at: number[]; miss: number }[] = [];
  starts.forEach((start, i) => {
    told(i / starts.length);
    const within = start.map((x, k) => Math.max(unknowns[k]!.least, Math.min(unknowns[k]!.most, x)));
    const valley = simplexLeast(f, within, unknowns);
    if (valley.value === Infinity) return;
    const at = fit(valley.at);
    const same = found.some((other) =>
      other.at.every((x, k) => Math.abs(x - at[k]!) <= 1e-5 * (unknowns[k]!.most - unknowns[k]!.least)),
    );
    if (!same) found.push({ at, miss: valley.value });
  });
  told(1);
  return found.sort((a, b) => a.miss - b.miss).map(({ at }) => at);
}
