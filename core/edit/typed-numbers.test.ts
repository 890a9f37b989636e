import { describe, expect, it } from 'vitest';
import { trackOf, type Shot } from '../document';
import { compile, Evaluator, MATRIX_SIZE } from '../evaluate';
import { checkTyped, NameTable, typedValue } from '../formula';
import { emptyShot, hub } from '../testing/random-shot';
import {
  addTray,
  apply,
  besideOf,
  duplicateParts,
  groupParts,
  hubAbove,
  linkedCopy,
  putIntoTray,
  setLink,
} from '.';

const at = (x: number, y = 0): Record<string, number> => ({ 'location.x': x, 'location.y': y });
const pixels = (parts: Shot['parts']): Shot => {
  const shot = emptyShot();
  return { ...shot, setup: { ...shot.setup, unit: 'px' }, parts };
};
const evaluated = (shot: Shot, frame = 1): Evaluator => {
  const evaluator = new Evaluator(compile(shot));
  evaluator.evaluate(frame);
  return evaluator;
};
const places = (shot: Shot, ids: readonly string[], frame: number): number[][] => {
  const evaluator = evaluated(shot, frame);
  return ids.map((id) => [...evaluator.worldOf(id)!].filter((_, i) => i % 4 === 3).slice(0, MATRIX_SIZE));
};

describe('hubs keep typed numbers', () => {
  const keyed = {
    before: 'hold' as const,
    after: 'hold' as const,
    keys: {
      key_a: { frame: 1, value: 2.5, manner: 'linear' as const },
      key_b: { frame: 9, value: -0.7, manner: 'curve' as const },
    },
  };
  const shot = pixels({
    prt_s: hub('Stage', { values: { ...at(1.1, 0.3), 'rotation.z': 33, 'scale.x': 2 } }),
    prt_a: hub('One', { parent: 'prt_s', values: at(2.5, 0.1) }),
    prt_b: hub('Two', { parent: 'prt_s', values: at(1.3, 0.7), tracks: { 'location.x': keyed } }),
    prt_c: hub('Three', { parent: 'prt_s', values: at(0.9) }),
  });
  const ids = ['prt_a', 'prt_b', 'prt_c'];
  it('a group stands at the origin of what its parts hang from: their numbers stay to the last digit', () => {
    const { change, id, warning } = groupParts(shot, evaluated(shot), ids);
    const after = apply(shot, change);
    expect(warning).toBeNull();
    expect(after.parts[id]!.values).toEqual({ 'location.x': 0, 'location.y': 0, 'location.z': 0 });
    for (const part of ids) {
      expect(after.parts[part]!.values).toEqual(shot.parts[part]!.values);
      expect(after.parts[part]!.tracks).toEqual(shot.parts[part]!.tracks);
      expect(after.parts[part]!.parent).toBe(id);
    }
    for (const frame of [1, 5, 9, 20])
      places(after, ids, frame).forEach((place, i) =>
        place.forEach((value, k) => expect(value).toBeCloseTo(places(shot, ids, frame)[i]![k]!, 9)),
      );
  });
  it('a hub above several stands at the pivot of the first, and they stay at every frame, keys and all', () => {
    const { change, id, warning } = hubAbove(shot, evaluated(shot), ids);
    const after = apply(shot, change);
    expect(warning).toBeNull();
    expect(after.parts[id]).toMatchObject({
      name: 'One and others',
      values: { 'location.x': 2.5, 'location.y': 0.1 },
    });
    // 0.9 - 2.5 would be -1.6 with rounding behind it: typed numbers stay round.
    expect(after.parts.prt_c!.values['location.x']).toBe(-1.6);
    expect(after.parts.prt_a!.values).toMatchObject({ 'location.x': 0, 'location.y': 0 });
    expect(Object.values(trackOf(after, 'prt_b/location.x')!.keys).map(({ value }) => value)).toEqual([
      0, -3.2,
    ]);
    for (const frame of [1, 5, 9, 20])
      places(after, ids, frame).forEach((place, i) =>
        place.forEach((value, k) => expect(value).toBeCloseTo(places(shot, ids, frame)[i]![k]!, 9)),
      );
  });
  it('a part whose place is linked is told of, and the hub at the origin leaves it where it is', () => {
    const linked = apply(shot, setLink(shot, 'prt_a/location.x', 'frame * 1px'));
    expect(hubAbove(linked, evaluated(linked), ['prt_b', 'prt_a']).warning).toBe('linked');
    expect(groupParts(linked, evaluated(linked), ['prt_b', 'prt_a']).warning).toBeNull();
  });
});

