import { describe, expect, it } from 'vitest';
import {
  belt,
  pathLength,
  pulleyPath,
  solidLength,
  sprocketRadius,
  wormClimb,
  type Pulley,
} from '../mechanism';
import { SHAPE_KINDS, shapeChannels, shapeDefinition, type ShapeKind } from '../document';
import { volumeOf } from '../testing/mesh-volume';
import {
  bandMiddle,
  bevelGearMesh,
  bevelOutline,
  bracketMesh,
  buildMesh,
  camMesh,
  camOutline,
  chainRollers,
  coneDistance,
  gearMesh,
  gearOutline,
  ringGearMesh,
  ringGearOutline,
  shaftMesh,
  springMesh,
  sprocketMesh,
  sprocketOutline,
  wormMesh,
  type Flat,
  type Mesh,
} from './index';

/** Area inside a closed line by the shoelace formula, counter-clockwise positive. */
function area(points: readonly Flat[]): number {
  return (
    points.reduce((sum, [x, y], i) => {
      const [nx, ny] = points[(i + 1) % points.length]!;
      return sum + x * ny - nx * y;
    }, 0) / 2
  );
}

/** Edges that one triangle has and no other has the other way round: none of a closed surface. */
function openEdges({ positions: p, indices }: Mesh): number {
  const name = (i: number): string =>
    [0, 1, 2].map((k) => (Math.round(p[i * 3 + k]! * 2e5) / 2e5 + 0).toFixed(5)).join(' ');
  const left = new Map<string, number>();
  for (let i = 0; i < indices.length; i += 3) {
    const corners = [0, 1, 2].map((k) => name(indices[i + k]!));
    for (let k = 0; k < 3; k++) {
      const [a, b] = [corners[k]!, corners[(k + 1) % 3]!];
      if (a === b) continue;
      const [way, sign] = a < b ? [`${a}|${b}`, 1] : [`${b}|${a}`, -1];
      left.set(way, (left.get(way) ?? 0) + sign);
    }
  }
  return [...left.values()].filter((count) => count !== 0).length;
}

const PULLEYS: readonly Pulley[] = [
  [0, 0, 0.3],
  [1, 0.1, 0.2],
];
const initial = (kind: ShapeKind): Mesh =>
  buildMesh({ kind, pulleys: PULLEYS.map(([x, y, r]) => [x, y, r]) }, (path) => {
    const spec = shapeChannels(kind).find((entry) => entry.path === path)!;
    return (shapeDefinition(kind).sizes?.[path] ?? spec.initial) as number;
  });

/** Kinds of closed bodies without a drawing. */
const BODIES = SHAPE_KINDS.filter(
  (kind) =>
    !['plane', 'disc', 'mesh', 'lathe', 'outline', 'lettering', 'ball', 'capsule', 'cone'].includes(kind),
);

describe('bodies', () => {
  it.each(BODIES)('%s is closed and looks outward', (kind) => {
    const mesh = initial(kind);
    expect(openEdges(mesh)).toBe(0);
    expect(volumeOf(mesh)).toBeGreaterThan(0);
    // Normals stand on the side from which the triangle is seen.
    const { positions: p, normals: n, indices } = mesh;
    for (let i = 0; i < indices.length; i += 3) {
      const [a, b, c] = [indices[i]!, indices[i + 1]!, indices[i + 2]!];
      const at = (v: number, k: number): number => p[v * 3 + k]!;
      const [u, v] = [0, 1].map((e) => [0, 1, 2].map((k) => at(e === 0 ? b : c, k) - at(a, k)));
      const face = [0, 1, 2].map(
        (k) => u![(k + 1) % 3]! * v![(k + 2) % 3]! - u![(k + 2) % 3]! * v![(k + 1) % 3]!,
      );
      const size = Math.hypot(...face);
      if (size < 1e-9) continue;
      for (const corner of [a, b, c]) {
        const along = face.reduce((sum, value, k) => sum + value * n[corner * 3 + k]!, 0) / size;
        expect(along).toBeGreaterThan(0.2);
      }
    }
  });

  it('a hole in a surface is seen by the check above', () => {
    const mesh = initial('bracket');
    expect(openEdges({ ...mesh, indices: mesh.indices.slice(3) })).toBe(3);
  });
});

