import fc from 'fast-check';
import { FUNCTIONS, writtenName, type ArgumentRule, type FunctionSpec } from '../formula';

/** What a piece of a random formula measures. */
type Measured = 'bare' | 'angle' | 'length' | 'time';

/** Unit that a channel of this measure has, as a factor in a formula's text. */
const UNIT: Readonly<Record<Measured, string>> = { bare: '', angle: '1deg', length: '1m', time: '1s' };

/** Stands for the channel's own value until it is known what the channel measures: `own` comes in brackets then. */
const OWN = 'OWN';

const PLACES = ['location.x', 'location.y', 'location.z', 'pivot.x'] as const;
const TURNS = ['rotation.x', 'rotation.y', 'rotation.z'] as const;
const SIZES = ['scale.x', 'scale.y'] as const;

/** Arguments with which functions that refuse most numbers have a value; others stand beside them now and then. */
const FITTING: Readonly<Record<string, readonly string[]>> = {
  slider: ['', '1m', '3m', '0.5m'],
  rodangle: ['', '1m', '3m', '0.25m'],
  mesh: ['', '16', '56'],
  rack: ['', '0.5m'],
  roll: ['', '0.6m'],
  cam: ['', '', '20mm', '120deg', '60deg', '90deg'],
  intermittent: ['', '6', '-1'],
  fourbar: ['', '40mm', '120mm', '80mm', '100mm', '1'],
  coupler: ['', '40mm', '120mm', '80mm', '100mm', '-1'],
  screw: ['', '2mm'],
  asin: ['0.3'],
  acos: ['progress'],
  log: ['7.5'],
  pow: ['1.3', '2.5'],
  exp: ['-0.5'],
  pulse: ['', '0.4'],
  ease: ['', 'progress'],
  noise: ['2', ''],
  jitter: ['3', '', '7'],
  remap: ['', '0', '40', '', ''],
  smoothstep: ['-300', '300', ''],
  level: ['', '50Hz', '900Hz'],
  follow: ['', '80', '6'],
  ratchet: ['', '24', '2'],
};

const NUMBER_FUNCTIONS = [...FUNCTIONS.values()].filter(({ special }) => special !== 'colour');

const wrapped = (text: string): string => (/^[\w.]+$/.test(text) ? text : `(${text})`);

/**
 * Formulas over the channels of `count` hubs named A, B, C, ...: every function with every number of arguments, plain and
 * worked out in each place, every operator, in any nesting. Some have mistakes, read themselves or divide by zero.
 * `own` is written as `OWN`, with its unit after it: see `finished`.
 */
