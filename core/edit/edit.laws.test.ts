import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkStructure, parseShot, sortedKeys, trackOf, type Shot } from '../document';
import { compile, Evaluator } from '../evaluate';
import { errorAsShown, NameTable, textOfLink } from '../formula';
import { emptyShot, hub, randomShot } from '../testing/random-shot';
import {
  addPart,
  apply,
  compose,
  invert,
  keyAt,
  keyChannels,
  linkedCopy,
  moveKeys,
  removeKeys,
  removeParts,
  renamePart,
  reparent,
  setExtend,
  setLink,
  setStretch,
  setValues,
  type Change,
  type KeyAddress,
  addMarker,
  addTray,
  changeMarker,
  changeRate,
  changeTray,
  copyPose,
  duplicateParts,
  EditRefused,
  makeOwn,
  markersOf,
  mirrorParts,
  pastePose,
  putIntoTray,
  removeMarker,
  removeTray,
  setBlend,
  setLocked,
  traysOf,
} from './index';

const seeded = (): (() => number) => {
  let state = 1;
  return () => (state = (state * 16807) % 2147483647) / 2147483647;
};

/** A random edit as a function of the shot it is made on. */
const edit: fc.Arbitrary<(shot: Shot, random: () => number) => Change | null> = fc
  .record({
    kind: fc.integer({ min: 0, max: 19 }),
    which: fc.nat(),
    frame: fc.integer({ min: -5, max: 60 }),
    value: fc.double({ min: -90, max: 90, noNaN: true }),
    by: fc.integer({ min: -9, max: 9 }),
  })
  .map(({ kind, which, frame, value, by }) => (shot, random) => {
    const ids = Object.keys(shot.parts);
    const id = ids[which % Math.max(1, ids.length)];
    if (id === undefined) return addPart(shot, { kind: 'hub', name: 'New' }, random).change;
    const path = ['location.x', 'rotation.z', 'scale.y'][which % 3]!;
    const address = `${id}/${path}`;
    const track = trackOf(shot, address);
    const keys: KeyAddress[] = track
      ? sortedKeys(track)
          .filter((_, i) => i % 2 === which % 2)
          .map((key) => ({ address, key: key.id }))
      : [];
    switch (kind) {
      case 0:
        return setValues(shot, [[address, value]]);
      case 1:
        return keyChannels(
          shot,
          frame,
          [
            [address, value],
            [`${id}/location.y`, value],
          ],
          random,
        );
      case 2:
        return removeKeys(shot, keys);
      case 3:
        return moveKeys(shot, keys, by);
      case 4:
        return setStretch(
          shot,
          keys,
          (['hold', 'linear', 'smooth', 'ease', 'ease-in', 'ease-out', 'ease-in-out'] as const)[which % 7]!,
        );
      case 5:
        return setLink(shot, address, which % 4 === 0 ? null : 'own * 2 + time / 1s * 1m +');
      case 6:
        return addPart(shot, { kind: which % 2 ? 'solid' : 'camera', name: 'Box' }, random).change;
      case 7:
        return ids.length > 1 ? removeParts(shot, [id]) : null;
      case 8:
        return renamePart(shot, id, `Part ${which}-${frame}`);
      case 9:
        return setExtend(shot, address, 'after', 'repeat-adding');
      case 18:
        return linkedCopy(shot, [id], random).change;
      case 10:
        return duplicateParts(shot, [id, ids[0]!], random).change;
      case 11:
        return mirrorParts(shot, [id], (['x', 'y', 'z'] as const)[which % 3]!, random).change;
      case 12: {
        const tray = traysOf(shot)[0];
        if (!tray) return addTray(shot, 'Originals', [id], random).change;
        if (which % 3 === 0) return removeTray(shot, tray);
        return which % 3 === 1 ? putIntoTray(shot, [id], null) : changeTray(shot, tray, { away: true });
      }
      case 13:
        return setLocked(shot, [id], which % 2 === 0);
      case 14: {
        const marker = markersOf(shot)[0];
        if (!marker) return addMarker(shot, frame, 'Bell', random).change;
        return which % 2
          ? removeMarker(shot, marker.id)
          : changeMarker(shot, marker.id, { frame: frame + 2 });
      }
      case 15:
        return changeRate(shot, { num: 25 + (which % 5), den: 1 }, which % 2 ? 'frames' : 'seconds');
      case 16: {
        const evaluator = new Evaluator(compile(shot));
        evaluator.evaluate(frame);
        return pastePose(shot, copyPose(shot, evaluator, [id]), frame + 5, which % 2 === 0, random);
      }
      case 17:
        return setBlend(shot, 'lok_a/colour', which % 2 ? 'oklab' : 'linear');
      default: {
        const solid = Object.keys(shot.parts).find((part) => shot.parts[part]!.look);
        return solid ? makeOwn(shot, solid, which % 2 ? 'look' : 'shape', random) : null;
      }
    }
  });

