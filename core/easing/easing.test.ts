import { derivative } from 'mathjs';
import { describe, expect, it } from 'vitest';
import {
  EASING_FAMILIES,
  EASING_NAMES,
  easingEndSlope,
  easingValue,
  reversedEasing,
  type EasingName,
} from './index';

// R. Penner (2002), chapter 7; columns: in, out, in-out at 0.25, 0.5, 0.75.
const PUBLISHED: Record<string, number[]> = {
  quad: [0.0625, 0.25, 0.5625, 0.4375, 0.75, 0.9375, 0.125, 0.5, 0.875],
  cubic: [0.015625, 0.125, 0.421875, 0.578125, 0.875, 0.984375, 0.0625, 0.5, 0.9375],
  quart: [0.00390625, 0.0625, 0.31640625, 0.68359375, 0.9375, 0.99609375, 0.03125, 0.5, 0.96875],
  quint: [0.0009765625, 0.03125, 0.237304688, 0.762695313, 0.96875, 0.999023438, 0.015625, 0.5, 0.984375],
  sine: [
    0.0761204675, 0.292893219, 0.617316568, 0.382683432, 0.707106781, 0.923879533, 0.146446609, 0.5,
    0.853553391,
  ],
  expo: [0.00552427173, 0.03125, 0.176776695, 0.823223305, 0.96875, 0.994475728, 0.015625, 0.5, 0.984375],
  circ: [
    0.0317541634, 0.133974596, 0.338562172, 0.661437828, 0.866025404, 0.968245837, 0.0669872981, 0.5,
    0.933012702,
  ],
  back: [
    -0.0641365625, -0.0876975, 0.182590312, 0.817409688, 1.0876975, 1.06413656, -0.0996818437, 0.5,
    1.09968184,
  ],
  elastic: [
    -0.00552427173, -0.015625, 0.0883883476, 0.911611652, 1.015625, 1.00552427, 0.0119694444, 0.5,
    0.988030556,
  ],
  bounce: [0.02734375, 0.234375, 0.52734375, 0.47265625, 0.765625, 0.97265625, 0.1171875, 0.5, 0.8828125],
};

describe('easing equations (Penner 2002)', () => {
  it.each(EASING_FAMILIES)('%s', (family) => {
    const directions = ['in', 'out', 'in-out'] as const;
    directions.forEach((direction, row) =>
      [0.25, 0.5, 0.75].forEach((t, i) =>
        expect(easingValue(`${family}-${direction}`, t)).toBeCloseTo(PUBLISHED[family]![row * 3 + i]!, 6),
      ),
    );
  });
  it.each(EASING_NAMES)(
    '%s runs from exactly 0 to exactly 1, and backwards as its reverse',
    (name: EasingName) => {
      expect([
        easingValue(name, 0),
        easingValue(name, 1),
        easingValue(name, -1),
        easingValue(name, 2),
      ]).toEqual([0, 1, 0, 1]);
      for (let t = 0; t <= 1; t += 0.125)
        expect(easingValue(reversedEasing(name), t)).toBeCloseTo(1 - easingValue(name, 1 - t), 12);
    },
  );
});

describe('slopes at the ends', () => {
  // The in forms as Penner writes them with b = 0, c = 1, d = 1; derivatives by mathjs.
  const EQUATIONS: Record<string, string> = {
    sine: '1 - cos(t * pi / 2)',
    quad: 't^2',
    cubic: 't^3',
    quart: 't^4',
    quint: 't^5',
    expo: '2^(10 * (t - 1))',
    back: 't^2 * ((1.70158 + 1) * t - 1.70158)',
    elastic: '-(2^(10 * (t - 1)) * sin((t - 1 - 0.3 / 4) * 2 * pi / 0.3))',
  };
  it.each(Object.entries(EQUATIONS))('%s by the derivative of its equation', (family, equation) => {
    const slope = derivative(equation, 't');
    const at = (t: number): number => slope.evaluate({ t }) as number;
    const name = (direction: string): EasingName => `${family}-${direction}` as EasingName;
    expect(easingEndSlope(name('in'), 'start')).toBeCloseTo(at(0), 10);
    expect(easingEndSlope(name('in'), 'finish')).toBeCloseTo(at(1), 10);
    expect(easingEndSlope(name('out'), 'start')).toBeCloseTo(at(1), 10);
    expect(easingEndSlope(name('out'), 'finish')).toBeCloseTo(at(0), 10);
  });
  it('elastic in-out by its own period', () => {
    const at = derivative('-(2^(10 * (t - 1)) * sin((t - 1 - 0.45 / 4) * 2 * pi / 0.45))', 't').evaluate({
      t: 0,
    }) as number;
    expect(easingEndSlope('elastic-in-out', 'start')).toBeCloseTo(at, 10);
    expect(easingEndSlope('elastic-in-out', 'finish')).toBeCloseTo(at, 10);
  });
  it('a bounce leaves its floor with a slope, a circle ends upright', () => {
    expect(easingEndSlope('bounce-in', 'start')).toBeCloseTo(easingValue('bounce-in', 1e-7) / 1e-7, 5);
    expect(easingEndSlope('bounce-out', 'start')).toBe(0);
    expect(easingEndSlope('circ-in', 'finish')).toBe(Infinity);
    expect(easingEndSlope('circ-in', 'start')).toBe(0);
  });
});
