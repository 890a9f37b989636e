import { describe, expect, it } from 'vitest';
import { checkShot } from '../check';
import { blankShot, channelAt, checkStructure, parseShot, type Shot, type Track } from '../document';
import { compile, Evaluator, Reference } from '../evaluate';
import { seeded } from '../testing/seeded';
import {
  addDial,
  addPart,
  apply,
  invert,
  keyChannels,
  makeClip,
  mirrorParts,
  posedValues,
  setJointLimit,
  setLink,
  setValues,
} from './index';

const random = seeded(83);

function arm(): { shot: Shot; id: string; turn: string } {
  const added = addPart(blankShot(), { kind: 'hub', name: 'Left forearm', parent: null }, random);
  const shot = apply(blankShot(), added.change);
  return { shot: { ...shot, parts: { ...shot.parts } }, id: added.id, turn: `${added.id}/rotation.z` };
}
const at = (shot: Shot, frame: number): Evaluator => {
  const evaluator = new Evaluator(compile(shot));
  evaluator.evaluate(frame);
  return evaluator;
};
const HELD = { least: -5, most: 145, held: true as const };

describe('the limits of a joint', () => {
  it('are kept with the part, undone, and read back', () => {
    const { shot, id } = arm();
    const change = setJointLimit(shot, id, 'z', HELD);
    const limited = apply(shot, change);
    expect(limited.parts[id]!.joint).toEqual({ z: HELD });
    expect(parseShot(JSON.parse(JSON.stringify(limited))).ok).toBe(true);
    expect(apply(limited, invert(change))).toEqual(shot);
    const freed = apply(limited, setJointLimit(limited, id, 'z', null));
    expect(freed.parts[id]!.joint).toBeUndefined();
    expect(() => setJointLimit(shot, id, 'z', { least: 10, most: 5 })).toThrow('not from 10 to 5 degrees');
  });

  it('that are held refuse values and keys beyond, with what is allowed', () => {
    const { shot, id, turn } = arm();
    const limited = apply(shot, setJointLimit(shot, id, 'z', HELD));
    expect(() => setValues(limited, [[turn, 150]])).toThrow('150 is out of range: -5 to 145 is allowed');
    expect(() => keyChannels(limited, 10, [[turn, -6]])).toThrow('-5 to 145');
    expect(apply(limited, setValues(limited, [[turn, 145]])).parts[id]!.values['rotation.z']).toBe(145);
    // About the other axes it turns as it did.
    expect(channelAt(limited, `${id}/rotation.x`)).toEqual(channelAt(shot, `${id}/rotation.x`));
  });

  it('cannot be held while a value or a key lies beyond: the place and the cure are told', () => {
    const { shot, id, turn } = arm();
    const turned = apply(shot, setValues(shot, [[turn, 160]]));
    expect(() => setJointLimit(turned, id, 'z', HELD)).toThrow(/is 160 degrees: change it first/);
    const keyed = apply(shot, keyChannels(shot, 24, [[turn, 170]], random));
    expect(() => setJointLimit(keyed, id, 'z', HELD)).toThrow(/a key of 170 degrees at frame 24/);
    const clip = makeClip(keyed, [turn], 1, 24, 'Wave', random);
    const clipped = apply(keyed, clip.change);
    expect(clipped.parts[id]!.tracks['rotation.z']).toBeUndefined();
    expect(() => setJointLimit(clipped, id, 'z', HELD)).toThrow(/170 degrees at frame \d+ of the clip Wave/);
    // A value below a link or keys is the channel's all the same: the document would be unsound.
    const linked = apply(turned, setLink(turned, turn, 'mix(own, 0deg, 0.5)'));
    expect(() => setJointLimit(linked, id, 'z', HELD)).toThrow(/is 160 degrees of its own, below its link/);
    expect(
      apply(keyed, setJointLimit(keyed, id, 'z', { least: -5, most: 145 })).parts[id]!.joint,
    ).toBeDefined();
  });

  it('hold what a formula or a clip would turn further, in the fast evaluation and the plain one', () => {
    const { shot, id, turn } = arm();
    let limited = apply(shot, setJointLimit(shot, id, 'z', HELD));
    limited = apply(limited, setLink(limited, turn, 'frame * 10deg - 100deg'));
    expect(checkStructure(limited)).toEqual([]);
    const free = apply(limited, setJointLimit(limited, id, 'z', null));
    const patched = new Evaluator(compile(limited, {}, compile(free)));
    patched.evaluate(40);
    expect(patched.number(turn)).toBe(145);
    for (const [frame, value] of [
      [1, -5],
      [12, 20],
      [40, 145],
    ] as const) {
      expect(at(limited, frame).number(turn)).toBe(value);
      expect(new Reference(limited, frame).value(turn)[0]).toBe(value);
    }
  });

  it('without a value of its own it begins as near to 0 as it can', () => {
    const { shot, id, turn } = arm();
    const limited = apply(shot, setJointLimit(shot, id, 'z', { least: 20, most: 90, held: true }));
    expect(at(limited, 1).number(turn)).toBe(20);
    expect(new Reference(limited, 1).value(turn)[0]).toBe(20);
  });

  it('that are only told are told with the frame, and by how much', () => {
    const { shot, id, turn } = arm();
    let told = apply(shot, keyChannels(shot, 1, [[turn, 0]], random));
    told = apply(told, keyChannels(told, 24, [[turn, 152]], random));
    told = apply(told, keyChannels(told, 48, [[turn, 0]], random));
    told = apply(told, setJointLimit(told, id, 'z', { least: -5, most: 145 }));
    const found = checkShot(told).filter(({ code }) => code === 'joint.beyond');
    expect(found).toMatchObject([{ frame: 24, address: turn, amount: 7 }]);
    expect(found[0]!.message).toContain(
      'Left forearm turns to 152 degrees about z at frame 24, 7 beyond its joint, which goes from -5 to 145.',
    );
    const within = apply(told, setJointLimit(told, id, 'z', { least: -5, most: 152 }));
    expect(checkShot(within).filter(({ code }) => code === 'joint.beyond')).toEqual([]);
  });

  it('are turned over in a mirrored copy, and a pose goes as far as they let it', () => {
    const { shot, id } = arm();
    const limited = apply(shot, setJointLimit(shot, id, 'z', HELD));
    const both = apply(limited, mirrorParts(limited, [id], 'x', random).change);
    const other = Object.keys(both.parts).find((part) => both.parts[part]!.name === 'Right forearm')!;
    expect(both.parts[other]!.joint).toEqual({ z: { least: -145, most: 5, held: true } });
    const pose = { parts: [{ name: 'Left forearm', values: { 'rotation.z': 170 } }] };
    const options = { share: 1, only: null };
    expect(posedValues(both, at(both, 1), pose, { ...options, mirrored: false }).entries).toEqual([
      [`${id}/rotation.z`, 145],
    ]);
    expect(posedValues(both, at(both, 1), pose, { ...options, mirrored: true }).entries).toEqual([
      [`${other}/rotation.z`, -145],
    ]);
  });
});

