import { describe, expect, it } from 'vitest';
import { checkStructure, sortedKeys, trackOf, type Shot, type Track } from '../document';
import { compile, Evaluator } from '../evaluate';
import { emptyShot, hub } from '../testing/random-shot';
import {
  apply,
  changePlacement,
  duplicateParts,
  insertKeys,
  invert,
  keyChannels,
  moveKeys,
  OpenedClip,
  placeClip,
  removeAllKeys,
  removeKeys,
  removeParts,
  renamePart,
  setStretch,
  setValues,
  type Change,
} from './index';

const TURN = 'prt_a/rotation.z';
const track: Track = {
  before: 'hold',
  after: 'hold',
  keys: {
    key_a: { frame: 2, value: 0, manner: 'curve', right: { reach: 2, rise: 5 } },
    key_b: { frame: 8, value: 60, manner: 'linear' },
    key_c: { frame: 12, value: 100, manner: 'curve' },
  },
};
const BASE: Shot = {
  ...emptyShot(),
  parts: {
    prt_a: hub('A', { values: { 'location.x': 7, 'rotation.z': 5 } }),
    prt_b: hub('B', { parent: 'prt_a', values: { 'location.y': 3 } }),
    prt_c: hub('C', { tracks: { 'location.x': track } }),
  },
  clips: { clp_a: { name: 'Swing', root: 'prt_a', first: 2, last: 12, tracks: { [TURN]: track } } },
};

/** The clip at half its speed from frame 40 on, and once more from 80 on. */
function opened() {
  const one = placeClip(BASE, 'clp_a', 40, { speed: 0.5 });
  const two = placeClip(apply(BASE, one.change), 'clp_a', 80);
  const shot = apply(apply(BASE, one.change), two.change);
  return { shot, lens: new OpenedClip(one.id), one: one.id, two: two.id };
}

const valueAt = (shot: Shot, frame: number, address = TURN): number => {
  const evaluator = new Evaluator(compile(shot));
  evaluator.evaluate(frame);
  return evaluator.number(address);
};

const framesOf = (shot: Shot, address: string): number[] =>
  sortedKeys(trackOf(shot, address)!).map(({ key }) => key.frame);

/** Makes a change of what is shown; it must look the same through the lens as made there, and be undone exactly. */
function through({ shot, lens }: { shot: Shot; lens: OpenedClip }, make: (shown: Shot) => Change): Shot {
  const shown = lens.shown(shot)!;
  const change = make(shown);
  const real = lens.back(shot, change);
  const after = apply(shot, real);
  expect(checkStructure(after)).toEqual([]);
  expect(apply(after, invert(real))).toEqual(shot);
  const [seen, wanted] = [lens.shown(after)!, apply(shown, change)];
  for (let frame = 38; frame < 64; frame += 0.5)
    expect(valueAt(seen, frame)).toBeCloseTo(valueAt(wanted, frame), 9);
  return after;
}

