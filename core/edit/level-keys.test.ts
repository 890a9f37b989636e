import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compileTrack, EASES, sampleTrack, type Ease } from '../curve';
import { HANDLE_KINDS, sortedKeys, trackOf, type Key, type Shot } from '../document';
import { EASING_NAMES } from '../easing';
import { compile, Evaluator } from '../evaluate';
import { emptyShot, hub } from '../testing/random-shot';
import {
  apply,
  insertKeys,
  invert,
  keyChannels,
  removeAllKeys,
  scaleKeys,
  setStretch,
  stretchManner,
  type StretchManner,
} from '.';

const ADDRESS = 'prt_a/location.x';
type Keys = readonly Key[];
const shotOf = (keys: Keys): Shot => ({
  ...emptyShot(),
  parts: {
    prt_a: hub('Boat', {
      tracks: {
        'location.x': {
          before: 'hold',
          after: 'hold',
          keys: Object.fromEntries(keys.map((key, i) => [`key_${i}`, key])),
        },
      },
    }),
  },
});
const at = (shot: Shot, frame: number): number => sampleTrack(compileTrack(trackOf(shot, ADDRESS)!), frame);
const manners = (shot: Shot): string[] => sortedKeys(trackOf(shot, ADDRESS)!).map(({ key }) => key.manner);

describe('a key put on a value that stands', () => {
  const pose = shotOf([{ frame: 1, value: 0, manner: 'curve' }]);
  it('does not hold: the pose after it is reached by moving, not by a jump', () => {
    // Keyed at 1, kept as it is at 20, and changed at 40: the way from 20 to 40 is gone, not jumped.
    const kept = apply(pose, keyChannels(pose, 20, [[ADDRESS, 0]]));
    const moved = apply(kept, keyChannels(kept, 40, [[ADDRESS, 10]]));
    expect(manners(moved)).toEqual(['curve', 'curve', 'curve']);
    expect(at(moved, 10)).toBe(0);
    expect(at(moved, 30)).toBeCloseTo(5, 9);
    expect(at(moved, 39)).toBeGreaterThan(9);
  });
  it('before the first key, too', () => {
    const late = shotOf([
      { frame: 20, value: 4, manner: 'linear' },
      { frame: 40, value: 8, manner: 'linear' },
    ]);
    const early = apply(late, keyChannels(late, 1, [[ADDRESS, 4]]));
    const changed = apply(early, keyChannels(early, 1, [[ADDRESS, 0]]));
    expect(manners(changed)).toEqual(['linear', 'linear', 'linear']);
    expect(at(changed, 10.5)).toBeCloseTo(2, 9);
  });
  it('holds only where the key at the end holds', () => {
    const held = shotOf([{ frame: 1, value: 3, manner: 'hold' }]);
    const more = apply(held, keyChannels(held, 20, [[ADDRESS, 3]]));
    expect(manners(more)).toEqual(['hold', 'hold']);
  });
  it('leaves the curve as it was at every frame, whatever the handles and manners at its end', () => {
    const key = fc.record({
      value: fc.integer({ min: -20, max: 20 }),
      manner: fc.constantFrom('hold', 'linear', 'curve', 'curve', ...EASING_NAMES),
      left: fc.option(
        fc.record({ reach: fc.integer({ min: 0, max: 9 }), rise: fc.integer({ min: -9, max: 9 }) }),
        { nil: undefined },
      ),
      right: fc.option(
        fc.record({ reach: fc.integer({ min: 0, max: 9 }), rise: fc.integer({ min: -9, max: 9 }) }),
        { nil: undefined },
      ),
      handles: fc.option(fc.constantFrom(...HANDLE_KINDS), { nil: undefined }),
    });
    fc.assert(
      fc.property(
        fc.array(key, { minLength: 1, maxLength: 4 }),
        fc.constantFrom(-30, -1, 41, 90),
        (list, frame) => {
          const shot = shotOf(list.map((entry, i) => ({ ...entry, frame: i * 10 })));
          const change = insertKeys(shot, [ADDRESS], frame);
          const after = apply(shot, change);
          for (let f = -40; f <= 100; f += 1.75) expect(at(after, f)).toBeCloseTo(at(shot, f), 9);
          expect(apply(after, invert(change))).toEqual(shot);
          const holds = list.some((entry) => entry.manner === 'hold');
          if (!holds) expect(manners(after)).not.toContain('hold');
        },
      ),
      { numRuns: 600 },
    );
  });
});

it('keys scaled in time land on whole frames where that is wanted', () => {
  const shot = shotOf([1, 14, 40].map((frame, value) => ({ frame, value, manner: 'curve' })));
  const keys = ['key_0', 'key_1', 'key_2'].map((key) => ({ address: ADDRESS, key }));
  const frames = (whole: boolean): number[] =>
    sortedKeys(trackOf(apply(shot, scaleKeys(shot, keys, 1, 0.777, whole)), ADDRESS)!).map(
      ({ key }) => key.frame,
    );
  expect(frames(true)).toEqual([1, 11, 31]);
  expect(frames(false).some((frame) => !Number.isInteger(frame))).toBe(true);
});

it('all keys of channels go in one step; values stay as they are at the frame shown', () => {
  const shot = shotOf([
    { frame: 1, value: 0, manner: 'linear' },
    { frame: 11, value: 10, manner: 'linear' },
  ]);
  const evaluator = new Evaluator(compile(shot));
  evaluator.evaluate(4);
  const change = removeAllKeys(shot, evaluator, [ADDRESS, 'prt_a/location.y']);
  const after = apply(shot, change);
  expect(after.parts.prt_a!.tracks).toEqual({});
  expect(after.parts.prt_a!.values['location.x']).toBeCloseTo(3, 12);
  expect(change.label).toBe('Remove all 2 keys');
  expect(apply(after, invert(change))).toEqual(shot);
});

describe('the manner in force', () => {
  const shot = shotOf([
    { frame: 1, value: 2, manner: 'curve' },
    { frame: 21, value: -6, manner: 'curve' },
  ]);
  const first = { address: ADDRESS, key: 'key_0' };
  it.each<StretchManner>(['hold', 'linear', 'smooth', ...(Object.keys(EASES) as Ease[]), ...EASING_NAMES])(
    '%s is told by its name once it is set',
    (manner) => expect(stretchManner(apply(shot, setStretch(shot, [first], manner)), first)).toBe(manner),
  );
  it('is its own where handles fit no keyword, and none after the last key', () => {
    const own = shotOf([
      { frame: 1, value: 2, manner: 'curve', right: { reach: 3, rise: 4 } },
      { frame: 21, value: -6, manner: 'curve' },
    ]);
    expect(stretchManner(own, first)).toBe('own');
    expect(stretchManner(own, { address: ADDRESS, key: 'key_1' })).toBeNull();
  });
});
