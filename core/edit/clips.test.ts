import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  checkStructure,
  CLIP_PLAYS,
  EXTENDS,
  MANNERS,
  sortedKeys,
  type Placement,
  type Shot,
  type Track,
} from '../document';
import { compile, Evaluator, spanOfPlacement } from '../evaluate';
import { emptyShot, hub, randomTrack } from '../testing/random-shot';
import {
  apply,
  changePlacement,
  invert,
  keyedBetween,
  makeClip,
  mirrorShowing,
  moveShowings,
  placeClip,
  putShowingOn,
  repeatShowings,
  stretchShowing,
  trimShowing,
  unpackPlacement,
  untieShowing,
  type Change,
} from './index';

const ADDRESS = 'prt_a/location.x';

function make(shot: Shot, change: Change): Shot {
  const after = apply(shot, change);
  expect(checkStructure(after)).toEqual([]);
  expect(apply(after, invert(change))).toEqual(shot);
  return after;
}

const straight = (...keys: readonly (readonly [frame: number, value: number])[]): Track => ({
  before: 'hold',
  after: 'hold',
  keys: Object.fromEntries(
    keys.map(([frame, value], i) => [`key_${i}`, { frame, value, manner: 'linear' as const }]),
  ),
});

const values = (shot: Shot, frames: readonly number[], address = ADDRESS): number[] => {
  const evaluator = new Evaluator(compile(shot));
  return frames.map((frame) => {
    evaluator.evaluate(frame);
    return evaluator.number(address);
  });
};

/** A part that stands at 7, and a clip in which it goes ten a frame from frame 2, where it is at 0, to frame 12. */
const RAMP: Shot = {
  ...emptyShot(),
  parts: { prt_a: hub('A', { values: { 'location.x': 7 } }) },
  clips: {
    clp_a: {
      name: 'Ramp',
      root: 'prt_a',
      first: 2,
      last: 12,
      tracks: { [ADDRESS]: straight([2, 0], [12, 100]) },
    },
  },
};

function shown(start: number, options: Partial<Placement> = {}): { shot: Shot; id: string } {
  const { change, id } = placeClip(RAMP, 'clp_a', start, options);
  return { shot: make(RAMP, change), id };
}

const tidy = (value: number): number => Math.round(value * 1e9) / 1e9;
const placementIn = (shot: Shot, id: string): Placement => shot.placements[id]!;

describe('what a showing shows, by hand', () => {
  // Each row: how it is shown from frame 20 on, then the value at frames 19, 20, 23, 30, 34, 40.
  const rows: readonly (readonly [Partial<Placement>, readonly number[]])[] = [
    [{}, [7, 0, 30, 7, 7, 7]],
    [{ plays: 'hold' }, [7, 0, 30, 100, 100, 100]],
    [{ plays: 'hold', until: 34 }, [7, 0, 30, 100, 7, 7]],
    [{ plays: 'loop' }, [7, 0, 30, 0, 40, 0]],
    [{ plays: 'back-and-forth' }, [7, 0, 30, 100, 60, 0]],
    [{ speed: 0.5 }, [7, 0, 15, 50, 70, 7]],
    [{ speed: 2, plays: 'loop' }, [7, 0, 60, 0, 80, 0]],
    [{ backwards: true, plays: 'hold' }, [7, 100, 70, 0, 0, 0]],
    [{ backwards: true, plays: 'loop' }, [7, 100, 70, 100, 60, 100]],
    [{ from: 4, to: 9, plays: 'loop' }, [7, 20, 50, 20, 60, 20]],
    [{ from: 4, to: 9 }, [7, 20, 50, 7, 7, 7]],
    [{ from: 4, to: 9, backwards: true, plays: 'back-and-forth' }, [7, 70, 40, 70, 30, 70]],
    [{ mirrored: true, plays: 'hold' }, [7, -0, -30, -100, -100, -100]],
    [{ off: true }, [7, 7, 7, 7, 7, 7]],
  ];
  it.each(rows)('%o', (options, wanted) => {
    const { shot } = shown(20, options);
    values(shot, [19, 20, 23, 30, 34, 40]).forEach((value, i) => expect(value).toBeCloseTo(wanted[i]!, 9));
  });

  it('blends by 3u^2 - 2u^3 over what lies below, in and out', () => {
    const { shot } = shown(20, { plays: 'hold', until: 40, blendIn: 4, blendOut: 8 });
    const share = (u: number): number => 3 * u * u - 2 * u ** 3;
    const top = (frame: number): number => Math.min(100, (frame - 20) * 10);
    for (let frame = 18; frame < 42; frame += 0.25) {
      const into = frame < 24 ? share((frame - 20) / 4) : 1;
      const out = frame > 32 ? share((40 - frame) / 8) : 1;
      const seen = frame >= 20 && frame < 40;
      const wanted = seen ? 7 + (top(frame) - 7) * into * out : 7;
      expect(values(shot, [frame])[0]).toBeCloseTo(wanted, 9);
    }
  });

  it('blends the uppermost over those below it, whatever order they were put down in', () => {
    const low = shown(20, { plays: 'hold' });
    const { change } = placeClip(low.shot, 'clp_a', 26, { plays: 'hold', backwards: true, blendIn: 4 });
    const both = make(low.shot, change);
    // At frame 28 the lower one is at 80, the upper one at 80 on its way down, each counts for half.
    expect(values(both, [27, 28, 30]).map(tidy)).toEqual([70 + (90 - 70) * (3 / 16 - 2 / 64), 80, 60]);
  });
});

