import { beforeEach, describe, expect, it, vi } from 'vitest';
import { keyList, type Shot } from '../../../../core/document';
import { keyChannels, removeParts, setLink } from '../../../../core/edit';
import { emptyShot, hub } from '../../../../core/testing/random-shot';
import type { Session } from '../session';
import { choose, make } from './choosing';
import { redo, undo } from './history';
import { dropLoose, keyNow, unkeyNow } from './keying';
import { goTo } from './time';
import { workbench as open } from './testing';
import { preview, setChannels, unlinkAndSet, valueOf } from './values';

const told = vi.hoisted(() => [] as string[]);
vi.mock('sonner', () => ({
  toast: Object.assign((message: string) => told.push(message), {
    error: (message: string) => told.push(`error: ${message}`),
  }),
}));

const Y = 'prt_a/location.y';
const start: Shot = {
  ...emptyShot(),
  parts: { prt_a: hub('Crank'), prt_b: hub('Boat', { order: 1 }) },
};

const workbench = (shot = start) => open(shot, (message) => told.push(message));

const keyed = (): Shot => ({
  ...start,
  parts: {
    ...start.parts,
    prt_a: hub('Crank', {
      tracks: {
        'location.y': {
          before: 'hold',
          after: 'hold',
          keys: {
            key_a: { frame: 1, value: 0, manner: 'linear' },
            key_b: { frame: 11, value: 10, manner: 'linear' },
          },
        },
      },
    }),
  },
});
const framesOf = (session: Session): number[] =>
  keyList(session.shot.parts.prt_a!.tracks['location.y']!).map(({ frame }) => frame);

beforeEach(() => {
  told.length = 0;
});

describe('giving channels values', () => {
  it('keeps the value of one without keys, in one step', async () => {
    const session = await workbench();
    expect(setChannels(session, [[Y, 2]])).toBe(true);
    expect([valueOf(session, Y), session.doc.now.undo.length]).toEqual([2, 1]);
    expect(setChannels(session, [[Y, 2]])).toBe(true);
    expect(session.doc.now.undo).toHaveLength(1);
  });

  it('holds the value of a keyed one for the moment, and keys it with auto-key', async () => {
    const session = await workbench(keyed());
    setChannels(session, [[Y, 7]]);
    expect([valueOf(session, Y), session.keying.now.loose]).toEqual([7, { [Y]: 7 }]);
    expect(session.doc.now.undo).toHaveLength(0);
    dropLoose(session);
    session.keying.toggleAutoKey();
    goTo(session, 5);
    setChannels(session, [[Y, 7]]);
    expect([framesOf(session), session.keying.now.loose]).toEqual([[1, 5, 11], {}]);
  });

  it('takes a link away and sets what was typed in one step, which one undo brings back', async () => {
    const session = await workbench();
    session.edit((shot) => setLink(shot, Y, 'frame * 1m'));
    expect(unlinkAndSet(session, [[Y, 7]])).toBe(true);
    expect([valueOf(session, Y), session.shot.parts.prt_a!.links]).toEqual([7, {}]);
    expect(session.doc.now.undo.map((step) => step.kind === 'change' && step.change.label)).toEqual([
      'Link Crank location Y',
      'Unlink Crank location Y and set it',
    ]);
    undo(session);
    expect(session.shot.parts.prt_a!.links['location.y']?.formula).toBe('frame * 1m');
    expect(session.shot.parts.prt_a!.values['location.y'] ?? 0).toBe(0);
  });

  it('takes a link off keys: the value holds for the moment, and is keyed with auto-key', async () => {
    const session = await workbench(keyed());
    session.edit((shot) => setLink(shot, Y, 'frame * 1m'));
    unlinkAndSet(session, [[Y, 7]]);
    expect([valueOf(session, Y), session.keying.now.loose]).toEqual([7, { [Y]: 7 }]);
    expect(session.doc.now.undo).toHaveLength(2);
    // What is held for the moment goes first, as always.
    undo(session);
    expect(session.keying.now.loose).toEqual({});
    undo(session);
    expect(session.shot.parts.prt_a!.links['location.y']).toBeDefined();
    session.keying.toggleAutoKey();
    goTo(session, 5);
    unlinkAndSet(session, [[Y, 7]]);
    expect([framesOf(session), session.shot.parts.prt_a!.links]).toEqual([[1, 5, 11], {}]);
    expect(session.doc.now.undo).toHaveLength(2);
  });

  it('refuses linked ones, and those of parts that are gone', async () => {
    const session = await workbench();
    session.edit((shot) => setLink(shot, Y, 'frame * 1m'));
    expect(setChannels(session, [[Y, 7]])).toBe(false);
    expect(told.at(-1)).toContain('is linked');
    session.edit((shot) => removeParts(shot, ['prt_b']));
    expect(setChannels(session, [['prt_b/location.x', 7]])).toBe(false);
    expect(told.at(-1)).toContain('somebody else has deleted it');
  });

  it('previews without changing anything', async () => {
    const session = await workbench();
    preview(session, { [Y]: 4 });
    expect(valueOf(session, Y)).toBe(4);
    preview(session, null);
    expect([valueOf(session, Y), session.shot]).toEqual([0, start]);
  });
});

