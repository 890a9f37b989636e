import { Vector3 } from 'three';
import { ExtendedTriangle } from 'three-mesh-bvh';
import { describe, expect, it } from 'vitest';
import { seeded } from '../testing/seeded';
import { measured } from './box-tree';
import { triangleDistance } from './triangle-distance';

const triangle = (p: Float64Array): ExtendedTriangle => {
  const [a, b, c] = [0, 3, 6].map((at) => new Vector3(p[at], p[at + 1], p[at + 2]));
  return new ExtendedTriangle(a, b, c);
};
/** The library's way: crossings first, then each corner against the other triangle, and each edge against each. */
const published = (p: Float64Array, q: Float64Array): number =>
  measured(triangle(p)).distanceToTriangle(triangle(q), new Vector3(), new Vector3());

describe('the distance of two triangles', () => {
  it('is that of a general-purpose library, also for slivers, for parallel ones and for those that cross', () => {
    const random = seeded(20261201);
    const out = new Float64Array(6);
    let crossed = 0;
    for (let i = 0; i < 30_000; i++) {
      const spread = [0.1, 0.5, 2, 6][i % 4]!;
      const make = (): Float64Array => Float64Array.from({ length: 9 }, () => random() * 2 - 1);
      const [p, q] = [make(), make()];
      // Slivers, flat ones that lie over one another, and ones with an edge along an axis.
      if (i % 7 === 0)
        for (let k = 0; k < 3; k++) p[6 + k] = p[3 + k]! + (p[k]! - p[3 + k]! + random()) * 1e-3;
      if (i % 5 === 0) for (const at of [2, 5, 8]) [p[at], q[at]] = [0, 0.25];
      if (i % 11 === 0) q.set([q[0]!, 0, 0, q[3]!, 0, 0]);
      for (let at = 0; at < 9; at++) q[at] = q[at]! + (at % 3 === 0 ? spread - 0.1 : 0);
      // Parts of a tenth of a millimetre, too: errors are told as a share of the size.
      const size = i % 3 === 0 ? 1e-4 : 1;
      for (let at = 0; at < 9; at++) [p[at], q[at]] = [p[at]! * size, q[at]! * size];
      const squared = triangleDistance(p, q, out);
      const wanted = published(p, q);
      if (wanted === 0) crossed++;
      expect(
        Math.abs(Math.sqrt(squared) - wanted) / size,
        `${i}: ${[...p].join()} | ${[...q].join()}`,
      ).toBeLessThan(1e-9);
      if (squared === 0) continue;
      const [a, b] = [new Vector3(...out.subarray(0, 3)), new Vector3(...out.subarray(3, 6))];
      expect(Math.abs(a.distanceTo(b) - wanted) / size).toBeLessThan(1e-9);
      // Both points lie on their triangles.
      for (const [point, of] of [
        [a, p],
        [b, q],
      ] as const)
        expect(triangle(of).closestPointToPoint(point, new Vector3()).distanceTo(point) / size).toBeLessThan(
          1e-7,
        );
    }
    expect(crossed).toBeGreaterThan(2000);
  });
});
