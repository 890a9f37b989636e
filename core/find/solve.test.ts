import { describe, expect, it } from 'vitest';
import { fourBar, sliderPosition } from '../mechanism';
import { brentLeast, brentRoot } from './brent';
import { simplexLeast } from './simplex';
import { solve, type Unknown } from './solve';

const unknown = (least: number, most: number, now = (least + most) / 2, whole = false): Unknown => ({
  least,
  most,
  now,
  whole,
});
const TEETH = unknown(12, 120, 20, true);
const { cos, sin, tan, sqrt, exp, log, PI } = Math;

describe('roots in a bracket (Brent 1973; roots by mpmath to 40 digits)', () => {
  it.each<[string, (x: number) => number, number, number, number]>([
    ['cos x - x', (x) => cos(x) - x, 0, 1, 0.739085133215161],
    ['x^3 - 2x - 5', (x) => x ** 3 - 2 * x - 5, 2, 3, 2.09455148154233],
    ['x e^x - 1', (x) => x * exp(x) - 1, 0, 1, 0.567143290409784],
    ['tan x - x', (x) => tan(x) - x, 4, 4.6, 4.49340945790906],
    ['Kepler', (x) => x - 0.3 * sin(x) - 1, 0, 2, 1.28809131321184],
    ['inverse involute', (x) => tan(x) - x - 0.05, 0.1, 1, 0.512039814316292],
    ['ln x - 1/x', (x) => log(x) - 1 / x, 1, 3, 1.7632228343519],
    ['slider-crank 2, 6 at 6.5', (x) => sliderPosition((x * 180) / PI, 2, 6) - 6.5, 0, 3, 1.16556564591961],
    ['3-4-5 law backwards', (u) => 10 * u ** 3 - 15 * u ** 4 + 6 * u ** 5 - 0.3, 0, 1, 0.389818350530958],
    ['four-bar, rocker at 90', (t) => fourBar(t, 40, 120, 80, 100, 1).rocker - 90, 60, 150, 108.0873919321],
    ['four-bar, the other way', (t) => fourBar(t, 40, 120, 80, 100, 1).rocker - 90, 300, 359, 329.2322245761],
  ])('%s', (_name, f, from, to, wanted) => {
    const root = brentRoot(f, from, to, 1e-14);
    expect(root.found).toBe(true);
    expect(Math.abs(root.x - wanted)).toBeLessThan(wanted > 10 ? 1e-9 : 1e-10);
  });
  it('is not told where there is none', () => {
    expect(brentRoot((x) => (x - 1) ** 2, 0, 3, 1e-12)).toMatchObject({ found: false, why: 'no-change' });
    expect(brentRoot((x) => 1 / (x - 1), 0, 3, 1e-12)).toMatchObject({ found: false, why: 'jump' });
    expect(brentRoot((x) => (x < 1 ? -1 : 1), 0, 3, 1e-12)).toMatchObject({ found: false, why: 'jump' });
    const triple = brentRoot((x) => (x - 1) ** 3, 0, 3, 1e-12);
    expect(Math.abs(triple.x - 1)).toBeLessThan(1e-4);
  });
});

describe('the least in a bracket', () => {
  it.each<[string, (x: number) => number, number, number, number, number]>([
    ['x^x', (x) => x ** x, 0.1, 1, 0.3678794411714, 0.6922006275553],
    ['(x - 2)^2 at a limit', (x) => (x - 2) ** 2, 3, 5, 3, 1],
    ['|x - 0.7|', (x) => Math.abs(x - 0.7), 0, 1, 0.7, 0],
  ])('%s', (_name, f, from, to, x, value) => {
    const least = brentLeast(f, from, to, 1e-10);
    expect(Math.abs(least.x - x)).toBeLessThan(1e-6);
    expect(Math.abs(least.value - value)).toBeLessThan(1e-8);
  });
});

