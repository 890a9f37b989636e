import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { blankShot, type Part, type Pin, type Shot } from '../document';
import { compile, Evaluator, Reference } from './index';

const DEG = Math.PI / 180;
const pinned = { formula: 'pinned', refs: {} };
const part = (name: string, values: Part['values'], found: 'all' | 'place' | 'none'): Part => ({
  kind: 'hub',
  name,
  parent: 'prt_hub',
  order: 0,
  rotationOrder: 'XYZ',
  shape: null,
  look: null,
  values,
  tracks: {},
  links: {
    ...(found !== 'none' ? { 'location.x': pinned, 'location.y': pinned } : {}),
    ...(found === 'all' ? { 'rotation.z': pinned } : {}),
  },
});
const pin = (
  a: string,
  at: [number, number],
  b: string | null,
  on: [number, number],
  drawn: Pin['drawn'],
): Pin => ({
  kind: 'pin',
  a,
  b,
  drawn,
  values: { 'at.x': at[0], 'at.y': at[1], 'on.x': on[0], 'on.y': on[1] },
  tracks: {},
  links: {},
});

/** Crank 0.3, coupler 0.95, rocker 0.6 on pivots 1 apart, in a hub that stands anywhere; drawn with the crank at 0. */
export function fourBarShot(): Shot {
  const blank = blankShot({ last: 49 });
  const B: [number, number] = [1.0375, 0.5988269784];
  const crank: [number, number, number] = [0, 0, 0];
  const coupler: [number, number, number] = [0.3, 0, Math.atan2(B[1], B[0] - 0.3) / DEG];
  const rocker: [number, number, number] = [1, 0, Math.atan2(B[1], B[0] - 1) / DEG];
  const ground: [number, number, number] = [0, 0, 0];
  return {
    ...blank,
    parts: {
      prt_hub: { ...part('Frame', { 'location.z': 2, 'rotation.y': 30 }, 'none'), parent: null },
      prt_crank: {
        ...part('Crank', {}, 'place'),
        tracks: {
          'rotation.z': {
            before: 'hold',
            after: 'hold',
            keys: {
              key_a: { frame: 1, value: 0, manner: 'linear' },
              key_b: { frame: 49, value: 720, manner: 'linear' },
            },
          },
        },
      },
      prt_coupler: part('Coupler', { 'pivot.x': 0.2, 'scale.x': 2 }, 'all'),
      prt_rocker: part('Rocker', {}, 'all'),
      prt_reader: {
        ...part('Reader', {}, 'none'),
        links: {
          'location.x': { formula: 'Rocker.rotation.z / 1deg * 1m', refs: { Rocker: 'prt_rocker' } },
          'location.y': {
            formula: 'delay(Rocker.rotation.z, 0.25s) / 1deg * 1m',
            refs: { Rocker: 'prt_rocker' },
          },
        },
      },
    },
    pins: {
      pin_a: pin('prt_crank', [0, 0], null, [0, 0], { a: crank, b: ground }),
      // The pivot of the coupler lies 0.2 in, and its own measure is drawn out to twice.
      pin_b: pin('prt_coupler', [0.2, 0], 'prt_crank', [0.3, 0], { a: coupler, b: crank }),
      pin_c: pin('prt_rocker', [0, 0], null, [1, 0], { a: rocker, b: ground }),
      pin_d: pin('prt_coupler', [0.2 + 0.95 / 2, 0], 'prt_rocker', [0.6, 0], { a: coupler, b: rocker }),
    },
  };
}

/** Rocker of the four-bar by Freudenstein's equation (Norton, Design of Machinery, chapter 4), the upper way. */
function rockerAt(angle: number): number {
  const [a, b, c, d] = [0.3, 0.95, 0.6, 1];
  const [k1, k2, k3] = [d / a, d / c, (a * a - b * b + c * c + d * d) / (2 * a * c)];
  const co = Math.cos(angle * DEG);
  const [A, B, C] = [co - k1 - k2 * co + k3, -2 * Math.sin(angle * DEG), k1 - (k2 + 1) * co + k3];
  return (2 * Math.atan2(-B - Math.sqrt(B * B - 4 * A * C), 2 * A)) / DEG;
}