describe('wheels', () => {
  const sizes = { teeth: 40, module: 0.05, pressure: 20 };

  it('a gear with leaning teeth has the volume of a straight one, and turns by tan(helix) / radius along z', () => {
    const straight = { ...sizes, thickness: 0.2, bore: 0.1 };
    const leaning = gearMesh({ ...straight, helix: 25 });
    expect(volumeOf(leaning) / volumeOf(gearMesh(straight))).toBeCloseTo(1, 2);
    const turn = (z: number): number => {
      const { positions } = leaning;
      for (let i = 0; i < positions.length; i += 3)
        if (Math.abs(positions[i + 2]! - z) < 1e-6 && Math.hypot(positions[i]!, positions[i + 1]!) > 1.04)
          return Math.atan2(positions[i + 1]!, positions[i]!);
      return NaN;
    };
    // Shigley, chapter 13: tan(psi) = pi d / lead, so that over b it turns by 2 b tan(psi) / d.
    expect(turn(0.1) - turn(-0.1)).toBeCloseTo((0.2 * Math.tan((25 * Math.PI) / 180)) / 1, 6);
  });

  it('a ring gear has a tooth on angle 0, and the gaps of the teeth of an outer gear (ISO 21771)', () => {
    const inner = ringGearOutline(sizes);
    const radii = inner.map(([x, y]) => Math.hypot(x, y));
    expect(Math.min(...radii)).toBeCloseTo(1 - 0.05, 9);
    expect(Math.max(...radii)).toBeCloseTo(1 + 1.25 * 0.05, 9);
    const volume = volumeOf(ringGearMesh({ ...sizes, thickness: 0.2, rim: 0.2 }));
    const outer = Math.PI * (1 + 0.0625 + 0.2) ** 2;
    expect(volume / (0.2 * (outer - area(inner)))).toBeCloseTo(1, 2);
    // On the pitch circle tooth and gap are equally wide: pi m / 2.
    const onPitch = inner.filter((point, i) => {
      const [a, b] = [radii[i]!, radii[(i + 1) % inner.length]!];
      return Math.min(a, b) <= 1 && Math.max(a, b) >= 1 && Math.hypot(...point) > 0;
    });
    expect(onPitch.length).toBe(80);
    const nearest = Math.min(...onPitch.map(([x, y]) => Math.abs(Math.atan2(y, x))));
    expect(nearest).toBeCloseTo(Math.PI / 80, 2);
  });

  it('a bevel gear has its outer teeth on the back cone, with the tip angle of the handbook', () => {
    const bevel = { teeth: 20, module: 0.05, pressure: 20, cone: 45 };
    const points = bevelOutline(bevel);
    // Shigley, chapter 13: cone distance = d / (2 sin(cone)), outside diameter = d + 2 m cos(cone).
    expect(coneDistance(bevel)).toBeCloseTo(0.5 / Math.sin(Math.PI / 4), 12);
    const radius = Math.max(...points.map(([x, y]) => Math.hypot(x, y)));
    expect(2 * radius).toBeCloseTo(1 + 2 * 0.05 * Math.cos(Math.PI / 4), 9);
    // The back cone stands square on the pitch cone: its points lie on a line towards z, sin and cos changed over.
    for (const [x, y, z] of points)
      expect(Math.hypot(x, y) * Math.sin(Math.PI / 4) + z * Math.cos(Math.PI / 4)).toBeCloseTo(
        coneDistance(bevel),
        9,
      );
    const pitch = points.filter(([x, y, z]) => Math.abs(Math.hypot(x, y) - z) < 0.01);
    expect(pitch.length).toBeGreaterThan(0);
    expect(volumeOf(bevelGearMesh({ ...bevel, face: 0.2, bore: 0.05 }))).toBeGreaterThan(0.02);
  });

  it('a bevel gear of a wide cone is nearly a plane wheel, of a narrow one a gear', () => {
    const narrow = bevelOutline({ teeth: 24, module: 0.05, pressure: 20, cone: 0.01 });
    const plain = gearOutline({ teeth: 24, module: 0.05, pressure: 20 });
    narrow.forEach(([x, y], i) => {
      expect(x).toBeCloseTo(plain[i]![0], 6);
      expect(y).toBeCloseTo(plain[i]![1], 6);
    });
  });

  it('a sprocket takes the rollers of its chain: the pitch circle of ISO 606, seats as wide as rollers', () => {
    const sprocket = { teeth: 17, pitch: 0.0127, roller: 0.00425, thickness: 0.006, bore: 0.005 };
    // ISO 606, pitch 12.7 mm, 17 teeth: pitch diameter 69.12 mm (12.7 / sin(180 / 17)).
    expect(sprocketRadius(sprocket.pitch, 17) * 2).toBeCloseTo(0.06912, 4);
    const outline = sprocketOutline(sprocket);
    for (let gap = 0; gap < 17; gap++) {
      const angle = ((gap + 0.5) * 2 * Math.PI) / 17;
      const [x, y] = [Math.cos(angle), Math.sin(angle)].map((v) => v * sprocketRadius(sprocket.pitch, 17));
      const nearest = Math.min(...outline.map(([px, py]) => Math.hypot(px - x!, py - y!)));
      expect(nearest / sprocket.roller).toBeGreaterThan(1);
      expect(nearest / sprocket.roller).toBeLessThan(1.02);
    }
    const holed = area(outline) - Math.PI * sprocket.bore ** 2;
    expect(volumeOf(sprocketMesh(sprocket)) / (sprocket.thickness * holed)).toBeCloseTo(1, 2);
  });
});

