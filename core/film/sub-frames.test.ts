import { describe, expect, it } from 'vitest';
import { subFrame } from './sub-frames';

const COUNTS = [2, 4, 8, 16, 32, 64];
const all = (frame: number, count: number) =>
  Array.from({ length: count }, (_, i) => subFrame(frame, i, count));
const mean = (numbers: readonly number[]): number =>
  numbers.reduce((sum, number) => sum + number, 0) / numbers.length;

describe('the pictures of a frame', () => {
  it('one alone is taken in the middle of everything', () => {
    const one = subFrame(12, 0, 1);
    expect([one.time, ...one.pixel, ...one.lens, ...one.lamp(3)]).toEqual([0, 0, 0, 0, 0, 0, 0]);
  });
  it.each(COUNTS)('%i lie at the middles of equal shares of the open shutter', (count) => {
    // Centred on the frame (reference 19.2): for 2 at -0.25 and 0.25 of the opening, for 4 at -0.375, -0.125, ...
    expect(all(7, count).map(({ time }) => time)).toEqual(
      Array.from({ length: count }, (_, i) => (i + 0.5) / count - 0.5),
    );
  });
  it.each([16, 32, 64])('%i lie evenly over the pixel, the lens, the lamps and the sky', (count) => {
    const pictures = all(5, count);
    for (const axis of [0, 1] as const) {
      expect(Math.abs(mean(pictures.map(({ pixel }) => pixel[axis])))).toBeLessThan(1.5 / count);
      expect(Math.abs(mean(pictures.map(({ lens }) => lens[axis])))).toBeLessThan(3 / count);
      expect(Math.abs(mean(pictures.map(({ lamp }) => lamp(2)[axis])))).toBeLessThan(3 / count);
    }
    // Of a disc of radius 1 the mean of the squared distance is a half; of half a globe the mean height is.
    expect(mean(pictures.map(({ lens: [x, y] }) => x * x + y * y))).toBeCloseTo(0.5, 1);
    expect(mean(pictures.map(({ sky }) => sky[1]))).toBeCloseTo(0.5, 1);
    for (const { sky, lens, pixel } of pictures) {
      expect(Math.hypot(...sky)).toBeCloseTo(1, 12);
      expect(sky[1]).toBeGreaterThan(0);
      expect(Math.hypot(...lens)).toBeLessThanOrEqual(1);
      for (const part of pixel) expect(Math.abs(part)).toBeLessThanOrEqual(0.5);
    }
  });
  it('are the same for a frame, others for another, but for the places within the pixel', () => {
    const at = (frame: number) => all(frame, 8).map(({ lens, lamp, sky }) => [lens, lamp(0), lamp(1), sky]);
    expect(at(3)).toEqual(at(3));
    expect(at(3)).not.toEqual(at(4));
    expect(all(3, 8).map(({ pixel }) => pixel)).toEqual(all(4, 8).map(({ pixel }) => pixel));
    const { lamp } = subFrame(3, 1, 8);
    expect(lamp(0)).not.toEqual(lamp(1));
  });
});
