import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { TILE_GRID, tilesOf } from './tiles';

describe('pieces of a picture', () => {
  it('are one where the card can draw all of it', () => {
    expect(tilesOf(1920, 1080, 4096, 704)).toEqual([
      {
        ...{ left: 0, top: 0, width: 1920, height: 1080 },
        keep: { left: 0, top: 0, width: 1920, height: 1080 },
        whole: { width: 1920, height: 1080 },
      },
    ]);
  });

  it('keep every pixel once, fit the card, lie on the grid, and have their rim wherever the picture goes on', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 16, max: 900 }),
        fc.integer({ min: 16, max: 900 }),
        fc.integer({ min: 256, max: 640 }),
        fc.integer({ min: 0, max: 200 }),
        (width, height, side, margin) => {
          const taken = new Uint8Array(width * height);
          for (const tile of tilesOf(width, height, side, margin)) {
            const { left, top, keep } = tile;
            expect(Math.max(tile.width, tile.height)).toBeLessThanOrEqual(side);
            expect([left % TILE_GRID, top % TILE_GRID]).toEqual([0, 0]);
            const rim = Math.min(margin, (Math.floor(side / TILE_GRID) * TILE_GRID) / 4);
            for (const [at, long, from, kept, all] of [
              [left, tile.width, keep.left, keep.width, width],
              [top, tile.height, keep.top, keep.height, height],
            ] as const) {
              expect(at).toBeGreaterThanOrEqual(0);
              expect(at + long).toBeLessThanOrEqual(all);
              expect(from - at >= rim || at === 0).toBe(true);
              expect(at + long - (from + kept) >= rim || at + long === all).toBe(true);
            }
            for (let y = keep.top; y < keep.top + keep.height; y++)
              for (let x = keep.left; x < keep.left + keep.width; x++) taken[y * width + x]! += 1;
          }
          expect(taken.every((times) => times === 1)).toBe(true);
        },
      ),
      { numRuns: 60 },
    );
  });

  it('of 7680 by 4320 on a card of 4096 are few', () => {
    expect(tilesOf(7680, 4320, 4096, 704)).toHaveLength(6);
    expect(tilesOf(7680, 4320, 4096, 32)).toHaveLength(4);
    expect(() => tilesOf(100, 100, 100, 0)).toThrow('at least 256');
  });
});