describe('a worm', () => {
  const sizes = { starts: 2, module: 0.05, pressure: 20, radius: 0.2, length: 1, left: false };

  it('climbs by starts times pitch a turn: tan(lead angle) = starts module / diameter (Shigley, chapter 13)', () => {
    expect(Math.tan((wormClimb(sizes) * Math.PI) / 180)).toBeCloseTo((2 * 0.05) / 0.4, 12);
    const { positions } = wormMesh(sizes);
    /** Places along z where a thread is as wide as it goes, in a direction. */
    const tips = (angle: number): number[] => {
      const found: number[] = [];
      for (let i = 0; i < positions.length; i += 3) {
        const [x, y, z] = [positions[i]!, positions[i + 1]!, positions[i + 2]!];
        const off = Math.atan2(y, x) - angle;
        if (Math.hypot(x, y) > 0.2499 && Math.abs(off) < 1e-3 && Math.abs(z) < 0.45) found.push(z);
      }
      return found;
    };
    const half = Math.PI * 0.025 - Math.tan(Math.PI / 9) * 0.05 * 2;
    expect(half).toBeGreaterThan(0);
    const nearest = (list: readonly number[], z: number): number =>
      Math.min(...list.map((at) => Math.abs(at - z)));
    // On angle 0 the thread is centred on 0; a quarter turn on, it has gone a quarter of the lead.
    expect(nearest(tips(0), half / 2)).toBeLessThan(2e-3);
    expect(nearest(tips(Math.PI / 2), half / 2 + (2 * Math.PI * 0.05) / 4)).toBeLessThan(2e-3);
  });

  it('has the volume of a cylinder of nearly its radius, whatever its hand', () => {
    for (const left of [false, true]) {
      const mesh = wormMesh({ ...sizes, left });
      expect(openEdges(mesh)).toBe(0);
      expect(volumeOf(mesh) / (Math.PI * 0.2 ** 2)).toBeCloseTo(1, 1);
    }
  });
});

