import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Shot } from '../../../core/document';
import {
  addPart,
  apply,
  EditRefused,
  invert,
  keyChannels,
  makeClip,
  removeParts,
  removeShowings,
  renamePart,
  reparent,
  setLink,
  setValues,
  type Change,
} from '../../../core/edit';
import { compile, Evaluator } from '../../../core/evaluate';
import { emptyShot, hub } from '../../../core/testing/random-shot';
import { ServerProblem } from '../shared/api';
import { OpenShot } from './open-shot';
import { tabStore } from './tab-store';
import { TestBrowser, TestServer } from './testing';

const start: Shot = {
  ...emptyShot(),
  parts: { prt_a: hub('Crank'), prt_b: hub('Boat', { order: 1 }), prt_c: hub('Hub', { order: 2 }) },
};

let pages = 0;
async function open(
  server: TestServer,
  browser = new TestBrowser(),
): Promise<{ page: OpenShot; told: string[]; browser: TestBrowser }> {
  const told: string[] = [];
  const { revision, document } = server;
  const id = `page-${pages++}`;
  const page = await OpenShot.open({
    name: 'Shot',
    revision,
    document,
    server: server.door,
    store: tabStore('shot', id, browser.store, browser.door(id)),
    told: (message) => told.push(message),
    cameIn: (changes, clash) =>
      told.push(`came in${clash ? ', clash' : ''}: ${changes.map(({ label }) => label).join()}`),
  });
  return { page, told, browser };
}

const y =
  (value: number, part = 'prt_a') =>
  (shot: Shot): Change =>
    setValues(shot, [[`${part}/location.y`, value]]);
const commit = (page: OpenShot, make: (shot: Shot) => Change): void => page.commit(make(page.now.shot));
const yOf = (shot: Shot, part = 'prt_a'): unknown => shot.parts[part]?.values['location.y'];
/** Lets everything that waits for an answer or a while be done. */
const settle = (ms = 60_000): Promise<unknown> => vi.advanceTimersByTimeAsync(ms);

beforeEach(() => {
  vi.useFakeTimers();
});
afterEach(() => {
  vi.useRealTimers();
});

