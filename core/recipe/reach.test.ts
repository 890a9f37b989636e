import { describe, expect, it } from 'vitest';
import type { Part, Shot } from '../document';
import { apply, setValues } from '../edit';
import { compile, Evaluator } from '../evaluate';
import { invert, transformPoint } from '../transform';
import { emptyShot, hub } from '../testing/random-shot';
import { applyRecipe, RECIPES, type Roles, type Settings } from './index';

/** A puppet's arm on a turned body: pivots, rests and a bone that does not lie along x; a ball that it reaches for. */
const puppet: Shot = {
  ...emptyShot(),
  parts: {
    prt_b: hub('Body', { values: { 'location.x': 3, 'location.y': 1, 'rotation.z': 25, 'rotation.y': 40 } }),
    prt_u: hub('Upper arm', {
      parent: 'prt_b',
      values: {
        'location.x': 0.2,
        'location.y': 0.6,
        'pivot.x': 0.05,
        'pivot.y': -0.1,
        'rest.z': 15,
        'scale.x': 2,
        'scale.y': 2,
      },
    }),
    prt_l: hub('Lower arm', {
      parent: 'prt_u',
      values: { 'location.x': 0.4, 'location.y': -0.2, 'pivot.x': 0.02, 'rest.z': -30 },
    }),
    prt_h: hub('Hand', {
      parent: 'prt_l',
      values: { 'location.x': 0.1, 'location.y': 0.5, 'pivot.y': 0.03 },
    }),
    prt_t: hub('Ball', { parent: 'prt_b', values: { 'pivot.x': -0.07 } }),
    prt_o: hub('Oar'),
  },
  dials: {
    dia_s: { name: 'grip', quantity: 'none', min: 0, max: 1, values: { value: 1 }, tracks: {}, links: {} },
  },
};
const ROLES: Roles = { upper: 'prt_u/rotation.z', lower: 'prt_l/rotation.z', end: 'prt_h', target: 'prt_t' };

const made = (settings: Settings = {}, roles: Roles = ROLES, shot = puppet): Shot =>
  apply(shot, applyRecipe(shot, RECIPES.get('reach')!, roles, settings).change);

const changed = (id: string, more: Partial<Part>): Shot => ({
  ...puppet,
  parts: { ...puppet.parts, [id]: { ...puppet.parts[id]!, ...more } },
});

function pivotOf(evaluator: Evaluator, id: string): number[] {
  const at = ['x', 'y', 'z'].map((axis) => evaluator.number(`${id}/pivot.${axis}`));
  return [...transformPoint(evaluator.worldOf(id)!, at[0]!, at[1]!, at[2]!)];
}

