import { describe, expect, it } from 'vitest';
import type { Shot } from '../document';
import { emptyShot, hub } from '../testing/random-shot';
import { checkTyped, FUNCTIONS, NameTable } from './index';

/**
 * What each function takes and gives, written here by hand, cell by cell. P a plain number, R a ratio of measured values,
 * A an angle, L a length, T a time, F a frequency, V a speed. A plain number takes on the unit that its place wants.
 */
const SAMPLE = {
  P: '2',
  R: '(B.location.x / 1m)',
  A: 'B.rotation.x',
  L: 'B.location.x',
  T: 'time',
  F: '(1 / time)',
  V: '(B.location.x / time)',
} as const;
type Letter = keyof typeof SAMPLE;
const LETTERS = Object.keys(SAMPLE) as Letter[];

/** For each argument the letters it takes; `*` a list that must agree; then what comes out, `=` what went in. */
const TABLE: Record<string, readonly [args: readonly string[], result: string]> = {
  sin: [['PA'], 'P'],
  cos: [['PA'], 'P'],
  tan: [['PA'], 'P'],
  asin: [['PR'], 'A'],
  acos: [['PR'], 'A'],
  atan: [['PR'], 'A'],
  atan2: [['*', '*'], 'A'],
  sqrt: [['PRALTFV'], 'half'],
  abs: [['*'], '='],
  sign: [['PRALTFV'], 'P'],
  floor: [['PRA'], '='],
  ceil: [['PRA'], '='],
  round: [['PRA'], '='],
  mod: [['*', '*'], '='],
  min: [['*', '*'], '='],
  max: [['*', '*'], '='],
  clamp: [['*', '*', '*'], '='],
  mix: [['*', '*', 'PR'], '='],
  remap: [['+', '+', '+', '*', '*'], '='],
  smoothstep: [['*', '*', '*'], 'P'],
  step: [['*', '*'], 'P'],
  pow: [['PRALTFV', 'PR'], 'power'],
  exp: [['PR'], 'P'],
  log: [['PR'], 'P'],
  hypot: [['*', '*'], '='],
  rad: [['PR'], 'A'],
  deg: [['PR'], 'A'],
  turns: [['PR'], 'A'],
  wave: [['PRA'], 'P'],
  tri: [['PRA'], 'P'],
  saw: [['PRA'], 'P'],
  square: [['PRA'], 'P'],
  slider: [['PA', 'PL', 'PL', 'PL'], 'L'],
  rodangle: [['PA', 'PL', 'PL', 'PL'], 'A'],
  mesh: [['PA', 'PR', 'PR'], 'A'],
  rack: [['PA', 'PL'], 'L'],
  roll: [['PL', 'PL'], 'A'],
  cam: [['word', 'PA', 'PL', 'PA', 'PA', 'PA'], 'L'],
  intermittent: [['PA', 'PR', 'PR'], 'A'],
  fourbar: [['PA', 'PL', 'PL', 'PL', 'PL', 'PR'], 'A'],
  coupler: [['PA', 'PL', 'PL', 'PL', 'PL', 'PR'], 'A'],
  screw: [['PA', 'PL'], 'L'],
  meetx: [['*', '*', '*', '*', '*', '*', 'PR'], '='],
  meety: [['*', '*', '*', '*', '*', '*', 'PR'], '='],
  onlinex: [['*', '*', '*', '*', '*', 'PA', 'PR'], '='],
  onliney: [['*', '*', '*', '*', '*', 'PA', 'PR'], '='],
  linesx: [['*', '*', 'PA', '*', '*', 'PA'], '='],
  linesy: [['*', '*', 'PA', '*', '*', 'PA'], '='],
  reachroot: [['*', '*', '*', '*', 'PR'], 'A'],
  reachbend: [['*', '*', '*', '*', 'PR'], 'A'],
  pulse: [['PRA', 'PR'], 'P'],
  noise: [['PR', 'PRALTFV'], 'P'],
  jitter: [['PR', 'PRALTFV', 'per'], 'P'],
  ease: [['word', 'PR'], 'P'],
  at: [['ref', 'PR'], 'ref'],
  delay: [['ref', 'PT'], 'ref'],
  speed: [['ref'], 'ref per second'],
  travel: [['ref'], 'ref'],
  gone: [['ref'], 'ref'],
  follow: [['ref', 'P', 'P'], 'ref'],
  ratchet: [['ref', 'P', 'P'], 'ref'],
  since: [['ref'], 'T'],
  worldx: [['part'], 'L'],
  worldy: [['part'], 'L'],
  worldz: [['part'], 'L'],
  worldturnx: [['part'], 'A'],
  worldturny: [['part'], 'A'],
  worldturnz: [['part'], 'A'],
  seenx: [['part', 'part'], 'L'],
  seeny: [['part', 'part'], 'L'],
  seenz: [['part', 'part'], 'L'],
  distance: [['part', 'part'], 'L'],
  pathlength: [['part'], 'L'],
  level: [['sound', 'PF', 'PF'], 'P'],
};
const WORD: Record<string, string> = { cam: 'cycloidal', ease: '"back-out"' };

const shot: Shot = {
  ...emptyShot(),
  parts: { prt_a: hub('A'), prt_b: hub('B') },
  sounds: { snd_a: { name: 'organ', start: 1, values: {}, tracks: {}, links: {} } },
};
const names = new NameTable(shot);
const fits = (text: string, path: string): boolean => checkTyped(names, `prt_a/${path}`, text).ok;

