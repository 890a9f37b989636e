import type { Outline, Shape } from '../document';

type Text = NonNullable<Shape['text']>;

/** One of several texts is chosen by a number; they are parted by this sign. */
export const CHOICE_SIGN = '|';
/** Stands for a digit of the number that a text shows: `#` as many as there are, `###` at least three, `#.##` two decimals. */
export const NUMBER_SIGN = '#';
const NUMBER = /#+(?:\.(#+))?/g;
/** Digits that a number is told with, at most. */
const LONGEST = 12;

/** Whether a text changes while the shot runs. */
export function isWritten(text: string): boolean {
  return text.includes(CHOICE_SIGN) || text.includes(NUMBER_SIGN);
}

/** Signs that a text may show at some time: each once. */
export function signsOf(text: string): string[] {
  const digits = text.includes(NUMBER_SIGN) ? '0123456789-.' : '';
  const letters = text.replaceAll(CHOICE_SIGN, '').replaceAll(NUMBER_SIGN, '');
  return [...new Set([...letters, ...digits])].filter((sign) => sign !== ' ');
}

/**
 * What a text shows.
 * @param number stands where its number signs are, rounded to the decimals that they ask for
 * @param choice which of its texts is shown: the first is 0; beyond the last it is the last
 */
export function writtenText(text: string, number: number, choice: number): string {
  const choices = text.split(CHOICE_SIGN).map((entry) => entry.trim());
  const chosen = choices[Math.min(choices.length - 1, Math.max(0, Math.floor(choice)))]!;
  return chosen.replace(NUMBER, (signs, decimals: string | undefined) => {
    const places = decimals?.length ?? 0;
    const whole = signs.length - (places > 0 ? places + 1 : 0);
    const limit = 10 ** LONGEST - 1;
    const rounded = Math.min(limit, Math.max(-limit, number)).toFixed(Math.min(places, 9));
    // Nothing is told as less than nothing.
    const negative = rounded.startsWith('-') && Number(rounded) !== 0;
    const [front = '', back] = rounded.replace('-', '').split('.');
    return `${negative ? '-' : ''}${front.padStart(whole, '0')}${back === undefined ? '' : `.${back}`}`;
  });
}

/** The drawing of a text at a moment, its middle at the origin, from the drawings of its signs. */
export function writtenOutline(text: Text, number: number, choice: number): Outline {
  const signs = [...writtenText(text.text, number, choice)];
  const { glyphs = {}, space = 0.4 } = text;
  const widthOf = (sign: string): number => (Object.hasOwn(glyphs, sign) ? glyphs[sign]!.advance : space);
  let x = -signs.reduce((sum, sign) => sum + widthOf(sign), 0) / 2;
  return signs.flatMap((sign, letter) => {
    const at = x;
    x += widthOf(sign);
    if (!Object.hasOwn(glyphs, sign)) return [];
    const shifted = (ring: readonly number[]): number[] =>
      ring.map((value, i) => (i % 2 === 0 ? value + at : value));
    return glyphs[sign]!.outline.map((piece) => ({
      letter,
      outer: shifted(piece.outer),
      holes: piece.holes.map(shifted),
    }));
  });
}
