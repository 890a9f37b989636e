import { describe, expect, it } from 'vitest';
import { CAM_LAWS, camLift, camRise, camTrouble, type CamLaw } from './index';

// Displacement at u = 0.05, 0.1, 0.125, 0.2, 0.25, 0.3, 0.375, 0.4, from the closed forms in Norton's handbook.
const PUBLISHED: Record<CamLaw, number[]> = {
  harmonic: [
    0.0061558297, 0.0244717419, 0.0380602337, 0.0954915028, 0.146446609, 0.206107374, 0.308658284,
    0.345491503,
  ],
  cycloidal: [
    0.000818417846, 0.00645107162, 0.0124604605, 0.0486346543, 0.0908450569, 0.148634654, 0.26246046,
    0.306451072,
  ],
  '3-4-5': [0.001158125, 0.00856, 0.0160522461, 0.05792, 0.103515625, 0.16308, 0.27520752, 0.31744],
  '4-5-6-7': [
    0.000193578125, 0.002728, 0.00623893738, 0.033344, 0.0705566406, 0.126036, 0.243021011, 0.289792,
  ],
  'modified sine': [
    0.00141891593, 0.0106972128, 0.0199814087, 0.0683938993, 0.117178485, 0.177887763, 0.287484507,
    0.327865188,
  ],
  'modified trapezoid': [
    0.00125468353, 0.00945906406, 0.0176686609, 0.0605903487, 0.104480194, 0.160590349, 0.267668661,
    0.309459064,
  ],
};
// Peak factors of speed and acceleration (Norton, Rothbart): v = Cv h w / b, a = Ca h w^2 / b^2.
const PEAKS: Record<CamLaw, [speed: number, acceleration: number]> = {
  harmonic: [1.570796327, 4.934802201],
  cycloidal: [2, 6.283185307],
  '3-4-5': [1.875, 5.773502692],
  '4-5-6-7': [2.1875, 7.513188404],
  'modified sine': [1.759603386, 5.527957071],
  'modified trapezoid': [2, 4.888123763],
};
const SHARES = [0.05, 0.1, 0.125, 0.2, 0.25, 0.3, 0.375, 0.4];

describe.each(CAM_LAWS)('cam law %s', (law) => {
  it('follows the published table, and is symmetric', () =>
    SHARES.forEach((u, i) => {
      expect(camRise(law, u)).toBeCloseTo(PUBLISHED[law][i]!, 9);
      expect(camRise(law, 1 - u)).toBeCloseTo(1 - PUBLISHED[law][i]!, 9);
      expect(camRise(law, 0.5)).toBeCloseTo(0.5, 12);
    }));
  it('has the published peak speed and acceleration, found on the curve itself', () => {
    const h = 1e-4;
    let speed = 0;
    let acceleration = 0;
    for (let u = h; u <= 1 - h; u += h) {
      const [a, b, c] = [camRise(law, u - h), camRise(law, u), camRise(law, u + h)];
      speed = Math.max(speed, (c - a) / (2 * h));
      acceleration = Math.max(acceleration, Math.abs(a - 2 * b + c) / (h * h));
    }
    expect(speed).toBeCloseTo(PEAKS[law][0], 4);
    expect(acceleration).toBeCloseTo(PEAKS[law][1], 2);
  });
});

describe('double-dwell cam: lift 25, rise 120, dwell 60, fall 120', () => {
  const at = (law: CamLaw, theta: number): number => camLift(law, theta - 60, 25, 120, 60, 120);
  it.each([
    ['cycloidal', [0.311511512, 2.271126423, 22.72887358, 25, 22.72887358, 2.271126423]],
    ['modified sine', [0.4995352179, 2.929462115, 22.07053788, 25, 22.07053788, 2.929462115]],
  ] as const)('%s', (law, lifts) =>
    [75, 90, 150, 210, 270, 330].forEach((theta, i) => expect(at(law, theta)).toBeCloseTo(lifts[i]!, 8)),
  );
  it('rests at 0, and turn after turn alike', () => {
    expect([at('harmonic', 30), at('harmonic', 60), at('harmonic', 390)]).toEqual([0, 0, 0]);
    expect(at('3-4-5', 90 + 720)).toBeCloseTo(at('3-4-5', 90), 9);
  });
  it('refuses more than a turn, and says so', () => {
    expect(camLift('harmonic', 10, 1, 200, 100, 100)).toBeNaN();
    expect(camTrouble(200, 100, 100)).toContain('400 degrees');
    expect(camTrouble(120, 60, -1)).toContain('negative');
    expect(camTrouble(120, 60, 180)).toBeNull();
  });
  it('a rise of 0 degrees is a step', () => expect(camLift('harmonic', 0, 2, 0, 90, 90)).toBe(2));
});