/** What a formula measures, told by the places that take it; `null` where it is refused for what stands inside. */
function measures(text: string): string | null {
  const factors: Record<string, string> = { A: '1deg', L: '1m', T: '1s', F: '1Hz', V: '1m / 1s' };
  if (fits(text, 'location.x') && fits(text, 'rotation.x')) return 'P';
  if (fits(text, 'scale.x')) return 'R';
  for (const [letter, unit] of Object.entries(factors))
    if (fits(`(${text}) / (${unit})`, 'scale.x')) return letter;
  const error = checkTyped(names, 'prt_a/scale.x', text);
  return !error.ok &&
    error.error.from === 0 &&
    error.error.to === text.length &&
    error.error.message.includes('belongs')
    ? error.error.message.replace(/^This is an? (.*), but.*$/, '$1')
    : null;
}

/** The other arguments, so that only the one looked at can be wrong. */
function filler(name: string, rule: string, together: Letter): string {
  if (rule === 'word') return WORD[name]!;
  if (rule === 'part') return 'B';
  if (rule === 'sound') return 'organ';
  if (rule === 'ref') return 'B.location.x';
  return rule === '*' ? SAMPLE[together] : rule === '+' ? SAMPLE.T : '2';
}

const HALF: Record<Letter, string> = {
  P: 'P',
  R: 'R',
  A: 'angle^0.5',
  L: 'length^0.5',
  T: 'time^0.5',
  F: '1 / time^0.5',
  V: 'length^0.5 / time^0.5',
};
const SQUARE: Record<Letter, string> = {
  P: 'P',
  R: 'R',
  A: 'angle^2',
  L: 'length^2',
  T: 'time^2',
  F: '1 / time^2',
  V: 'length^2 / time^2',
};

it('every function has its row, and no row is without a function', () => {
  const numbers = [...FUNCTIONS.values()].filter(({ special }) => special !== 'colour');
  expect(Object.keys(TABLE).sort()).toEqual(numbers.map(({ name }) => name).sort());
});

describe.each(Object.entries(TABLE))('%s', (name, [rules, result]) => {
  const cells = rules.flatMap((rule, i) => LETTERS.map((letter) => [i + 1, letter, rule] as const));
  it.each(cells)('argument %i as %s', (at, letter, rule) => {
    const i = at - 1;
    if (rule === 'word' || rule === 'part' || rule === 'sound' || rule === 'ref') {
      const args = rules.map((other, k) => (k === i ? '(2 + 1)' : filler(name, other, 'P')));
      expect(measures(`${name}(${args.join(', ')})`)).toBeNull();
      return;
    }
    const args = rules.map((other, k) => (k === i ? SAMPLE[letter] : filler(name, other, letter)));
    if (rule === '+') for (let k = 0; k < rules.length; k++) if (rules[k] === '+') args[k] = SAMPLE[letter];
    if (rule === 'per') args[i - 1] = SAMPLE.T;
    const got = measures(`${name}(${args.join(', ')})`);
    const taken = rule === '*' || rule === '+' || (rule === 'per' ? 'PRF' : rule).includes(letter);
    if (!taken) {
      expect(got).toBeNull();
      return;
    }
    const first = rules[0] === '*' || i === 0 ? letter : 'P';
    const wanted: Record<string, string> = {
      '=': letter,
      half: HALF[first],
      power: i === 0 ? SQUARE[letter] : 'P',
      ref: 'L',
      'ref per second': 'V',
    };
    expect(got).toBe(wanted[result] ?? result);
  });
  const shared = rules.flatMap((rule, i) => (rule === '*' ? [i] : []));
  if (shared.length > 1)
    it('takes a plain number beside what is measured, and refuses two measures', () => {
      const call = (a: string, b: string): string => {
        const args = rules.map((rule) => (rule === '*' ? a : filler(name, rule, 'P')));
        args[shared[1]!] = b;
        return `${name}(${args.join(', ')})`;
      };
      expect(measures(call(SAMPLE.L, '2'))).toBe(result === '=' ? 'L' : result);
      expect(measures(call('2', SAMPLE.L))).toBe(result === '=' ? 'L' : result);
      expect(measures(call(SAMPLE.L, SAMPLE.A))).toBeNull();
      expect(measures(call(SAMPLE.R, SAMPLE.A))).toBeNull();
    });
});

it('pow takes what ^ takes and gives what ^ gives', () => {
  for (const base of Object.values(SAMPLE))
    for (const exponent of ['1', '2', '0.5', 'progress', SAMPLE.R, SAMPLE.A])
      for (const path of ['location.x', 'rotation.x', 'scale.x'])
        expect(fits(`pow(${base}, ${exponent})`, path), `${base} ${exponent} ${path}`).toBe(
          fits(`${base} ^ ${wrapped(exponent)}`, path),
        );
});
const wrapped = (text: string): string => `(${text})`;

it('counts a jitter per unit of what it follows', () => {
  expect(fits('jitter(3, time, 5deg)', 'scale.x')).toBe(false);
  expect(fits('jitter(3, time, 5Hz)', 'scale.x')).toBe(true);
  expect(fits('jitter(3, B.rotation.x, 1 / 5deg)', 'scale.x')).toBe(true);
  expect(fits('jitter(3, B.rotation.x, 5Hz)', 'scale.x')).toBe(false);
});
