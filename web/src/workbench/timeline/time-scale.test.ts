import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { keptWindow, rulerStep, snappedFrame, timeScale, zoomedWindow } from './time-scale';

const frame = fc.integer({ min: -500, max: 500 });

describe('time on the screen', () => {
  it('pixels and frames go to and fro', () =>
    fc.assert(
      fc.property(
        frame,
        fc.integer({ min: 1, max: 900 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (from, length, share) => {
          const scale = timeScale(from, from + length, 800);
          const at = from + share * length;
          expect(scale.frame(scale.x(at))).toBeCloseTo(at, 6);
          expect(scale.x(from)).toBeGreaterThanOrEqual(0);
          expect(scale.x(from + length)).toBeLessThanOrEqual(800);
        },
      ),
    ));

  it('zooming leaves the frame under the pointer where it is', () =>
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: 0.2, max: 4, noNaN: true }),
        (share, factor) => {
          const window = { from: 1, to: 97 };
          const about = 1 + share * 96;
          const before = timeScale(window.from, window.to, 800).x(about);
          const next = zoomedWindow(window, about, factor, 1, 97);
          expect(timeScale(next.from, next.to, 800).x(about)).toBeCloseTo(before, 6);
          expect(next.to - next.from).toBeLessThanOrEqual(96 * 3 + 1e-9);
          expect(next.to - next.from).toBeGreaterThanOrEqual(4 - 1e-9);
        },
      ),
    ));

  it('a window stays near the range, however it is pushed', () =>
    fc.assert(
      fc.property(
        fc.double({ min: -1e6, max: 1e6, noNaN: true }),
        fc.double({ min: 1, max: 1e6, noNaN: true }),
        (from, length) => {
          const kept = keptWindow({ from, to: from + length }, 1, 101);
          const middle = (kept.from + kept.to) / 2;
          expect(middle).toBeGreaterThanOrEqual(-99 - 1e-6);
          expect(middle).toBeLessThanOrEqual(201 + 1e-6);
        },
      ),
    ));

  it('numbers of the ruler do not touch', () => {
    for (const perFrame of [0.01, 0.3, 1, 5, 30, 200])
      expect(rulerStep(perFrame, 24) * perFrame).toBeGreaterThanOrEqual(54);
    expect(rulerStep(5, 24)).toBe(12);
  });

  it('a dragged key catches on what is near, else on whole frames', () => {
    expect(snappedFrame(12.4, [12.8, 40], 0.7)).toBe(12.8);
    expect(snappedFrame(12.4, [12.8, 12.5], 0.7)).toBe(12.5);
    expect(snappedFrame(12.4, [14], 0.7)).toBe(12);
    expect(snappedFrame(-3.6, [], 1)).toBe(-4);
  });
});
