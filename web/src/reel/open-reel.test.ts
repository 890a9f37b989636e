import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { putItem, type Reel } from '../../../core/reel';
import { reelOf, titleItem } from '../../../core/testing/reels';
import { dragKind, OpenReel, type DraftStore, type ReelDoor } from './open-reel';

beforeEach(() => vi.useFakeTimers());
afterEach(() => vi.useRealTimers());

/** A server that keeps one reel, and a browser that keeps drafts. */
function stage(revision = 3) {
  const server = { revision, reel: reelOf(), away: false, gone: false, asked: 0 };
  const drafts = new Map<string, { revision: number; reel: Reel }>();
  const door: ReelDoor = {
    keep: (_id, base, reel) => {
      server.asked += 1;
      if (server.away) return Promise.reject(new Error('The server does not answer.'));
      if (server.gone) return Promise.reject(Object.assign(new Error('Gone.'), { status: 404 }));
      if (base !== server.revision)
        return Promise.reject(
          Object.assign(new Error('Changed.'), { status: 409, more: { revision: server.revision } }),
        );
      server.reel = reel;
      return Promise.resolve({ revision: (server.revision += 1) });
    },
  };
  const store: DraftStore = {
    get: (id) => drafts.get(id) ?? null,
    set: (id, draft) => void (draft ? drafts.set(id, draft) : drafts.delete(id)),
  };
  const open = (): OpenReel =>
    new OpenReel({ id: 'r', revision: server.revision, reel: server.reel }, door, store);
  return { server, drafts, open };
}

const add =
  (frames: number) =>
  (reel: Reel): Reel =>
    putItem(reel, titleItem(frames));
const lengths = ({ items }: Reel): number[] => items.map(({ frames }) => frames);
const settle = (ms = 500): Promise<unknown> => vi.advanceTimersByTimeAsync(ms);

describe('an open reel', () => {
  it('is kept soon after each change, in one go where several follow', async () => {
    const { server, drafts, open } = stage();
    const doc = open();
    doc.change(add(1));
    doc.change(add(2));
    expect(doc.now.keeping.state).toBe('keeping');
    expect(lengths(drafts.get('r')!.reel)).toEqual([1, 2]);
    await settle();
    expect(doc.now.keeping.state).toBe('kept');
    expect([server.asked, server.revision, lengths(server.reel)]).toEqual([1, 4, [1, 2]]);
    expect(drafts.size).toBe(0);
    doc.change(add(3));
    await settle();
    expect(server.revision).toBe(5);
  });

  it('is undone and done again, a drag in one step', async () => {
    const { server, open } = stage();
    const doc = open();
    doc.change(add(5));
    for (const frames of [6, 7, 8])
      doc.change((reel) => ({ ...reel, items: [{ ...reel.items[0]!, frames }] }), 'length');
    doc.undo();
    expect(lengths(doc.now.reel)).toEqual([5]);
    doc.undo();
    expect(lengths(doc.now.reel)).toEqual([]);
    doc.redo();
    doc.redo();
    expect(lengths(doc.now.reel)).toEqual([8]);
    doc.redo();
    await settle();
    expect(lengths(server.reel)).toEqual([8]);
    // A drag is one step however long it lasts, and none where it ends as it began.
    const steps = doc.now.undo.length;
    const [kind, before] = [dragKind(), doc.now.reel];
    for (const frames of [20, 21]) {
      doc.change((reel) => ({ ...reel, items: [{ ...reel.items[0]!, frames }] }), kind);
      await settle(3000);
    }
    expect(doc.now.undo).toHaveLength(steps + 1);
    doc.change(() => before, kind);
    expect(doc.now.undo).toHaveLength(steps);
    expect(lengths(doc.now.reel)).toEqual([8]);
    // Later, the same kind of change is a step of its own.
    await settle(1000);
    doc.change((reel) => ({ ...reel, items: [{ ...reel.items[0]!, frames: 9 }] }), 'length');
    doc.undo();
    expect(lengths(doc.now.reel)).toEqual([8]);
  });

  it('is sent again until the server takes it, also at the next visit', async () => {
    const { server, drafts, open } = stage();
    server.away = true;
    const doc = open();
    doc.change(add(1));
    await settle();
    expect(doc.now.keeping).toEqual({ state: 'away', reason: 'The server does not answer.' });
    server.away = false;
    await settle(3100);
    expect(doc.now.keeping.state).toBe('kept');
    server.away = true;
    doc.change(add(2));
    await settle();
    doc.close();
    server.away = false;
    expect(drafts.size).toBe(1);
    const again = open();
    expect(lengths(again.now.reel)).toEqual([1, 2]);
    await settle();
    expect(lengths(server.reel)).toEqual([1, 2]);
    expect(drafts.size).toBe(0);
  });

  it('does not overwrite what somebody else has kept until somebody says so', async () => {
    const { server, open } = stage();
    const doc = open();
    server.revision = 9;
    doc.change(add(1));
    await settle();
    expect(doc.now.keeping).toEqual({ state: 'clash', revision: 9 });
    doc.change(add(2));
    await settle(5000);
    expect(lengths(server.reel)).toEqual([]);
    doc.keepMine();
    await settle();
    expect(doc.now.keeping.state).toBe('kept');
    expect(lengths(server.reel)).toEqual([1, 2]);
  });

  it('asks at the next visit, too, when another one was kept meanwhile', async () => {
    const { server, drafts, open } = stage();
    drafts.set('r', { revision: 2, reel: reelOf(titleItem(7)) });
    const doc = open();
    expect(doc.now.keeping).toEqual({ state: 'clash', revision: 3 });
    await settle(5000);
    expect(server.asked).toBe(0);
    doc.letGo();
    expect(lengths(open().now.reel)).toEqual([]);
  });

  it('that is gone cannot be kept, and says so', async () => {
    const { server, open } = stage();
    server.gone = true;
    const doc = open();
    doc.change(add(1));
    await settle();
    expect(doc.now.keeping).toEqual({ state: 'clash', revision: null });
    doc.keepMine();
    await settle(5000);
    expect(server.asked).toBe(1);
  });
});
