import { describe, expect, it, vi } from 'vitest';
import type { Shot } from '../../../../core/document';
import { emptyShot, hub } from '../../../../core/testing/random-shot';
import { treeOrder } from '../../../../core/document';
import { workbench } from '../actions/testing';
import { choose } from '../actions/choosing';
import { chooseRow, dropParts, startClosed, treeKey } from './tree-moves';

vi.mock('sonner', () => ({ toast: () => undefined }));

const start: Shot = {
  ...emptyShot(),
  parts: {
    prt_ride: hub('Ride'),
    prt_boats: hub('Boats', { parent: 'prt_ride', order: 1 }),
    prt_b1: hub('Boat 1', { parent: 'prt_boats', order: 1 }),
    prt_b2: hub('Boat 2', { parent: 'prt_boats', order: 2 }),
    prt_b3: hub('Boat 3', { parent: 'prt_boats', order: 3 }),
    prt_flag: hub('Flag', { order: 5 }),
  },
};
const rows = treeOrder(start).map(({ id }) => id);
const none = { ctrlKey: false, metaKey: false, shiftKey: false };

describe('the tree of parts', () => {
  it('begins with groups and crowded parts folded; of groups of assemblies side by side the last is open', () => {
    const closed = (more: Shot['parts']): string[] =>
      startClosed({ ...start, parts: { ...start.parts, ...more } });
    expect(closed({})).toEqual(['prt_boats']);
    const masts = [1, 2, 3].map((i) => [`prt_m${i}`, hub(`Mast ${i}`, { parent: `prt_b${i}` })]);
    const rigged = Object.fromEntries(masts) as Shot['parts'];
    // One boat without a mast: the group is no group of assemblies.
    expect(closed({ prt_m1: rigged.prt_m1! })).toEqual(['prt_boats']);
    expect(closed(rigged)).toEqual([]);
    const later = ['prt_c', 'prt_c1', 'prt_c2', 'prt_c3', 'prt_d1', 'prt_d2', 'prt_d3'].map((id, i) => {
      const parent = i === 0 ? 'prt_ride' : i < 4 ? 'prt_c' : `prt_c${i - 3}`;
      return [id, hub(id, { parent, order: i === 0 ? 2 : i })];
    });
    expect(closed({ ...rigged, ...(Object.fromEntries(later) as Shot['parts']) })).toEqual(['prt_boats']);
    const lamps = Array.from({ length: 9 }, (_, i) => [
      `prt_l${i}`,
      hub(`Lamp ${i}`, { parent: 'prt_flag' }),
    ]);
    expect(closed({ ...rigged, ...(Object.fromEntries(lamps) as Shot['parts']) })).toEqual(['prt_flag']);
  });
  it('one alone, Ctrl beside it, Shift all up to it, in the order of the choice', async () => {
    const session = await workbench(start);
    chooseRow(session, rows, 'prt_b1', none);
    chooseRow(session, rows, 'prt_flag', { ...none, ctrlKey: true });
    expect(session.choice.now.chosen).toEqual(['prt_b1', 'prt_flag']);
    chooseRow(session, rows, 'prt_b1', { ...none, ctrlKey: true });
    expect(session.choice.now.chosen).toEqual(['prt_flag']);
    chooseRow(session, rows, 'prt_b2', { ...none, shiftKey: true });
    expect(session.choice.now.chosen).toEqual(['prt_flag', 'prt_b3', 'prt_b2']);
  });
  it('keys go through it, fold it and leave what is not theirs', async () => {
    const session = await workbench(start);
    const toggle = vi.fn();
    const children = new Set([null, 'prt_ride', 'prt_boats']);
    const press = (key: string, shiftKey = false) =>
      treeKey(
        session,
        { key, shiftKey, altKey: false, preventDefault: () => undefined },
        { rows, children, closed: new Set(), toggle },
      );
    press('End');
    expect(session.choice.now.chosen).toEqual(['prt_flag']);
    press('Home');
    press('ArrowDown', true);
    expect(session.choice.now.chosen).toEqual(['prt_ride', 'prt_boats']);
    press('ArrowLeft');
    expect(toggle).toHaveBeenCalledWith('prt_boats');
    choose(session, ['prt_b2']);
    press('ArrowLeft');
    expect(session.choice.now.chosen).toEqual(['prt_boats']);
    expect(press('k')).toBe(false);
  });
  it('what is dropped before or after a part stands there, what is dropped into it hangs below', async () => {
    const session = await workbench(start);
    const order = () => treeOrder(session.shot).map(({ id }) => id);
    dropParts(session, ['prt_b3'], 'prt_b1', 'before');
    expect(order().slice(2, 5)).toEqual(['prt_b3', 'prt_b1', 'prt_b2']);
    dropParts(session, ['prt_flag'], 'prt_b1', 'after');
    expect(order().slice(2, 6)).toEqual(['prt_b3', 'prt_b1', 'prt_flag', 'prt_b2']);
    dropParts(session, ['prt_b2'], 'prt_flag', 'into');
    expect(session.shot.parts.prt_b2!.parent).toBe('prt_flag');
  });
});