/** A random curve may run to infinity: keying what it has there is refused, as it should be. */
function unlessRefused(make: () => Change | null): Change | null {
  try {
    return make();
  } catch (error) {
    if (error instanceof EditRefused) return null;
    throw error;
  }
}

describe('laws of edits', () => {
  it('every edit is undone and redone exactly, and leaves a sound document', () => {
    let changed = 0;
    fc.assert(
      fc.property(randomShot, fc.array(edit, { minLength: 1, maxLength: 8 }), (start, edits) => {
        const random = seeded();
        let shot = start;
        const done: Change[] = [];
        const states: Shot[] = [start];
        for (const make of edits) {
          const change = unlessRefused(() => make(shot, random));
          if (!change) continue;
          shot = apply(shot, change);
          expect(checkStructure(shot)).toEqual([]);
          done.push(change);
          states.push(shot);
        }
        changed += done.length;
        for (let i = done.length - 1; i >= 0; i--) {
          shot = apply(shot, invert(done[i]!));
          expect(shot).toEqual(states[i]);
        }
        const whole = done.reduce((all, change) => compose(all, change), {
          label: '',
          patches: [],
        } as Change);
        expect(apply(start, whole)).toEqual(states.at(-1));
        expect(apply(states.at(-1)!, invert(whole))).toEqual(start);
        // A change survives being stored as JSON.
        expect(apply(start, JSON.parse(JSON.stringify(whole)) as Change)).toEqual(states.at(-1));
      }),
      { numRuns: 400 },
    );
    expect(changed).toBeGreaterThan(800);
  });

  it('reparenting keeps the place to 1e-9 where no parent is sheared', () => {
    let kept = 0;
    fc.assert(
      fc.property(randomShot, fc.nat(), fc.nat(), (base, a, b) => {
        // Uniform scales, so that no shear can come up.
        const parts = Object.fromEntries(
          Object.entries(base.parts).map(([id, part]) => [
            id,
            {
              ...part,
              kind: 'hub' as const,
              aim: undefined,
              follow: undefined,
              repeat: undefined,
              tracks: {},
              links: {},
              values: { ...part.values, 'scale.x': 1, 'scale.y': 1, 'scale.z': 1 },
            },
          ]),
        );
        const shot: Shot = { ...base, parts, placements: {} };
        const ids = Object.keys(parts);
        const id = ids[a % ids.length]!;
        const parent = [null, ...ids][b % (ids.length + 1)]!;
        const before = new Evaluator(compile(shot));
        before.evaluate(1);
        let moved: Shot;
        try {
          moved = apply(shot, reparent(shot, before, id, parent).change);
        } catch (refused) {
          expect(String(refused)).toContain('below itself');
          return;
        }
        const after = new Evaluator(compile(moved));
        after.evaluate(1);
        const [m, n] = [before.worldOf(id)!, after.worldOf(id)!];
        const size = Math.max(1, ...m.map(Math.abs));
        for (let i = 0; i < 12; i++) expect(Math.abs(m[i]! - n[i]!) / size).toBeLessThan(1e-9);
        kept++;
      }),
      { numRuns: 500 },
    );
    expect(kept).toBeGreaterThan(200);
  });
});

