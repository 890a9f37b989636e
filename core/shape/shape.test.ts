import { describe, expect, it } from 'vitest';
import { meshPhase } from '../mechanism';
import {
  ballMesh,
  boxMesh,
  cylinderMesh,
  gearMesh,
  gearOutline,
  halfToothAngle,
  involute,
  torusMesh,
  type Mesh,
} from './index';

/** Volume by the divergence theorem; right only when every triangle faces outward and the surface is closed. */
function volume({ positions: p, indices }: Mesh): number {
  let sum = 0;
  for (let i = 0; i < indices.length; i += 3) {
    const [a, b, c] = [indices[i]! * 3, indices[i + 1]! * 3, indices[i + 2]! * 3];
    sum +=
      p[a]! * (p[b + 1]! * p[c + 2]! - p[b + 2]! * p[c + 1]!) -
      p[a + 1]! * (p[b]! * p[c + 2]! - p[b + 2]! * p[c]!) +
      p[a + 2]! * (p[b]! * p[c + 1]! - p[b + 1]! * p[c]!);
  }
  return sum / 6;
}

describe('solids have the volume of their formula, so every face looks outward', () => {
  const near = (mesh: Mesh, want: number): void => expect(volume(mesh) / want).toBeCloseTo(1, 1);
  it('box', () => expect(volume(boxMesh(2, 3, 4))).toBeCloseTo(24, 5));
  it('ball', () => near(ballMesh(2, 180), (4 / 3) * Math.PI * 8));
  it('bowl', () => near(ballMesh(2, 90), (2 / 3) * Math.PI * 8));
  it('cylinder', () => near(cylinderMesh(1, 1, 3, 64, 360), Math.PI * 3));
  it('cone', () => near(cylinderMesh(1, 0, 3, 64, 360), Math.PI));
  it('wedge', () => near(cylinderMesh(1, 1, 3, 64, 90), (Math.PI * 3) / 4));
  it('torus', () => near(torusMesh(2, 0.5), 2 * Math.PI * Math.PI * 2 * 0.25));
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
