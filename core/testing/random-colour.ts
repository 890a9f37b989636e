import fc from 'fast-check';
import { randomFormula } from './random-formula';

/** The part whose colours random formulas read and give. */
export const SKY = 'Sky';
export const SKY_PATHS = ['colour', 'upper', 'fogcolour'] as const;

/** A number inside a colour: `own` is a colour there, so that another number stands for it. */
function randomNumber(count: number): fc.Arbitrary<string> {
  const bare = randomFormula(count).map((text) =>
    text
      .replaceAll(/\bOWN_(bare|angle|length)\b/g, '0.3')
      .replaceAll('at(own, frame - 3) / UNIT', `${SKY}.upper.blue`),
  );
  return fc.oneof(
    { weight: 3, arbitrary: fc.constantFrom('0.4', 'progress', `${SKY}.upper.green`, `${SKY}.colour.red`) },
    { weight: 1, arbitrary: bare.map((text) => `(${text})`) },
  );
}

/**
 * Formulas that give a colour, over those of the part `SKY` and the numbers of `count` hubs: written, made of numbers,
 * mixed, chosen, asked at other moments.
 */
export function randomColourFormula(count: number): fc.Arbitrary<string> {
  const number = randomNumber(count);
  const leaf = fc.oneof(
    fc.constantFrom('#e8a33d', '#203040', 'own', `at(own, frame - 2)`),
    fc.constantFrom(...SKY_PATHS).map((path) => `${SKY}.${path}`),
    fc.constantFrom(
      `delay(${SKY}.upper, 3f)`,
      `at(${SKY}.fogcolour, frame * 2)`,
      `speed(${SKY}.colour) * 1s`,
      `follow(${SKY}.upper, 80, 6)`,
    ),
    fc.tuple(number, number, number).map((all) => `colour(${all.join(', ')})`),
    fc.tuple(number, number, number).map(([h, s, l]) => `hsl(360deg * ${h}, ${s}, ${l})`),
  );
  const grown = (inner: fc.Arbitrary<string>): fc.Arbitrary<string> =>
    fc.oneof(
      { weight: 2, arbitrary: inner },
      { weight: 2, arbitrary: fc.tuple(inner, inner, number).map((all) => `mix(${all.join(', ')})`) },
      {
        weight: 1,
        arbitrary: fc.tuple(number, inner, inner).map(([test, a, b]) => `if(${test} > 0.4, ${a}, ${b})`),
      },
      {
        weight: 1,
        arbitrary: fc
          .tuple(inner, fc.constantFrom('+', '-', '*'), inner)
          .map(([a, op, b]) => `(${a} ${op} ${b})`),
      },
      { weight: 1, arbitrary: fc.tuple(inner, number).map(([a, b]) => `(${a} * ${b})`) },
      { weight: 1, arbitrary: fc.tuple(inner, inner).map((all) => `max(${all.join(', ')})`) },
      {
        weight: 1,
        arbitrary: inner
          .map((a) => `let c = ${a}; c * 0.5 + c ^ 2`)
          .filter((text) => !text.slice(4).includes('let')),
      },
    );
  return grown(grown(leaf)).map((text) => {
    // A formula's own names stand at its beginning only.
    const at = text.lastIndexOf('let ');
    return at > 0 ? text.replaceAll(/let c = ([^;]*); c \* 0\.5 \+ c \^ 2/g, '($1 * 0.5)') : text;
  });
}
