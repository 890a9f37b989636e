import { expect, it, vi } from 'vitest';
import { compile } from '../../../../core/evaluate';
import { mix } from '../../../../core/sound';
import { emptyShot } from '../../../../core/testing/random-shot';
import { mixed } from './save-mix';

it.each([
  [24, 1],
  [30000, 1001],
])('what is mixed in pieces is what is mixed at once, to a millionth, at %i/%i', async (num, den) => {
  vi.useRealTimers();
  const rate = 8000;
  const tone = Float32Array.from({ length: rate * 3 }, (_, i) => 0.4 * Math.sin(i / 7));
  const shot = {
    ...emptyShot(),
    setup: { ...emptyShot().setup, first: 1, last: 600, rate: { num, den } },
    sounds: {
      snd_a: { name: 'A', start: 5, loop: true as const, fadeIn: 1, values: {}, tracks: {}, links: {} },
      snd_b: { name: 'B', start: 233, from: 0.5, fadeOut: 2, values: { level: 0.5 }, tracks: {}, links: {} },
    },
  };
  const plan = compile(shot);
  const files = { snd_a: { channels: [tone], rate }, snd_b: { channels: [tone, tone], rate } };
  const shares: number[] = [];
  const [left, right] = await mixed(plan, files, shot.setup, rate, (share) => shares.push(share));
  const whole = mix(plan, files, 1, 600, rate);
  expect(left.length).toBe(whole[0].length);
  let most = 0;
  left.forEach(
    (value, i) => (most = Math.max(most, Math.abs(value - whole[0][i]!), Math.abs(right[i]! - whole[1][i]!))),
  );
  // Where a piece begins, a moment is counted from elsewhere.
  expect(most).toBeLessThan(1e-6);
  expect(Math.max(...whole[0])).toBeGreaterThan(0.1);
  expect(shares.length).toBe(den === 1 ? 3 : 1);
});