describe('leaving a frame with values that are not keyed', () => {
  it('drops them, says so, and undo brings them back to their frame', async () => {
    const session = await workbench(keyed());
    setChannels(session, [[Y, 7]]);
    goTo(session, 6);
    expect(told.at(-1)).toContain('changed at frame 1 and not keyed: dropped');
    expect([session.keying.now.loose, valueOf(session, Y)]).toEqual([{}, 5]);
    undo(session);
    expect([session.time.now.frame, session.keying.now.loose, valueOf(session, Y)]).toEqual([
      1,
      { [Y]: 7 },
      7,
    ]);
    // They are the latest thing done: undo drops them again.
    undo(session);
    expect([session.keying.now.loose, valueOf(session, Y)]).toEqual([{}, 0]);
  });
});

describe('keying', () => {
  it('keys what is shown, and takes the key away again', async () => {
    const session = await workbench(keyed());
    goTo(session, 6);
    setChannels(session, [[Y, 8]]);
    keyNow(session, [Y]);
    expect([framesOf(session), session.keying.now.loose]).toEqual([[1, 6, 11], {}]);
    unkeyNow(session, [Y]);
    expect(framesOf(session)).toEqual([1, 11]);
    undo(session);
    undo(session);
    expect(framesOf(session)).toEqual([1, 11]);
    redo(session);
    expect(framesOf(session)).toEqual([1, 6, 11]);
  });

  it('says that linked values are not keyed', async () => {
    const session = await workbench();
    session.edit((shot) => setLink(shot, Y, 'frame * 1m'));
    keyNow(session, [Y]);
    expect(told.at(-1)).toContain('Nothing here can be keyed');
  });
});

describe('choosing', () => {
  it('lets go of a channel that belongs to none of the chosen parts', async () => {
    const session = await workbench();
    session.choice.showChannel(Y);
    choose(session, ['prt_a', 'prt_b']);
    expect(session.choice.now.channel).toBe(Y);
    choose(session, ['prt_b']);
    expect(session.choice.now).toMatchObject({ chosen: ['prt_b'], channel: null });
  });

  it('takes what an edit made; an edit that refuses changes nothing', async () => {
    const session = await workbench();
    const made = make(session, (shot) => ({
      change: keyChannels(shot, 3, [[Y, 1]]),
      ids: ['prt_a'],
    }));
    expect([made, session.choice.now.chosen]).toEqual([true, ['prt_a']]);
    const refused = make(session, (shot) => ({
      change: setLink(shot, 'prt_gone/location.x', '1m'),
      ids: ['prt_b'],
    }));
    expect([refused, session.choice.now.chosen]).toEqual([false, ['prt_a']]);
    expect(told.at(-1)).toMatch(/^error: /);
  });

  it('lets go of what a document has no longer', async () => {
    const session = await workbench(keyed());
    session.choice.showChannel(Y);
    choose(session, ['prt_a', 'prt_b']);
    session.choice.keys([{ address: Y, key: 'key_a' }]);
    const gone = await workbench({ ...start, parts: { prt_b: start.parts.prt_b! } });
    session.choice.keepTo(gone.shot);
    expect(session.choice.now).toEqual({ chosen: ['prt_b'], channel: null, chosenKeys: [] });
  });
});
