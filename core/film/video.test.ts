import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { VIDEO_AFTER, videoLength, videoPicture, type Playing } from './video';

const plain: Playing = {
  rate: { num: 25, den: 1 },
  start: 1,
  speed: 1,
  from: 0,
  to: 50,
  after: 'hold',
};
const rate24 = { num: 24, den: 1 };
const rates = [
  [24, 1],
  [25, 1],
  [30, 1],
  [60, 1],
  [24_000, 1001],
  [30_000, 1001],
  [15, 1],
] as const;

/** The pictures in the order in which they are shown, written out one after another. */
function written({ from, to, speed, after }: Playing, count: number): number[] {
  const once = Array.from({ length: to - from }, (_, i) => from + i);
  if (speed < 0) once.reverse();
  const all = [...once];
  for (let round = 0; all.length < count; round++) {
    if (after === 'hold' || once.length === 1) all.push(once.at(-1)!);
    else if (after === 'loop') all.push(...once);
    else all.push(...(round % 2 === 0 ? once.slice(0, -1).reverse() : once.slice(1)));
  }
  return all;
}

describe('the picture of a video at a frame', () => {
  it('is the last one that has begun, by whole numbers, whatever the rates, the trim and what follows', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...rates),
        fc.constantFrom(...rates),
        fc.integer({ min: -30, max: 400 }),
        fc.integer({ min: -20, max: 20 }),
        fc.constantFrom(-3, -1, 1, 2),
        fc.nat({ max: 20 }),
        fc.integer({ min: 1, max: 20 }),
        fc.constantFrom(...VIDEO_AFTER),
        (video, shot, frame, start, speed, from, count, after) => {
          const playing = {
            ...plain,
            rate: { num: video[0], den: video[1] },
            ...{ start, speed, from, to: from + count, after },
          };
          const run = BigInt(Math.max(0, frame - start) * Math.abs(speed));
          const begun = Number((run * BigInt(video[0] * shot[1])) / BigInt(video[1] * shot[0]));
          const wanted = written(playing, begun + 1)[begun];
          expect(videoPicture(playing, frame, { num: shot[0], den: shot[1] })).toBe(wanted);
        },
      ),
    );
  });
  it('moves on by its shift, and by that alone at speed 0', () => {
    expect(videoPicture(plain, 1, rate24, 7.9)).toBe(7);
    expect(videoPicture(plain, 1, rate24, -3)).toBe(0);
    expect(videoPicture({ ...plain, after: 'loop' }, 1, rate24, -3)).toBe(47);
    for (const frame of [1, 20, 300])
      expect(videoPicture({ ...plain, speed: 0 }, frame, rate24, 12)).toBe(12);
  });
  it('takes as many frames for all of them as their time lasts', () => {
    expect(videoLength(plain, rate24)).toBe(48);
    expect(videoLength({ ...plain, speed: -2 }, rate24)).toBe(24);
    expect(videoLength({ ...plain, speed: 0 }, rate24)).toBe(Infinity);
  });
});
