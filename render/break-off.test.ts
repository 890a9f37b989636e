import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { unlessGivenUp } from './break-off';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

/** Work that would never end by itself, as a frame that asks for hours. */
function endless() {
  let fail: (error: Error) => void = () => undefined;
  const work = new Promise<string>((_, reject) => (fail = reject));
  const breakOff = vi.fn(() => {
    fail(new Error('The page was closed.'));
    return Promise.resolve();
  });
  return { work, breakOff };
}

it('work that is given up in its middle is broken off, once, and ends with nothing', async () => {
  const { work, breakOff } = endless();
  let givenUp = false;
  const ended = unlessGivenUp(work, () => Promise.resolve(givenUp), breakOff);
  await vi.advanceTimersByTimeAsync(60_000);
  expect(breakOff).not.toHaveBeenCalled();
  givenUp = true;
  await vi.advanceTimersByTimeAsync(1000);
  expect(await ended).toBeNull();
  await vi.advanceTimersByTimeAsync(10_000);
  expect(breakOff).toHaveBeenCalledTimes(1);
});

it('work goes on while nobody can be asked, and its own faults are passed on', async () => {
  const { work, breakOff } = endless();
  const ended = unlessGivenUp(work, () => Promise.reject(new Error('The database is away.')), breakOff);
  const told = expect(ended).rejects.toThrow('The page was closed.');
  await vi.advanceTimersByTimeAsync(5000);
  expect(breakOff).not.toHaveBeenCalled();
  void breakOff();
  await told;
  expect(await unlessGivenUp(Promise.resolve(7), () => Promise.resolve(true), vi.fn())).toBe(7);
});
