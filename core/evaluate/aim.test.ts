import { Matrix4, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import type { Part, Shot } from '../document';
import { apply, setLink, setValues } from '../edit';
import { emptyShot, hub } from '../testing/random-shot';
import { compile, Evaluator, MATRIX_SIZE } from './index';

const shotOf = (parts: Record<string, Part>): Shot => ({ ...emptyShot(), parts });
const at = (x: number, y: number, z: number): Part['values'] => ({
  'location.x': x,
  'location.y': y,
  'location.z': z,
});
const facing = (target: string, axis: 'x' | 'z' = 'x'): Pick<Part, 'aim'> => ({
  aim: { target, axis, up: 'y' },
});

function evaluated(shot: Shot, frame = 1): Evaluator {
  const evaluator = new Evaluator(compile(shot));
  evaluator.evaluate(frame);
  return evaluator;
}

/** A world matrix as three.js has it, which the expected places are worked out with. */
function three(matrix: ArrayLike<number>, from = 0): Matrix4 {
  const m = Array.from({ length: MATRIX_SIZE }, (_, i) => matrix[from + i]!);
  return new Matrix4().set(...([...m, 0, 0, 0, 1] as unknown as Parameters<Matrix4['set']>));
}

describe('a part that faces another, in copies', () => {
  const ring = (more: Partial<Part> = {}): Shot =>
    shotOf({
      prt_t: hub('Lantern', { values: at(5, 0, 1) }),
      prt_r: hub('Ring', {
        kind: 'repeat',
        repeat: { pattern: 'ring', step: null },
        values: { copies: 4, gap: 2 },
        ...more,
      }),
      prt_c: hub('Pointer', { parent: 'prt_r', ...facing('prt_t') }),
    });
  it('faces it from each copy of a ring', () => {
    const copies = evaluated(ring()).copiesOf('prt_c')!;
    expect(copies.count).toBe(4);
    for (let k = 0; k < 4; k++) {
      const m = three(copies.matrices, k * MATRIX_SIZE);
      const from = new Vector3(2 * Math.cos((k * Math.PI) / 2), 0, -2 * Math.sin((k * Math.PI) / 2));
      expect(new Vector3().setFromMatrixPosition(m).distanceTo(from), `place of copy ${k}`).toBeLessThan(
        1e-9,
      );
      const want = new Vector3(5, 0, 1).sub(from).normalize();
      expect(new Vector3().setFromMatrixColumn(m, 0).distanceTo(want), `copy ${k}`).toBeLessThan(1e-9);
    }
  });
  it('faces the pin of its own copy when that is copied too', () => {
    const shot = shotOf({
      prt_r: hub('Row', {
        kind: 'repeat',
        repeat: { pattern: 'row', step: null },
        values: { copies: 3, gap: 4, 'copy.rotation.y': 0 },
      }),
      prt_p: hub('Pin', { parent: 'prt_r', values: at(1, 2, 0) }),
      prt_c: hub('Rod', { parent: 'prt_r', ...facing('prt_p') }),
    });
    const turned = apply(shot, setLink(shot, 'prt_r/copy.rotation.z', 'index * 30'));
    const evaluator = evaluated(turned);
    const rods = evaluator.copiesOf('prt_c')!;
    const pins = evaluator.copiesOf('prt_p')!;
    for (let k = 0; k < 3; k++) {
      const rod = three(rods.matrices, k * MATRIX_SIZE);
      const pin = new Vector3().setFromMatrixPosition(three(pins.matrices, k * MATRIX_SIZE));
      const to = pin.sub(new Vector3().setFromMatrixPosition(rod)).normalize();
      expect(new Vector3().setFromMatrixColumn(rod, 0).distanceTo(to), `copy ${k}`).toBeLessThan(1e-9);
    }
  });
  it('carries what hangs from it along in each copy', () => {
    const shot = ring();
    const tip: Shot = {
      ...shot,
      parts: { ...shot.parts, prt_e: hub('Tip', { parent: 'prt_c', values: at(1, 0, 0) }) },
    };
    const evaluator = evaluated(tip);
    const pointers = evaluator.copiesOf('prt_c')!;
    const tips = evaluator.copiesOf('prt_e')!;
    for (let k = 0; k < 4; k++) {
      const want = new Vector3(1, 0, 0).applyMatrix4(three(pointers.matrices, k * MATRIX_SIZE));
      const got = new Vector3().setFromMatrixPosition(three(tips.matrices, k * MATRIX_SIZE));
      expect(got.distanceTo(want)).toBeLessThan(1e-9);
    }
  });
});

describe('a part that faces another, below a scaled parent', () => {
  it('keeps the size of what it hangs from: a rod of 3 under a group of scale 2 ends 6 away', () => {
    const shot = shotOf({
      prt_g: hub('Group', { values: { 'scale.x': 2, 'scale.y': 2, 'scale.z': 2 } }),
      prt_p: hub('Pin', { values: at(0, 3, 0) }),
      prt_r: hub('Rod', { parent: 'prt_g', ...facing('prt_p') }),
      prt_e: hub('End', { parent: 'prt_r', values: at(3, 0, 0) }),
    });
    const end = new Vector3().setFromMatrixPosition(three(evaluated(shot).worldOf('prt_e')!));
    expect(end.distanceTo(new Vector3(0, 6, 0))).toBeLessThan(1e-9);
  });
  it('is its parent times a place of its own, turned, leaning and mirrored as that may be', () => {
    const shot = shotOf({
      prt_g: hub('Group', {
        values: {
          ...at(1, -2, 0.5),
          'scale.x': -2,
          'scale.y': 0.5,
          'scale.z': 3,
          'rotation.x': 40,
          'rotation.y': 25,
        },
      }),
      prt_p: hub('Pin', { values: at(4, 1, -2) }),
      prt_r: hub('Rod', {
        parent: 'prt_g',
        values: { ...at(0.3, 0.2, -0.1), 'scale.y': 0.7, 'pivot.x': 0.4 },
        ...facing('prt_p'),
      }),
    });
    const evaluator = evaluated(shot);
    const rod = three(evaluator.worldOf('prt_r')!);
    const pivot = new Vector3(0.4, 0, 0).applyMatrix4(rod);
    const hangs = new Vector3(0.7, 0.2, -0.1).applyMatrix4(three(evaluator.worldOf('prt_g')!));
    expect(pivot.distanceTo(hangs)).toBeLessThan(1e-9);
    const to = new Vector3(4, 1, -2).sub(pivot).normalize();
    expect(new Vector3().setFromMatrixColumn(rod, 0).normalize().distanceTo(to)).toBeLessThan(1e-9);
    // In the group's measure the rod is turned and sized, nothing else: its axes are square to each other.
    const own = three(evaluator.worldOf('prt_g')!).invert().multiply(rod);
    const axes = [0, 1, 2].map((i) => new Vector3().setFromMatrixColumn(own, i));
    expect(axes.map((axis) => axis.length())).toEqual(
      [1, 0.7, 1].map((size) => expect.closeTo(size, 9) as number),
    );
    expect(axes[0]!.dot(axes[1]!)).toBeCloseTo(0, 9);
    expect(axes[1]!.dot(axes[2]!)).toBeCloseTo(0, 9);
    // Up leans as little as the aim allows: world y, the direction and the part's up lie in one plane.
    const up = new Vector3().setFromMatrixColumn(rod, 1);
    expect(up.dot(to.clone().cross(new Vector3(0, 1, 0)))).toBeCloseTo(0, 9);
    expect(up.y).toBeGreaterThan(0);
  });
});

it('a per-copy link that reads the length of a path follows an edit of the path', () => {
  const shot = shotOf({
    prt_path: hub('Rail'),
    prt_1: hub('P1', { parent: 'prt_path', order: 0 }),
    prt_2: hub('P2', { parent: 'prt_path', order: 1, values: at(3, 0, 0) }),
    prt_f: hub('Cart', { follow: { path: 'prt_path', closed: false, turn: false } }),
    prt_r: hub('Row', { kind: 'repeat', repeat: { pattern: 'row', step: null }, values: { copies: 2 } }),
    prt_c: hub('Lamp', { parent: 'prt_r' }),
  });
  const linked = apply(shot, setLink(shot, 'prt_r/copy.location.y', 'index * pathlength(Cart)'));
  const evaluator = evaluated(linked);
  expect(evaluator.copiesOf('prt_c')!.matrices[MATRIX_SIZE + 7]).toBeCloseTo(3, 6);
  const change = setValues(linked, [['prt_2/location.x', 5]]);
  const edited = apply(linked, change);
  expect(
    evaluator.update(
      edited,
      change.patches.map(({ path }) => path),
    ),
  ).toBe(true);
  expect(evaluator.copiesOf('prt_c')!.matrices[MATRIX_SIZE + 7]).toBeCloseTo(5, 6);
});
