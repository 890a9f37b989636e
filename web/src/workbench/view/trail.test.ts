import { Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { lengthOf } from './trail';

const along = (count: number, at: (share: number) => [number, number, number]): Vector3[] =>
  Array.from({ length: count }, (_, i) => new Vector3(...at(i / (count - 1))));

describe('the length of a way', () => {
  it.each([13, 24, 97])('of a circle in %s points is 2 pi r, nearer than its chords are', (count) => {
    const points = along(count, (u) => [2 * Math.cos(2 * Math.PI * u), 2 * Math.sin(2 * Math.PI * u), 0]);
    const chords = points.slice(1).reduce((sum, point, i) => sum + point.distanceTo(points[i]!), 0);
    const [off, plain] = [lengthOf(points), chords].map((length) => Math.abs(length - 4 * Math.PI));
    expect(off!).toBeLessThan(plain! / 8);
  });
  it('of a straight line is its own, of a zigzag that of its pieces', () => {
    expect(lengthOf(along(10, (u) => [3 * u, 4 * u, 0]))).toBeCloseTo(5, 12);
    const zigzag = Array.from({ length: 11 }, (_, i) => new Vector3(i, i % 2, 0));
    expect(lengthOf(zigzag)).toBeCloseTo(10 * Math.SQRT2, 12);
    expect(lengthOf([])).toBe(0);
  });
});