describe('a showing against a copy whose channel has the keys of the clip', () => {
  it('is the same to the bit, for every manner, way on, speed, trim and direction', () => {
    let compared = 0;
    for (const manner of MANNERS)
      for (const plays of CLIP_PLAYS)
        for (const speed of [0.25, 0.5, 1, 2, 4])
          for (const [from, to] of [
            [2, 12],
            [4, 9],
          ] as const)
            for (const backwards of [false, true]) {
              const track: Track = {
                before: 'hold',
                after: 'hold',
                keys: {
                  key_a: { frame: 2, value: 0.3, manner },
                  key_b: { frame: 7, value: 5.7, manner },
                  key_c: { frame: 12, value: -1.1, manner },
                },
              };
              const parts = { prt_a: hub('A', { tracks: { 'location.x': track } }) };
              const copy: Shot = { ...emptyShot(), parts };
              const clips = {
                clp_a: { name: 'C', root: 'prt_a', first: 2, last: 12, tracks: { [ADDRESS]: track } },
              };
              const bare: Shot = { ...emptyShot(), parts: { prt_a: hub('A') }, clips };
              const options = { speed, plays, from, to, ...(backwards ? { backwards: true as const } : {}) };
              const placed = apply(bare, placeClip(bare, 'clp_a', 20, options).change);
              const [a, b] = [new Evaluator(compile(placed)), new Evaluator(compile(copy))];
              const length = to - from;
              // All numbers are exact in binary, so that the frame of the clip is, however it is worked out.
              for (let frame = 20; frame < 20 + (plays === 'once' ? length / speed : 30); frame += 0.5) {
                let gone = (frame - 20) * speed;
                if (plays === 'loop') while (gone >= length) gone -= length;
                if (plays === 'back-and-forth') {
                  while (gone >= 2 * length) gone -= 2 * length;
                  if (gone > length) gone = 2 * length - gone;
                }
                gone = Math.min(gone, length);
                a.evaluate(frame);
                b.evaluate(backwards ? to - gone : from + gone);
                compared++;
                if (!Object.is(a.number(ADDRESS), b.number(ADDRESS)))
                  expect(`${manner} ${plays} ${speed} at ${frame}`).toBe('the same');
              }
            }
    expect(compared).toBeGreaterThan(20_000);
  });
});

