import fc from 'fast-check';
import { Matrix4, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { AIM_AXES, aimRotation, PathMeasure, type AimAxis } from './index';

const unit = (axis: AimAxis): Vector3 => {
  const v = new Vector3();
  v.setComponent('xyz'.indexOf(axis.at(-1)!), axis.startsWith('-') ? -1 : 1);
  return v;
};
const turned = (m: Float64Array, v: Vector3): Vector3 =>
  new Vector3(
    m[0]! * v.x + m[1]! * v.y + m[2]! * v.z,
    m[3]! * v.x + m[4]! * v.y + m[5]! * v.z,
    m[6]! * v.x + m[7]! * v.y + m[8]! * v.z,
  );

describe('aim', () => {
  const n = fc.double({ min: -5, max: 5, noNaN: true });
  it('turns the axis into the direction and is a proper rotation, for every pair of axes', () => {
    fc.assert(
      fc.property(
        n,
        n,
        n,
        fc.constantFrom(...AIM_AXES),
        fc.constantFrom(...AIM_AXES),
        (x, y, z, axis, up) => {
          const m = new Float64Array(9);
          const direction = new Vector3(x, y, z);
          const done = aimRotation(m, x, y, z, axis, up);
          if (axis.at(-1) === up.at(-1) || direction.length() < 1e-9) return;
          expect(done).toBe(true);
          const aimed = turned(m, unit(axis));
          expect(aimed.distanceTo(direction.clone().normalize())).toBeLessThan(1e-9);
          expect(turned(m, unit(up)).dot(aimed)).toBeCloseTo(0, 9);
          const [a, b, c] = [unit('x'), unit('y'), unit('z')].map((v) => turned(m, v));
          expect(a!.clone().cross(b!).distanceTo(c!)).toBeLessThan(1e-9);
          // Up is as near to world y as the aim allows: no turn about the aim brings it nearer.
          const best = new Vector3(0, 1, 0).addScaledVector(aimed, -aimed.y);
          if (best.length() > 1e-6) expect(turned(m, unit(up)).dot(best.normalize())).toBeGreaterThan(0);
        },
      ),
      { numRuns: 2000 },
    );
  });
  it('is the look-at matrix of three and gl-matrix for a camera: eye (4, 3, 5) to the origin', () => {
    const m = new Float64Array(9);
    aimRotation(m, -4, -3, -5, '-z', 'y');
    const want = new Matrix4().lookAt(new Vector3(4, 3, 5), new Vector3(), new Vector3(0, 1, 0)).elements;
    [0, 1, 2, 4, 5, 6, 8, 9, 10].forEach((at, i) => {
      const [column, row] = [Math.floor(at / 4), at % 4];
      expect(m[row * 3 + column], String(i)).toBeCloseTo(want[at]!, 9);
    });
  });
  it('has no answer without a direction', () => {
    expect(aimRotation(new Float64Array(9), 0, 0, 0, 'x', 'y')).toBe(false);
  });
});

describe('path', () => {
  const out = new Float64Array(6);
  const path = (points: number[], closed = false): PathMeasure => {
    const measure = new PathMeasure();
    measure.measure(Float64Array.from(points), points.length / 3, closed);
    return measure;
  };
  it('a straight path is travelled evenly', () => {
    const line = path([0, 0, 0, 3, 4, 0]);
    expect(line.total).toBeCloseTo(5, 12);
    line.place(0.3, out);
    [0.9, 1.2, 0, 3, 4, 0].forEach((value, i) => expect(out[i]).toBeCloseTo(value, 9));
    line.place(7, out);
    expect([out[0], out[1]]).toEqual([3, 4]);
  });
  it('four points of a circle, closed: near its circumference, through the points, round and round', () => {
    const ring = path([1, 0, 0, 0, 0, -1, -1, 0, 0, 0, 0, 1], true);
    expect(ring.total).toBeGreaterThan(5.9);
    expect(ring.total).toBeLessThan(2 * Math.PI);
    for (const share of [0.25, 1.25, -0.75]) {
      ring.place(share, out);
      expect(out[0]).toBeCloseTo(0, 9);
      expect(out[2]).toBeCloseTo(-1, 9);
    }
  });
  it('equal shares are equal distances within a hundred-thousandth of a whole', () => {
    const bend = path([0, 0, 0, 1, 0, 0, 1, 2, 0, 5, 2, 1]);
    // Between two shares the path is cut into small chords, whose sum is the distance by another way.
    const distance = (from: number, to: number): number => {
      let sum = 0;
      bend.place(from, out);
      let [x, y, z] = [out[0]!, out[1]!, out[2]!];
      for (let i = 1; i <= 400; i++) {
        bend.place(from + ((to - from) * i) / 400, out);
        sum += Math.hypot(out[0]! - x, out[1]! - y, out[2]! - z);
        [x, y, z] = [out[0]!, out[1]!, out[2]!];
      }
      return sum;
    };
    for (let i = 0; i < 20; i++)
      expect(Math.abs(distance(i / 20, (i + 1) / 20) * 20 - bend.total) / bend.total).toBeLessThan(1e-5);
  });
  it('one point stays, none is the origin', () => {
    path([2, 3, 4]).place(0.5, out);
    expect([...out]).toEqual([2, 3, 4, 0, 0, 0]);
    path([]).place(0.5, out);
    expect([...out]).toEqual([0, 0, 0, 0, 0, 0]);
  });
});
