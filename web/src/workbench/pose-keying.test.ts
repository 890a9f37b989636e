import { describe, expect, it } from 'vitest';
import { trackOf, type Shot } from '../../../core/document';
import { apply, compose, keyChannels } from '../../../core/edit';
import { emptyShot, hub } from '../../../core/testing/random-shot';
import { anchorPose, differingChannels, isPosed } from './pose-keying';

const start: Shot = {
  ...emptyShot(),
  parts: {
    prt_b: hub('Bosun', { values: { 'location.y': 1 } }),
    prt_a: hub('Left arm', { parent: 'prt_b' }),
    prt_h: hub('Head', { parent: 'prt_b' }),
  },
};
const ALL = ['prt_b', 'prt_a', 'prt_h'].flatMap((id) =>
  ['location', 'rotation'].flatMap((name) => ['x', 'y', 'z'].map((axis) => `${id}/${name}.${axis}`)),
);
const lanes = (shot: Shot): string[] =>
  Object.entries(shot.parts).flatMap(([id, part]) => Object.keys(part.tracks).map((path) => `${id}/${path}`));
const at = (shot: Shot, address: string): [number, unknown][] =>
  Object.values(trackOf(shot, address)!.keys).map((key) => [key.frame, key.value]);

describe('keying only what differs', () => {
  const first = differingChannels(start, ALL, {}, ['prt_b']);
  const posed = apply(
    start,
    keyChannels(
      start,
      1,
      first.map((address) => [address, address === 'prt_b/location.y' ? 1 : 0] as const),
    ),
  );
  it('the first pose keys what is not as it is at first, and where the figure stands', () => {
    expect(first.sort()).toEqual(['prt_b/location.x', 'prt_b/location.y', 'prt_b/location.z']);
    expect(isPosed(start, 'prt_a/rotation.z', 20)).toBe(false);
    expect(isPosed(posed, 'prt_a/rotation.z', 20)).toBe(true);
    expect(isPosed(posed, 'prt_a/rotation.z', 1)).toBe(false);
  });
  it('the next pose keys what was changed, and the pose before gets what it had', () => {
    const loose = { 'prt_a/rotation.z': 70 };
    const next = differingChannels(posed, ALL, loose, ['prt_b']);
    expect(next).toEqual(['prt_a/rotation.z']);
    const anchored = anchorPose(posed, 20, [['prt_a/rotation.z', 70]])!;
    const done = apply(
      posed,
      compose(anchored, keyChannels(apply(posed, anchored), 20, [['prt_a/rotation.z', 70]])),
    );
    expect(at(done, 'prt_a/rotation.z')).toEqual([
      [1, 0],
      [20, 70],
    ]);
    expect(lanes(done)).toHaveLength(4);
    // What moves is keyed in every later pose, changed there or not.
    expect(differingChannels(done, ALL, {}, ['prt_b'])).toEqual(['prt_a/rotation.z']);
  });
  it('has nothing to add where nothing is changed, and nothing before that differs', () => {
    expect(differingChannels(posed, ALL, {}, ['prt_b'])).toEqual([]);
    expect(anchorPose(posed, 20, [['prt_a/rotation.z', 0]])).toBeNull();
    expect(anchorPose(start, 20, [['prt_a/rotation.z', 9]])).toBeNull();
  });
});