describe('an open shot', () => {
  it('keeps a change on the server and forgets it in the browser', async () => {
    const server = new TestServer(start);
    const { page, browser } = await open(server);
    commit(page, y(2));
    expect(page.now.kept).toMatchObject({ state: 'keeping', waiting: 1 });
    await settle();
    expect(page.now.kept).toEqual({ state: 'kept', waiting: 0, stored: true, reason: null });
    expect(yOf(server.document)).toBe(2);
    expect(browser.store.map.size).toBe(0);
    expect(page.evaluator.number('prt_a/location.y')).toBe(2);
  });

  it.each([
    ['no answer', () => new ServerProblem(0, 'unreachable', 'The server does not answer.')],
    ['500', () => new ServerProblem(500, 'unexpected', 'Something went wrong.')],
    ['507', () => new ServerProblem(507, 'full', 'The disk is full.')],
    ['404', () => new ServerProblem(404, 'not-found', 'The shot is not there.')],
    ['an answer that is no JSON', () => new SyntaxError('Unexpected end of JSON input')],
    ['a time-out', () => new DOMException('The operation timed out.', 'TimeoutError')],
  ])('holds changes after %s, says why, and sends them when it is over', async (_, failure) => {
    const server = new TestServer(start);
    const { page, browser } = await open(server);
    server.before = () => {
      throw failure();
    };
    commit(page, y(2));
    commit(page, y(3));
    await settle(5000);
    expect(page.now.kept).toMatchObject({
      state: 'held',
      waiting: 2,
      stored: true,
      reason: failure().message,
    });
    expect(page.leavesSomething).toBe(true);
    expect(browser.store.map.size).toBe(1);
    server.before = () => undefined;
    await settle();
    expect(page.now.kept.state).toBe('kept');
    expect(yOf(server.document)).toBe(3);
    expect(page.leavesSomething).toBe(false);
  });

  it('holds changes after an answer that is not whole, which were kept, and sends them once only', async () => {
    const server = new TestServer(start);
    const { page } = await open(server);
    server.after = () => {
      throw new SyntaxError('Unexpected end of JSON input');
    };
    commit(page, y(2));
    await settle(1000);
    commit(page, y(3));
    await settle(1000);
    server.after = () => undefined;
    await settle();
    expect(server.changes.map((change) => change.patches[0]!.after)).toEqual([2, 3]);
    expect(page.now.kept.state).toBe('kept');
  });

  it('tells what it cannot keep even in the browser', async () => {
    const server = new TestServer(start);
    const { page, browser } = await open(server);
    server.before = () => {
      throw new ServerProblem(503, 'away', 'PostgreSQL does not answer.');
    };
    browser.store.full = true;
    commit(page, y(2));
    await settle(3000);
    expect(page.now.kept).toMatchObject({ state: 'held', stored: false });
    expect(page.leavesSomething).toBe(true);
    browser.store.full = false;
    await settle();
    expect(page.now.kept).toMatchObject({ state: 'held', stored: true });
    server.before = () => undefined;
    await settle();
    expect(yOf(server.document)).toBe(2);
  });

  it('takes over what closed pages of the browser held, and nothing of pages that are open', async () => {
    const server = new TestServer(start);
    const browser = new TestBrowser();
    server.before = () => {
      throw new ServerProblem(0, 'unreachable', 'Away.');
    };
    const [one, two] = [(await open(server, browser)).page, (await open(server, browser)).page];
    commit(one, y(2));
    commit(two, y(5, 'prt_b'));
    await settle(1000);
    expect(browser.store.map.size).toBe(2);
    one.close();
    await settle(0);
    const { page: three } = await open(server, browser);
    expect([yOf(three.now.shot), yOf(three.now.shot, 'prt_b')]).toEqual([2, undefined]);
    server.before = () => undefined;
    await settle();
    expect([yOf(server.document), yOf(server.document, 'prt_b')]).toEqual([2, 5]);
    expect(browser.store.map.size).toBe(0);
    expect(server.changes).toHaveLength(2);
  });

  it('puts what an earlier page held on top of what was done meanwhile', async () => {
    const server = new TestServer(start);
    const browser = new TestBrowser();
    const { page: one } = await open(server, browser);
    const { page: two } = await open(server);
    server.before = () => {
      throw new ServerProblem(0, 'unreachable', 'Away.');
    };
    commit(one, y(2));
    commit(one, (shot) => renamePart(shot, 'prt_b', 'Skiff'));
    await settle(1000);
    one.close();
    server.before = () => undefined;
    commit(two, y(9));
    commit(two, (shot) => renamePart(shot, 'prt_c', 'Axle'));
    await settle();
    const { page: three } = await open(server, browser);
    await settle();
    expect(yOf(server.document)).toBe(2);
    expect([server.document.parts.prt_b!.name, server.document.parts.prt_c!.name]).toEqual(['Skiff', 'Axle']);
    expect(three.now.shot).toEqual(server.document);
    // Inverses are those of the document that they stand on.
    expect(
      [...server.changes].reverse().reduce((shot, change) => apply(shot, invert(change)), server.document),
    ).toEqual(start);
  });

  it('goes on from an older state of the server, as after a restored backup, with what waits on top', async () => {
    const server = new TestServer(start);
    const { page, told } = await open(server);
    commit(page, y(2));
    await settle();
    commit(page, y(3, 'prt_b'));
    server.revision = 0;
    server.changes.length = 0;
    server.document = start;
    await settle();
    expect(told.join()).toContain('older state');
    expect([yOf(server.document), yOf(server.document, 'prt_b')]).toEqual([undefined, 3]);
    expect(page.now.shot).toEqual(server.document);
    expect(page.now.kept.state).toBe('kept');
  });

  it('gives a part a free name where somebody else has called theirs the same', async () => {
    const server = new TestServer(start);
    const [{ page: one }, { page: two, told }] = [await open(server), await open(server)];
    const add = (shot: Shot): Change => addPart(shot, { kind: 'hub', name: 'Post' }).change;
    commit(one, add);
    commit(two, add);
    commit(two, (shot) => setValues(shot, [[`${Object.keys(shot.parts).at(-1)!}/location.y`, 4]]));
    await settle();
    one.news(server.revision);
    await settle();
    expect(Object.values(server.document.parts).map(({ name }) => name)).toEqual(
      expect.arrayContaining(['Post', 'Post 2']),
    );
    expect(told).toEqual(['came in: Add Post']);
    expect(one.now.shot).toEqual(two.now.shot);
    two.undo();
    two.undo();
    await settle();
    expect(Object.keys(server.document.parts)).toHaveLength(4);
  });

  it('takes back only the change that the server refuses, and keeps the others', async () => {
    const server = new TestServer(start);
    const { page, told } = await open(server);
    commit(page, y(2));
    page.commit({
      label: 'Break the range',
      patches: [{ path: ['setup', 'last'], before: start.setup.last, after: -5 }],
    });
    commit(page, y(4, 'prt_b'));
    await settle();
    expect(told).toHaveLength(1);
    expect(told[0]).toContain('"Break the range" could not be kept and was taken back.');
    expect(page.now.shot).toEqual(server.document);
    expect([yOf(server.document), yOf(server.document, 'prt_b')]).toEqual([2, 4]);
    // It is gone from what can be undone.
    expect(page.now.undo).toHaveLength(2);
    page.undo();
    page.undo();
    await settle();
    expect(server.document).toEqual(start);
  });
});

