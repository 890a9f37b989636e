import { describe, expect, it } from 'vitest';
import { blankShot, trackOf, type Shot } from '../document';
import { compile, Evaluator } from '../evaluate';
import { seeded } from '../testing/seeded';
import {
  addPart,
  apply,
  copyPose,
  keptPose,
  keyChannels,
  posedValues,
  setLink,
  setValues,
  type KeptPose,
} from './index';

const random = seeded(61);
const WHOLE = { share: 1, mirrored: false, only: null };

function figure(): { shot: Shot; id: Record<string, string> } {
  let shot = blankShot();
  const id: Record<string, string> = {};
  for (const [name, parent] of [
    ['Bosun', null],
    ['Chest', 'Bosun'],
    ['Left arm', 'Chest'],
    ['Left hand', 'Left arm'],
    ['Right arm', 'Chest'],
    ['Right hand', 'Right arm'],
  ] as const) {
    const added = addPart(shot, { kind: 'hub', name, parent: parent && id[parent]! }, random);
    shot = apply(shot, added.change);
    id[name] = added.id;
  }
  shot = apply(
    shot,
    setValues(shot, [
      [`${id['Left arm']}/location.x`, 0.3],
      [`${id['Right arm']}/location.x`, -0.3],
      [`${id['Left hand']}/location.y`, -0.6],
      [`${id['Right hand']}/location.y`, -0.6],
    ]),
  );
  return { shot, id };
}
const at = (shot: Shot, frame = 1): Evaluator => {
  const evaluator = new Evaluator(compile(shot));
  evaluator.evaluate(frame);
  return evaluator;
};
const posed = (shot: Shot, pose: KeptPose, options = WHOLE, frame = 20): Shot => {
  const { entries } = posedValues(shot, at(shot, frame), pose, options);
  return apply(shot, keyChannels(shot, frame, entries, random));
};
/** A figure with its left arm up and its chest turned, and that pose. */
function waving(): { shot: Shot; id: Record<string, string>; pose: KeptPose } {
  const { shot, id } = figure();
  const moved = apply(
    shot,
    setValues(shot, [
      [`${id['Left arm']}/rotation.z`, 140],
      [`${id.Chest}/rotation.y`, 24],
    ]),
  );
  return { shot, id, pose: keptPose(copyPose(moved, at(moved), [id.Bosun!])) };
}