describe('keys', () => {
  const start = (): { shot: Shot; address: string } => {
    const { change, id } = addPart(emptyShot(), { kind: 'hub', name: 'A' }, seeded());
    return { shot: apply(emptyShot(), change), address: `${id}/location.x` };
  };
  const keyed = (shot: Shot, address: string, frame: number, value: number): Shot =>
    apply(shot, keyChannels(shot, frame, [[address, value]]));
  const value = (shot: Shot, address: string, frame: number): number => {
    const evaluator = new Evaluator(compile(shot));
    evaluator.evaluate(frame);
    return evaluator.number(address);
  };
  it('keying twice on one frame changes the key', () => {
    const { shot, address } = start();
    const twice = keyed(keyed(shot, address, 5, 1), address, 5, 2);
    expect(Object.keys(trackOf(twice, address)!.keys)).toHaveLength(1);
    expect(value(twice, address, 5)).toBe(2);
  });
  it('an eased stretch stays eased when its end moves', () => {
    const { shot, address } = start();
    let s = keyed(keyed(shot, address, 1, 0), address, 11, 10);
    s = apply(s, setStretch(s, [{ address, key: keyAt(s, address, 1)! }], 'ease-in'));
    expect(value(s, address, 6)).toBeCloseTo(3.153568126, 8);
    s = apply(s, moveKeys(s, [{ address, key: keyAt(s, address, 11)! }], 20));
    expect(value(s, address, 16)).toBeCloseTo(3.153568126, 8);
  });
  it('a key moved onto another takes its place', () => {
    const { shot, address } = start();
    let s = keyed(keyed(shot, address, 1, 1), address, 5, 2);
    s = apply(s, moveKeys(s, [{ address, key: keyAt(s, address, 1)! }], 4));
    expect(Object.values(trackOf(s, address)!.keys).map((entry) => entry.value)).toEqual([1]);
  });
  it('the last key leaves its value behind', () => {
    const { shot, address } = start();
    let s = keyed(shot, address, 3, 42);
    s = apply(s, removeKeys(s, [{ address, key: keyAt(s, address, 3)! }]));
    expect(trackOf(s, address)).toBeNull();
    expect(value(s, address, 1)).toBe(42);
  });
  it.each([
    ['value', () => keyChannels(start().shot, 1, [['prt_x/location.x', 1]]), 'no channel'],
    ['frame', () => keyChannels(start().shot, 2e6, []), 'out of range'],
  ])('refuses a bad %s', (_, run, words) => {
    expect(run).toThrow(words);
  });
});

it('renaming a part keeps the links that read it; deleting keeps their text', () => {
  let shot = apply(emptyShot(), addPart(emptyShot(), { kind: 'hub', name: 'Pinion' }, seeded()).change);
  const added = addPart(shot, { kind: 'hub', name: 'Wheel' });
  shot = apply(shot, added.change);
  const address = `${added.id}/rotation.z`;
  shot = apply(shot, setLink(shot, address, '-Pinion.rotation.z / 2'));
  const pinion = Object.keys(shot.parts)[0]!;
  const renamed = apply(shot, renamePart(shot, pinion, 'Hand crank'));
  expect(textOfLink(new NameTable(renamed), renamed.parts[added.id]!.links['rotation.z']!)).toBe(
    '-"Hand crank".rotation.z / 2',
  );
  const gone = apply(shot, removeParts(shot, [pinion]));
  expect(compile(gone).links[0]!.error).toMatchObject({
    code: 'gone',
    message: expect.stringContaining('Pinion') as string,
  });
});