describe('undo beside what others do', () => {
  const two = async (): Promise<[OpenShot, OpenShot, TestServer]> => {
    const server = new TestServer(start);
    return [(await open(server)).page, (await open(server)).page, server];
  };
  /** Everybody is told of the latest revision until nothing moves. */
  const meet = async (server: TestServer, ...all: OpenShot[]): Promise<void> => {
    for (let i = 0; i < 3; i++) {
      for (const page of all) page.news(server.revision);
      await settle();
    }
  };

  it('takes back what was done here, and leaves what somebody else did', async () => {
    const [one, other, server] = await two();
    commit(one, y(2));
    await meet(server, one, other);
    commit(other, y(7, 'prt_b'));
    await meet(server, one, other);
    one.undo();
    await meet(server, one, other);
    expect([yOf(other.now.shot), yOf(other.now.shot, 'prt_b')]).toEqual([undefined, 7]);
    one.redo();
    await meet(server, one, other);
    expect([yOf(other.now.shot), yOf(other.now.shot, 'prt_b')]).toEqual([2, 7]);
  });

  it('leaves a place that somebody else has changed since', async () => {
    const [one, other, server] = await two();
    commit(one, y(2));
    await meet(server, one, other);
    commit(other, y(5));
    await meet(server, one, other);
    expect(one.now.undo).toHaveLength(0);
    expect(one.undo()).toBeNull();
    expect(yOf(one.now.shot)).toBe(5);
    other.undo();
    await meet(server, one, other);
    expect(yOf(one.now.shot)).toBe(2);
  });

  it('does not throw where somebody else has removed the part', async () => {
    const [one, other, server] = await two();
    commit(one, (shot) => keyChannels(shot, 5, [['prt_a/location.y', 2]]));
    commit(one, y(3, 'prt_b'));
    await meet(server, one, other);
    commit(other, (shot) => removeParts(shot, ['prt_a']));
    await meet(server, one, other);
    one.undo();
    one.undo();
    await meet(server, one, other);
    expect(Object.keys(one.now.shot.parts)).toEqual(['prt_b', 'prt_c']);
    other.undo();
    await meet(server, one, other);
    expect(Object.keys(one.now.shot.parts).sort()).toEqual(['prt_a', 'prt_b', 'prt_c']);
    expect(one.now.shot).toEqual(other.now.shot);
  });

  it('refuses with the reason what no longer fits, and changes nothing', async () => {
    const [one, other, server] = await two();
    commit(one, (shot) => removeParts(shot, ['prt_b']));
    await meet(server, one, other);
    commit(other, (shot) => renamePart(shot, 'prt_c', 'Boat'));
    await meet(server, one, other);
    const before = one.now;
    expect(() => one.undo()).toThrow(/does not fit.*"Boat" is already the name/);
    expect(one.now).toBe(before);
  });

  const step = fc.record({
    who: fc.nat({ max: 2 }),
    kind: fc.nat({ max: 11 }),
    which: fc.nat(),
    value: fc.integer({ min: -9, max: 9 }),
  });
  type Act = (typeof step)['generate'] extends never
    ? never
    : { who: number; kind: number; which: number; value: number };

  let random = 1;
  const ids = (): number => (random = (random * 16807) % 2147483647) / 2147483647;

  function editOf({ kind, which, value }: Act, shot: Shot): Change | null {
    const parts = Object.keys(shot.parts).sort();
    const id = parts[which % Math.max(1, parts.length)];
    if (id === undefined || kind === 0)
      return addPart(shot, { kind: 'hub', name: `Part ${which % 7}`, parent: null }, ids).change;
    if (kind === 1) return parts.length > 1 ? removeParts(shot, [id]) : null;
    if (kind === 2) return renamePart(shot, id, `Name ${value}`);
    if (kind === 3)
      return reparent(shot, new Evaluator(compile(shot)), id, parts[(which + value + 9) % parts.length]!)
        .change;
    if (kind === 4) return setLink(shot, `${id}/location.x`, `frame * ${value}`);
    if (kind <= 6) return keyChannels(shot, Math.abs(value) + 1, [[`${id}/location.z`, value]]);
    return setValues(shot, [[`${id}/location.y`, value]]);
  }

  it.each([false, true])(
    'ends alike for three pages, whatever they do, undo and lose on the way (%s: answers are lost)',
    async (lossy) => {
      let foreign = 0;
      let undone = 0;
      await fc.assert(
        fc.asyncProperty(fc.array(step, { minLength: 3, maxLength: 24 }), fc.nat(), async (list, seed) => {
          random = seed + 1;
          const server = new TestServer(start);
          const browser = new TestBrowser();
          const all = [
            (await open(server, browser)).page,
            (await open(server, browser)).page,
            (await open(server)).page,
          ];
          let chance = seed + 1;
          const unlucky = (): void => {
            chance = (chance * 16807) % 2147483647;
            if (lossy && chance % 3 === 0) throw new ServerProblem(chance % 2 ? 0 : 500, 'lost', 'Lost.');
          };
          server.before = unlucky;
          server.after = unlucky;
          for (const act of list) {
            const page = all[act.who]!;
            try {
              if (act.kind === 10) undone += page.undo() ? 1 : 0;
              else if (act.kind === 11) page.redo();
              else {
                const change = editOf(act, page.now.shot);
                if (change) page.commit(change);
              }
            } catch (error) {
              if (!(error instanceof EditRefused) && !(error instanceof RangeError)) throw error;
            }
            if (act.value > 0) await settle(act.value * 300);
            if (act.value > 6) page.news(server.revision);
          }
          server.before = server.after = () => undefined;
          await meet(server, ...all);
          for (const page of all) {
            expect(page.now.kept.state).toBe('kept');
            expect(page.now.shot).toEqual(server.document);
            const fresh = new Evaluator(compile(server.document));
            fresh.evaluate(server.document.setup.first);
            for (const id of Object.keys(server.document.parts))
              for (const path of ['location.x', 'location.y', 'location.z'])
                expect(page.evaluator.number(`${id}/${path}`)).toBe(fresh.number(`${id}/${path}`));
          }
          foreign += server.revision > 3 ? 1 : 0;
          const back = [...server.changes]
            .reverse()
            .reduce((shot, change) => apply(shot, invert(change)), server.document);
          expect(back).toEqual(start);
          all.forEach((page) => page.close());
        }),
        { numRuns: 150 },
      );
      expect(foreign).toBeGreaterThan(50);
      expect(undone).toBeGreaterThan(20);
    },
  );
});