export function randomFormula(count: number): fc.Arbitrary<string> {
  const name = fc.integer({ min: 0, max: count }).map((i) => String.fromCharCode(65 + i));
  const made = new Map<string, fc.Arbitrary<string>>();
  const channel = (paths: readonly string[]): fc.Arbitrary<string> =>
    fc.tuple(name, fc.constantFrom(...paths)).map(([part, path]) => `${part}.${path}`);
  const text = (kind: Measured, depth: number): fc.Arbitrary<string> => {
    const key = `${kind} ${depth}`;
    const known = made.get(key);
    if (known) return known;
    const arbitrary = depth <= 0 ? leaf(kind) : grown(kind, depth);
    made.set(key, arbitrary);
    return arbitrary;
  };
  const leaf = (kind: Measured): fc.Arbitrary<string> => {
    switch (kind) {
      case 'bare':
        return fc.oneof(
          fc.constantFrom(
            '1',
            '2.5',
            '0',
            '-3',
            'frame',
            'progress',
            'pi',
            'time / 1s',
            'dial.gust',
            `${OWN}_bare`,
          ),
          channel(SIZES),
        );
      case 'angle':
        return fc.oneof(fc.constantFrom('30deg', '0.7turn', '4rad', `${OWN}_angle`), channel(TURNS));
      case 'length':
        return fc.oneof(fc.constantFrom('1.5m', '80cm', `${OWN}_length`), channel(PLACES));
      case 'time':
        return fc.constantFrom('time', '0.5s', '3f');
    }
  };
  const argument = (spec: FunctionSpec, i: number, same: Measured, depth: number): fc.Arbitrary<string> => {
    const rule = spec.rules[Math.min(i, spec.rules.length - 1)]!;
    const any = ruled(rule, spec, same, depth);
    const fitting = FITTING[spec.name]?.[i];
    return fitting
      ? fc.oneof({ weight: 4, arbitrary: fc.constant(fitting) }, { weight: 1, arbitrary: any })
      : any;
  };
  const ruled = (
    rule: ArgumentRule,
    spec: FunctionSpec,
    same: Measured,
    depth: number,
  ): fc.Arbitrary<string> => {
    switch (rule) {
      case 'same':
      case 'plainOrAngle':
        return text(same, depth);
      case 'any':
      case 'bare':
      case 'exponent':
      case 'per':
        return text('bare', depth);
      case 'turns':
        return fc.oneof(text('bare', depth), text('angle', depth));
      case 'angle':
      case 'length':
      case 'time':
        // A plain number takes on the unit that its place wants.
        return fc.oneof(
          { weight: 5, arbitrary: text(rule, depth) },
          { weight: 1, arbitrary: fc.constant('2') },
        );
      case 'frequency':
        return fc.constantFrom('30Hz', '4000Hz');
      case 'word':
        return fc.constantFrom(...spec.words!).map(writtenName);
      case 'part':
        return name;
      case 'sound':
        return fc.constant('organ');
      case 'ref':
        return same === 'angle' ? channel(TURNS) : same === 'length' ? channel(PLACES) : channel(SIZES);
    }
  };
  /** A call of a function and what it measures. */
  const call = (spec: FunctionSpec, kind: Measured, depth: number): fc.Arbitrary<string> => {
    const least = spec.params.length - (spec.defaults?.length ?? 0);
    const most = spec.variadic ? spec.params.length + 3 : spec.params.length;
    const given = fc.integer({ min: least, max: most });
    return given.chain((length) =>
      fc
        .tuple(...Array.from({ length }, (_, i) => argument(spec, i, kind, depth - 1)))
        .map((args) => `${spec.name}(${args.join(', ')})`),
    );
  };
  const called = (kind: Measured, depth: number): fc.Arbitrary<string> =>
    fc.constantFrom(...NUMBER_FUNCTIONS).chain((spec) => {
      if (spec.result === 'perSecond') {
        const asked = call(spec, kind, depth);
        return asked.map((inner) => `${inner} * 1s`);
      }
      if (spec.result === 'same') {
        if (spec.rules.includes('plainOrAngle') && kind === 'length')
          return call(spec, 'bare', depth).map((inner) => `${inner} * 1m`);
        return kind === 'time' ? leaf(kind) : call(spec, kind, depth);
      }
      const result: Measured =
        spec.result === 'half' || spec.result === 'power'
          ? 'bare'
          : spec.result.angle === 1
            ? 'angle'
            : spec.result.length === 1
              ? 'length'
              : 'bare';
      return call(spec, 'bare', depth).map((inner) => converted(inner, result, kind));
    });
  const grown = (kind: Measured, depth: number): fc.Arbitrary<string> => {
    const inner = text(kind, depth - 1);
    const options: fc.WeightedArbitrary<string>[] = [
      { weight: 3, arbitrary: leaf(kind) },
      { weight: 6, arbitrary: called(kind, depth) },
      {
        weight: 2,
        arbitrary: fc
          .tuple(inner, fc.constantFrom('+', '-', '%'), inner)
          .map(([a, op, b]) => `${wrapped(a)} ${op} ${wrapped(b)}`),
      },
      {
        weight: 1,
        arbitrary: fc.tuple(text('bare', depth - 1), inner, inner).map((all) => `if(${all.join(', ')})`),
      },
      { weight: 1, arbitrary: inner.map((a) => `-${wrapped(a)}`) },
    ];
    if (kind === 'bare')
      options.push(
        {
          weight: 3,
          arbitrary: fc
            .tuple(
              inner,
              fc.constantFrom('*', '/', '<', '<=', '>', '>=', '==', '!=', 'and', 'or', '^'),
              inner,
            )
            .map(([a, op, b]) => `${wrapped(a)} ${op} ${wrapped(b)}`),
        },
        { weight: 1, arbitrary: inner.map((a) => `not ${wrapped(a)}`) },
        { weight: 1, arbitrary: inner.map((a) => `${wrapped(a)} ^ 2`) },
        { weight: 1, arbitrary: fc.constant(`at(own, frame - 3) / UNIT`) },
      );
    else
      options.push({
        weight: 2,
        arbitrary: text('bare', depth - 1).map((a) => `${wrapped(a)} * ${UNIT[kind]}`),
      });
    return fc.oneof(...options);
  };
  return fc.oneof({ weight: 1, arbitrary: text('bare', 3) }, { weight: 1, arbitrary: text('bare', 2) });
}

function converted(text: string, from: Measured, to: Measured): string {
  if (from === to) return text;
  const bare = from === 'bare' ? text : `${text} / ${UNIT[from]}`;
  return to === 'bare' ? bare : `${wrapped(bare)} * ${UNIT[to]}`;
}

/** Text of a random formula for a channel that measures a length (`1m`), an angle (`1deg`) or nothing. */
export function finished(text: string, unit: '' | '1m' | '1deg'): string {
  const kind: Measured = unit === '1m' ? 'length' : unit === '1deg' ? 'angle' : 'bare';
  const plain = text
    .replaceAll(/\bOWN_(bare|angle|length)\b/g, (_, as: Measured) =>
      as === kind ? 'own' : `(${converted('own', kind, as)})`,
    )
    .replaceAll(/ \/ UNIT/g, unit ? ` / ${unit}` : '');
  return unit ? `(${plain}) * ${unit}` : `(${plain})`;
}
