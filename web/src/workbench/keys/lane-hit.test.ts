import { describe, expect, it } from 'vitest';
import type { Shot } from '../../../../core/document';
import { emptyShot, hub } from '../../../../core/testing/random-shot';
import { hitAt } from './lane-hit';
import { lanesOf, rowsOfLanes, type LaneRow } from './lanes';
import { LANE, RULER } from './lanes-painter';
import { timeScale } from '../timeline/time-scale';

const track = {
  before: 'hold' as const,
  after: 'hold' as const,
  keys: { key_a: { frame: 5, value: 1, manner: 'linear' as const } },
};
const shot: Shot = {
  ...emptyShot(),
  parts: {
    prt_a: hub('Crank', { order: 0, tracks: { 'rotation.z': track, 'location.x': track } }),
    prt_b: hub('Boat', { order: 1, tracks: { 'location.y': track } }),
  },
};
const scale = timeScale(1, 25, 600);
const map = (scroll: number) => ({
  rows: rowsOfLanes(lanesOf(shot), new Set(), { find: '', parts: null }),
  scale,
  scroll,
  markers: [],
  band: null,
});
const words = (row: LaneRow | null): string | null =>
  row === null ? null : row.kind === 'group' ? `[${row.name}]` : row.lane.name;

describe('what lies at a point of the lanes', () => {
  it('is the row there, with its key', () => {
    const hit = hitAt(map(0), { x: scale.x(5), y: RULER + LANE * 1.5 });
    expect(words(hit.row)).toBe('Crank · location X');
    expect(hit.keys).toEqual([{ address: 'prt_a/location.x', key: 'key_a' }]);
    expect(hitAt(map(0), { x: 0, y: RULER - 1 }).row).toBeNull();
  });
  it('is the head that lies over the top row while the lanes are scrolled', () => {
    for (const scroll of [1, LANE, LANE * 2.5]) {
      const hit = hitAt(map(scroll), { x: scale.x(5), y: RULER + LANE / 2 });
      expect([words(hit.row), hit.keys], `scrolled by ${scroll}`).toEqual(['[Crank]', []]);
      expect(words(hitAt(map(scroll), { x: 0, y: RULER + LANE }).row)).not.toBe('[Crank]');
    }
    // A lane that stands alone has no head over it.
    expect(words(hitAt(map(LANE * 3.5), { x: 0, y: RULER + 1 }).row)).toBe('Boat · location Y');
  });
});