describe('a clip that is open', () => {
  const turn = 'prt_a/rotation.z';
  const withClip = (): Shot => {
    const once = apply(start, keyChannels(start, 10, [[turn, 0]]));
    const keyed = apply(once, keyChannels(once, 20, [[turn, 90]]));
    return apply(keyed, makeClip(keyed, [turn], 10, 20).change);
  };

  it('is edited where it stands; what is kept is the clip, and undo takes it back', async () => {
    const server = new TestServer(withClip());
    const { page } = await open(server);
    const [showing] = Object.keys(page.now.document.placements);
    expect(page.now.shot.parts.prt_a!.tracks).toEqual({});
    expect(page.openClip(showing!)).toEqual({ first: 10, last: 20 });
    commit(page, (shot) => keyChannels(shot, 20, [[turn, 45]]));
    await settle();
    expect(page.now.shot.parts.prt_a!.tracks['rotation.z']).toBeDefined();
    expect(server.document.parts.prt_a!.tracks).toEqual({});
    const values = Object.values(Object.values(server.document.clips)[0]!.tracks[turn]!.keys).map(
      (key) => key.value,
    );
    expect(values.sort()).toEqual([0, 45]);
    page.undo();
    await settle();
    expect(server.document).toEqual(page.now.document);
    page.evaluate(20, {});
    expect(page.evaluator.number(turn)).toBe(90);
    page.openClip(null);
    expect(page.now.shot).toBe(page.now.document);
  });

  it('closes when its showing goes, here or elsewhere', async () => {
    const server = new TestServer(withClip());
    const one = await open(server);
    const two = await open(server);
    const [showing] = Object.keys(one.page.now.document.placements);
    one.page.openClip(showing!);
    expect(one.page.now.opened).toBe(showing);
    commit(two.page, (shot) => removeShowings(shot, [showing!]));
    await settle();
    one.page.news(server.revision);
    await settle();
    expect(one.page.now.opened).toBeNull();
    expect(one.page.now.shot).toBe(one.page.now.document);
    expect(one.page.now.shot.placements).toEqual({});
  });

  it('takes in what others do to it meanwhile, and undoes only what was done here', async () => {
    const server = new TestServer(withClip());
    const one = await open(server);
    const two = await open(server);
    const [showing] = Object.keys(one.page.now.document.placements);
    one.page.openClip(showing!);
    commit(one.page, (shot) => keyChannels(shot, 15, [['prt_a/location.x', 3]]));
    await settle();
    two.page.news(server.revision);
    await settle();
    two.page.openClip(showing!);
    commit(two.page, (shot) => keyChannels(shot, 20, [[turn, 10]]));
    await settle();
    one.page.news(server.revision);
    await settle();
    one.page.evaluate(20, {});
    expect(one.page.evaluator.number(turn)).toBe(10);
    one.page.undo();
    await settle();
    const clip = Object.values(server.document.clips)[0]!;
    expect(Object.keys(clip.tracks)).toEqual([turn]);
    expect(Object.values(clip.tracks[turn]!.keys).map((key) => key.value)).toContain(10);
  });
});
