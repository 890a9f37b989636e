import { expect, it } from 'vitest';
import { RecentFrames } from './recent-frames';

const frame = (bytes: number) => ({
  width: 1,
  height: 1,
  alpha: false,
  deep: false,
  pixels: Buffer.alloc(bytes),
});

it('the pictures drawn last are held up to a number of bytes, each once, and given once', () => {
  const recent = new RecentFrames(100);
  // A frame that is drawn again takes no room twice.
  for (let i = 0; i < 5; i++) recent.put('a', 1, frame(40));
  recent.put('a', 2, frame(40));
  expect(recent.take('b', 1)).toBeNull();
  expect(recent.take('a', 1)).not.toBeNull();
  expect(recent.take('a', 1)).toBeNull();
  recent.put('a', 3, frame(40));
  recent.put('a', 4, frame(40));
  // The oldest makes room; what is larger than all there is, is not held.
  expect(recent.take('a', 2)).toBeNull();
  recent.put('a', 5, frame(101));
  expect(recent.take('a', 5)).toBeNull();
  expect([recent.take('a', 3), recent.take('a', 4)].every((held) => held !== null)).toBe(true);
});