describe('making a clip', () => {
  const extend = fc.constantFrom(...EXTENDS);
  it('leaves the shot moving as before, at every frame', () => {
    const used = new Set<string>();
    fc.assert(
      fc.property(
        fc.record({
          a: randomTrack,
          b: randomTrack,
          ends: fc.option(fc.tuple(extend, extend), { nil: null }),
          first: fc.integer({ min: -5, max: 20 }),
          length: fc.integer({ min: 1, max: 40 }),
          whole: fc.boolean(),
          alike: fc.boolean(),
        }),
        ({ a, b, ends, first, length, whole, alike }) => {
          const round = (track: Track): Track => ({
            ...track,
            before: ends?.[0] ?? 'hold',
            after: ends?.[1] ?? 'hold',
            keys: Object.fromEntries(
              sortedKeys(track).map(({ id, key }, i) => [
                id,
                { ...key, frame: Math.round(key.frame) * 3 + i * 7 },
              ]),
            ),
          });
          const shot: Shot = {
            ...emptyShot(),
            parts: {
              prt_a: hub('A', { tracks: { 'location.x': round(a) } }),
              prt_b: hub('B', { parent: 'prt_a', tracks: { 'rotation.z': round(alike ? a : b) } }),
            },
          };
          const addresses = [ADDRESS, 'prt_b/rotation.z'];
          const frames = addresses.flatMap((address) =>
            Object.values(shot.parts[address.slice(0, 5)]!.tracks[address.slice(6)]!.keys).map(
              ({ frame }) => frame,
            ),
          );
          const [from, to] = whole ? [Math.min(...frames), Math.max(...frames)] : [first, first + length];
          if (!(to > from)) return;
          const made = makeClip(shot, addresses, from, to, 'Wave');
          const after = make(shot, made.change);
          expect(after.clips[made.id]).toMatchObject({ root: 'prt_a', first: from, last: to });
          used.add(after.placements[made.placement]!.plays);
          const when = Array.from({ length: 180 }, (_, i) => i - 60);
          for (const address of addresses) {
            const [before, now] = [values(shot, when, address), values(after, when, address)];
            const size = Math.max(1, ...before.map(Math.abs));
            const errors = before.map((value, i) => Math.abs(value - now[i]!) / size).sort((x, y) => x - y);
            // A jump between two keys on one frame may fall to the other side of it.
            expect(errors.at(-4)).toBeLessThan(1e-4);
          }
        },
      ),
      { numRuns: 400 },
    );
    expect([...used].sort()).toEqual([...CLIP_PLAYS].sort());
  });

  it('takes the keys of a part, of what hangs below it, and of their looks', () => {
    const shot: Shot = {
      ...emptyShot(),
      parts: {
        prt_a: hub('A', { tracks: { 'location.x': straight([1, 0], [9, 4]) } }),
        prt_b: hub('B', { parent: 'prt_a', tracks: { 'rotation.z': straight([3, 0], [30, 4]) } }),
        prt_c: hub('C', { tracks: { 'rotation.z': straight([3, 0], [5, 4]) } }),
      },
    };
    expect(keyedBetween(shot, ['prt_a'], 1, 9).sort()).toEqual([ADDRESS, 'prt_b/rotation.z']);
    expect(keyedBetween(shot, ['prt_a'], 10, 20)).toEqual([]);
    expect(() => makeClip(shot, [], 1, 9, 'X')).toThrow('no keys');
    expect(() => makeClip(shot, [ADDRESS], 9, 9, 'X')).toThrow('Choose keys at two frames');
  });
});

