import { expect, it } from 'vitest';
import { reelFrames, reelSchema, reelTrouble, shotsOfReel } from '../core/reel';
import { DEMO_SHOTS, demoReel, demoShotId } from './index';

it('the demo reel is a whole one, of shots of the demo that have the frames it shows', () => {
  const reel = demoReel(demoShotId);
  expect(reelSchema.safeParse(reel).error).toBeUndefined();
  expect(reelTrouble(reel)).toBeNull();
  expect(reelFrames(reel)).toBe(276);
  expect(shotsOfReel(reel)).toHaveLength(3);
  for (const item of reel.items) {
    if (item.kind !== 'shot') continue;
    const { first, last } = DEMO_SHOTS.find(({ name }) => name === item.name)!.build().setup;
    expect(item.first).toBeGreaterThanOrEqual(first);
    expect(item.first + item.frames - 1, item.name).toBeLessThanOrEqual(last);
  }
});

it('the demo reel goes without shots that somebody has deleted', () => {
  const reel = demoReel((name) => (name === 'Full ride' ? undefined : demoShotId(name)));
  expect(reelTrouble(reel)).toBeNull();
  expect(reelFrames(reel)).toBe(180);
});
