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

it('a picture that is waited for is heard of as soon as it is there, also one that is too large to be held', async () => {
  const recent = new RecentFrames(100);
  const heard: string[] = [];
  const waits = [1, 2].map((which) => recent.come('a', which, 60_000).then(() => heard.push(`a ${which}`)));
  recent.put('b', 1, frame(40));
  await Promise.resolve();
  expect(heard).toEqual([]);
  recent.put('a', 2, frame(101));
  await waits[1];
  expect(heard).toEqual(['a 2']);
  recent.put('a', 1, frame(40));
  await waits[0];
  expect(heard).toEqual(['a 2', 'a 1']);
  // One that is there already is not waited for, and none is waited for longer than was said.
  await recent.come('a', 1, 60_000);
  const start = performance.now();
  await recent.come('a', 9, 20);
  expect(performance.now() - start).toBeGreaterThan(15);
});
