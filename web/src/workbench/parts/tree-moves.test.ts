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
  it('begins with groups of single parts and crowded parts folded, and assemblies of assemblies open', () => {
    expect(startClosed(start)).toEqual(['prt_boats']);
    const rigged = { ...start.parts, prt_m: hub('Mast', { parent: 'prt_b2' }) };
    expect(startClosed({ ...start, parts: rigged })).toEqual([]);
    const many = Array.from({ length: 9 }, (_, i) => [`prt_l${i}`, hub(`Lamp ${i}`, { parent: 'prt_flag' })]);
    const crowded = { ...rigged, ...(Object.fromEntries(many) as Shot['parts']) };
    expect(startClosed({ ...start, parts: crowded })).toEqual(['prt_flag']);
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