describe('pinned parts in a shot', () => {
  const shot = fourBarShot();
  const evaluator = new Evaluator(compile(shot));

  it('the rocker follows the crank by Freudenstein, and what reads it does, too', () => {
    for (const frame of [1, 7, 20.5, 33, 49]) {
      evaluator.evaluate(frame);
      const turn = evaluator.number('prt_rocker/rotation.z');
      const expected = rockerAt((frame - 1) * 15);
      expect(Math.cos((turn - expected) * DEG)).toBeCloseTo(1, 12);
      expect(evaluator.number('prt_reader/location.x')).toBeCloseTo(turn, 9);
    }
    evaluator.evaluate(20);
    expect(Math.cos((evaluator.number('prt_reader/location.y') - rockerAt(13 * 15)) * DEG)).toBeCloseTo(
      1,
      10,
    );
  });

  it('pinned points lie on one another in the world', () => {
    evaluator.evaluate(12);
    const carried = (id: string, x: number, y: number): number[] => {
      const m = evaluator.worldOf(id)!;
      return [0, 4, 8].map((row) => m[row]! * x + m[row + 1]! * y + m[row + 3]!);
    };
    const [a, b] = [carried('prt_coupler', 0.675, 0), carried('prt_rocker', 0.6, 0)];
    a.forEach((x, i) => expect(x).toBeCloseTo(b[i]!, 12));
  });

  it('gives the same bits as the plain reference, whatever was asked before', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -100, max: 800 }), { minLength: 1, maxLength: 5 }), (frames) => {
        const fresh = new Evaluator(compile(shot));
        for (const quarter of frames) {
          fresh.evaluate(quarter / 4);
          const slow = new Reference(shot, quarter / 4);
          for (const id of ['prt_crank', 'prt_coupler', 'prt_rocker', 'prt_reader'])
            for (const path of ['location.x', 'location.y', 'rotation.z'])
              expect(fresh.number(`${id}/${path}`)).toBe(slow.value(`${id}/${path}`)[0]);
        }
      }),
      { numRuns: 15 },
    );
  });

  it('an edit of a pin, of a link or of a part gives what a fresh plan gives', () => {
    const edits: ((before: Shot) => { next: Shot; paths: string[][] })[] = [
      (before) => ({
        next: {
          ...before,
          pins: {
            ...before.pins,
            pin_d: { ...before.pins.pin_d!, values: { ...before.pins.pin_d!.values, 'at.x': 0.66 } },
          },
        },
        paths: [['pins', 'pin_d', 'values', 'at.x']],
      }),
      (before) => ({
        next: {
          ...before,
          parts: {
            ...before.parts,
            prt_rocker: {
              ...before.parts.prt_rocker!,
              links: {
                'location.x': pinned,
                'location.y': pinned,
                'rotation.z': { formula: '70deg', refs: {} },
              },
            },
          },
        },
        paths: [['parts', 'prt_rocker', 'links', 'rotation.z']],
      }),
      (before) => {
        const { pin_c: _, ...pins } = before.pins;
        return { next: { ...before, pins }, paths: [['pins', 'pin_c']] };
      },
      (before) => ({
        next: {
          ...before,
          parts: { ...before.parts, prt_coupler: { ...before.parts.prt_coupler!, parent: null } },
        },
        paths: [['parts', 'prt_coupler', 'parent']],
      }),
    ];
    for (const edit of edits) {
      const { next, paths } = edit(shot);
      const plan = compile(shot);
      const patched = new Evaluator(plan);
      patched.evaluate(9);
      const live = patched.update(next, paths) ? patched : new Evaluator(compile(next, {}, plan));
      live.evaluate(9);
      const fresh = new Evaluator(compile(next));
      fresh.evaluate(9);
      for (const id of ['prt_crank', 'prt_coupler', 'prt_rocker', 'prt_reader'])
        for (const path of ['location.x', 'location.y', 'rotation.z'])
          expect(live.number(`${id}/${path}`), `${id}/${path}`).toBe(fresh.number(`${id}/${path}`));
    }
  });

  it('says why, where pins cannot hold a part', () => {
    const errorOf = (next: Shot, address: string): string | undefined =>
      compile(next).linkOf.get(address)?.error?.message;
    expect(errorOf({ ...shot, pins: {} }, 'prt_rocker/location.x')).toMatch(/Nothing is pinned to Rocker/);
    const apart = {
      ...shot,
      parts: { ...shot.parts, prt_rocker: { ...shot.parts.prt_rocker!, parent: null } },
    };
    expect(errorOf(apart, 'prt_rocker/location.x')).toMatch(/do not hang from the same part/);
    const mixed = {
      ...shot,
      parts: {
        ...shot.parts,
        prt_rocker: {
          ...shot.parts.prt_rocker!,
          links: { 'rotation.z': { formula: 'pinned + 5deg', refs: {} } },
        },
      },
    };
    expect(errorOf(mixed, 'prt_rocker/rotation.z')).toMatch(/stands alone/);
  });
});
