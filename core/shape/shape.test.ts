import { describe, expect, it } from 'vitest';
import { meshPhase } from '../mechanism';
import { volumeOf as volume } from '../testing/mesh-volume';
import {
  ballMesh,
  boxMesh,
  buildMesh,
  barMesh,
  capsuleMesh,
  cylinderMesh,
  discMesh,
  extrudeMesh,
  gearMesh,
  gearOutline,
  halfToothAngle,
  involute,
  latheMesh,
  normalised,
  piecesOfRings,
  planeMesh,
  rackOutline,
  rackMesh,
  torusMesh,
  tubeMesh,
  type Flat,
  type Mesh,
} from './index';

describe('solids have the volume of their formula, so every face looks outward', () => {
  const near = (mesh: Mesh, want: number): void => expect(volume(mesh) / want).toBeCloseTo(1, 1);
  it('box', () => expect(volume(boxMesh(2, 3, 4))).toBeCloseTo(24, 5));
  it('ball', () => near(ballMesh(2, 180), (4 / 3) * Math.PI * 8));
  it('bowl', () => near(ballMesh(2, 90), (2 / 3) * Math.PI * 8));
  it('cylinder', () => near(cylinderMesh(1, 1, 3, 64, 360), Math.PI * 3));
  it('cone', () => near(cylinderMesh(1, 0, 3, 64, 360), Math.PI));
  it('wedge', () => near(cylinderMesh(1, 1, 3, 64, 90), (Math.PI * 3) / 4));
  it('torus', () => near(torusMesh(2, 0.5), 2 * Math.PI * Math.PI * 2 * 0.25));
  it('tube', () => near(tubeMesh(2, 0.5, 3, 96), Math.PI * (4 - 2.25) * 3));
  it('tube as thick as its radius', () => near(tubeMesh(2, 5, 3, 96), Math.PI * 4 * 3));
  // A stadium less two circles.
  it('bar with eyes', () =>
    near(
      barMesh({ length: 3, width: 1, thickness: 0.5, bore: 0.2 }),
      0.5 * (3 + Math.PI / 4 - 2 * Math.PI * 0.04),
    ));
  it('a bar whose holes would meet has one slot, and a bore never takes the whole eye', () => {
    near(
      barMesh({ length: 0.3, width: 1, thickness: 0.5, bore: 0.2 }),
      0.5 * (0.3 + Math.PI / 4 - (0.3 * 0.4 + Math.PI * 0.04)),
    );
    expect(volume(barMesh({ length: 2, width: 1, thickness: 1, bore: 9 }))).toBeGreaterThan(0.1);
    near(barMesh({ length: 0, width: 1, thickness: 1, bore: 0 }), Math.PI / 4);
  });
  it('capsule', () => near(capsuleMesh(0.5, 3), Math.PI * 0.25 * 2 + (4 / 3) * Math.PI * 0.125));
  it('capsule no higher than a ball', () => near(capsuleMesh(0.5, 0.2), (4 / 3) * Math.PI * 0.125));
  // Frustum of a cone: pi h (R2 + R r + r2) / 3.
  const frustum: Flat[] = [
    [2, -1],
    [1, 1],
  ];
  it('lathe', () => near(latheMesh(frustum, 128, 360), (Math.PI * 2 * (4 + 2 + 1)) / 3));
  it('lathe with a sweep', () => near(latheMesh(frustum, 128, 90), (Math.PI * 2 * (4 + 2 + 1)) / 12));
  const square: Flat[] = [
    [-1, -1],
    [1, -1],
    [1, 1],
    [-1, 1],
  ];
  const hole = [...square].reverse().map(([x, y]): Flat => [x / 2, y / 2]);
  it('extrusion', () => expect(volume(extrudeMesh([{ outer: square, holes: [] }], 3, 0))).toBeCloseTo(12, 5));
  it('extrusion with a hole', () =>
    expect(volume(extrudeMesh([{ outer: square, holes: [hole] }], 3, 0))).toBeCloseTo(9, 5));
  // A bevel of b takes from a square prism two frusta: 4 h + 2 b (4 + 2 w + w2) / 3 with w = 2 - 2 b.
  it('extrusion with a bevel', () => {
    const [b, w] = [0.25, 1.5];
    const want = 4 * (3 - 2 * b) + (2 * b * (4 + 2 * w + w * w)) / 3;
    expect(volume(extrudeMesh([{ outer: square, holes: [] }], 3, b))).toBeCloseTo(want, 5);
  });
  it('a bevel deeper than half the depth is cut down to it', () =>
    expect(extrudeMesh([{ outer: square, holes: [] }], 1, 9).positions).toEqual(
      extrudeMesh([{ outer: square, holes: [] }], 1, 0.5).positions,
    ));
  it('rack: the area of its outline times its thickness', () => {
    const sizes = { teeth: 5, module: 0.1, pressure: 20, back: 0.2 };
    const area = Math.abs(
      rackOutline(sizes).reduce((sum, [x, y], i, all) => {
        const [nx, ny] = all[(i + 1) % all.length]!;
        return sum + (x * ny - nx * y) / 2;
      }, 0),
    );
    near(rackMesh({ ...sizes, thickness: 0.3 }), area * 0.3);
  });
  it('plane and disc are seen from both sides and have no volume', () => {
    for (const mesh of [planeMesh(2, 3), discMesh(1, 0.4, 32, 360)]) {
      expect(volume(mesh)).toBeCloseTo(0, 9);
      const front = [...mesh.normals].filter((value, i) => i % 3 === 2 && value === 1).length;
      expect(front).toBe(mesh.normals.length / 6);
    }
  });
  it('gear without a bore lies between its root and tip cylinders', () => {
    const v = volume(gearMesh({ teeth: 20, module: 0.1, pressure: 20, thickness: 0.3, bore: 0 }));
    expect(v).toBeGreaterThan(Math.PI * 0.875 ** 2 * 0.3);
    expect(v).toBeLessThan(Math.PI * 1.1 ** 2 * 0.3);
  });
});