describe('an open clip', () => {
  it('has its keys in the channels it moves, at the frames of the showing', () => {
    const { shot, lens, one } = opened();
    const shown = lens.shown(shot)!;
    expect(framesOf(shown, TURN)).toEqual([40, 52, 60]);
    expect(lens.span(shot)).toEqual({ first: 40, last: 60 });
    for (let frame = 40; frame < 60; frame += 0.5)
      expect(valueAt(shown, frame)).toBeCloseTo(valueAt(shot, frame), 9);
    expect(Object.keys(shown.placements)).toEqual([]);
    expect(lens.shown(shot)!.parts.prt_a).toBe(shown.parts.prt_a);
    expect(shown.parts.prt_c).toBe(shot.parts.prt_c);
    expect(new OpenedClip('plc_gone').shown(shot)).toBeNull();
    expect(
      lens.shown(apply(shot, changePlacement(shot, one, { start: 41 })))!.parts.prt_a!.tracks['rotation.z']!
        .keys.key_a!.frame,
    ).toBe(41);
  });

  it('takes what is done to its keys, and every showing follows', () => {
    const state = opened();
    const after = through(state, (shown) => keyChannels(shown, 52, [[TURN, 90]]));
    expect(after.clips.clp_a!.tracks[TURN]!.keys.key_b).toMatchObject({ frame: 8, value: 90 });
    expect(valueAt(after, 86)).toBe(90);
    expect(after.parts.prt_a).toBe(state.shot.parts.prt_a);
    // Keys that were not touched are the same to the bit.
    expect(after.clips.clp_a!.tracks[TURN]!.keys.key_a).toEqual(track.keys.key_a);
  });

  it('is as long as its keys when its last key is moved', () => {
    const state = opened();
    const after = through(state, (shown) => moveKeys(shown, [{ address: TURN, key: 'key_c' }], 10));
    expect(after.clips.clp_a).toMatchObject({ first: 2, last: 17 });
    expect(framesOf(state.lens.shown(after)!, TURN)).toEqual([40, 52, 70]);
  });

  it('takes new keys of what hangs below its part; what these channels are elsewhere stays', () => {
    const state = opened();
    const after = through(state, (shown) => keyChannels(shown, 44, [['prt_b/location.y', 9]]));
    expect(Object.keys(after.clips.clp_a!.tracks)).toEqual([TURN, 'prt_b/location.y']);
    expect(after.clips.clp_a!.tracks['prt_b/location.y']!.keys).toMatchObject({});
    expect(valueAt(after, 82, 'prt_b/location.y')).toBe(9);
    expect(valueAt(after, 10, 'prt_b/location.y')).toBe(3);
    expect(after.parts.prt_b).toEqual(BASE.parts.prt_b);
  });

  it('leaves other parts and values to the shot', () => {
    const state = opened();
    const other = through(state, (shown) => keyChannels(shown, 4, [['prt_c/location.x', 9]]));
    expect(other.clips).toBe(state.shot.clips);
    expect(valueAt(other, 4, 'prt_c/location.x')).toBe(9);
    const value = through(state, (shown) => setValues(shown, [['prt_a/location.x', 8]]));
    expect(value.parts.prt_a!.values).toMatchObject({ 'location.x': 8, 'rotation.z': 5 });
    const named = through(state, (shown) => renamePart(shown, 'prt_a', 'Arm'));
    expect(named.parts.prt_a).toMatchObject({ name: 'Arm', tracks: {} });
  });

  it.each<[string, (shown: Shot) => Change]>([
    ['keys put in', (shown) => insertKeys(shown, [TURN], 47)],
    ['manners', (shown) => setStretch(shown, [{ address: TURN, key: 'key_a' }], 'bounce-out')],
    ['keys removed', (shown) => removeKeys(shown, [{ address: TURN, key: 'key_b' }])],
    ['parts copied', (shown) => duplicateParts(shown, ['prt_a']).change],
  ])('%s', (_, make) => {
    const state = opened();
    const after = through(state, make);
    expect(after.parts.prt_a).toEqual(state.shot.parts.prt_a);
  });

  it('loses a channel whose keys are all removed, and a part that is deleted', () => {
    const state = opened();
    const evaluator = new Evaluator(compile(state.lens.shown(state.shot)!));
    evaluator.evaluate(50);
    const shown = state.lens.shown(state.shot)!;
    const real = state.lens.back(state.shot, removeAllKeys(shown, evaluator, [TURN]));
    const after = apply(state.shot, real);
    expect(after.clips.clp_a!.tracks).toEqual({});
    expect(valueAt(after, 50)).toBe(5);
    const gone = state.lens.back(state.shot, removeParts(shown, ['prt_a']));
    expect(checkStructure(apply(state.shot, gone))).toEqual([]);
    expect(apply(state.shot, gone).parts.prt_a).toBeUndefined();
  });
});
