import fc from 'fast-check';
import { mat4, quat } from 'gl-matrix';
import { describe, expect, it } from 'vitest';
import {
  decompose,
  eulerFromRotation,
  invert,
  localMatrix,
  multiply,
  nearestEuler,
  nearestTurn,
  ROTATION_ORDERS,
  rotationFromEuler,
  transformPoint,
  type Placement,
  type RotationOrder,
} from './index';

const rotation = (x: number, y: number, z: number, order: RotationOrder): number[] => [
  ...rotationFromEuler(new Float64Array(9), x, y, z, order),
];
const rows = (text: string): number[] => text.split(/[,;]/).map(Number);
const placement = (more: Partial<Placement>): Placement => ({
  location: [0, 0, 0],
  rotation: [0, 0, 0],
  scale: [1, 1, 1],
  pivot: [0, 0, 0],
  rest: [0, 0, 0],
  order: 'XYZ',
  ...more,
});

describe('Euler orders (Diebel 2006): angles 30, 45, 60 and 400, -75, 725', () => {
  it.each([
    [
      'XYZ',
      '0.3535534, -0.6123724, 0.7071068 ; 0.9267767, 0.1268265, -0.3535534 ; 0.1268265, 0.7803301, 0.6123724',
      '0.2578342, -0.02255757, -0.9659258 ; -0.5517573, 0.8172431, -0.1663657 ; 0.793149, 0.5758514, 0.1982669',
    ],
    [
      'XZY',
      '0.3535534, -0.8660254, 0.3535534 ; 0.8838835, 0.4330127, 0.1767767 ; -0.3061862, 0.25, 0.9185587',
      '0.2578342, -0.08715574, -0.9622502 ; -0.6036051, 0.7631294, -0.2308559 ; 0.7544418, 0.6403416, 0.1441532',
    ],
    [
      'YXZ',
      '0.6597396, -0.4355957, 0.6123724 ; 0.75, 0.4330127, -0.5 ; -0.04736717, 0.7891491, 0.6123724',
      '0.2037205, -0.6410801, -0.7399421 ; 0.06676517, 0.7631294, -0.6427876 ; 0.9767499, 0.08154662, 0.1982669',
    ],
    [
      'YZX',
      '0.3535534, -0.1767767, 0.9185587 ; 0.8660254, 0.4330127, -0.25 ; -0.3535534, 0.8838835, 0.3061862',
      '0.2578342, -0.6381653, -0.7254424 ; 0.08715574, 0.7631294, -0.6403416 ; 0.9622502, 0.1018755, 0.2523806',
    ],
    [
      'ZXY',
      '0.04736717, -0.75, 0.6597396 ; 0.7891491, 0.4330127, 0.4355957 ; -0.6123724, 0.5, 0.6123724',
      '0.3119479, -0.06676517, -0.9477505 ; -0.5959649, 0.7631294, -0.2499186 ; 0.7399421, 0.6427876, 0.1982669',
    ],
    [
      'ZYX',
      '0.3535534, -0.5732233, 0.7391989 ; 0.6123724, 0.7391989, 0.2803301 ; -0.7071068, 0.3535534, 0.6123724',
      '0.2578342, -0.6852877, -0.6811038 ; 0.02255757, 0.7090157, -0.7048318 ; 0.9659258, 0.1663657, 0.1982669',
    ],
  ] as const)('%s', (order, a, b) => {
    rotation(30, 45, 60, order).forEach((value, i) => expect(value).toBeCloseTo(rows(a)[i]!, 6));
    rotation(400, -75, 725, order).forEach((value, i) => expect(value).toBeCloseTo(rows(b)[i]!, 6));
    const [x, y, z] = eulerFromRotation(Float64Array.from(rotation(400, -75, 725, order)), order);
    [40, -75, 5].forEach((angle, i) => expect([x, y, z][i]).toBeCloseTo(angle, 6));
  });
  it('a round trip through gimbal lock gives the same matrix', () => {
    for (const order of ROTATION_ORDERS) {
      const m = rotation(25, 90, 40, order);
      const [x, y, z] = eulerFromRotation(Float64Array.from(m), order);
      rotation(x, y, z, order).forEach((value, i) => expect(value).toBeCloseTo(m[i]!, 6));
    }
  });
});

