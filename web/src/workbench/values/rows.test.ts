import { describe, expect, it } from 'vitest';
import {
  addressOf,
  blankShot,
  channelsReachedFrom,
  SHAPE_KINDS,
  showsChannel,
  tableOf,
} from '../../../../core/document';
import { addPart, apply } from '../../../../core/edit';
import { seeded } from '../../../../core/testing/seeded';
import { emptyShot, hub } from '../../../../core/testing/random-shot';
import type { Shot } from '../../../../core/document';
import { rowMatches, rowsOf } from './rows';

const solid = { kind: 'solid' as const, shape: 'shp_a', look: 'lok_a' };
const shot: Shot = {
  ...emptyShot(),
  parts: {
    prt_a: { ...hub('A'), ...solid },
    prt_b: { ...hub('B'), ...solid },
    prt_c: { ...hub('C'), ...solid, shape: 'shp_b' },
    prt_h: hub('H'),
  },
  shapes: {
    shp_a: { kind: 'box', values: {}, tracks: {}, links: {} },
    shp_b: { kind: 'ball', values: {}, tracks: {}, links: {} },
  },
  looks: { lok_a: { name: 'Paint', values: {}, tracks: {}, links: {} } },
};
const labels = (ids: readonly string[]): string[] => rowsOf(shot, ids).map((row) => row.label);

describe('rows of the values', () => {
  it('join the three axes of a channel', () => {
    const [location] = rowsOf(shot, ['prt_h']);
    expect(location!.cells.map((cell) => cell.addresses)).toEqual([
      ['prt_h/location.x'],
      ['prt_h/location.y'],
      ['prt_h/location.z'],
    ]);
  });
  it('of several parts are those that all have', () => {
    expect(labels(['prt_a', 'prt_b'])).toContain('Width');
    expect(labels(['prt_a', 'prt_c'])).not.toContain('Width');
    expect(labels(['prt_a', 'prt_h'])).not.toContain('Colour');
    expect(labels(['prt_a', 'prt_h'])).toContain('Scale');
  });
  it('a shape or look that parts share is meant once', () => {
    const rows = rowsOf(shot, ['prt_a', 'prt_b']);
    expect(rows.find((row) => row.label === 'Width')!.cells[0]!.addresses).toEqual(['shp_a/width']);
    expect(rows.find((row) => row.label === 'Rotation')!.cells[0]!.addresses).toEqual([
      'prt_a/rotation.x',
      'prt_b/rotation.x',
    ]);
  });
  it('of any parts are what each of them reaches and shows, one by one', () => {
    let document = blankShot();
    for (const kind of [...SHAPE_KINDS, 'plane', 'plane', 'box'] as const)
      document = apply(
        document,
        addPart(document, { kind: 'solid', name: kind, shape: { kind, values: {} } }).change,
      );
    for (const kind of ['hub', 'camera', 'sun', 'sky', 'point', 'spot', 'repeat', 'backdrop', 'hub'] as const)
      document = apply(document, addPart(document, { kind, name: kind }).change);
    const all = Object.keys(document.parts);
    const random = seeded(11);
    const shownOf = (id: string) =>
      channelsReachedFrom(document, id).filter(({ owner, spec }) => showsChannel(document, owner, spec));
    let compared = 0;
    for (let round = 0; round < 60; round++) {
      const ids = all.filter(() => random() < 0.02 + round / 200);
      const wanted = shownOf(ids[0] ?? '').flatMap((channel) => {
        const same = ids.map((id) =>
          shownOf(id).find(
            ({ owner, path, spec }) =>
              tableOf(owner) === tableOf(channel.owner) &&
              path === channel.path &&
              spec.quantity === channel.spec.quantity,
          ),
        );
        return same.some((one) => one === undefined)
          ? []
          : [[...new Set(same.map((one) => addressOf(one!)))].sort()];
      });
      const found = rowsOf(document, ids).flatMap((row) =>
        row.cells.map((cell) => [...cell.addresses].sort()),
      );
      expect(found).toEqual(wanted);
      compared += wanted.length;
    }
    expect(compared).toBeGreaterThan(300);
  });
  it('are found by words of their group, name or path', () => {
    const rows = rowsOf(shot, ['prt_a']);
    const found = (wanted: string): string[] =>
      rows.filter((row) => rowMatches(row, wanted)).map((row) => row.label);
    expect(found('place loc')).toEqual(['Location']);
    expect(found('rough')).toEqual(['Roughness', 'Dull coat']);
    expect(found('teeth')).toEqual([]);
  });
});
