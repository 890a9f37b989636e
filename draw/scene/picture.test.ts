import type { BufferAttribute, Mesh, MeshStandardMaterial, PerspectiveCamera } from 'three';
import { Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import type { Part, Shot } from '../../core/document';
import { apply, setLink, setValues } from '../../core/edit';
import { compile, Evaluator } from '../../core/evaluate';
import { emptyShot, hub } from '../../core/testing/random-shot';
import { Picture } from './picture';

const solid = (name: string, more: Partial<Part> = {}): Part => ({
  ...hub(name, more),
  kind: 'solid',
  shape: 'shp_a',
  look: 'lok_a',
});
const base: Shot = {
  ...emptyShot(),
  setup: { ...emptyShot().setup, camera: 'prt_c' },
  parts: {
    prt_c: { ...hub('Camera', { values: { 'location.z': 9, lens: 50 } }), kind: 'camera' },
    prt_s: { ...hub('Sun', { values: { 'rotation.x': -50 } }), kind: 'sun' },
    prt_a: solid('Box', { values: { 'location.x': 2 } }),
    prt_h: solid('Hidden', { values: { visible: 0 } }),
  },
  shapes: { shp_a: { kind: 'box', values: {}, tracks: {}, links: {} } },
  looks: {
    lok_a: { name: 'Paint', values: { colour: [0.5, 0.25, 1], roughness: 0.3 }, tracks: {}, links: {} },
  },
};

function drawn(shot: Shot, frame = 1): { picture: Picture; meshes: Mesh[] } {
  const plan = compile(shot);
  const evaluator = new Evaluator(plan);
  evaluator.evaluate(frame);
  const picture = new Picture();
  picture.setPlan(plan);
  picture.update(evaluator);
  return { picture, meshes: picture.pickable() };
}
const place = (mesh: Mesh): number[] => new Vector3().setFromMatrixPosition(mesh.matrixWorld).toArray();
const paint = (mesh: Mesh): MeshStandardMaterial => mesh.material as MeshStandardMaterial;

describe('picture', () => {
  it('puts solids where the evaluation puts them, with their look, and leaves hidden ones out', () => {
    const { meshes } = drawn(base);
    expect(meshes).toHaveLength(1);
    expect(place(meshes[0]!)).toEqual([2, 0, 0]);
    expect(paint(meshes[0]!).color.toArray()).toEqual([0.5, 0.25, 1]);
    expect(paint(meshes[0]!).roughness).toBe(0.3);
    expect(meshes[0]!.userData.part).toBe('prt_a');
  });
  it('puts new sizes into the geometry that is there; another number of sides makes another', () => {
    const shapes = (kind: 'box' | 'cylinder'): Shot['shapes'] => ({
      shp_a: {
        kind,
        values: {},
        tracks: {
          [kind === 'box' ? 'width' : 'sides']: {
            ...{ before: 'hold', after: 'hold' },
            keys: {
              key_a: { frame: 1, value: kind === 'box' ? 1 : 8, manner: 'linear' },
              key_b: { frame: 11, value: kind === 'box' ? 3 : 18, manner: 'linear' },
            },
          },
        },
        links: {},
      },
    });
    for (const kind of ['box', 'cylinder'] as const) {
      const plan = compile({ ...base, shapes: shapes(kind) });
      const [evaluator, fresh] = [new Evaluator(plan), new Evaluator(plan)];
      const [picture, other] = [new Picture(), new Picture()];
      for (const one of [picture, other]) one.setPlan(plan);
      evaluator.evaluate(1);
      picture.update(evaluator);
      const first = picture.pickable()[0]!.geometry;
      first.computeBoundingSphere();
      evaluator.evaluate(6);
      fresh.evaluate(6);
      picture.update(evaluator);
      other.update(fresh);
      const [now, wanted] = [picture, other].map((one) => one.pickable()[0]!.geometry);
      expect(now === first, kind).toBe(kind === 'box');
      for (const name of ['position', 'normal', 'uv'])
        expect(now!.getAttribute(name).array).toEqual(wanted!.getAttribute(name).array);
      expect(now!.getIndex()!.array).toEqual(wanted!.getIndex()!.array);
      for (const one of [now!, wanted!]) if (!one.boundingSphere) one.computeBoundingSphere();
      expect(now!.boundingSphere).toEqual(wanted!.boundingSphere);
    }
  });
  it('gives a round shape as many sides as its size in the picture asks for, each copy its own', () => {
    const shot: Shot = {
      ...base,
      parts: {
        prt_c: base.parts.prt_c!,
        prt_r: {
          ...hub('Row', { values: { copies: 2, gap: -40 } }),
          kind: 'repeat',
          repeat: { pattern: 'row', step: null },
          values: { copies: 2, gap: 1, 'rotation.y': 90 },
        },
        prt_a: solid('Ball', { parent: 'prt_r', values: { 'location.x': -5 } }),
      },
      shapes: { shp_a: { kind: 'ball', values: { radius: 0.2 }, tracks: {}, links: {} } },
    };
    const plan = compile(apply(shot, setValues(shot, [['prt_r/gap', 60]])));
    const evaluator = new Evaluator(plan);
    evaluator.evaluate(1);
    const picture = new Picture();
    picture.setPlan(plan);
    picture.update(evaluator);
    const count = (mesh: Mesh): number => mesh.geometry.index!.count / 3;
    const [near, far] = picture.pickable().sort((a, b) => place(b)[2]! - place(a)[2]!);
    const finest = count(near!);
    expect(count(far!)).toBe(finest);
    const camera = picture.shotCamera(evaluator, { aspect: 16 / 9 })! as PerspectiveCamera;
    picture.refine(camera, 720, 0.08);
    expect(count(far!)).toBeLessThan(finest / 3);
    expect(count(near!)).toBeGreaterThan(count(far!) * 1.5);
    // The same picture again asks for the same; a larger one for more; none for the finest.
    const before = [near!, far!].map((mesh) => mesh.geometry);
    picture.update(evaluator);
    picture.refine(camera, 720, 0.08);
    expect([near!, far!].map((mesh) => mesh.geometry)).toEqual(before);
    picture.refine(camera, 4320, 0.08);
    expect(count(far!)).toBeGreaterThan(finest / 3);
    picture.refine(camera, 720, 0);
    expect(count(far!)).toBe(finest);
  });
  it('works a geometry out anew only when a size has changed', () => {
    const plan = compile(apply(base, setLink(base, 'shp_a/width', '1m + floor(frame / 10) * 1m')));
    const evaluator = new Evaluator(plan);
    const picture = new Picture();
    picture.setPlan(plan);
    const widthAt = (frame: number): { width: number; worked: number } => {
      evaluator.evaluate(frame);
      picture.update(evaluator);
      const [mesh] = picture.pickable();
      mesh!.geometry.computeBoundingBox();
      const box = mesh!.geometry.boundingBox!;
      const { version } = mesh!.geometry.getAttribute('position') as BufferAttribute;
      return { width: box.max.x - box.min.x, worked: version };
    };
    const [one, same, other] = [widthAt(2), widthAt(3), widthAt(15)];
    expect([one.width, other.width]).toEqual([1, 2]);
    expect([one.worked, same.worked, other.worked]).toEqual([0, 0, 1]);
  });
  it('shows what hangs below a repeat once for each copy, with the copy look on top', () => {
    let shot: Shot = {
      ...base,
      parts: {
        ...base.parts,
        prt_r: {
          ...hub('Row', { values: { copies: 3, gap: 2 } }),
          kind: 'repeat',
          repeat: { pattern: 'row', step: null },
        },
        prt_b: solid('Ball', { parent: 'prt_r' }),
      },
    };
    shot = apply(shot, setLink(shot, 'prt_r/copy.red', '1 - index / 2'));
    shot = apply(shot, setLink(shot, 'prt_r/copy.opacity', 'if(index == 1, 0.5, 1)'));
    const { meshes } = drawn(shot);
    const copies = meshes.filter((mesh) => mesh.userData.part === 'prt_b');
    expect(copies.map(place)).toEqual([
      [0, 0, 0],
      [2, 0, 0],
      [4, 0, 0],
    ]);
    expect(copies.map((mesh) => paint(mesh).color.r)).toEqual([0.5, 0.25, 0]);
    expect(copies.map((mesh) => paint(mesh).opacity)).toEqual([1, 0.5, 1]);
    // A copy that is like its look shares the material; the others do not.
    expect(paint(copies[0]!)).toBe(paint(meshes.find((mesh) => mesh.userData.part === 'prt_a')!));
    const fewer = drawn(apply(shot, setValues(shot, [['prt_r/copies', 1]])));
    expect(fewer.meshes.filter((mesh) => mesh.userData.part === 'prt_b')).toHaveLength(1);
  });
  it('takes the camera of the shot: 50 mm on 36 mm film see 39.6 degrees across', () => {
    const plan = compile(base);
    const evaluator = new Evaluator(plan);
    evaluator.evaluate(1);
    const picture = new Picture();
    picture.setPlan(plan);
    picture.update(evaluator);
    const camera = picture.shotCamera(evaluator, { aspect: 16 / 9 })! as PerspectiveCamera;
    const across = (2 * Math.atan(Math.tan((camera.fov * Math.PI) / 360) * camera.aspect) * 180) / Math.PI;
    expect(across).toBeCloseTo(39.59775271, 5);
    expect(camera.position.toArray()).toEqual([0, 0, 9]);
  });
});
