import { describe, expect, it } from 'vitest';
import type { Shape } from '../document';
import { buildMesh } from './build';
import { isWritten, signsOf, writtenOutline, writtenText } from './written';

/** A font whose figures are squares as wide as they count. */
const square = (width: number) => ({
  advance: 1,
  outline: [{ letter: 0, outer: [0, -0.5, width, -0.5, width, 0.5, 0, 0.5], holes: [] }],
});
const text: NonNullable<Shape['text']> = {
  text: 'R #|G',
  font: 'rye',
  space: 0.5,
  glyphs: Object.fromEntries([...'RG0123456789-.'].map((sign) => [sign, square(0.8)])),
};

describe('a text that changes', () => {
  it.each([
    ['#', 7.4, 0, '7'],
    ['#', 7.5, 0, '8'],
    ['#', -3, 0, '-3'],
    ['#', -0.2, 0, '0'],
    ['###', 7, 0, '007'],
    ['###', -7, 0, '-007'],
    ['###', 12345, 0, '12345'],
    ['#.##', 3.14159, 0, '3.14'],
    ['##.#', 3.25, 0, '03.3'],
    ['Round # of 8', 3, 0, 'Round 3 of 8'],
    ['# and #', 2, 0, '2 and 2'],
    ['Ready | Steady | Go', 0, 0, 'Ready'],
    ['Ready | Steady | Go', 0, 1.9, 'Steady'],
    ['Ready | Steady | Go', 0, 99, 'Go'],
    ['Round # | Over', 4, 1, 'Over'],
    ['plain', 4, 1, 'plain'],
  ])('%s with the number %d and the choice %d shows %s', (pattern, number, choice, shown) => {
    expect(writtenText(pattern, number, choice)).toBe(shown);
  });
  it('needs a drawing of every sign that it may show, and no other', () => {
    expect(isWritten('Whirl')).toBe(false);
    expect(isWritten('Round #')).toBe(true);
    expect(signsOf('A # | B A').sort()).toEqual([...'-.0123456789AB'].sort());
    expect(signsOf('A|B')).toEqual(['A', 'B']);
  });
  it('stands in the middle whatever it shows, its letters counted from the left', () => {
    for (const [number, choice] of [
      [5, 0],
      [1234, 0],
      [0, 1],
    ] as const) {
      const drawing = writtenOutline(text, number, choice);
      const shown = writtenText(text.text, number, choice);
      const width = [...shown].reduce((sum, sign) => sum + (sign === ' ' ? 0.5 : 1), 0);
      const xs = drawing.flatMap(({ outer }) => outer.filter((_, i) => i % 2 === 0));
      expect(Math.min(...xs)).toBeCloseTo(-width / 2, 12);
      expect(Math.max(...xs)).toBeCloseTo(width / 2 - 0.2, 12);
      expect(drawing.map(({ letter }) => letter)).toEqual(
        [...shown].flatMap((sign, i) => (sign === ' ' ? [] : [i])),
      );
    }
  });
  it('is a body with as many letters as it shows at the moment', () => {
    const size = (values: Record<string, number>) => (path: string) =>
      ({ size: 1, depth: 0.1, bevel: 0, spacing: 0, number: 0, choice: 0, ...values })[path]!;
    const points = (values: Record<string, number>): number =>
      buildMesh({ kind: 'lettering', outline: [], text }, size(values)).positions.length;
    expect(points({ number: 12 })).toBe(1.5 * points({ number: 1 }));
    expect(points({ choice: 1 })).toBe(0.5 * points({ number: 1 }));
  });
});