describe('what runs round pulleys', () => {
  // Shigley, chapter 17: open and crossed belts; the same figures as of the recipe, which has formulas of its own.
  it.each([
    [0.3, 0.2, 1, false],
    [0.1, 0.6, 0.9, false],
    [0.3, 0.2, 1, true],
    [0.25, 0.25, 2, true],
  ])('%f and %f, %f apart, crossed: %s: as long as the handbook says', (r1, r2, distance, crossed) => {
    const path = pulleyPath([
      [0, 0, r1],
      [distance * 0.6, distance * 0.8, crossed ? -r2 : r2],
    ])!;
    expect(pathLength(path)).toBeCloseTo(belt(2 * r1, 2 * r2, distance, crossed).length, 9);
    const wraps = path.flatMap((stretch) => (stretch.kind === 'bend' ? [Math.abs(stretch.turn)] : []));
    const { wrap1, wrap2 } = belt(2 * r1, 2 * r2, distance, crossed);
    expect((wraps[0]! * 180) / Math.PI).toBeCloseTo(wrap1, 9);
    expect((wraps[1]! * 180) / Math.PI).toBeCloseTo(wrap2, 9);
  });

  it('goes on where it came from, without a corner, and outside of a ring of pulleys once round', () => {
    const ring: Pulley[] = Array.from({ length: 7 }, (_, i) => {
      const angle = (2 * Math.PI * i) / 7;
      // The fourth one presses the belt in from outside.
      const away = i === 3 ? 1.1 : 2;
      return [away * Math.cos(angle), away * Math.sin(angle), i === 3 ? -0.2 : i % 2 === 0 ? 0.3 : 0.5];
    });
    const path = pulleyPath(ring)!;
    let turned = 0;
    path.forEach((stretch, i) => {
      if (stretch.kind === 'bend') {
        turned += stretch.turn;
        const size = Math.abs(stretch.radius);
        const at = (share: number): Flat => {
          const angle = stretch.start + stretch.turn * share;
          return [stretch.middle[0] + size * Math.cos(angle), stretch.middle[1] + size * Math.sin(angle)];
        };
        const [before, after] = [path.at(i - 1)!, path[(i + 1) % path.length]!];
        if (before.kind === 'run')
          expect(Math.hypot(at(0)[0] - before.to[0], at(0)[1] - before.to[1])).toBeLessThan(1e-12);
        if (after.kind === 'run')
          expect(Math.hypot(at(1)[0] - after.from[0], at(1)[1] - after.from[1])).toBeLessThan(1e-12);
      }
    });
    expect(turned).toBeCloseTo(2 * Math.PI, 9);
  });

  it('finds no way between pulleys of which one holds the other', () => {
    expect(
      pulleyPath([
        [0, 0, 1],
        [0.1, 0, 0.2],
      ]),
    ).toBeNull();
    const none = buildMesh(
      {
        kind: 'belt',
        pulleys: [
          [0, 0, 1],
          [0.1, 0, 0.2],
        ],
      },
      () => 0.1,
    );
    expect(none.indices.length).toBe(0);
  });

  it('a belt without cleats has the volume of its length, its width and its thickness', () => {
    const sizes: Record<string, number> = { width: 0.15, thickness: 0.02, cleats: 0, run: 0 };
    const mesh = buildMesh(
      { kind: 'belt', pulleys: PULLEYS.map(([x, y, r]) => [x, y, r]) },
      (path) => sizes[path]!,
    );
    const length = pathLength(pulleyPath(bandMiddle(PULLEYS, 0.02))!);
    expect(volumeOf(mesh) / (length * 0.15 * 0.02)).toBeCloseTo(1, 2);
  });

  it('cleats and links go on by the run', () => {
    const rollers = (run: number): Flat[] =>
      chainRollers(PULLEYS, { pitch: 0.05, roller: 0.01, width: 0.02, run })!;
    const [still, moved] = [rollers(0), rollers(0.05 * 0.5)];
    expect(still.length % 2).toBe(0);
    // After one link every roller is where the next one was.
    const whole = pathLength(pulleyPath(PULLEYS)!);
    const link = whole / still.length;
    rollers(link).forEach(([x, y], i) => {
      const [nx, ny] = still[(i + 1) % still.length]!;
      expect(Math.hypot(x - nx, y - ny)).toBeLessThan(link * 0.02);
    });
    expect(Math.hypot(moved[0]![0] - still[0]![0], moved[0]![1] - still[0]![1])).toBeGreaterThan(0.02);
  });

  it('rollers lie from tooth to tooth on a sprocket: a pitch apart, straight across (ISO 606)', () => {
    const pitch = 0.1;
    const [r1, r2] = [sprocketRadius(pitch, 18), sprocketRadius(pitch, 30)];
    const pulleys: Pulley[] = [
      [0, 0, r1],
      [1.5, 0, r2],
    ];
    const rollers = chainRollers(pulleys, { pitch, roller: 0.03, width: 0.1, run: 0 })!;
    rollers.forEach(([x, y], i) => {
      const [nx, ny] = rollers[(i + 1) % rollers.length]!;
      // A chain of a whole even number of links is stretched a little.
      expect(Math.hypot(nx - x, ny - y) / pitch).toBeGreaterThan(0.96);
      expect(Math.hypot(nx - x, ny - y) / pitch).toBeLessThan(1.04);
    });
  });
});

