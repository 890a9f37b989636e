import type { Quantity } from '../document';

/**
 * What a sub-formula measures: exponents of length, angle and time. A number without any is *plain* and takes on
 * the unit its place wants, unless it is a *ratio* of measured values.
 */
export interface Dimension {
  readonly length: number;
  readonly angle: number;
  readonly time: number;
  readonly ratio: boolean;
}

const make = (length: number, angle: number, time: number, ratio = false): Dimension => ({
  length,
  angle,
  time,
  ratio,
});

export const PLAIN = make(0, 0, 0);
export const RATIO = make(0, 0, 0, true);
export const LENGTH = make(1, 0, 0);
export const ANGLE = make(0, 1, 0);
export const TIME = make(0, 0, 1);

const OF_QUANTITY: Record<Quantity, Dimension> = { none: PLAIN, length: LENGTH, angle: ANGLE, time: TIME };

export function dimensionOf(quantity: Quantity): Dimension {
  return OF_QUANTITY[quantity];
}

export function isBare(d: Dimension): boolean {
  return d.length === 0 && d.angle === 0 && d.time === 0;
}

export function isPlain(d: Dimension): boolean {
  return isBare(d) && !d.ratio;
}

export function sameDimension(a: Dimension, b: Dimension): boolean {
  return a.length === b.length && a.angle === b.angle && a.time === b.time;
}

/** Dimension of a product (`sign` 1) or quotient (`sign` -1). Measures that cancel out leave a ratio. */
export function combine(a: Dimension, b: Dimension, sign: 1 | -1): Dimension {
  const out = make(a.length + sign * b.length, a.angle + sign * b.angle, a.time + sign * b.time);
  if (!isBare(out)) return out;
  return isPlain(a) && isPlain(b) ? PLAIN : RATIO;
}

export function raise(a: Dimension, exponent: number): Dimension {
  if (isBare(a)) return a;
  const out = make(a.length * exponent, a.angle * exponent, a.time * exponent);
  return isBare(out) ? RATIO : out;
}

/** Words for messages: "a length", "an angle", "a length / time", "a plain number". */
export function dimensionName(d: Dimension): string {
  if (isBare(d)) return d.ratio ? 'a ratio' : 'a plain number';
  const parts: [string, number][] = [
    ['length', d.length],
    ['angle', d.angle],
    ['time', d.time],
  ];
  const word = ([name, exponent]: [string, number]): string =>
    Math.abs(exponent) === 1 ? name : `${name}^${Math.abs(exponent)}`;
  const over = parts
    .filter((part) => part[1] > 0)
    .map(word)
    .join(' * ');
  const under = parts
    .filter((part) => part[1] < 0)
    .map(word)
    .join(' / ');
  const text = under ? `${over || '1'} / ${under}` : over;
  return `${/^[aeiou1]/.test(text) ? 'an' : 'a'} ${text}`;
}