describe('changing showings', () => {
  it('trims: less of the clip is played, from the same moments', () => {
    const { shot, id } = shown(20);
    const cut = make(shot, trimShowing(shot, id, 'from', 23));
    expect(placementIn(cut, id)).toMatchObject({ start: 23, from: 5 });
    expect(values(cut, [22, 23, 26]).map(tidy)).toEqual([7, 30, 60]);
    const short = make(cut, trimShowing(cut, id, 'to', 26));
    expect(values(short, [25, 26]).map(tidy)).toEqual([50, 7]);
    const back = make(short, trimShowing(short, id, 'from', 10));
    expect(placementIn(back, id)).toMatchObject({ start: 20, from: 2 });
  });

  it('trims what plays backwards at the end that is seen', () => {
    const { shot, id } = shown(20, { backwards: true });
    const cut = make(shot, trimShowing(shot, id, 'from', 23));
    expect(values(cut, [22, 23, 26, 29]).map(tidy)).toEqual([7, 70, 40, 10]);
    const short = make(cut, trimShowing(cut, id, 'to', 26));
    expect(values(short, [23, 25, 26]).map(tidy)).toEqual([70, 50, 7]);
  });

  it('repeats when its end is pulled beyond the clip', () => {
    const { shot, id } = shown(20);
    const pulled = make(shot, trimShowing(shot, id, 'to', 45));
    expect(placementIn(pulled, id)).toMatchObject({ plays: 'loop', until: 45 });
    expect(values(pulled, [29, 30, 41, 44, 45]).map(tidy)).toEqual([90, 0, 10, 40, 7]);
  });

  it('repeats when the end of the pass of one that is held is pulled; one held for a while is held for longer', () => {
    const { shot, id } = shown(20, { plays: 'hold' });
    const pulled = make(shot, trimShowing(shot, id, 'to', 45));
    expect(placementIn(pulled, id)).toMatchObject({ plays: 'loop', until: 45 });
    const cut = make(shot, trimShowing(shot, id, 'to', 26));
    expect(placementIn(cut, id)).toMatchObject({ plays: 'hold', to: 8, until: null });
    expect(values(cut, [25, 26, 40]).map(tidy)).toEqual([50, 60, 60]);
    const ended = shown(20, { plays: 'hold', until: 30 });
    const again = make(ended.shot, trimShowing(ended.shot, ended.id, 'to', 50));
    expect(placementIn(again, ended.id)).toMatchObject({ plays: 'loop', until: 50 });
    const short = make(ended.shot, trimShowing(ended.shot, ended.id, 'to', 25));
    expect(placementIn(short, ended.id)).toMatchObject({ plays: 'hold', until: 25 });
    const longer = shown(20, { plays: 'hold', until: 40 });
    const held = make(longer.shot, trimShowing(longer.shot, longer.id, 'to', 50));
    expect(placementIn(held, longer.id)).toMatchObject({ plays: 'hold', until: 50 });
  });

  it('stretches: the same is played slower or faster', () => {
    const { shot, id } = shown(20);
    const slow = make(shot, stretchShowing(shot, id, 60));
    expect(placementIn(slow, id).speed).toBe(0.25);
    expect(values(slow, [20, 40, 58]).map(tidy)).toEqual([0, 50, 95]);
    const looped = shown(20, { plays: 'loop', until: 40 });
    const fast = make(looped.shot, stretchShowing(looped.shot, looped.id, 30));
    expect(placementIn(fast, looped.id)).toMatchObject({ speed: 2, until: 30 });
    expect(() => changePlacement(shot, id, { speed: 0 })).toThrow('0.01 to 100');
  });

  it('repeats by strips: each begins where the one before ends, and moves along', () => {
    const { shot, id } = shown(20);
    const twice = repeatShowings(shot, [id]);
    const after = make(shot, twice.change);
    expect(placementIn(after, twice.ids[0]!).start).toBe(30);
    const moved = make(after, moveShowings(after, [id, ...twice.ids], 5));
    expect(values(moved, [24, 25, 34, 35, 44, 45]).map(tidy)).toEqual([7, 0, 90, 0, 90, 7]);
  });

  it('unties one: the others go on following their clip', () => {
    const { shot, id } = shown(20);
    const twice = repeatShowings(shot, [id]);
    const both = make(shot, twice.change);
    const untied = untieShowing(both, id);
    const after = make(both, untied.change);
    expect(after.clips[untied.clip]!.name).toBe('Ramp 2');
    const path = ['clips', 'clp_a', 'tracks', ADDRESS];
    const edited = apply(after, { label: '', patches: [{ path, after: straight([2, 500], [12, 500]) }] });
    expect(values(edited, [25, 35]).map(tidy)).toEqual([50, 500]);
  });
});