describe('pivots and parents (Foley and van Dam, chapter 5)', () => {
  const p1 = placement({ location: [10, 20, 30], pivot: [5, 0, 0], rotation: [0, 0, 90], scale: [2, 1, 1] });
  const p2 = placement({
    location: [10, -20, 30],
    pivot: [5, -3, 2],
    rotation: [30, 45, 60],
    scale: [2, 0.5, 1.5],
  });
  const parent = placement({
    location: [100, 0, -50],
    pivot: [0, 10, 0],
    rotation: [0, 90, 0],
    scale: [1, 1, 2],
  });
  const close = (got: readonly number[], want: readonly number[]): void =>
    got.forEach((value, i) => expect(value).toBeCloseTo(want[i]!, 5));
  it('P1', () => close(transformPoint(localMatrix(p1), 6, 1, 0), [14, 22, 30]));
  it('P2', () => {
    close(
      [...localMatrix(p2)],
      [
        0.707106781, -0.306186218, 1.06066017, 8.4245871, 1.85355339, 0.063413242, -0.530330086, -31.0168671,
        0.253652968, 0.390165043, 0.918558654, 30.065113,
      ],
    );
    close(transformPoint(localMatrix(p2), 5, -3, 2), [15, -23, 32]);
  });
  it('P3 keeps the shear of a scaled parent', () => {
    const world = multiply(localMatrix(parent), localMatrix(p2));
    close(transformPoint(world, 1, 2, 3), [167.709544, -30.6274774, -61.701302]);
    close(transformPoint(world, 5, -3, 2), [164, -23, -65]);
    expect(decompose(world, [5, -3, 2], [0, 0, 0], 'XYZ')!.sheared).toBe(true);
  });
  it('agrees with gl-matrix about an origin', () => {
    const n = fc.double({ min: -50, max: 50, noNaN: true });
    const triple = fc.tuple(n, n, n);
    fc.assert(
      fc.property(triple, triple, triple, (location, angles, pivot) => {
        const mine = localMatrix(placement({ location, rotation: angles, pivot }));
        const q = quat.create();
        for (const [axis, angle] of [
          [[1, 0, 0], angles[0]],
          [[0, 1, 0], angles[1]],
          [[0, 0, 1], angles[2]],
        ] as const)
          quat.multiply(q, q, quat.setAxisAngle(quat.create(), axis, (angle * Math.PI) / 180));
        const theirs = mat4.fromRotationTranslationScaleOrigin(mat4.create(), q, location, [1, 1, 1], pivot);
        for (let row = 0; row < 3; row++)
          for (let col = 0; col < 4; col++)
            expect(Math.abs(mine[row * 4 + col]! - theirs[col * 4 + row]!)).toBeLessThan(1e-3);
      }),
      { numRuns: 200 },
    );
  });
});

it('composing what decompose gives restores the matrix to 1e-9, mirrors included', () => {
  const n = fc.double({ min: -20, max: 20, noNaN: true });
  const s = fc.oneof(
    fc.double({ min: 0.1, max: 5, noNaN: true }),
    fc.double({ min: -5, max: -0.1, noNaN: true }),
  );
  fc.assert(
    fc.property(
      fc.tuple(n, n, n),
      fc.tuple(n, n, n),
      fc.tuple(s, s, s),
      fc.tuple(n, n, n),
      fc.tuple(n, n, n),
      fc.constantFrom(...ROTATION_ORDERS),
      (location, turn, scale, pivot, rest, order) => {
        const given = placement({
          location,
          rotation: [turn[0] * 8, turn[1] * 8, turn[2] * 8],
          scale,
          pivot,
          rest,
          order,
        });
        const m = localMatrix(given);
        const split = decompose(m, pivot, rest, order)!;
        const again = localMatrix({
          ...given,
          location: split.location,
          rotation: split.rotation,
          scale: split.scale,
        });
        for (let i = 0; i < 12; i++) expect(Math.abs(again[i]! - m[i]!)).toBeLessThan(1e-6);
        expect(split.sheared).toBe(false);
        const unit = multiply(invert(m)!, m);
        [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0].forEach((value, i) => expect(unit[i]).toBeCloseTo(value, 7));
      },
    ),
    { numRuns: 500 },
  );
});

it('nearestEuler gives the same turn, as near as can be', () => {
  for (const order of ROTATION_ORDERS)
    for (const [a, b, c] of [
      [10, 120, -40],
      [400, -95, 20],
      [0, 480, 0],
      [33, 12, 700],
    ] as const) {
      const near = [a, b, c] as const;
      const turn = rotationFromEuler(new Float64Array(9), a, b, c, order);
      const found = nearestEuler(eulerFromRotation(turn, order), order, near);
      found.forEach((angle, i) => expect(angle).toBeCloseTo(near[i]!, 6));
      rotationFromEuler(new Float64Array(9), ...found, order).forEach((value, i) =>
        expect(value).toBeCloseTo(turn[i]!, 9),
      );
    }
});

it('nearestTurn keeps counted turns', () => {
  expect(nearestTurn(10, 725)).toBe(730);
  expect(nearestTurn(-170, 190)).toBe(190);
});