describe('copies', () => {
  const shot: Shot = {
    ...emptyShot(),
    shapes: { shp_a: { kind: 'box', values: { width: 2.2 }, tracks: {}, links: {} } },
    looks: { lok_a: { name: 'Paint', values: {}, tracks: {}, links: {} } },
    parts: { prt_a: { ...hub('Box', { values: at(0.5) }), kind: 'solid', shape: 'shp_a', look: 'lok_a' } },
  };
  it('stand beside their source, free of it, by a number that is easy to read', () => {
    const beside = besideOf(shot, evaluated(shot), ['prt_a']);
    expect(beside).toEqual([2.5, 0, 0]);
    for (const copy of [linkedCopy, duplicateParts]) {
      const { change, ids } = copy(shot, ['prt_a'], undefined, beside);
      expect(apply(shot, change).parts[ids[0]!]!.values['location.x']).toBe(3);
    }
    expect(besideOf({ ...shot, setup: { ...shot.setup, unit: 'px' } }, evaluated(shot), ['prt_a'])).toEqual([
      2.5, 0, 0,
    ]);
    const bare = { ...emptyShot(), parts: { prt_h: hub('Hub') } };
    expect(besideOf(bare, evaluated(bare), ['prt_h'])).toEqual([1, 0, 0]);
  });
  it('leave the tray of their source', () => {
    const tray = addTray(shot, 'Away', ['prt_a']);
    const stored = apply(shot, tray.change);
    expect(stored.parts.prt_a!.tray).toBeDefined();
    for (const copy of [linkedCopy, duplicateParts]) {
      const { change, ids } = copy(stored, ['prt_a']);
      expect(apply(stored, change).parts[ids[0]!]!.tray).toBeUndefined();
    }
    expect(apply(stored, putIntoTray(stored, ['prt_a'], null)).parts.prt_a!.tray).toBeUndefined();
  });
});

describe('numbers typed into several fields at once', () => {
  const shot = pixels({ prt_a: hub('A') });
  const type = (text: string, index: number, count = 3): number | string => {
    const typed = typedValue(shot, 'prt_a/location.x', text, 5, { index, count });
    return typed.ok ? typed.value : typed.error.message;
  };
  it('index counts them', () => {
    expect([0, 1, 2].map((index) => type('+=index*-200', index))).toEqual([5, 3, 1]);
    expect([0, 1, 2].map((index) => type('100 * (index + 1) / count', index))).toEqual(
      [1 / 3, 2 / 3, 1].map((share) => expect.closeTo(share, 12) as number),
    );
    expect(typedValue(shot, 'prt_a/location.x', 'index * 10', 5)).toEqual({ ok: true, value: 0 });
  });
  it('but not in a link, where only copies of a repeat have one', () => {
    expect(checkTyped(new NameTable(shot), 'prt_a/location.x', 'index * 10').ok).toBe(false);
  });
});

describe('fixes keep the number that was typed', () => {
  const parts = { prt_a: hub('A'), prt_b: hub('Bell') };
  const fixes = (unit: Shot['setup']['unit'], path: string, text: string): string[] => {
    const shot = { ...emptyShot(), parts, setup: { ...emptyShot().setup, unit } };
    const checked = checkTyped(new NameTable(shot), `prt_a/${path}`, text);
    if (checked.ok) return [];
    return checked.error.fixes.map((fix) => {
      const mended = text.slice(0, fix.from) + fix.insert + text.slice(fix.to);
      expect(checkTyped(new NameTable(shot), `prt_a/${path}`, mended).ok, mended).toBe(true);
      return mended;
    });
  };
  it('20 * time into an angle is 20 degrees a second', () => {
    expect(fixes('m', 'rotation.z', '20*time')).toEqual(['20deg/1s*time']);
    expect(fixes('m', 'rotation.z', 'time * 20')).toEqual(['time * 20deg/1s']);
    expect(fixes('cm', 'location.x', '20*time')).toEqual(['20cm/1s*time']);
  });
  it('a length times 0.1 into an angle is a tenth of a degree for each shown unit', () => {
    expect(fixes('cm', 'rotation.z', 'Bell.location.x * 0.1')[0]).toBe('Bell.location.x * 0.1deg/1cm');
    expect(fixes('px', 'rotation.z', 'Bell.location.x')[0]).toBe('(Bell.location.x) * 1deg/1px');
    const shot = { ...emptyShot(), parts, setup: { ...emptyShot().setup, unit: 'cm' as const } };
    const linked = apply(shot, setLink(shot, 'prt_a/rotation.z', 'Bell.location.x * 0.1deg/1cm'));
    const moved = { ...linked, parts: { ...linked.parts, prt_b: hub('Bell', { values: at(0.3) }) } };
    // 30 cm times 0.1.
    expect(evaluated(moved).number('prt_a/rotation.z')).toBeCloseTo(3, 12);
  });
});
