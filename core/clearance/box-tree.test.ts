import { type BufferGeometry, Euler, Matrix4, TorusKnotGeometry, Vector3, CylinderGeometry } from 'three';
import { ExtendedTriangle } from 'three-mesh-bvh';
import { describe, expect, it } from 'vitest';
import { seeded } from '../testing/seeded';
import { BoxTree, measured, type Witness } from './box-tree';

/** All triangles of a surface, placed. */
function trianglesOf(geometry: BufferGeometry, placed: Matrix4): ExtendedTriangle[] {
  const [points, index] = [geometry.getAttribute('position'), geometry.getIndex()!];
  const at = (i: number): Vector3 =>
    new Vector3().fromBufferAttribute(points, index.getX(i)).applyMatrix4(placed);
  return Array.from(
    { length: index.count / 3 },
    (_, i) => new ExtendedTriangle(at(i * 3), at(i * 3 + 1), at(i * 3 + 2)),
  );
}

/** The distance of two surfaces by a general-purpose library, each triangle of one against each of the other. */
function plainly(mine: readonly ExtendedTriangle[], theirs: readonly ExtendedTriangle[]): number {
  let least = Infinity;
  for (const a of mine)
    for (const b of theirs)
      least = Math.min(least, measured(a).distanceToTriangle(b, new Vector3(), new Vector3()));
  return least;
}

describe('two surfaces that move against one another', () => {
  it('are as far apart as all their triangles tell one by one, whatever told it before, and nothing is nearer than is sure', () => {
    const random = seeded(20261203);
    const [knot, drum] = [new TorusKnotGeometry(0.3, 0.08, 24, 5), new CylinderGeometry(0.2, 0.2, 0.5, 9, 2)];
    // The library makes a tree of each group of its own.
    drum.clearGroups();
    const [own, other] = [new BoxTree(knot), new BoxTree(drum)];
    const mine = trianglesOf(knot, new Matrix4());
    const [near, touch, rough]: Witness[] = [0, 1, 2].map(() => ({ mine: -1, theirs: -1 })) as never;
    const met = { yes: 0, no: 0 };
    const at = new Vector3(0.9, 0, 0);
    const turn = new Euler();
    for (let step = 0; step < 60; step++) {
      at.add(new Vector3(random() - 0.5, random() - 0.5, random() - 0.5).multiplyScalar(0.5));
      if (at.length() > 1.3) at.multiplyScalar(0.6);
      turn.set(turn.x + random() * 0.4, turn.y + random() * 0.4, turn.z);
      const pose = new Matrix4().makeRotationFromEuler(turn).setPosition(at);
      const wanted = plainly(mine, trianglesOf(drum, pose));
      met[wanted === 0 ? 'yes' : 'no']++;
      expect(own.meets(other, pose, touch)).toBe(wanted === 0);
      expect(own.nearest(other, pose, Infinity, 0, near)!.distance).toBeCloseTo(wanted, 9);
      expect(own.nearest(other, pose, wanted * 0.99, 0, near) === null).toBe(wanted > 0);
      // Asked for less: what is told is no nearer than the truth, and the truth no nearer than the share of it.
      const told = own.nearest(other, pose, Infinity, 0, rough, 0.8)!.distance;
      expect(told).toBeGreaterThanOrEqual(wanted - 1e-9);
      expect(wanted).toBeGreaterThanOrEqual(told * 0.8 - 1e-9);
      // What is near enough ends it; what is farther is told as by the share.
      const enough = own.nearest(other, pose, 2, 0.05, rough, 0.8)!.distance;
      expect(enough <= 0.05).toBe(wanted <= 0.05);
      // A witness of surfaces that have no such triangles any more is passed over.
      const gone: Witness = { mine: 1e6, theirs: 2 };
      expect(own.meets(other, pose, gone)).toBe(wanted === 0);
    }
    expect(met.yes).toBeGreaterThan(10);
    expect(met.no).toBeGreaterThan(10);
  });
});
