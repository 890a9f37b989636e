import { describe, expect, it } from 'vitest';
import { FINENESSES, Pace, type Fineness } from './pace';

/** Draws pictures one after another on a machine where each fineness takes its time; @returns the steps drawn at. */
function moved(
  pace: Pace,
  costs: readonly number[],
  pictures: number,
  from = 1000,
): { steps: number[]; end: number } {
  let now = from;
  const steps: number[] = [];
  for (let i = 0; i < pictures; i++) {
    const fineness: Fineness = pace.begin(now);
    const step = FINENESSES.indexOf(fineness);
    steps.push(step);
    // At 24 frames a second there is no picture sooner than the next frame.
    now += Math.max(1000 / 24, costs[step]!);
  }
  return { steps, end: now };
}

describe('the pace of the view', () => {
  it('stays at the finest where that is quick', () => {
    expect(new Set(moved(new Pace(), [10, 8, 6, 5, 4, 3], 200).steps)).toEqual(new Set([0]));
  });

  it('comes down in a few pictures to what makes twelve a second, and stays there', () => {
    const { steps } = moved(new Pace(), [420, 230, 130, 70, 45, 30], 150);
    expect(steps.slice(0, 7)).toEqual([0, 2, 2, 2, 3, 3, 3]);
    expect(new Set(steps.slice(4))).toEqual(new Set([3]));
  });

  it('tries a finer one again once it has been quick for long, and leaves what was too slow alone for a while', () => {
    const pace = new Pace();
    // Slow at first, as while programs are linked; then all but the finest are quick.
    const { end } = moved(pace, [400, 400, 400, 400, 60, 60], 4);
    const { steps } = moved(pace, [120, 30, 25, 20, 15, 10], 600, end);
    expect(Math.min(...steps.slice(0, 100))).toBeGreaterThan(0);
    expect(steps.at(-1)).toBeLessThanOrEqual(1);
    // The finest is tried seldom.
    expect(steps.filter((step) => step === 0).length).toBeLessThan(12);
  });

  it('draws what has come to rest, and single changes, as finely as can be; a known movement begins coarse', () => {
    const pace = new Pace();
    const { end } = moved(pace, [420, 230, 130, 70, 45, 30], 20);
    pace.rest();
    expect(pace.begin(end + 300)).toBe(FINENESSES[0]);
    pace.rest();
    expect(pace.begin(end + 5000)).toBe(FINENESSES[0]);
    pace.rest();
    pace.resume(end + 9000);
    expect(pace.begin(end + 9010)).toBe(FINENESSES[3]);
  });
});