describe('a kept pose', () => {
  it('keeps what differs from the beginning of its channels, by the names of the parts', () => {
    const { pose } = waving();
    expect(pose.parts.map((part) => part.name).sort()).toEqual([
      'Bosun',
      'Chest',
      'Left arm',
      'Left hand',
      'Right arm',
      'Right hand',
    ]);
    expect(pose.parts).toContainEqual({ name: 'Left arm', values: { 'location.x': 0.3, 'rotation.z': 140 } });
    expect(pose.parts).toContainEqual({ name: 'Bosun', values: {} });
  });

  it('is put in exactly, with keys for what differs alone', () => {
    const { shot, id, pose } = waving();
    const { entries, parts, missing } = posedValues(shot, at(shot), pose, WHOLE);
    expect(entries).toEqual([
      [`${id.Chest}/rotation.y`, 24],
      [`${id['Left arm']}/rotation.z`, 140],
    ]);
    expect([parts, missing]).toEqual([2, []]);
  });

  it('keys again what has keys already, though it does not differ', () => {
    const { shot, id, pose } = waving();
    const turn = `${id['Right arm']}/rotation.z`;
    const keyed = apply(shot, keyChannels(shot, 1, [[turn, 0]], random));
    expect(posedValues(keyed, at(keyed, 20), pose, WHOLE).entries).toContainEqual([turn, 0]);
    const next = posed(keyed, pose);
    expect(Object.values(trackOf(next, turn)!.keys).map((key) => key.frame)).toEqual([1, 20]);
  });

  it('takes a shot from any pose to its own, and half way by a share of a half', () => {
    const { shot, id, pose } = waving();
    const turn = `${id['Left arm']}/rotation.z`;
    const elsewhere = apply(
      shot,
      setValues(shot, [
        [turn, -20],
        [`${id['Right hand']}/scale.x`, 3],
      ]),
    );
    const half = posed(elsewhere, pose, { ...WHOLE, share: 0.5 });
    expect(at(half, 20).number(turn)).toBe(60);
    expect(at(half, 20).number(`${id['Right hand']}/scale.x`)).toBe(2);
    const whole = posed(elsewhere, pose);
    for (const [name, values] of pose.parts.map((part) => [part.name, part.values] as const))
      for (const path of ['location.x', 'location.y', 'rotation.y', 'rotation.z', 'scale.x'])
        expect(at(whole, 20).number(`${id[name]}/${path}`)).toBe(
          values[path] ?? (path === 'scale.x' ? 1 : 0),
        );
    expect(() => posedValues(shot, at(shot), pose, { ...WHOLE, share: 1.5 })).toThrow(/share from 0 to 1/);
  });

  it('mirrored twice is what it was; mirrored once left is right', () => {
    const { shot, id, pose } = waving();
    const once = posed(shot, pose, { ...WHOLE, mirrored: true });
    const then = at(once, 20);
    expect(then.number(`${id['Right arm']}/rotation.z`)).toBe(-140);
    expect(then.number(`${id['Left arm']}/rotation.z`)).toBe(0);
    expect(then.number(`${id.Chest}/rotation.y`)).toBe(-24);
    // The hands stand where a mirror across x shows them.
    const [left, right] = [
      at(posed(shot, pose), 20).worldOf(id['Left hand']!)!,
      then.worldOf(id['Right hand']!)!,
    ];
    expect([right[3], right[7], right[11]]).toEqual(
      [-left[3]!, left[7]!, left[11]!].map((value): unknown => expect.closeTo(value, 12)),
    );
    const back = keptPose(copyPose(once, then, [id.Bosun!]));
    const twice = posed(shot, back, { ...WHOLE, mirrored: true });
    expect(keptPose(copyPose(twice, at(twice, 20), [id.Bosun!]))).toEqual(pose);
  });

  it('poses the chosen parts alone, with all below them', () => {
    const { shot, id, pose } = waving();
    const { entries } = posedValues(shot, at(shot), pose, { ...WHOLE, only: [id['Left arm']!] });
    expect(entries).toEqual([[`${id['Left arm']}/rotation.z`, 140]]);
    expect(posedValues(shot, at(shot), pose, { ...WHOLE, only: [id['Right arm']!] }).entries).toEqual([]);
  });

  it('leaves linked channels alone, there and here, and tells what a shot lacks', () => {
    const { shot, id, pose } = waving();
    const linked = apply(shot, setLink(shot, `${id['Left arm']}/rotation.z`, 'frame * 1deg'));
    expect(posedValues(linked, at(linked), pose, WHOLE).entries).toEqual([[`${id.Chest}/rotation.y`, 24]]);
    const said = keptPose(copyPose(linked, at(linked, 50), [id.Bosun!]));
    expect(said.parts).toContainEqual({
      name: 'Left arm',
      values: { 'location.x': 0.3 },
      linked: ['rotation.z'],
    });
    // A formula that reads its own value leaves it one: an arm that reaches by a share is posed, too.
    const shared = apply(shot, setLink(shot, `${id['Left arm']}/rotation.z`, 'mix(own, 90deg, 0.5)'));
    const then = posed(shared, pose);
    expect(at(then, 20).own(`${id['Left arm']}/rotation.z`)).toBe(140);
    expect(at(then, 20).number(`${id['Left arm']}/rotation.z`)).toBe(115);
    expect(keptPose(copyPose(then, at(then, 20), [id.Bosun!]))).toEqual(pose);
    // Kept while it was linked: where it is not, it stays as it is.
    const turned = apply(shot, setValues(shot, [[`${id['Left arm']}/rotation.z`, 33]]));
    expect(posedValues(turned, at(turned), said, WHOLE).entries).toEqual([]);
    const empty = blankShot();
    expect(posedValues(empty, at(empty), pose, WHOLE).missing).toHaveLength(6);
  });
});