describe('a clip on other parts', () => {
  const arm = (name: string, parent: string | null, x = 0) =>
    hub(name, { parent, values: x === 0 ? {} : { 'location.x': x } });
  const PUPPETS: Shot = {
    ...emptyShot(),
    parts: {
      prt_a: arm('Bosun', null),
      prt_l: arm('Left arm', 'prt_a'),
      prt_r: arm('Right arm', 'prt_a'),
      prt_b: arm('Bosun 2', null),
      prt_m: arm('Left arm 2', 'prt_b'),
      prt_z: arm('Crate', null),
    },
    clips: {
      clp_a: {
        name: 'Wave',
        root: 'prt_a',
        first: 0,
        last: 10,
        tracks: {
          'prt_l/rotation.z': straight([0, 0], [10, 50]),
          'prt_r/location.x': straight([0, 1], [10, 1]),
        },
      },
    },
  };
  const placed = placeClip(PUPPETS, 'clp_a', 0, { plays: 'hold' });
  const shot = apply(PUPPETS, placed.change);

  it('is shown on what has the same names below another part', () => {
    const after = make(shot, putShowingOn(shot, placed.id, 'prt_b'));
    expect(values(after, [5], 'prt_m/rotation.z')).toEqual([25]);
    expect(values(after, [5], 'prt_l/rotation.z')).toEqual([0]);
    expect(() => putShowingOn(shot, placed.id, 'prt_z')).toThrow(
      'Nothing below "Crate" answers to the names',
    );
    const back = make(after, putShowingOn(after, placed.id, 'prt_a'));
    expect(values(back, [5], 'prt_l/rotation.z')).toEqual([25]);
  });

  it('is mirrored: left on right by name, turned the other way, and back', () => {
    const after = make(shot, mirrorShowing(shot, placed.id));
    expect(values(after, [5], 'prt_r/rotation.z')).toEqual([-25]);
    expect(values(after, [5], 'prt_l/location.x')).toEqual([-1]);
    expect(values(after, [5], 'prt_l/rotation.z')).toEqual([0]);
    const back = make(after, mirrorShowing(after, placed.id));
    expect(values(back, [5], 'prt_l/rotation.z')).toEqual([25]);
  });
});

describe('unpacking', () => {
  it('does the same at every frame, however the clip is shown', () => {
    const plays = fc.constantFrom(...CLIP_PLAYS);
    fc.assert(
      fc.property(
        fc.record({
          start: fc.integer({ min: 0, max: 30 }),
          speed: fc.constantFrom(0.5, 1, 2),
          plays,
          until: fc.integer({ min: 0, max: 50 }),
          cut: fc.option(fc.tuple(fc.integer({ min: 0, max: 4 }), fc.integer({ min: 1, max: 6 })), {
            nil: null,
          }),
          backwards: fc.boolean(),
          mirrored: fc.boolean(),
          blendIn: fc.integer({ min: 0, max: 6 }),
          blendOut: fc.integer({ min: 0, max: 6 }),
          base: fc.boolean(),
        }),
        ({ start, speed, plays: how, until, cut, backwards, mirrored, blendIn, blendOut, base }) => {
          const own = base ? { tracks: { 'location.x': straight([0, -20], [60, 40]) } } : {};
          const shot: Shot = {
            ...RAMP,
            parts: { prt_a: hub('A', { values: { 'location.x': base ? 0 : 7 }, ...own }) },
          };
          const placement = placeClip(shot, 'clp_a', start, {
            speed,
            plays: how,
            until: how === 'once' ? null : start + 1 + until,
            ...(cut ? { from: 2 + cut[0], to: 2 + cut[0] + cut[1] } : {}),
            ...(backwards ? { backwards: true as const } : {}),
            ...(mirrored ? { mirrored: true as const } : {}),
            blendIn,
            blendOut,
          });
          const before = make(shot, placement.change);
          const after = make(before, unpackPlacement(before, placement.id));
          const { from, to } = spanOfPlacement(before.placements[placement.id]!, before.clips.clp_a!);
          const whole = Array.from({ length: 90 }, (_, i) => i - 5);
          const [was, now] = [values(before, whole), values(after, whole)];
          whole.forEach((frame, i) => {
            if (frame < from || frame >= to) expect(now[i]).toBeCloseTo(was[i]!, 9);
          });
          const errors = was.map((value, i) => Math.abs(value - now[i]!)).sort((x, y) => x - y);
          // Where a pass ends and the next begins at one moment, a rounded moment may show the other side.
          expect(errors[Math.floor(errors.length * 0.93)]).toBeLessThan(1e-6);
        },
      ),
      { numRuns: 500 },
    );
  });
});
