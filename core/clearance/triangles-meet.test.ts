import { Vector3 } from 'three';
import { ExtendedTriangle } from 'three-mesh-bvh';
import { describe, expect, it } from 'vitest';
import { seeded } from '../testing/seeded';
import { measured } from './box-tree';
import { Meet, trianglesMeet } from './triangles-meet';

const triangle = (p: Float64Array): ExtendedTriangle => {
  const [a, b, c] = [0, 3, 6].map((at) => new Vector3(p[at], p[at + 1], p[at + 2]));
  return new ExtendedTriangle(a, b, c);
};
const published = (p: Float64Array, q: Float64Array): boolean =>
  measured(triangle(p)).intersectsTriangle(triangle(q), null, true);

describe('whether two triangles meet', () => {
  it('is told as by a general-purpose library, whichever corner comes first and however they turn', () => {
    const random = seeded(20261202);
    const seen = { no: 0, yes: 0, unsure: 0 };
    for (let i = 0; i < 60_000; i++) {
      const make = (): Float64Array => Float64Array.from({ length: 9 }, () => random() * 2 - 1);
      const [p, q] = [make(), make()];
      // Slivers, and ones that lie side by side.
      if (i % 7 === 0) for (let k = 0; k < 3; k++) p[6 + k] = p[3 + k]! + random() * 1e-4;
      if (i % 5 === 0) for (let at = 0; at < 9; at += 3) q[at] = q[at]! + 0.8;
      const size = i % 3 === 0 ? 1e-4 : 1;
      for (let at = 0; at < 9; at++) [p[at], q[at]] = [p[at]! * size, q[at]! * size];
      const told = trianglesMeet(p, q);
      const name = (['no', 'yes', 'unsure'] as const)[told]!;
      seen[name]++;
      if (name !== 'unsure')
        expect(name, `${i}: ${[...p].join()} | ${[...q].join()}`).toBe(published(p, q) ? 'yes' : 'no');
      expect(trianglesMeet(q, p)).toBe(told);
    }
    expect(seen.no).toBeGreaterThan(20_000);
    expect(seen.yes).toBeGreaterThan(5_000);
    expect(seen.unsure).toBeLessThan(60);
  });
  it('is unsure where they lie in one plane, or touch at a corner or an edge', () => {
    const flat = (x: number, y: number, z: number, size = 1): Float64Array =>
      Float64Array.of(x, y, z, x + size, y, z, x, y + size, z);
    expect(trianglesMeet(flat(0, 0, 0), flat(0.1, 0.1, 0))).toBe(Meet.unsure);
    expect(trianglesMeet(flat(0, 0, 0), flat(5, 5, 0))).toBe(Meet.unsure);
    expect(trianglesMeet(flat(0, 0, 0), flat(0.1, 0.1, 1e-6))).toBe(Meet.no);
    expect(trianglesMeet(flat(0, 0, 0), Float64Array.of(0.2, 0.2, 0, 0.2, 0.2, 1, 0.3, 0.2, 1))).toBe(
      Meet.unsure,
    );
    expect(trianglesMeet(flat(0, 0, 0), Float64Array.of(0.2, 0.2, -1e-6, 0.2, 0.2, 1, 0.3, 0.2, 1))).toBe(
      Meet.yes,
    );
  });
});