describe('springs, shafts, brackets, cams', () => {
  it('a spring has the volume of its wire and stands from its foot to its length', () => {
    const spring = { radius: 0.2, wire: 0.02, turns: 8, length: 0.9 };
    const mesh = springMesh(spring);
    const wire = 8 * Math.hypot(2 * Math.PI * 0.2, 0.1);
    expect(volumeOf(mesh) / (wire * Math.PI * 0.02 ** 2)).toBeGreaterThan(0.9);
    expect(volumeOf(mesh) / (wire * Math.PI * 0.02 ** 2)).toBeLessThan(1);
    const heights = [...mesh.positions].filter((_, i) => i % 3 === 1);
    expect(Math.min(...heights)).toBeCloseTo(0, 2);
    expect(Math.max(...heights)).toBeCloseTo(0.9, 2);
  });
  it('a spring is never shorter than its wire lying turn on turn: (turns + 1) diameters (Shigley, chapter 10, plain ends)', () => {
    const spring = { radius: 0.2, wire: 0.02, turns: 8, length: 0.1 };
    expect(solidLength(spring)).toBeCloseTo(9 * 0.04, 12);
    const heights = [...springMesh(spring).positions].filter((_, i) => i % 3 === 1);
    expect(Math.max(...heights)).toBeCloseTo(0.36, 2);
  });
  it('a shaft is a cylinder and its key', () => {
    const volume = volumeOf(shaftMesh({ radius: 0.1, length: 1, key: 0.05, seat: 0.4, sides: 128 }));
    expect(volume / (Math.PI * 0.01 + 0.05 * 0.04 * 0.4)).toBeCloseTo(1, 2);
  });
  it('a bracket stands its height below its bore, and a bore never takes the whole eye', () => {
    const sizes = { height: 0.5, width: 0.6, foot: 0.1, eye: 0.15, bore: 0.05, thickness: 0.2 };
    const y = (mesh: Mesh): number[] => [...mesh.positions].filter((_, i) => i % 3 === 1);
    expect(Math.min(...y(bracketMesh(sizes)))).toBeCloseTo(-0.5, 6);
    expect(Math.max(...y(bracketMesh(sizes)))).toBeCloseTo(0.15, 6);
    const wide = bracketMesh({ ...sizes, bore: 9, eye: 9 });
    expect(openEdges(wide)).toBe(0);
    expect(volumeOf(wide)).toBeGreaterThan(0);
  });
  it('a disc cam that holds nothing together is its base circle', () => {
    const sizes = {
      law: 2,
      foot: 0,
      lift: 0.2,
      rise: 300,
      dwell: 200,
      fall: 100,
      phase: 0,
      base: 0.3,
      roller: 0,
    };
    for (const [x, y] of camOutline(sizes)) expect(Math.hypot(x, y)).toBeCloseTo(0.3, 12);
    const volume = volumeOf(camMesh({ ...sizes, thickness: 0.1, bore: 0.1 }));
    expect(volume / (0.1 * Math.PI * (0.09 - 0.01))).toBeCloseTo(1, 2);
  });
  it('a disc cam under a knife edge lifts it by its law: half the lift after half the rise', () => {
    const sizes = {
      law: 2,
      foot: 0,
      lift: 0.2,
      rise: 120,
      dwell: 60,
      fall: 120,
      phase: 0,
      base: 0.3,
      roller: 0,
    };
    const at = (turn: number): number => {
      // Turned against the clock, what was so far round the way of the clock from the top is on top.
      const angle = 90 - turn;
      const edge = camOutline(sizes);
      const nearest = edge.reduce((best, point) => {
        const off = (p: Flat): number =>
          Math.abs((((Math.atan2(p[1], p[0]) * 180) / Math.PI - angle + 540) % 360) - 180);
        return off(point) < off(best) ? point : best;
      });
      return Math.hypot(...nearest);
    };
    expect(at(0)).toBeCloseTo(0.3, 6);
    expect(at(60)).toBeCloseTo(0.4, 4);
    expect(at(150)).toBeCloseTo(0.5, 6);
    expect(at(330)).toBeCloseTo(0.3, 6);
  });
});
