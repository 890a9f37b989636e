import { describe, expect, it } from 'vitest';
import { cornerAt, FINDER_BAR, finderArea, shareLeft, type FinderOf } from './view-size';

const SIZE = { width: 800, height: 450 };
const WIDE = 16 / 9;
const of = (more: Partial<FinderOf>): FinderOf => ({
  finder: 'small',
  finderAt: 'bottom-right',
  finderShare: null,
  ...more,
});
const PLACES = ['bottom-right', 'bottom-left', 'top-right', 'top-left', 'beside'] as const;
const SHARES = [null, 0.12, 0.5, 0.9];

describe('the viewfinder', () => {
  it.each(PLACES)(
    '%s, of any size, lies within the view with its bar and keeps its proportions',
    (finderAt) => {
      for (const finder of ['small', 'large'] as const)
        for (const finderShare of SHARES)
          for (const aspect of [WIDE, 1, 9 / 16]) {
            const { left, top, width, height } = finderArea(
              SIZE,
              aspect,
              of({ finder, finderAt, finderShare }),
            );
            expect(left).toBeGreaterThanOrEqual(0);
            expect(top).toBeGreaterThanOrEqual(0);
            expect(left + width).toBeLessThanOrEqual(SIZE.width + 1e-9);
            expect(top + height + FINDER_BAR).toBeLessThanOrEqual(SIZE.height + 1e-9);
            expect(width / height).toBeCloseTo(aspect, 9);
          }
    },
  );
  it('stands in the corner that is nearest to the pointer', () => {
    for (const [x, y, corner] of [
      [10, 10, 'top-left'],
      [790, 10, 'top-right'],
      [10, 440, 'bottom-left'],
      [790, 440, 'bottom-right'],
    ] as const) {
      expect(cornerAt(SIZE, x, y)).toBe(corner);
      const area = finderArea(SIZE, WIDE, of({ finderAt: corner }));
      expect(cornerAt(SIZE, area.left + area.width / 2, area.top + area.height / 2)).toBe(corner);
    }
  });
  it('leaves the view what it does not take beside it, and all of it where it is put away', () => {
    expect(shareLeft(of({}))).toBe(1);
    expect(shareLeft(of({ finderAt: 'beside' }))).toBe(0.5);
    expect(shareLeft(of({ finderAt: 'beside', finderShare: 0.3 }))).toBeCloseTo(0.7, 12);
    expect(shareLeft(of({ finderAt: 'beside', finder: 'off' }))).toBe(1);
    expect(finderArea(SIZE, WIDE, of({ finderAt: 'beside', finderShare: 0.3 })).left).toBeGreaterThanOrEqual(
      560,
    );
  });
});