describe('involute gears, module 2, 20 teeth, 20 degrees (ISO 53, ISO 21771)', () => {
  const sizes = { teeth: 20, module: 2, pressure: 20 };
  const deg = 180 / Math.PI;
  it('involute function of 20 and 25 degrees', () => {
    expect(involute(20 / deg)).toBeCloseTo(0.01490438387, 10);
    expect(involute(25 / deg)).toBeCloseTo(0.02997534516, 10);
  });
  it('half tooth angles at the pitch, base and tip circles', () => {
    expect(halfToothAngle(sizes, 20) * deg).toBeCloseTo(4.5, 8);
    expect(halfToothAngle(sizes, 37.58770483 / 2) * deg).toBeCloseTo(5.353958292, 6);
    expect(halfToothAngle(sizes, 22) * deg).toBeCloseTo(1.809713199, 6);
  });
  it('outline runs from the root circle 35 to the tip circle 44', () => {
    const radii = gearOutline(sizes).map(([x, y]) => Math.hypot(x, y) * 2);
    expect(Math.min(...radii)).toBeCloseTo(35, 6);
    expect(Math.max(...radii)).toBeCloseTo(44, 6);
  });
  it('teeth of a pair at the mesh phase do not overlap over a pitch', () => {
    const inside = (outline: [number, number][], x: number, y: number): boolean => {
      let odd = false;
      for (let i = 0, j = outline.length - 1; i < outline.length; j = i++) {
        const [xi, yi] = outline[i]!;
        const [xj, yj] = outline[j]!;
        if (yi > y !== yj > y && x < ((xj - xi) * (y - yi)) / (yj - yi) + xi) odd = !odd;
      }
      return odd;
    };
    const [z1, z2, m] = [16, 56, 0.1];
    const a = gearOutline({ teeth: z1, module: m, pressure: 20 });
    const b = gearOutline({ teeth: z2, module: m, pressure: 20 });
    const turned = (outline: [number, number][], degrees: number, dx: number): [number, number][] => {
      const [c, s] = [Math.cos(degrees / deg), Math.sin(degrees / deg)];
      return outline.map(([x, y]) => [x * c - y * s + dx, x * s + y * c]);
    };
    for (let turn = 0; turn < 360 / z1; turn += 1.5) {
      // A hair less than full size, so that touching flanks do not count.
      const one = turned(
        a.map(([x, y]) => [x * 0.998, y * 0.998]),
        turn,
        0,
      );
      const two = turned(
        b.map(([x, y]) => [x * 0.9985, y * 0.9985]),
        meshPhase(z1, z2, 0, turn),
        (m * (z1 + z2)) / 2,
      );
      expect(one.some(([x, y]) => inside(two, x, y))).toBe(false);
      expect(two.some(([x, y]) => inside(one, x, y))).toBe(false);
    }
  });
});

describe('drawings', () => {
  const box = (x: number, y: number, w: number): number[] => [x, y, x + w, y, x + w, y + w, x, y + w];
  it('rings inside rings are holes, and what lies in a hole is solid again (SVG 2, even-odd)', () => {
    const pieces = piecesOfRings([box(4, 4, 2), box(0, 0, 10), box(2, 2, 6)]);
    expect(pieces.map((piece) => piece.holes.length)).toEqual([0, 1]);
    expect(pieces[1]!.outer).toEqual(box(0, 0, 10));
    expect(pieces[1]!.holes[0]).not.toEqual(box(2, 2, 6));
  });
  it('are kept in shares of their size, whichever way their rings were wound', () => {
    const [ring] = [box(10, 20, 4)];
    const turned = [10, 20, 10, 24, 14, 24, 14, 20];
    for (const rings of [[ring], [turned]]) {
      const { outline, width, height } = normalised(piecesOfRings(rings));
      expect([width, height]).toEqual([4, 4]);
      const mesh = buildMesh({ kind: 'outline', outline }, (path) =>
        path === 'depth' ? 1 : path === 'bevel' ? 0 : 4,
      );
      expect(volume(mesh)).toBeCloseTo(16, 5);
    }
  });
  it('letters move apart by the spacing', () => {
    const outline = [0, 1].flatMap((letter) => piecesOfRings([box(letter * 2 - 1.5, 0, 1)], letter));
    const mesh = buildMesh({ kind: 'lettering', outline }, (path) =>
      path === 'size' ? 1 : path === 'spacing' ? 3 : 0,
    );
    expect(Math.max(...mesh.positions)).toBeCloseTo(3, 6);
  });
});

describe('pictures on faces', () => {
  it('stand upright on each side of a box, seen from outside', () => {
    const { positions, normals, uvs } = boxMesh(2, 2, 2);
    for (let i = 0; i < positions.length / 3; i++) {
      const n = normals.slice(i * 3, i * 3 + 3);
      if (n[1] !== 0) continue;
      expect(uvs[i * 2 + 1]).toBe(positions[i * 3 + 1]! > 0 ? 1 : 0);
      // Right of somebody who looks at the face: up cross outwards.
      const right = positions[i * 3]! * n[2]! - positions[i * 3 + 2]! * n[0]!;
      expect(uvs[i * 2]).toBe(right > 0 ? 1 : 0);
    }
  });
});
