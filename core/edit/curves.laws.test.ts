import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  compileTrack,
  sampleTrack,
  slipOver,
  seam,
  speedFacts,
  halfway,
  accelerationAt,
  speedAt,
} from '../curve';
import { checkStructure, sortedKeys, trackOf, type Key, type Shot, type Track } from '../document';
import { emptyShot, hub, randomTrack } from '../testing/random-shot';
import { seeded } from '../testing/seeded';
import {
  addMarker,
  apply,
  closeLoop,
  handleLimit,
  holdOnSteps,
  insertKeys,
  invert,
  keyedChannels,
  keysOfPart,
  pushAfter,
  scaleValues,
  setHandle,
  setKeyFrame,
  setStretchShape,
  shiftKeys,
  slowRange,
  smoothKeys,
  stretchShape,
  takeShape,
  thin,
  type Change,
  type KeyAddress,
} from './index';

const ADDRESS = 'prt_a/location.x';
const keyed = (keys: readonly Key[], more: Partial<Track> = {}): Track => ({
  before: 'hold',
  after: 'hold',
  keys: Object.fromEntries(keys.map((key, i) => [`key_${i}`, key])),
  ...more,
});
const shotOf = (track: Track, other?: Track): Shot => ({
  ...emptyShot(),
  parts: {
    prt_a: hub('A', { tracks: { 'location.x': track } }),
    prt_b: hub('B', other ? { tracks: { 'location.y': other } } : {}),
  },
});
const at = (shot: Shot, frame: number, address = ADDRESS): number =>
  sampleTrack(compileTrack(trackOf(shot, address)!), frame);
const all = (shot: Shot): KeyAddress[] => keysOfPart(shot, 'prt_a');
const number = (i: number): KeyAddress => ({ address: ADDRESS, key: `key_${i}` });

/** Makes a change: undone it gives the same bits, and what it leaves is sound. */
function make(shot: Shot, change: Change): Shot {
  const after = apply(shot, change);
  expect(checkStructure(after)).toEqual([]);
  expect(apply(after, invert(change))).toEqual(shot);
  return after;
}

const bend = keyed([
  { frame: 1, value: 0, manner: 'curve' },
  { frame: 11, value: 4, manner: 'curve' },
  { frame: 31, value: -2, manner: 'curve' },
]);

describe('handles', () => {
  it('keep time running forwards, however they are dragged', () => {
    let bound = 0;
    fc.assert(
      fc.property(
        randomTrack,
        fc.nat(),
        fc.constantFrom('left' as const, 'right' as const),
        fc.double({ min: 0, max: 300, noNaN: true }),
        fc.double({ min: -1000, max: 1000, noNaN: true }),
        (track, pick, side, reach, rise) => {
          const shot = shotOf(track);
          const entries = sortedKeys(track);
          const { id } = entries[pick % entries.length]!;
          const target = { address: ADDRESS, key: id };
          const after = make(shot, setHandle(shot, target, side, { reach, rise }));
          const limit = handleLimit(shot, target, side);
          const kept = trackOf(after, ADDRESS)!.keys[id]![side]!;
          if (limit > 0) expect(kept.reach).toBeLessThanOrEqual(limit);
          if (limit > 0 && reach > limit) bound++;
          // Both arms of a stretch lie within it: the cubic of time has no turning point (CSS Easing Level 1, 2.2).
          const keys = sortedKeys(trackOf(after, ADDRESS)!);
          const index = keys.findIndex((entry) => entry.id === id);
          const [a, b] = side === 'right' ? [keys[index], keys[index + 1]] : [keys[index - 1], keys[index]];
          if (!a || !b || !(b.key.frame > a.key.frame)) return;
          expect(a.key.manner).toBe('curve');
          const span = b.key.frame - a.key.frame;
          const [x1, x2] = [
            (a.key.right?.reach ?? span / 3) / span,
            1 - (b.key.left?.reach ?? span / 3) / span,
          ];
          const untouched = side === 'right' ? x2 : x1;
          if (untouched < 0 || untouched > 1) return;
          let before = 0;
          for (let i = 1; i <= 100; i++) {
            const s = i / 100;
            const x = 3 * (1 - s) ** 2 * s * x1 + 3 * (1 - s) * s * s * x2 + s ** 3;
            expect(x).toBeGreaterThanOrEqual(before - 1e-9);
            before = x;
          }
        },
      ),
      { numRuns: 2000 },
    );
    expect(bound).toBeGreaterThan(200);
  });
});