/** A track that goes on as it went, beyond its last key. */
const straightOn = (track: Track): Track => ({
  ...track,
  after: 'straight',
  keys: Object.fromEntries(
    Object.entries(track.keys).map(([key, entry]) => [key, { ...entry, manner: 'linear' as const }]),
  ),
});

describe('limits that change while keys stay', () => {
  it('hold at once in a plan that is patched, as in one that is made anew', () => {
    const { shot, id, turn } = arm();
    let keyed = apply(shot, keyChannels(shot, 1, [[turn, 0]], random));
    keyed = apply(keyed, keyChannels(keyed, 25, [[turn, 140]], random));
    const overshot = straightOn(keyed.parts[id]!.tracks['rotation.z']!);
    keyed = {
      ...keyed,
      parts: { ...keyed.parts, [id]: { ...keyed.parts[id]!, tracks: { 'rotation.z': overshot } } },
    };
    const before = compile(keyed);
    const limited = apply(keyed, setJointLimit(keyed, id, 'z', HELD));
    const patched = new Evaluator(compile(limited, {}, before));
    patched.evaluate(40);
    expect(at(limited, 40).number(turn)).toBe(145);
    expect(patched.number(turn)).toBe(145);
  });

  it('of a dial, too', () => {
    const added = addDial(blankShot(), { name: 'gust', quantity: 'none', min: 0, max: 10 }, 0, random);
    let shot = apply(blankShot(), added.change);
    const address = `${added.id}/value`;
    shot = apply(shot, keyChannels(shot, 1, [[address, 0]], random));
    shot = apply(shot, keyChannels(shot, 25, [[address, 4]], random));
    const track = straightOn(shot.dials[added.id]!.tracks.value!);
    shot = { ...shot, dials: { [added.id]: { ...shot.dials[added.id]!, tracks: { value: track } } } };
    const before = compile(shot);
    const narrowed = { ...shot, dials: { [added.id]: { ...shot.dials[added.id]!, max: 5 } } };
    const patched = new Evaluator(compile(narrowed, {}, before));
    patched.evaluate(90);
    expect(at(narrowed, 90).number(address)).toBe(5);
    expect(patched.number(address)).toBe(5);
  });
});