it('a fix that comes with an error mends the link, also where a part has been renamed since', () => {
  let shot: Shot = { ...emptyShot(), parts: { prt_a: hub('Pinion'), prt_b: hub('Wheel') } };
  const WHEEL = 'prt_b/rotation.z';
  /** Mends the text as it is shown, as the formula bar does. */
  const mended = (of: Shot): Shot => {
    const names = new NameTable(of);
    const link = of.parts.prt_b!.links['rotation.z']!;
    const error = errorAsShown(names, link, compile(of).links[0]!.error!);
    const [fix] = error.fixes;
    const text = textOfLink(names, link);
    return apply(of, setLink(of, WHEEL, text.slice(0, fix!.from) + fix!.insert + text.slice(fix!.to)));
  };
  for (const [formula, want, renamedWant] of [
    ['Pinoin.rotation.z * 2', 'Pinion.rotation.z * 2', null],
    ['(Pinion.rotation.z + 1', '(Pinion.rotation.z + 1)', '("Small gear".rotation.z + 1)'],
    ['Pinion.location.x', '(Pinion.location.x) * 1deg/1m', '("Small gear".location.x) * 1deg/1m'],
    ['1 + Pinion.location.x', '(1 + Pinion.location.x) * 1deg/1m', '(1 + "Small gear".location.x) * 1deg/1m'],
  ] as const) {
    shot = apply(shot, setLink(shot, WHEEL, formula));
    const done = mended(shot);
    expect(done.parts.prt_b!.links['rotation.z']!.formula).toBe(want);
    expect(compile(done).links[0]!.error).toBeNull();
    if (renamedWant === null) continue;
    const after = mended(apply(shot, renamePart(shot, 'prt_a', 'Small gear')));
    expect(after.parts.prt_b!.links['rotation.z']!.formula).toBe(renamedWant);
    expect(compile(after).links[0]!.error).toBeNull();
  }
});

describe('documents at the door', () => {
  const sound = emptyShot();
  it.each([
    ['an unknown field', { ...sound, extra: 1 }, 'extra'],
    ['a newer version', { ...sound, version: 99 }, 'newer'],
    ['a rate of 0', { ...sound, setup: { ...sound.setup, rate: { num: 0, den: 1 } } }, '0'],
    ['a range that runs backwards', { ...sound, setup: { ...sound.setup, last: -5 } }, 'before the first'],
    [
      'a value beyond its limits',
      {
        ...sound,
        parts: {
          prt_a: {
            kind: 'hub',
            name: 'A',
            parent: null,
            order: 0,
            rotationOrder: 'XYZ',
            shape: null,
            look: null,
            values: { 'location.x': 1e9 },
            tracks: {},
            links: {},
          },
        },
      },
      'out of range',
    ],
    ['text', 'hello', 'not allowed'],
  ])('refuses %s with its place', (_, json, words) => {
    const parsed = parseShot(JSON.parse(JSON.stringify(json)));
    expect(parsed.ok).toBe(false);
    if (!parsed.ok)
      expect(parsed.problems.map((problem) => `${problem.path} ${problem.message}`).join('\n')).toContain(
        words,
      );
  });
  it('accepts what it writes', () => {
    fc.assert(
      fc.property(randomShot, (shot) => parseShot(JSON.parse(JSON.stringify(shot))).ok),
      { numRuns: 200 },
    );
  });
});

it('repeats of repeats that would show more copies than are allowed are refused with the sum and the cure', () => {
  const repeat = (name: string, parent: string | null) =>
    hub(name, { kind: 'repeat', parent, repeat: { pattern: 'row', step: null }, values: { copies: 1000 } });
  const parts = {
    prt_a: repeat('Row', null),
    prt_b: repeat('Stack', 'prt_a'),
    prt_c: { ...repeat('Ring', 'prt_b'), values: { copies: 2 } },
    prt_d: hub('Lamp', { parent: 'prt_c' }),
  };
  const shot = { ...emptyShot(), parts: { ...parts, prt_b: { ...parts.prt_b, values: { copies: 100 } } } };
  expect(() => setValues(shot, [['prt_c/copies', 1000]])).toThrow(
    'Row x Stack x Ring would show 100000000 copies: at most 100000 in all are allowed. Lower the copies',
  );
  // A document that asks for more is shown with the first ones, not thrown out.
  const evaluator = new Evaluator(compile({ ...shot, parts }));
  evaluator.evaluate(1);
  expect(evaluator.copiesOf('prt_d')!.count).toBe(100_000);
});