it('twenty keys put on a curve leave it as it is, to 1e-9', () => {
  let shot = shotOf(bend);
  const before = shot;
  for (let i = 0; i < 20; i++) shot = make(shot, insertKeys(shot, [ADDRESS], 1.7 + i * 1.45, seeded(i + 3)));
  expect(Object.keys(trackOf(shot, ADDRESS)!.keys)).toHaveLength(23);
  for (let frame = 1; frame <= 31; frame += 0.05)
    expect(Math.abs(at(shot, frame) - at(before, frame))).toBeLessThan(1e-9);
});

describe('keys moved exactly', () => {
  it('in time and value at once, within the limits of the channel', () => {
    const shot = shotOf(bend);
    const after = make(shot, shiftKeys(shot, [number(1)], 3, 2.5));
    expect(trackOf(after, ADDRESS)!.keys.key_1).toMatchObject({ frame: 14, value: 6.5 });
    const clear: Shot = {
      ...emptyShot(),
      looks: {
        lok_a: {
          name: 'Glass',
          values: {},
          links: {},
          tracks: { roughness: keyed([{ frame: 1, value: 0.7, manner: 'curve' }]) },
        },
      },
    };
    const raised = make(clear, shiftKeys(clear, [{ address: 'lok_a/roughness', key: 'key_0' }], 0, 5));
    expect(trackOf(raised, 'lok_a/roughness')!.keys.key_0!.value).toBe(1);
  });
  it('scaling values about a value scales the whole curve between them', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -3, max: 3, noNaN: true }),
        fc.integer({ min: -5, max: 5 }),
        (factor, about) => {
          const shot = make(shotOf(bend), insertKeys(shotOf(bend), [ADDRESS], 7, seeded(1)));
          const after = make(shot, scaleValues(shot, all(shot), about, factor));
          for (let frame = 1; frame <= 31; frame += 1.3)
            expect(at(after, frame)).toBeCloseTo(about + (at(shot, frame) - about) * factor, 8);
        },
      ),
    );
  });
  it('a typed frame may pass others and is refused where it is taken', () => {
    const shot = shotOf(bend);
    const passed = make(shot, setKeyFrame(shot, number(0), 20));
    expect(sortedKeys(trackOf(passed, ADDRESS)!).map(({ id }) => id)).toEqual(['key_1', 'key_0', 'key_2']);
    expect(() => setKeyFrame(shot, number(0), 11)).toThrow('has a key at frame 11 already');
    expect(() => setKeyFrame(shot, number(0), Infinity)).toThrow('out of range');
  });
  it('smoothing takes the zigzag out and leaves a straight row alone', () => {
    const zigzag = shotOf(
      keyed([0, 3, 0, 3, 0].map((value, i) => ({ frame: i * 4, value, manner: 'linear' }))),
    );
    const smooth = make(zigzag, smoothKeys(zigzag, all(zigzag), 1));
    expect(sortedKeys(trackOf(smooth, ADDRESS)!).map(({ key }) => key.value)).toEqual([0, 0, 3, 0, 0]);
    const row = shotOf(keyed([1, 2, 3, 4].map((value) => ({ frame: value * 2, value, manner: 'linear' }))));
    expect(make(row, smoothKeys(row, all(row)))).toEqual(row);
    expect(() => smoothKeys(row, all(row), 2)).toThrow('above 0 up to 1');
  });
});

