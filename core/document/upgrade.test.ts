import { describe, expect, it } from 'vitest';
import { compile, Evaluator } from '../evaluate';
import { blankShot, parseShot, upgraded, type Shot } from './index';

const open = (json: unknown): Shot => {
  const parsed = parseShot(json);
  if (!parsed.ok) throw new Error(JSON.stringify(parsed.problems));
  return parsed.shot;
};
const part = (name: string, shape: string): unknown => ({
  kind: 'solid',
  name,
  parent: null,
  order: 0,
  rotationOrder: 'XYZ',
  shape,
  look: 'lok_a',
  values: {},
  tracks: {},
  links: {},
});

/** A shot as version 2 wrote it, with every way in which a top radius could be given. */
const written = {
  ...blankShot(),
  version: 2,
  parts: {
    prt_a: part('Post', 'shp_a'),
    prt_b: part('Crown wheel', 'shp_b'),
    prt_c: {
      ...(part('Reader', 'shp_c') as object),
      links: {
        'location.y': {
          formula: '"Crown wheel".topRadius + Post.topRadius',
          refs: { 'Crown wheel': 'prt_b', Post: 'prt_a' },
        },
      },
    },
    prt_d: part('Plain', 'shp_d'),
    prt_e: part('Hat', 'shp_e'),
    prt_f: part('Funnel', 'shp_f'),
  },
  looks: { lok_a: { name: 'Paint', values: {}, tracks: {}, links: {} } },
  shapes: {
    shp_a: { kind: 'cylinder', values: { radius: 0.4, topRadius: 0.1 }, tracks: {}, links: {} },
    shp_b: {
      kind: 'cone',
      values: { radius: 2 },
      tracks: {
        topRadius: {
          before: 'hold',
          after: 'hold',
          keys: {
            key_a: { frame: 1, value: 1, manner: 'curve', right: { reach: 4, rise: 0.5 } },
            key_b: { frame: 11, value: 3, manner: 'linear' },
          },
        },
      },
      links: {},
    },
    shp_c: {
      kind: 'cylinder',
      values: { radius: 1 },
      tracks: {},
      links: { topRadius: { formula: 'frame * 10cm', refs: {} } },
    },
    shp_d: { kind: 'cylinder', values: { radius: 0.2 }, tracks: {}, links: {} },
    shp_e: { kind: 'cone', values: { radius: 0.2 }, tracks: {}, links: {} },
    shp_f: { kind: 'cone', values: { radius: 0, topRadius: 0.5 }, tracks: {}, links: {} },
  },
};

describe('version 3: the top of a cylinder is a share of its radius', () => {
  const shot = open(JSON.parse(JSON.stringify(written)));
  const evaluator = new Evaluator(compile(shot));
  const top = (shape: string): number =>
    evaluator.number(`${shape}/top`) * evaluator.number(`${shape}/radius`);
  it('every top is as wide as it was, at every frame', () => {
    // What version 2 showed: keys and values as lengths of their own; half a metre where a cylinder had none.
    for (const [frame, b] of [
      [1, 1],
      [11, 3],
    ] as const) {
      evaluator.evaluate(frame);
      expect(top('shp_a')).toBeCloseTo(0.1, 12);
      expect(top('shp_b')).toBeCloseTo(b, 12);
      expect(top('shp_c')).toBeCloseTo(frame * 0.1, 12);
      expect(top('shp_d')).toBeCloseTo(0.5, 12);
      expect(top('shp_e')).toBe(0);
      expect(top('shp_f')).toBeCloseTo(0.5, 12);
      expect(evaluator.number('prt_c/location.y')).toBeCloseTo(b + 0.1, 12);
    }
    expect(shot.shapes.shp_b!.tracks.top!.keys.key_a!.right).toEqual({ reach: 4, rise: 0.25 });
    expect(compile(shot).links.map((link) => link.error)).toEqual([null, null]);
  });
  it('a wider radius makes a wider top', () => {
    const wider = new Evaluator(
      compile({
        ...shot,
        shapes: {
          ...shot.shapes,
          shp_a: { ...shot.shapes.shp_a!, values: { ...shot.shapes.shp_a!.values, radius: 0.8 } },
        },
      }),
    );
    wider.evaluate(1);
    expect(wider.number('shp_a/radius') * wider.number('shp_a/top')).toBeCloseTo(0.2, 12);
  });
  it('passes over what is no document', () => {
    for (const odd of [
      null,
      3,
      [],
      { version: 2 },
      { version: 2, shapes: 7, parts: null },
      { version: 2, shapes: { shp_a: 1 } },
    ])
      expect(() => upgraded(odd)).not.toThrow();
    expect(open({ ...blankShot(), version: 2 }).version).toBe(6);
    const { trays: _trays, markers: _markers, ...first } = blankShot();
    expect(open({ ...first, version: 1 }).version).toBe(6);
  });
});

it('version 4: a sound has a level', () => {
  const old = { ...blankShot(), version: 3, sounds: { snd_o: { name: 'Organ', start: 4 } } };
  const read = parseShot(old);
  expect(read.ok && read.shot.sounds.snd_o).toEqual({
    name: 'Organ',
    start: 4,
    values: {},
    tracks: {},
    links: {},
  });
});