describe('two bones that reach', () => {
  it.each([false, true])('come to their target wherever it is within reach, on one side: %s', (right) => {
    const shot = made({ right });
    for (const [x, y] of [
      [1.2, 0.9],
      [-0.8, 0.4],
      [0.3, -0.7],
      [0.9, 1.4],
    ] as const) {
      const at = apply(
        shot,
        setValues(shot, [
          ['prt_t/location.x', x],
          ['prt_t/location.y', y],
        ]),
      );
      const evaluator = new Evaluator(compile(at));
      evaluator.evaluate(1);
      const [hand, ball, elbow, root] = ['prt_h', 'prt_t', 'prt_l', 'prt_u'].map((id) =>
        pivotOf(evaluator, id),
      );
      hand!.forEach((value, k) => expect(value).toBeCloseTo(ball![k]!, 9));
      // The elbow is on the left of the way to the target, seen along the body's z.
      const m = evaluator.worldOf('prt_b')!;
      const inBody = (point: number[]): [number, number] => {
        const d = point.map((value, k) => value - m[k * 4 + 3]!);
        const along = (column: number): number =>
          d[0]! * m[column]! + d[1]! * m[4 + column]! + d[2]! * m[8 + column]!;
        return [along(0), along(1)];
      };
      const [r, e, t] = [inBody(root!), inBody(elbow!), inBody(ball!)];
      const side = (t[0] - r[0]) * (e[1] - r[1]) - (t[1] - r[1]) * (e[0] - r[0]);
      expect(Math.sign(side)).toBe(right ? -1 : 1);
    }
  });

  it('come to a target that hangs elsewhere, as it is seen along the axis of the bones', () => {
    const body = new Evaluator(compile(puppet));
    body.evaluate(1);
    const m = body.worldOf('prt_b')!;
    for (const parent of [null, 'prt_q']) {
      const quay = hub('Quay', {
        values: { 'location.x': -2, 'location.z': 1, 'rotation.y': 70, 'scale.z': 2 },
      });
      const set: Shot = {
        ...puppet,
        parts: { ...puppet.parts, prt_q: quay, prt_o: { ...puppet.parts.prt_o!, parent } },
      };
      const shot = made({}, { ...ROLES, target: 'prt_o' }, set);
      const hung = new Evaluator(compile(set));
      hung.evaluate(1);
      const frame = parent === null ? null : invert(hung.worldOf(parent)!);
      for (const [x, y, z] of [
        [1.2, 0.9, 0],
        [-0.8, 0.4, 3],
        [0.3, -0.7, -1],
      ] as const) {
        const world = transformPoint(m, x, y, z);
        const place = frame ? transformPoint(frame, ...world) : world;
        const at = apply(
          shot,
          setValues(
            shot,
            ['x', 'y', 'z'].map((axis, k) => [`prt_o/location.${axis}`, place[k]!] as const),
          ),
        );
        const evaluator = new Evaluator(compile(at));
        evaluator.evaluate(1);
        expect(evaluator.hasFailed('prt_u/rotation.z')).toBe(false);
        const hand = transformPoint(invert(m)!, ...(pivotOf(evaluator, 'prt_h') as [number, number, number]));
        expect(hand[0]).toBeCloseTo(x, 9);
        expect(hand[1]).toBeCloseTo(y, 9);
      }
    }
  });

  it('reach by a share, from what they do of their own', () => {
    const roles = { ...ROLES, share: 'dia_s/value' };
    const shot = made({}, roles);
    const turnAt = (share: number): number => {
      const evaluator = new Evaluator(compile(apply(shot, setValues(shot, [['dia_s/value', share]]))));
      evaluator.evaluate(1);
      return evaluator.number('prt_u/rotation.z');
    };
    const own = 12;
    const set = made(
      {},
      roles,
      changed('prt_u', { values: { ...puppet.parts.prt_u!.values, 'rotation.z': own } }),
    );
    const evaluator = new Evaluator(compile(apply(set, setValues(set, [['dia_s/value', 0.5]]))));
    evaluator.evaluate(1);
    expect(turnAt(0)).toBe(0);
    expect(evaluator.number('prt_u/rotation.z')).toBeCloseTo((own + turnAt(1)) / 2, 9);
  });

  it('are refused where they could not hold, with the cure', () => {
    const keyed = {
      'location.x': {
        before: 'hold',
        after: 'hold',
        keys: { key_a: { frame: 1, value: 1, manner: 'linear' } },
      },
    } as const;
    const values = (id: string, more: Part['values']): Part['values'] => ({
      ...puppet.parts[id]!.values,
      ...more,
    });
    expect(() => made({}, { ...ROLES, end: 'prt_o' })).toThrow('Oar has to hang from "Lower arm"');
    expect(() => made({}, { ...ROLES, target: 'prt_h' })).toThrow('Hand hangs from the arm itself');
    expect(() => made({}, ROLES, changed('prt_l', { tracks: keyed }))).toThrow(
      'location.x is keyed or linked',
    );
    expect(() => made({}, ROLES, changed('prt_u', { values: values('prt_u', { 'rotation.x': 5 }) }))).toThrow(
      'is turned about x',
    );
    expect(() => made({}, ROLES, changed('prt_u', { values: values('prt_u', { 'scale.y': 3 }) }))).toThrow(
      '2 times as long and 3 times as high',
    );
    expect(() => made({}, { ...ROLES, upper: 'prt_u/rotation.y' })).toThrow('turned by a rotation.z');
  });
});