describe('the shape of a stretch', () => {
  const other = keyed([
    { frame: 5, value: 100, manner: 'linear' },
    { frame: 45, value: 20, manner: 'linear' },
  ]);
  const target = { address: 'prt_b/location.y', key: 'key_0' };
  it.each(['curve', 'bounce-out', 'hold', 'linear'] as const)(
    'a %s is taken over by another stretch',
    (manner) => {
      const source = keyed([
        { frame: 1, value: 0, manner, ...(manner === 'curve' ? { right: { reach: 7, rise: 5 } } : {}) },
        {
          frame: 11,
          value: 4,
          manner: 'curve',
          ...(manner === 'curve' ? { left: { reach: 2, rise: 1 } } : {}),
        },
      ]);
      const shot = shotOf(source, other);
      const after = make(shot, takeShape(shot, number(0), [target]));
      for (let share = 0; share < 1; share += 0.05) {
        const mine = at(after, 5 + 40 * share, 'prt_b/location.y');
        expect((mine - 100) / -80).toBeCloseTo(at(shot, 1 + 10 * share) / 4, 9);
      }
    },
  );
  it('a piece of an easing keeps its piece', () => {
    const whole = shotOf(
      keyed([
        { frame: 1, value: 0, manner: 'back-out' },
        { frame: 21, value: 5, manner: 'linear' },
      ]),
      other,
    );
    const cut = make(whole, insertKeys(whole, [ADDRESS], 9, seeded(4)));
    const after = make(cut, takeShape(cut, number(0), [target]));
    const way = at(cut, 9) - at(cut, 1);
    for (let share = 0; share < 1; share += 0.1)
      expect((at(after, 5 + 40 * share, 'prt_b/location.y') - 100) / -80).toBeCloseTo(
        at(cut, 1 + 8 * share) / way,
        9,
      );
  });
  it('is told as points in the unit square and put back by them; what stands still has none', () => {
    const shot = shotOf(bend, other);
    const shape = stretchShape(shot, number(0))!;
    const again = make(shot, setStretchShape(shot, [number(0)], shape));
    for (let frame = 1; frame <= 31; frame += 0.3) expect(at(again, frame)).toBeCloseTo(at(shot, frame), 9);
    const still = shotOf(
      keyed([
        { frame: 1, value: 2, manner: 'curve' },
        { frame: 9, value: 2, manner: 'curve' },
      ]),
      other,
    );
    expect(() => takeShape(still, number(0), [target])).toThrow('stands still');
  });
});

describe('pushing what follows', () => {
  const base = (): Shot => {
    const shot = shotOf(
      bend,
      keyed([
        { frame: 6, value: 1, manner: 'curve' },
        { frame: 40, value: 3, manner: 'curve' },
      ]),
    );
    return apply(
      { ...shot, setup: { ...shot.setup, first: 1, last: 48 } },
      addMarker(shot, 20, 'Note', seeded(9)).change,
    );
  };
  const along = { markers: true, range: true };
  it('moves the keys, the markers and the end behind a frame, and nothing before it', () => {
    const shot = base();
    const after = make(shot, pushAfter(shot, keyedChannels(shot), 11, 8, along));
    expect(sortedKeys(trackOf(after, ADDRESS)!).map(({ key }) => key.frame)).toEqual([1, 11, 39]);
    expect(sortedKeys(trackOf(after, 'prt_b/location.y')!).map(({ key }) => key.frame)).toEqual([6, 48]);
    expect(Object.values(after.markers)[0]!.frame).toBe(28);
    expect(after.setup.last).toBe(56);
    expect(() => pushAfter(shot, keyedChannels(shot), 11, -20, along)).toThrow('less than 20 frames');
    const bare = make(shot, pushAfter(shot, [ADDRESS], 11, 8, { markers: false, range: false }));
    expect(Object.values(bare.markers)[0]!.frame).toBe(20);
    expect(bare.setup.last).toBe(48);
  });
  it('a range played slower or faster plays the same, later ones follow', () => {
    for (const factor of [0.5, 1.5, 2, 3]) {
      const shot = base();
      const after = make(shot, slowRange(shot, [ADDRESS], 1, 11, factor, along));
      for (let frame = 1; frame <= 11; frame += 0.7)
        expect(at(after, 1 + (frame - 1) * factor)).toBeCloseTo(at(shot, frame), 9);
      expect(sortedKeys(trackOf(after, ADDRESS)!).at(-1)!.key.frame).toBeCloseTo(31 + 10 * (factor - 1), 9);
      expect(Object.values(after.markers)[0]!.frame).toBeCloseTo(20 + 10 * (factor - 1), 9);
    }
    expect(() => slowRange(base(), [ADDRESS], 5, 5, 2, along)).toThrow('is empty');
    expect(() => slowRange(base(), [ADDRESS], 1, 5, 0, along)).toThrow('above 0');
  });
});

