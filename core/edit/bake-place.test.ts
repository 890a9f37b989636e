import { Euler, Matrix4, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { checkStructure, type Part, type Shot } from '../document';
import { compile, Evaluator, MATRIX_SIZE } from '../evaluate';
import { emptyShot, hub } from '../testing/random-shot';
import { apply, bakePlaces, EditRefused, invert, setLink, unpackCopies, type Change } from './index';

const at = (x: number, y: number, z: number): Part['values'] => ({
  'location.x': x,
  'location.y': y,
  'location.z': z,
});
const run = (to: number) => ({
  before: 'hold' as const,
  after: 'hold' as const,
  keys: {
    key_a: { frame: 1, value: -4, manner: 'linear' as const },
    key_b: { frame: 25, value: to, manner: 'linear' as const },
  },
});
const shotOf = (parts: Record<string, Part>): Shot => ({ ...emptyShot(), parts });

/** Makes a change and holds that it leaves a sound document and is undone exactly. */
function make(shot: Shot, change: Change): Shot {
  const after = apply(shot, change);
  expect(checkStructure(after)).toEqual([]);
  expect(apply(after, invert(change))).toEqual(shot);
  return after;
}

function evaluated(shot: Shot, frame: number): Evaluator {
  const evaluator = new Evaluator(compile(shot));
  evaluator.evaluate(frame);
  return evaluator;
}

describe('baking where parts are', () => {
  const lantern = hub('Lantern', { tracks: { 'location.x': run(6) }, values: at(0, 2, 5) });
  const lamp = hub('Lamp', {
    parent: 'prt_m',
    values: { ...at(1, 0.5, 0), 'pivot.y': 0.3, 'rotation.x': 20 },
    aim: { target: 'prt_t', axis: 'z', up: 'y' },
  });
  const shot = shotOf({
    prt_t: lantern,
    prt_m: hub('Mast', { values: { ...at(0, 3, 0), 'rotation.y': 40 } }),
    prt_l: lamp,
    prt_b: hub('Bracket', { parent: 'prt_l', values: at(0, 0, 1) }),
  });
  it('turns a part that faces another as it did, with keys of its own, and what hangs below it goes along', () => {
    const { change, error } = bakePlaces(shot, compile(shot), ['prt_l'], 1, 25);
    const after = make(shot, change);
    expect(after.parts.prt_l!.aim).toBeUndefined();
    for (const frame of [1, 7, 13, 25])
      for (const id of ['prt_l', 'prt_b']) {
        const [a, b] = [evaluated(shot, frame).worldOf(id)!, evaluated(after, frame).worldOf(id)!];
        for (let i = 0; i < MATRIX_SIZE; i++) expect(b[i], `${id} at ${frame}`).toBeCloseTo(a[i]!, 9);
      }
    // Between whole frames it is straight from key to key: off by what a sixth of a metre's turn allows.
    expect(error).toBeGreaterThan(0);
    expect(error).toBeLessThan(1e-3);
    // Its size stands still: that is no key.
    expect(after.parts.prt_l!.tracks['scale.x']).toBeUndefined();
  });
  it('looks at the target at every baked frame, by three.js', () => {
    const after = make(shot, bakePlaces(shot, compile(shot), ['prt_l'], 1, 25).change);
    for (const frame of [1, 10, 25]) {
      const now = evaluated(after, frame);
      const value = (path: string): number => now.number(`prt_l/${path}`);
      const pivot = new Vector3(0, 0.3, 0);
      const mast = new Matrix4()
        .makeTranslation(0, 3, 0)
        .multiply(new Matrix4().makeRotationY((40 * Math.PI) / 180));
      const rad = (path: string): number => (value(path) * Math.PI) / 180;
      const turn = new Matrix4().makeRotationFromEuler(
        new Euler(rad('rotation.x'), rad('rotation.y'), rad('rotation.z'), 'XYZ'),
      );
      const from = new Vector3(value('location.x'), value('location.y'), value('location.z'))
        .add(pivot)
        .applyMatrix4(mast);
      const target = new Vector3(now.number('prt_t/location.x'), 2, 5);
      // Its own turn of 20 degrees about x comes before the aim.
      const axis = new Vector3(0, 0, 1)
        .applyAxisAngle(new Vector3(1, 0, 0), (-20 * Math.PI) / 180)
        .transformDirection(turn)
        .transformDirection(mast);
      expect(axis.angleTo(target.sub(from))).toBeLessThan(1e-6);
    }
  });
  it('takes a part off its path where it was on it', () => {
    const onPath = shotOf({
      prt_p: hub('Path'),
      prt_1: hub('1', { parent: 'prt_p', values: at(0, 0, 0), order: 1 }),
      prt_2: hub('2', { parent: 'prt_p', values: at(3, 1, 0), order: 2 }),
      prt_3: hub('3', { parent: 'prt_p', values: at(5, 0, 4), order: 3 }),
      prt_c: hub('Cart', {
        follow: { path: 'prt_p', closed: false, turn: true },
        values: { along: 0 },
        tracks: {
          along: {
            before: 'hold',
            after: 'hold',
            keys: {
              key_a: { frame: 1, value: 0, manner: 'linear' },
              key_b: { frame: 25, value: 1, manner: 'linear' },
            },
          },
        },
      }),
    });
    const after = make(onPath, bakePlaces(onPath, compile(onPath), ['prt_c'], 1, 25).change);
    expect(after.parts.prt_c!.follow).toBeUndefined();
    expect(after.parts.prt_c!.tracks.along).toBeUndefined();
    for (const frame of [1, 9, 25]) {
      const [a, b] = [evaluated(onPath, frame).worldOf('prt_c')!, evaluated(after, frame).worldOf('prt_c')!];
      for (let i = 0; i < MATRIX_SIZE; i++) expect(b[i]).toBeCloseTo(a[i]!, 9);
    }
  });
  it('says why it cannot', () => {
    const none = (): unknown => bakePlaces(shot, compile(shot), ['prt_m'], 1, 25);
    expect(none).toThrow(/faces another/);
    expect(() => bakePlaces(shot, compile(shot), ['prt_l'], 5, 5)).toThrow(EditRefused);
    const copied = shotOf({
      ...shot.parts,
      prt_m: hub('Mast', { kind: 'repeat', repeat: { pattern: 'row', step: null } }),
    });
    expect(() => bakePlaces(copied, compile(copied), ['prt_l'], 1, 25)).toThrow(/shown in copies/);
  });
});

describe('copies that become parts', () => {
  const ring = shotOf({
    prt_r: hub('Ring', {
      kind: 'repeat',
      repeat: { pattern: 'ring', step: null },
      values: { copies: 4, gap: 2, 'rotation.x': 15 },
      tracks: { 'rotation.y': run(80) },
    }),
    prt_a: hub('Arm', { parent: 'prt_r', values: at(0.5, 0, 0), tracks: { 'rotation.z': run(30) } }),
    prt_g: hub('Gondola', { parent: 'prt_a', values: at(0, -1, 0) }),
  });
  const waved = apply(
    ring,
    setLink(ring, 'prt_r/copy.location.y', 'sin(frame * 10deg + index * 90deg) * 1m'),
  );
  it('stand where the copies stood at every baked frame, to 1e-9', () => {
    const made = unpackCopies(waved, 'prt_r', 1, 25);
    const after = make(waved, made.change);
    expect(made.ids).toHaveLength(4);
    expect(after.parts.prt_r!.kind).toBe('hub');
    const gondolas = made.ids.map((top) => {
      const arm = Object.keys(after.parts).find((id) => after.parts[id]!.parent === top)!;
      return Object.keys(after.parts).find((id) => after.parts[id]!.parent === arm)!;
    });
    // The first copy is the part itself: what reads it goes on reading it.
    expect(gondolas[0]).toBe('prt_g');
    for (const frame of [1, 12, 25]) {
      const { matrices, count } = evaluated(waved, frame).copiesOf('prt_g')!;
      expect(count).toBe(4);
      const now = evaluated(after, frame);
      gondolas.forEach((id, k) => {
        const world = now.worldOf(id)!;
        for (let i = 0; i < MATRIX_SIZE; i++)
          expect(world[i], `copy ${k} at ${frame}`).toBeCloseTo(matrices[k * MATRIX_SIZE + i]!, 9);
      });
    }
  });
  it('appear with the count, and take their looks along', () => {
    const lamps = shotOf({
      prt_r: hub('Row', {
        kind: 'repeat',
        repeat: { pattern: 'row', step: null },
        values: { copies: 3, gap: 1, 'copy.glow': 2 },
        tracks: {
          copies: {
            before: 'hold',
            after: 'hold',
            keys: {
              key_a: { frame: 1, value: 1, manner: 'hold' },
              key_b: { frame: 10, value: 3, manner: 'hold' },
            },
          },
        },
      }),
      prt_l: hub('Lamp', {
        kind: 'solid',
        parent: 'prt_r',
        look: 'lok_l',
        shape: 'shp_l',
        values: { opacity: 0.8 },
      }),
    });
    const shot: Shot = {
      ...lamps,
      shapes: { shp_l: { kind: 'ball', values: {}, tracks: {}, links: {} } },
      looks: {
        lok_l: { name: 'Glass', values: { glow: 0.5, colour: [0.2, 0.4, 0.6] }, tracks: {}, links: {} },
      },
    };
    const linked = apply(shot, setLink(shot, 'prt_r/copy.opacity', '1 - index / 4'));
    const made = unpackCopies(linked, 'prt_r', 1, 25);
    const after = make(linked, made.change);
    const [early, late] = [evaluated(after, 5), evaluated(after, 20)];
    expect(made.ids.map((id) => early.number(`${id}/visible`))).toEqual([1, 0, 0]);
    expect(made.ids.map((id) => late.number(`${id}/visible`))).toEqual([1, 1, 1]);
    made.ids.forEach((top, k) => {
      const lamp = Object.keys(after.parts).find((id) => after.parts[id]!.parent === top)!;
      const { look } = after.parts[lamp]!;
      expect(late.number(`${look}/glow`)).toBeCloseTo(2.5, 12);
      expect(late.number(`${lamp}/opacity`)).toBeCloseTo(0.8 * (1 - k / 4), 12);
    });
    // The look that others may use stays as it was.
    expect(after.looks.lok_l).toEqual(shot.looks.lok_l);
  });
  it('are refused where they cannot be parts', () => {
    expect(() => unpackCopies(ring, 'prt_a', 1, 25)).toThrow(/Choose a repeat/);
    const many = apply(ring, {
      label: '',
      patches: [{ path: ['parts', 'prt_r', 'values', 'copies'], before: 4, after: 1000 }],
    });
    expect(() => unpackCopies(many, 'prt_r', 1, 25)).toThrow(/at most 2000/);
    const read = apply(ring, setLink(ring, 'prt_g/location.z', 'Ring.copies * 1m'));
    expect(() => unpackCopies(read, 'prt_r', 1, 25)).toThrow(/"copies" of "Ring"/);
  });
});
