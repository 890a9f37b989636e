import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { blankShot, type Key, type Shot } from '../../../../core/document';
import { hub } from '../../../../core/testing/random-shot';
import { LaneCurves } from '../keys/lane-curves';
import { lanesOf } from '../keys/lanes';
import { timeScale } from '../timeline/time-scale';
import { lanesToPlot, lineOf, type Line } from './lines';
import { ticksOf } from './plot-axes';
import { boxOf, BOX_ROOM, edgeAt, handlesOf, pegsWithin, plotHit } from './plot-hit';
import { plotMap } from './plot-map';

const keyed = (keys: Record<string, Key>) => ({ before: 'hold' as const, after: 'hold' as const, keys });
const blank = blankShot();
const shot: Shot = {
  ...blank,
  setup: { ...blank.setup, first: 1, last: 49 },
  parts: {
    prt_a: hub('A', {
      tracks: {
        'location.x': keyed({
          key_a: { frame: 1, value: 0, manner: 'curve' },
          key_b: { frame: 25, value: 4, manner: 'curve' },
        }),
        'rotation.z': keyed({
          key_c: { frame: 1, value: -90, manner: 'linear' },
          key_d: { frame: 49, value: 90, manner: 'linear' },
        }),
      },
    }),
    prt_b: hub('B', { tracks: { 'location.y': keyed({ key_e: { frame: 9, value: 1, manner: 'hold' } }) } }),
  },
};
const curves = new LaneCurves();
const lanes = lanesOf(shot);
const lines = lanes.slice(0, 2).map((lane) => lineOf(shot, lane, 'curve-1', curves)!);
const [place, turn] = lines as [Line, Line];
const size = { width: 500, top: 32, bottom: 232 };
const mapWith = (normalised: boolean, zoom = 1, pan = 0) =>
  plotMap(lines, timeScale(1, 49, 500), size, { normalised, lift: { zoom, pan } }, 'm');
const map = mapWith(false);
const none = { address: '', key: '' };

describe('the map of the plot', () => {
  it('leads from values to heights and back, at any zoom', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -500, max: 500, noNaN: true }),
        fc.double({ min: 0.2, max: 50, noNaN: true }),
        fc.double({ min: -3, max: 3, noNaN: true }),
        fc.boolean(),
        (value, zoom, pan, normalised) => {
          const at = mapWith(normalised, zoom, pan);
          for (const line of lines) expect(at.value(line, at.y(line, value))).toBeCloseTo(value, 6);
        },
      ),
    );
  });
  it('gives each unit an axis of its own, on which all that moves is in sight', () => {
    expect(map.axes.size).toBe(2);
    expect(map.axisOf(place)).toMatchObject({ unit: 'm', per: 1 });
    expect(map.axisOf(turn)).toMatchObject({ unit: '°', per: 1 });
    for (const [line, value] of [
      [place, 0],
      [place, 4],
      [turn, -90],
      [turn, 90],
    ] as const) {
      expect(map.y(line, value)).toBeGreaterThan(size.top);
      expect(map.y(line, value)).toBeLessThan(size.bottom);
    }
  });
  it('writes ticks in shown units at their heights', () => {
    const ticks = ticksOf(map.axisOf(place), map, place);
    expect(ticks.length).toBeGreaterThan(2);
    for (const { y, text } of ticks) expect(map.value(place, y)).toBeCloseTo(parseFloat(text), 9);
    expect(ticks[0]!.text).toMatch(/ m$/);
  });
});

describe('what lies where', () => {
  const at = (line: Line, frame: number, value: number) => ({ x: map.scale.x(frame), y: map.y(line, value) });
  const chosen = [{ address: place.address, key: 'key_b' }];
  it('a peg before a curve, a handle of a chosen key before a peg, and the way on outside the keys', () => {
    expect(plotHit(map, lines, null, [], at(place, 25, 4)).peg).toEqual(chosen[0]);
    expect(plotHit(map, lines, null, [], at(place, 13, 2)).line).toBe(place);
    expect(plotHit(map, lines, null, [], at(place, 40, 4))).toMatchObject({ line: place, outside: 'after' });
    expect(plotHit(map, lines, null, [], at(place, 20, -0.2))).toMatchObject({ peg: null, handle: null });
    const [left] = handlesOf(map, lines, chosen);
    // A third of the stretch before it, level: there is no stretch behind the last key.
    expect(left).toMatchObject({ side: 'left', at: at(place, 17, 4) });
    expect(handlesOf(map, lines, chosen)).toHaveLength(1);
    expect(plotHit(map, lines, null, chosen, at(place, 17, 4)).handle).toEqual(left);
    expect(handlesOf(map, lines, [{ address: turn.address, key: 'key_c' }])).toEqual([]);
  });
  it('the end of a handle that lies over the ruler, where it is seen', () => {
    const lifted = mapWith(false, 1, 0.2);
    const end = { x: lifted.scale.x(17), y: lifted.y(place, 4) };
    expect(end.y).toBeLessThan(size.top);
    expect(plotHit(lifted, lines, null, chosen, end).handle).toMatchObject({ side: 'left', at: end });
    // Keys and curves below the ruler are not: it is scrubbed there.
    expect(plotHit(lifted, lines, null, [], end)).toMatchObject({ peg: null, handle: null, line: null });
  });
  it('a box takes the keys in it, and its edges are found', () => {
    const all = pegsWithin(map, lines, { x: 0, y: 0 }, { x: 500, y: 300 });
    expect(all.map(({ key }) => key)).toEqual(['key_a', 'key_b', 'key_c', 'key_d']);
    expect(pegsWithin(map, lines, { x: 0, y: 0 }, { x: 30, y: 300 }).map(({ key }) => key)).toEqual([
      'key_a',
      'key_c',
    ]);
    const box = boxOf(map, lines, all)!;
    const middle = { x: (box.x0 + box.x1) / 2, y: (box.y0 + box.y1) / 2 };
    expect(edgeAt(box, { x: box.x1 + BOX_ROOM, y: middle.y })).toBe('right');
    expect(edgeAt(box, { x: middle.x, y: box.y0 - BOX_ROOM })).toBe('top');
    expect(edgeAt(box, middle)).toBeNull();
    expect(boxOf(map, lines, [none])).toBeNull();
  });
});

it('the plot draws the chosen parts, else all that are keyed and the chosen channel', () => {
  const of = (chosen: readonly string[], channel: string | null): string[] =>
    lanesToPlot(lanes, chosen, channel).map((lane) => lane.address);
  expect(of(['prt_b'], null)).toEqual(['prt_b/location.y']);
  expect(of([], null)).toHaveLength(3);
  expect(of([], 'prt_b/location.y')).toHaveLength(3);
});