it('on twos each pose is that of the frame at which it begins', () => {
  const shot = shotOf(bend);
  const after = make(shot, holdOnSteps(shot, [ADDRESS], 5, 21, 2, seeded(2)));
  for (let frame = 5; frame < 21; frame++) expect(at(after, frame)).toBe(at(shot, frame - ((frame - 5) % 2)));
  // What moves on behind the range does so as before.
  const odd = make(shot, holdOnSteps(shot, [ADDRESS], 5, 20, 2, seeded(2)));
  expect(at(odd, 20)).toBeCloseTo(at(shot, 20), 12);
  expect(at(odd, 31)).toBe(-2);
  expect(() => holdOnSteps(shot, [ADDRESS], 5, 5)).toThrow('cannot be held');
});

it('a loop closed over its whole length has a seam of nothing', () => {
  const shot = shotOf(
    keyed([
      { frame: 1, value: 0, manner: 'curve', right: { reach: 3, rise: 2 } },
      { frame: 12, value: 4, manner: 'curve' },
      { frame: 20, value: -3, manner: 'curve' },
    ]),
  );
  const after = make(shot, closeLoop(shot, [ADDRESS], 25, seeded(1)));
  const open = seam((frame) => at(shot, frame), 1, 25);
  const closed = seam((frame) => at(after, frame), 1, 25);
  expect(Math.abs(open.value)).toBe(3);
  expect(Math.abs(closed.value)).toBeLessThan(1e-12);
  expect(Math.abs(closed.speed)).toBeLessThan(1e-3);
});

it('240 baked frames are thinned to few keys within half a percent', () => {
  const keys = Array.from({ length: 240 }, (_, i): Key => ({
    frame: i + 1,
    value: 45 * Math.sin((i * 2 * Math.PI) / 96),
    manner: 'linear',
  }));
  const shot = shotOf(keyed(keys));
  const { change, after, error } = thin(shot, [ADDRESS], 45 * 2 * 0.005, seeded(5));
  const thinned = make(shot, change);
  expect(after).toBeLessThan(20);
  expect(error).toBeLessThanOrEqual(0.45);
  for (let frame = 1; frame <= 240; frame++)
    expect(Math.abs(at(thinned, frame) - at(shot, frame))).toBeLessThanOrEqual(0.45 + 1e-9);
});

describe('what a curve does', () => {
  // Simple harmonic motion (any handbook of mechanics): x = A sin wt, v = Aw cos wt, a = -Aw^2 sin wt.
  const w = (2 * Math.PI) / 48;
  const swing = (frame: number): number => 3 * Math.sin(w * frame);
  it('speed and acceleration are those of the handbook', () => {
    for (const frame of [0, 5, 12, 31]) {
      expect(speedAt(swing, frame)).toBeCloseTo(3 * w * Math.cos(w * frame), 7);
      expect(accelerationAt(swing, frame)).toBeCloseTo(-3 * w * w * Math.sin(w * frame), 4);
    }
    const { top, least } = speedFacts(swing, 0, 48);
    expect(top.speed).toBeCloseTo(3 * w, 3);
    expect(least.speed).toBeLessThan(0.01);
    expect(Math.abs(Math.cos(w * least.frame))).toBeLessThan(0.02);
  });
  it('halfway tells the value and the share of the way', () => {
    expect(halfway((frame) => frame * frame, 0, 10)).toEqual({ frame: 5, value: 25, share: 0.25 });
    expect(halfway(() => 4, 0, 10).share).toBeNull();
  });
  it('the seam of a swing over its period is nothing, over another length what the handbook gives', () => {
    const none = seam(swing, 0, 48);
    expect([none.value, none.speed, none.acceleration].every((part) => Math.abs(part) < 1e-4)).toBe(true);
    const open = seam(swing, 0, 12);
    expect(open.value).toBeCloseTo(3, 9);
    expect(open.speed).toBeCloseTo(-3 * w, 5);
    expect(open.acceleration).toBeCloseTo(-3 * w * w, 4);
  });
  it('a wheel that rolls does not slip; one geared by hand slips by what it lacks', () => {
    // Rolling without slipping: s = r * phi.
    const way = (frame: number): number => 0.02 * frame * frame;
    const turn = (frame: number): number => (-way(frame) / 0.4) * (180 / Math.PI);
    expect(Math.abs(slipOver(way, turn, 0.4, -1, 0, 40).worst.slip)).toBeLessThan(1e-12);
    const { worst, values } = slipOver(way, (frame) => turn(frame) * 0.9, 0.4, -1, 0, 40);
    expect(worst).toEqual({ slip: expect.closeTo(way(40) * 0.1, 9) as number, frame: 40 });
    expect(values).toHaveLength(41);
  });
});
