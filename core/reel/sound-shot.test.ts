import { describe, expect, it } from 'vitest';
import type { Shot } from '../document';
import { compile } from '../evaluate';
import { mix } from '../sound';
import { emptyShot } from '../testing/random-shot';
import { dissolve, reelOf, SHOT_A, SHOT_B, shotItem, titleItem } from '../testing/reels';
import { soundShot, type Reel } from './index';

const RATE = 2400;
/** A shot of four seconds at 24 frames with a sound that is one number all through, from its first frame on. */
const humming = (start = 1): Shot => ({
  ...emptyShot(),
  setup: { ...emptyShot().setup, first: 1, last: 96, rate: { num: 24, den: 1 } },
  sounds: { snd_h: { name: 'Hum', asset: 'a'.repeat(64), start, values: {}, tracks: {}, links: {} } },
});
const shots: Record<string, Shot> = { [SHOT_A]: humming(), [SHOT_B]: humming(25) };

/** What is heard at each frame of a reel, of the shots' hum, which is `1` in shot A and `0.5` in shot B. */
function heard(reel: Reel): number[] {
  const shot = soundShot(reel, (id) => shots[id] ?? null);
  const files = Object.fromEntries(
    Object.keys(shot.sounds).map((id) => {
      const item = reel.items.find((each) => id.endsWith(each.id.slice(4)));
      const level = item?.kind === 'shot' && item.shot === SHOT_B ? 0.5 : 1;
      return [id, { channels: [new Float32Array(RATE * 20).fill(level)], rate: RATE }];
    }),
  );
  const [left] = mix(compile(shot, {}), files, shot.setup.first, shot.setup.last, RATE);
  return Array.from({ length: shot.setup.last }, (_, i) => left[i * 100 + 50]!);
}

describe('what is heard of a reel', () => {
  it('is the sound of each shot from its in to its out', () => {
    // The hum of B begins at its frame 25: from its frame 21 on it is the fifth frame.
    const found = heard(reelOf(shotItem(5), titleItem(3), shotItem(8, { shot: SHOT_B, first: 21 })));
    expect(found.map((value) => Math.round(value * 100) / 100)).toEqual([
      ...[1, 1, 1, 1, 1],
      ...[0, 0, 0],
      ...[0, 0, 0, 0, 0.5, 0.5, 0.5, 0.5],
    ]);
    expect(heard(reelOf(shotItem(3, { silent: true })))).toEqual([0, 0, 0]);
    expect(heard(reelOf(shotItem(2, { shot: '00000000-0000-4000-8000-0000000000ff' })))).toEqual([0, 0]);
  });

  it('goes over from one shot to the next where they are joined, by equal power', () => {
    const found = heard(reelOf(shotItem(12), shotItem(12, { first: 20, join: dissolve(8) })));
    expect(found[7]).toBeCloseTo(1, 5);
    expect(found[16]).toBeCloseTo(1, 5);
    // Both are one number here: sine and cosine of the same angle, added.
    for (const i of [0, 1, 2, 3, 4, 5, 6, 7]) {
      const angle = (((i + 0.5) / 8) * Math.PI) / 2;
      expect(found[8 + i], `frame ${9 + i}`).toBeCloseTo(Math.sin(angle) + Math.cos(angle), 3);
    }
  });

  it('rises with the rest of a join in which it begins', () => {
    // Its first frame is the first after the cut: the second half of the join, 4 of 8 frames, is left to it.
    const found = heard(reelOf(shotItem(12, { silent: true }), shotItem(12, { join: dissolve(8) })));
    expect(found.slice(8, 12)).toEqual([0, 0, 0, 0]);
    for (const i of [0, 1, 2, 3])
      expect(found[12 + i]).toBeCloseTo(Math.sin((((i + 0.5) / 4) * Math.PI) / 2), 3);
    expect(found[16]).toBeCloseTo(1, 5);
  });

  it('has its own sounds across the cuts', () => {
    const reel: Reel = {
      ...reelOf(titleItem(4), titleItem(6)),
      sounds: [
        {
          id: 'snd_across',
          name: 'Organ',
          asset: 'b'.repeat(64),
          start: 3,
          from: 0,
          length: 0.25,
          level: 0.5,
          fadeIn: 0,
          fadeOut: 0,
        },
      ],
    };
    expect(heard(reel)).toEqual([0, 0, 0.5, 0.5, 0.5, 0.5, 0.5, 0.5, 0, 0]);
  });
});
