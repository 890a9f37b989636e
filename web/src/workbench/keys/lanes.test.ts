import { describe, expect, it } from 'vitest';
import type { Part, Shot } from '../../../../core/document';
import { emptyShot, hub } from '../../../../core/testing/random-shot';
import { lanesOf, rowsOfLanes } from './lanes';

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
      'Boat · width, shared by 2',
      'Boat · colour of Hull paint, shared by 2',
      'speed · value',
    ]);
    expect(lanes.map((lane) => lane.linked)).toEqual([true, false, false, false, false]);
    expect(lanes.map((lane) => lane.part)).toEqual(['prt_a', 'prt_b', 'prt_b', 'prt_b', null]);
    expect(lanes[1]!.keys.map((key) => key.frame)).toEqual([1, 25]);
  });
  it('are made once for a record that has not been edited', () => {
    const again = lanesOf({ ...shot, parts: { ...shot.parts, prt_a: { ...shot.parts.prt_a! } } });
    expect(again[1]).toBe(lanes[1]);
    expect(again[0]).not.toBe(lanes[0]);
    expect(again).toEqual(lanes);
  });
  it('a part that is renamed has its lanes renamed', () => {
    const renamed = { ...shot, parts: { ...shot.parts, prt_b: { ...shot.parts.prt_b!, name: 'Skiff' } } };
    expect(lanesOf(renamed).map((lane) => lane.name)).toContain('Skiff · location Y');
  });
});

describe('rows of lanes', () => {
  const track = linear([1, 0], [9, 1]);
  const grouped: Shot = {
    ...emptyShot(),
    parts: {
      prt_a: hub('Crank', {
        order: 0,
        tracks: { 'rotation.z': linear([1, 0], [4, 2]), 'location.x': track },
      }),
      prt_b: hub('Boat', { order: 1, tracks: { 'location.y': track } }),
    },
  };
  const all = { find: '', parts: null };
  const words = (rows: ReturnType<typeof rowsOfLanes>): string[] =>
    rows.map((row) => (row.kind === 'group' ? `[${row.name}]` : row.lane.name));
  it('two lanes of one part hang below its head, which folds', () => {
    const open = rowsOfLanes(lanesOf(grouped), new Set(), all);
    // In the order of the values, however the record was written.
    expect(words(open)).toEqual(['[Crank]', 'Crank · location X', 'Crank · rotation Z', 'Boat · location Y']);
    expect(open[0]).toMatchObject({ frames: [1, 4, 9], part: 'prt_a', folded: false });
    expect(words(rowsOfLanes(lanesOf(grouped), new Set(['prt_a']), all))).toEqual([
      '[Crank]',
      'Boat · location Y',
    ]);
  });
  it('are found by words of their names and by the chosen parts', () => {
    const lanes = lanesOf(grouped);
    expect(words(rowsOfLanes(lanes, new Set(), { find: 'crank loc', parts: null }))).toEqual([
      'Crank · location X',
    ]);
    expect(words(rowsOfLanes(lanes, new Set(), { find: '', parts: new Set(['prt_b']) }))).toEqual([
      'Boat · location Y',
    ]);
  });
});
