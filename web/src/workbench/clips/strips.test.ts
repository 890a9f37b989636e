import { describe, expect, it } from 'vitest';
import type { Placement, Shot } from '../../../../core/document';
import { emptyShot, hub } from '../../../../core/testing/random-shot';
import { timeScale } from '../timeline/time-scale';
import { stripAt } from './strip-drag';
import { otherParts } from './strip-menu';
import { boxOf, STRIP } from './strip-painter';
import { rowsOfStrips, stripWords } from './strip-rows';

const placement = (start: number, order: number, more: Partial<Placement> = {}): Placement => ({
  clip: 'clp_a',
  start,
  speed: 1,
  plays: 'once',
  until: null,
  order,
  ...more,
});

const keys = {
  key_a: { frame: 0, value: 0, manner: 'linear' as const },
  key_b: { frame: 10, value: 5, manner: 'linear' as const },
};

const SHOT: Shot = {
  ...emptyShot(),
  parts: {
    prt_a: hub('Gull', { order: 1 }),
    prt_b: hub('Gull 2', { order: 0 }),
    prt_c: hub('Crate', { order: 2 }),
    prt_w: hub('Wing', { parent: 'prt_a' }),
    prt_v: hub('Wing 2', { parent: 'prt_b' }),
  },
  clips: {
    clp_a: {
      name: 'Beat',
      root: 'prt_a',
      first: 0,
      last: 10,
      tracks: { 'prt_w/rotation.x': { before: 'hold', after: 'hold', keys } },
    },
  },
  placements: {
    plc_1: placement(0, 0),
    plc_2: placement(10, 1),
    plc_3: placement(15, 2, { plays: 'loop' }),
    plc_4: placement(5, 3, { onto: { prt_a: 'prt_b', prt_w: 'prt_v' }, mirrored: true, speed: 2 }),
  },
};

describe('strips of clips', () => {
  it('lie in a row for each part that they move, in the order of the tree, above what they cover', () => {
    const rows = rowsOfStrips(SHOT);
    expect(rows.map((row) => [row.name, row.layers])).toEqual([
      ['Gull 2', 1],
      ['Gull', 2],
    ]);
    expect(rows[1]!.strips.map(({ id, from, to, layer }) => [id, from, to, layer])).toEqual([
      ['plc_1', 0, 10, 0],
      ['plc_2', 10, 20, 0],
      ['plc_3', 15, Infinity, 1],
    ]);
    expect(rowsOfStrips({ ...SHOT, parts: {} })[0]!.name).toBe('A part that is gone');
  });

  it('are told in words', () => {
    const [other, own] = rowsOfStrips(SHOT);
    expect(stripWords(other!.strips[0]!)).toBe('Beat, from frame 5 to 10, once, 2 times its speed, mirrored');
    expect(stripWords(own!.strips[2]!)).toBe('Beat, from frame 15 on, over and over');
  });

  it('are held at their ends, their blends where they are chosen, the uppermost first', () => {
    const row = rowsOfStrips(SHOT)[1]!;
    const scale = timeScale(0, 40, 424);
    const picture = { row, scale, width: 424, chosen: new Set<string>(), opened: null };
    const at = (frame: number, y: number, chosen: readonly string[] = []) => {
      const hit = stripAt({ ...picture, chosen: new Set(chosen) }, scale.x(frame), y);
      return hit && [hit.strip.id, hit.grip];
    };
    const low = boxOf(picture, row.strips[0]!).top;
    expect(low).toBe(boxOf(picture, row.strips[2]!).top + STRIP);
    expect(at(5, low + 12)).toEqual(['plc_1', 'move']);
    expect(at(0.2, low + 12)).toEqual(['plc_1', 'from']);
    expect(at(9.8, low + 12)).toEqual(['plc_1', 'to']);
    expect(at(0.3, low + 3, ['plc_1'])).toEqual(['plc_1', 'blend-in']);
    expect(at(0.3, low + 3)).toEqual(['plc_1', 'from']);
    expect(at(17, 8)).toEqual(['plc_3', 'move']);
    expect(at(17, low + 12)).toEqual(['plc_2', 'move']);
    expect(at(39, low + 12)).toBeNull();
  });

  it('can be put on parts below which the same names are', () => {
    expect(otherParts(SHOT, 'plc_1')).toEqual(['prt_b']);
    expect(otherParts(SHOT, 'plc_4')).toEqual(['prt_a']);
  });
});
