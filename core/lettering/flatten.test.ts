import { describe, expect, it } from 'vitest';
import { ringArea } from '../shape';
import { flatten } from './flatten';

describe('flattening paths', () => {
  it('closes rings, whether the path ends where it began or not', () => {
    const square = [
      { type: 'M', x: 0, y: 0 },
      { type: 'L', x: 2, y: 0 },
      { type: 'L', x: 2, y: 2 },
      { type: 'L', x: 0, y: 2 },
    ] as const;
    const want = [[0, 0, 2, 0, 2, 2, 0, 2]];
    expect(flatten(square)).toEqual(want);
    expect(flatten([...square, { type: 'L', x: 0, y: 0 }, { type: 'Z' }])).toEqual(want);
  });

  it('a circle of four cubic arcs has the area of a circle to half a per cent', () => {
    // Handles of 0.5522847 radii: the usual quarter circle of a cubic (common practice).
    const k = 0.5522847498;
    const ring = flatten([
      { type: 'M', x: 1, y: 0 },
      { type: 'C', x1: 1, y1: k, x2: k, y2: 1, x: 0, y: 1 },
      { type: 'C', x1: -k, y1: 1, x2: -1, y2: k, x: -1, y: 0 },
      { type: 'C', x1: -1, y1: -k, x2: -k, y2: -1, x: 0, y: -1 },
      { type: 'C', x1: k, y1: -1, x2: 1, y2: -k, x: 1, y: 0 },
      { type: 'Z' },
    ])[0]!;
    expect(ringArea(ring) / 2 / Math.PI).toBeCloseTo(1, 2);
  });

  it('a quadratic passes the point halfway between its middle and its handle', () => {
    const ring = flatten([
      { type: 'M', x: 0, y: 0 },
      { type: 'Q', x1: 1, y1: 2, x: 2, y: 0 },
      { type: 'Z' },
    ])[0]!;
    expect(ring.slice(10, 12)).toEqual([1, 1]);
  });

  it('leaves out what encloses nothing', () => {
    expect(flatten([{ type: 'M', x: 0, y: 0 }, { type: 'L', x: 3, y: 3 }, { type: 'Z' }])).toEqual([]);
  });
});
