import { describe, expect, it } from 'vitest';
import type { Part, Shot } from '../../../core/document';
import { compile } from '../../../core/evaluate';
import { emptyShot, hub } from '../../../core/testing/random-shot';
import { laneCurves, lanesOf } from './lanes';

const linear = (...rows: [number, number | [number, number, number]][]): Part['tracks'][string] => ({
  before: 'hold',
  after: 'hold',
  keys: Object.fromEntries(
    rows.map(([frame, value], i) => [`key_${i}`, { frame, value, manner: 'linear' as const }]),
  ),
});
const shot: Shot = {
  ...emptyShot(),
  parts: {
    prt_b: {
      ...hub('Boat', { order: 1, tracks: { 'location.y': linear([1, 2], [25, 4]) } }),
      kind: 'solid',
      shape: 'shp_a',
      look: 'lok_a',
    },
    prt_a: hub('Crank', { order: 0, links: { 'rotation.z': { formula: 'time * 90deg / 1s', refs: {} } } }),
    prt_c: { ...hub('Second boat', { order: 2 }), kind: 'solid', shape: 'shp_a', look: 'lok_a' },
  },
  shapes: { shp_a: { kind: 'box', values: {}, tracks: { width: linear([5, 1]) }, links: {} } },
  looks: {
    lok_a: {
      name: 'Hull paint',
      values: {},
      tracks: { colour: linear([1, [1, 0, 0]], [48, [0, 0, 1]]) },
      links: {},
    },
  },
  dials: {
    dia_s: {
      name: 'speed',
      quantity: 'none',
      min: 0,
      max: 9,
      values: {},
      tracks: { value: linear([1, 3]) },
      links: {},
    },
  },
};

describe('lanes', () => {
  const lanes = lanesOf(shot);
  it('every channel that is keyed or linked has one, whatever it belongs to, in the order of the tree', () => {
    expect(lanes.map((lane) => lane.name)).toEqual([
      'Crank · rotation Z',
      'Boat · location Y',
      'Boat · width',
      'Hull paint · colour',
      'speed · value',
    ]);
    expect(lanes.map((lane) => lane.linked)).toEqual([true, false, false, false, false]);
    expect(lanes.map((lane) => lane.part)).toEqual(['prt_a', 'prt_b', 'prt_b', 'prt_b', null]);
    expect(lanes[1]!.keys.map((key) => key.frame)).toEqual([1, 25]);
  });
  it('curves fill their height, colours are colours, what never changes lies in the middle', () => {
    const curves = laneCurves(compile(shot), lanes);
    const { shares } = curves.get('prt_b/location.y')!;
    expect([shares![0], Math.max(...shares!)]).toEqual([0, 1]);
    expect(shares![24]).toBeCloseTo(0.5, 6);
    expect(new Set(curves.get('dia_s/value')!.shares)).toEqual(new Set([0.5]));
    const { colours } = curves.get('lok_a/colour')!;
    expect([colours![0], colours!.at(-1)]).toEqual(['#ff0000', '#0000ff']);
  });
  it('a shot in which nothing moves has none', () =>
    expect(laneCurves(compile(emptyShot()), []).size).toBe(0));
});
