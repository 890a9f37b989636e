import { DirectionalLight, PointLight, type Mesh } from 'three';
import { describe, expect, it } from 'vitest';
import type { Inset, Link, Part, Shot } from '../../core/document';
import { compile, Evaluator, type Plan } from '../../core/evaluate';
import { emptyShot, hub } from '../../core/testing/random-shot';
import { Picture } from './picture';

const A = '00000000-0000-4000-8000-00000000000a';
const B = '00000000-0000-4000-8000-00000000000b';

const link = (formula: string, refs: Record<string, string> = {}): Link => ({ formula, refs });
const solid = (name: string, more: Partial<Part> = {}): Part => ({
  ...hub(name, more),
  kind: 'solid',
  shape: 'shp_a',
  look: 'lok_a',
});

/** A wheel that turns by a formula, a key-driven bob below it, and a row of three below a repeat. */
const INNER: Shot = {
  ...emptyShot(),
  setup: { ...emptyShot().setup, first: 1, last: 48 },
  parts: {
    prt_w: solid('Wheel', { values: { 'location.y': 1 }, links: { 'rotation.z': link('frame * 7deg') } }),
    prt_b: solid('Bob', {
      parent: 'prt_w',
      values: { 'location.x': 2 },
      tracks: {
        'location.y': {
          before: 'hold',
          after: 'hold',
          keys: {
            key_a: { frame: 1, value: 0, manner: 'curve' },
            key_b: { frame: 30, value: 3, manner: 'curve' },
          },
        },
      },
      links: { 'scale.x': link('1 + Wheel.rotation.z / 360deg', { Wheel: 'prt_w' }) },
    }),
    prt_r: {
      ...hub('Row', { values: { copies: 3, gap: 0.5 } }),
      kind: 'repeat',
      repeat: { pattern: 'row', step: null },
    },
    prt_c: solid('Crate', { parent: 'prt_r' }),
    prt_l: { ...hub('Lamp', { values: { 'location.y': 4 } }), kind: 'point' },
  },
  shapes: { shp_a: { kind: 'box', values: {}, tracks: {}, links: {} } },
  looks: { lok_a: { name: 'Paint', values: {}, tracks: {}, links: {} } },
};

const PLACE = { 'location.x': 5, 'rotation.y': 30, 'scale.y': 2 };
const inset = (more: Partial<Inset> = {}): Inset => ({
  shot: A,
  name: 'Inner',
  start: 1,
  speed: 1,
  plays: 'hold',
  until: null,
  ...more,
});
const host = (more: Partial<Inset> = {}, part: Partial<Part> = {}): Shot => ({
  ...emptyShot(),
  parts: { prt_s: { ...hub('Stage', { values: PLACE }), kind: 'shot', inset: inset(more), ...part } },
});
/** The same parts copied in below a hub that stands where the inner shot does. */
const copiedIn: Shot = {
  ...INNER,
  parts: {
    prt_h: hub('Stage', { values: PLACE }),
    ...Object.fromEntries(
      Object.entries(INNER.parts).map(([id, part]) => [id, { ...part, parent: part.parent ?? 'prt_h' }]),
    ),
  },
};

function drawn(shot: Shot, plans: Readonly<Record<string, Plan>> = { [A]: compile(INNER) }) {
  const plan = compile(shot);
  const evaluator = new Evaluator(plan);
  const picture = new Picture();
  picture.setInner((id) => plans[id] ?? null);
  picture.setPlan(plan);
  return {
    picture,
    at(frame: number): Mesh[] {
      evaluator.evaluate(frame);
      picture.update(evaluator);
      return picture.pickable();
    },
  };
}
const places = (meshes: readonly Mesh[]): number[][] => meshes.map((mesh) => mesh.matrixWorld.toArray());

function expectNear(found: readonly number[][], wanted: readonly number[][]): void {
  expect(found).toHaveLength(wanted.length);
  found.forEach((matrix, i) => matrix.forEach((value, k) => expect(value).toBeCloseTo(wanted[i]![k]!, 5)));
}

describe('a shot in a shot', () => {
  it('is drawn where its parts would be, copied in: keys, links, repeats and all', () => {
    const [inner, copies] = [drawn(host()), drawn(copiedIn)];
    for (let frame = 1; frame <= 48; frame += 3.5)
      expectNear(places(inner.at(frame)), places(copies.at(frame)));
  });

  it('keeps its own time: later, faster, over and over, and not at all before it begins', () => {
    const shown = drawn(host({ start: 20, speed: 2, plays: 'loop' }));
    const copies = drawn(copiedIn);
    expect(shown.at(19)).toEqual([]);
    expectNear(places(shown.at(20)), places(copies.at(1)));
    expectNear(places(shown.at(30)), places(copies.at(21)));
    expectNear(places(shown.at(20 + 24 + 5)), places(copies.at(11)));
  });

  it('is taken for the part that shows it, and fades with that', () => {
    const meshes = drawn(host({}, { values: { ...PLACE, opacity: 0.25 } })).at(5);
    expect(meshes.map((mesh) => mesh.userData.part as string)).toEqual(Array(5).fill('prt_s'));
    for (const mesh of meshes) expect(mesh.material).toMatchObject({ opacity: 0.25, transparent: true });
  });

  it('shines only where it is asked to', () => {
    const lamps = (more: Partial<Inset>) => {
      const shown = drawn(host(more));
      shown.at(5);
      const found: { on: boolean; y: number }[] = [];
      shown.picture.scene.traverse((object) => {
        if (object instanceof PointLight || object instanceof DirectionalLight)
          found.push({ on: object.visible, y: object.matrixWorld.elements[13] });
      });
      return found;
    };
    expect(lamps({})).toEqual([{ on: false, y: 8 }]);
    expect(lamps({ lights: true })).toEqual([{ on: true, y: 8 }]);
  });

  it('stands once for each copy of a repeat, and inside another shot', () => {
    const row: Shot = {
      ...host({}, { parent: 'prt_r', values: {} }),
      parts: {
        prt_r: {
          ...hub('Row', { values: { copies: 2, gap: 3 } }),
          kind: 'repeat',
          repeat: { pattern: 'row', step: null },
        },
        ...host({}, { parent: 'prt_r', values: {} }).parts,
      },
    };
    const meshes = drawn(row).at(5);
    expect(meshes).toHaveLength(10);
    const [one, two] = [places(meshes.slice(0, 5)), places(meshes.slice(5))];
    one.forEach((matrix, i) => expect(two[i]![12]! - matrix[12]!).toBeCloseTo(3, 6));
    const outer = drawn(host({ shot: B }), { [A]: compile(INNER), [B]: compile(host({}, { values: {} })) });
    expectNear(places(outer.at(9)), places(drawn(copiedIn).at(9)));
  });

  it('that would contain itself, or is gone, draws nothing', () => {
    const itself = drawn(host(), { [A]: compile(host()) });
    expect(itself.at(5)).toEqual([]);
    expect(drawn(host({ shot: B })).at(5)).toEqual([]);
  });
});