describe('the least of several unknowns (More, Garbow and Hillstrom 1981; Dixon and Szego 1978)', () => {
  const rosenbrock = ([x, y]: readonly number[]): number => 100 * (y! - x! ** 2) ** 2 + (1 - x!) ** 2;
  const wide = [
    { least: -5, most: 5 },
    { least: -5, most: 5 },
  ];
  it('Rosenbrock, free and with a limit on the way', () => {
    const free = simplexLeast(rosenbrock, [-1.2, 1], wide);
    expect(Math.abs(free.at[0]! - 1) + Math.abs(free.at[1]! - 1)).toBeLessThan(1e-6);
    const kept = simplexLeast(rosenbrock, [-1.2, 1], [{ least: -5, most: 0.5 }, wide[1]!]);
    expect(kept.at[0]).toBeCloseTo(0.5, 6);
    expect(kept.at[1]).toBeCloseTo(0.25, 5);
    expect(kept.value).toBeCloseTo(0.25, 8);
  });
  it('Beale, and the six-hump camel', () => {
    const beale = simplexLeast(
      ([x, y]) =>
        (1.5 - x! + x! * y!) ** 2 + (2.25 - x! + x! * y! ** 2) ** 2 + (2.625 - x! + x! * y! ** 3) ** 2,
      [1, 1],
      wide,
    );
    expect(beale.at[0]).toBeCloseTo(3, 5);
    expect(beale.at[1]).toBeCloseTo(0.5, 5);
    const camel = solve(
      ([x, y]) => (4 - 2.1 * x! ** 2 + x! ** 4 / 3) * x! ** 2 + x! * y! + (4 * y! ** 2 - 4) * y! ** 2,
      [unknown(-2, 2, 0.5), unknown(-1, 1, -0.5)],
      { kind: 'least' },
    );
    expect(camel.answers).toHaveLength(2);
    expect(camel.answers[0]!.value).toBeCloseTo(-1.03162845349, 8);
    // Of two that are as good, that which is nearer to what is now.
    expect(camel.answers[0]!.at[0]).toBeCloseTo(0.0898420131, 4);
    expect(camel.answers[0]!.at[1]).toBeCloseTo(-0.71265640302, 4);
  });
  it('finds all four answers of Himmelblau, and the three of Branin', () => {
    const himmelblau = solve(
      ([x, y]) => (x! ** 2 + y! - 11) ** 2 + (x! + y! ** 2 - 7) ** 2,
      [unknown(-5, 5, 3), unknown(-5, 5, 2)],
      { kind: 'least' },
    );
    expect(himmelblau.answers).toHaveLength(4);
    expect(himmelblau.answers[0]!.at.map((x) => Math.round(x * 1e4) / 1e4)).toEqual([3, 2]);
    const branin = solve(
      ([x, y]) =>
        (y! - (5.1 / (4 * PI ** 2)) * x! ** 2 + (5 / PI) * x! - 6) ** 2 +
        10 * (1 - 1 / (8 * PI)) * cos(x!) +
        10,
      [unknown(-5, 10, 9), unknown(0, 15, 2)],
      { kind: 'least' },
    );
    expect(branin.answers.map(({ at }) => Math.round(at[0]! * 1e3) / 1e3).sort((a, b) => a - b)).toEqual([
      -3.142, 3.142, 9.425,
    ]);
    expect(branin.answers[0]!.value).toBeCloseTo(0.39788735773, 8);
  });
  it('is found for the rocker of a four-bar with the best worst transmission angle', () => {
    // Crank 30, coupler 95, ground 100: the transmission angle at both ends of the crank's way, by the law of cosines.
    const worst = (rocker: number): number =>
      Math.max(
        ...[70, 130].map((open) => {
          const cosine = (95 ** 2 + rocker ** 2 - open ** 2) / (2 * 95 * rocker);
          const angle = (Math.acos(Math.max(-1, Math.min(1, cosine))) * 180) / PI;
          return Math.abs(90 - angle);
        }),
      );
    const { answers } = solve(([rocker]) => worst(rocker!), [unknown(40, 120)], { kind: 'least' });
    expect(answers[0]!.at[0]).toBeCloseTo(sqrt(95 ** 2 - 70 ** 2), 4);
    expect(answers[0]!.value).toBeCloseTo(42.536898363, 5);
  });
});

describe('a number that is wanted', () => {
  it('has all its answers told, the nearest to what is now first', () => {
    const { answers, note } = solve(([x]) => sin(10 * x!), [unknown(0, 1, 0.7)], { kind: 'is', target: 0.5 });
    expect(answers.map(({ at }) => at[0])).toHaveLength(4);
    expect(answers[0]!.at[0]).toBeCloseTo(0.680678408278, 9);
    expect(answers.map(({ at }) => at[0]!).sort((a, b) => a - b)[0]).toBeCloseTo(0.0523598775598, 9);
    expect(answers.every(({ exact }) => exact)).toBe(true);
    expect(note).toContain('4 answers');
  });
  it('that cannot be had is neared, and a jump is told', () => {
    const near = solve(([x]) => (x! - 1) ** 2 + 3, [unknown(0, 3)], { kind: 'is', target: 0 });
    expect(near.answers[0]).toMatchObject({ exact: false });
    expect(near.answers[0]!.at[0]).toBeCloseTo(1, 5);
    const jump = solve(([x]) => 1 / (x! - 1), [unknown(0, 3)], { kind: 'is', target: 0 });
    expect(jump.note).toContain('jumps over the number at 1');
    const nothing = solve(() => NaN, [unknown(0, 3)], { kind: 'is', target: 0 });
    expect(nothing).toMatchObject({ answers: [], note: 'It has no value anywhere within the limits.' });
  });
  it('may come from several unknowns', () => {
    const { answers } = solve(([x, y]) => x! ** 2 + y! ** 2, [unknown(-9, 9, 3), unknown(-9, 9, 4)], {
      kind: 'is',
      target: 49,
    });
    expect(answers[0]!.value).toBeCloseTo(49, 7);
    expect(answers[0]!.exact).toBe(true);
  });
});

describe('pairs of tooth counts, 12 to 120 (every pair tried against a Stern-Brocot descent)', () => {
  it.each([
    [PI, 44, 14],
    [sqrt(2), 99, 70],
    [Math.E, 106, 39],
    [2.54, 94, 37],
    [0.6180339887, 55, 89],
    [sqrt(3), 97, 56],
    [9.8696, 118, 12],
  ])('ratio %d is %d to %d', (ratio, z2, z1) => {
    const { answers } = solve(([a, b]) => b! / a!, [TEETH, TEETH], { kind: 'is', target: ratio });
    expect(answers[0]!.at).toEqual([z1, z2]);
  });
  it('says which is nearest where several are exact', () => {
    const { answers } = solve(([a, b]) => b! / a!, [TEETH, { ...TEETH, now: 60 }], {
      kind: 'is',
      target: 3.2,
    });
    expect(answers.every(({ exact, at }) => exact && at[1]! / at[0]! === 3.2)).toBe(true);
    expect(answers[0]!.at).toEqual([20, 64]);
  });
});
