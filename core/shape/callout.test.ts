import { describe, expect, it } from 'vitest';
import { calloutLayout, flatMesh, halfSize, linePieces, lineUpTo, platePiece } from './callout';

/** Area of flat pieces, by their triangles. */
function areaOf(pieces: Parameters<typeof flatMesh>[0]): number {
  const { positions, indices } = flatMesh(pieces);
  let sum = 0;
  for (let i = 0; i < indices.length; i += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => indices[i + k]! * 3) as [number, number, number];
    const [abx, aby] = [positions[b]! - positions[a]!, positions[b + 1]! - positions[a + 1]!];
    const [acx, acy] = [positions[c]! - positions[a]!, positions[c + 1]! - positions[a + 1]!];
    sum += (abx * acy - aby * acx) / 2;
  }
  return sum;
}

describe('a callout', () => {
  it('has a plate round its words and a line that ends level at the nearer side', () => {
    const { half, middle, line } = calloutLayout([3, 0.5], 0.02, [0.3, 0.1], 1);
    expect(half[0]).toBeCloseTo(0.075, 12);
    expect(half[1]).toBeCloseTo(0.022, 12);
    expect(middle).toEqual([0.3, 0.1]);
    expect(line).toHaveLength(3);
    expect(line[0]).toEqual([0, 0]);
    expect(line[1]![0]).toBeCloseTo(0.3 - 0.075 - 0.018, 12);
    expect(line[2]![0]).toBeCloseTo(0.225, 12);
    expect([line[1]![1], line[2]![1]]).toEqual([0.1, 0.1]);
    const left = calloutLayout([3, 0.5], 0.02, [-0.3, 0.1], 1).line;
    left.forEach(([x, y], i) => {
      expect(x).toBeCloseTo(-line[i]![0], 12);
      expect(y).toBe(line[i]![1]);
    });
  });
  it('has a straight line to words above or below, and none to words on the point', () => {
    for (const side of [1, -1]) {
      const { line } = calloutLayout([3, 0.5], 0.02, [0.02, side * 0.2], 1);
      expect(line).toHaveLength(2);
      expect(line[1]![0]).toBe(0.02);
      expect(line[1]![1]).toBeCloseTo(side * 0.178, 12);
    }
    expect(calloutLayout([3, 0.5], 0.02, [0.02, 0.01], 1).line).toEqual([[0, 0]]);
  });
  it('is drawn out: first the line, then the words', () => {
    const at = (drawn: number): number[] => {
      const { reached, shown } = calloutLayout([3, 0.5], 0.02, [0.3, 0.1], drawn);
      return [reached, shown];
    };
    expect(at(0)).toEqual([0, 0]);
    expect(at(0.35)[0]).toBeCloseTo(0.5, 12);
    expect(at(0.35)[1]).toBe(0);
    expect(at(0.7)).toEqual([1, 0]);
    expect(at(0.85)[1]).toBeCloseTo(0.5, 12);
    expect(at(1)).toEqual([1, 1]);
  });
});

describe('a line', () => {
  const bent = [
    [0, 0],
    [3, 4],
    [8, 4],
  ] as const;
  it('is drawn up to a share of its length', () => {
    expect(lineUpTo(bent, 0)).toEqual([[0, 0]]);
    expect(lineUpTo(bent, 0.25)).toEqual([
      [0, 0],
      [1.5, 2],
    ]);
    expect(lineUpTo(bent, 0.75)).toEqual([
      [0, 0],
      [3, 4],
      [5.5, 4],
    ]);
    expect(lineUpTo(bent, 1)).toEqual(bent);
    expect(lineUpTo([], 1)).toEqual([]);
  });
  it('covers its length times its width, its round corner and its dot', () => {
    // Two pieces of length 5, a regular polygon of 12 corners for the bend, one of 24 for the dot.
    const polygon = (sides: number, radius: number): number =>
      (sides / 2) * radius * radius * Math.sin((2 * Math.PI) / sides);
    expect(areaOf(linePieces(bent, 0.2, 0))).toBeCloseTo(10 * 0.2 + polygon(12, 0.1), 5);
    expect(areaOf(linePieces(bent, 0, 0.5))).toBeCloseTo(polygon(24, 0.5), 5);
    expect(linePieces([[0, 0]], 0.2, 0)).toEqual([]);
  });
  it('leads to a plate with rounded corners', () => {
    const area = areaOf([platePiece([2, 1])]);
    // Corners of radius 0.5, each of four chords.
    const corner = 0.25 - (4 / 2) * 0.25 * Math.sin(Math.PI / 8);
    expect(area).toBeCloseTo(8 - 4 * corner, 5);
  });
});

it('words are measured from their middle, and are never lower than a capital', () => {
  expect(halfSize([])).toEqual([0, 0.5]);
  const piece = (ring: readonly (readonly [number, number])[]) => ({ outer: ring, holes: [] });
  expect(
    halfSize([
      piece([
        [-2, -0.8],
        [1, 0],
        [0, 0.5],
      ]),
    ]),
  ).toEqual([2, 0.8]);
});
