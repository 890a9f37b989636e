import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  belt,
  bevelCones,
  fourBar,
  fourBarTrouble,
  innerCentreDistance,
  intermittentAngle,
  intermittentSizes,
  intermittentTrouble,
  isGrashof,
  planetary,
  rackTravel,
  ringPhase,
  rollAngle,
  screwTravel,
  slotAngle,
  wormAngle,
  crankTrouble,
} from './index';

describe('four-bar linkage (Norton, Design of Machinery, chapter 4)', () => {
  it.each([
    [[40, 120, 80, 100], 40, 20.2978827882, 57.3248800704, -60.9779667959, -98.004964078],
    [[40, 120, 80, 100], 0, 36.3360575146, 62.720387264, -36.3360575146, -62.720387264],
    [[40, 120, 80, 100], 90, 18.8879026661, 80.2569128292, -62.4907216388, -123.859731802],
    [[40, 120, 80, 100], 180, 34.7719440319, 121.188622333, -34.7719440319, -121.188622333],
    [[2, 7, 9, 6], 30, 88.8372413003, 117.28606786, -115.210812164, -143.659638724],
    [[30, 100, 30, 100], 50, 0, 50, -31.7851217, -81.7851217],
  ] as const)('%j at %d degrees', (bars, angle, coupler, rocker, couplerCrossed, rockerCrossed) => {
    const [a, b, c, d] = bars;
    const open = fourBar(angle, a, b, c, d, 1);
    const crossed = fourBar(angle, a, b, c, d, -1);
    expect(open.coupler).toBeCloseTo(coupler, 6);
    expect(open.rocker).toBeCloseTo(rocker, 6);
    expect(crossed.coupler).toBeCloseTo(couplerCrossed, 6);
    expect(crossed.rocker).toBeCloseTo(rockerCrossed, 6);
  });
  it('the rocker swings between 54.9003678 and 128.6821875 degrees', () => {
    let [low, high] = [Infinity, -Infinity];
    for (let angle = 0; angle < 360; angle += 0.01) {
      const { rocker } = fourBar(angle, 40, 120, 80, 100, 1);
      low = Math.min(low, rocker);
      high = Math.max(high, rocker);
    }
    expect(low).toBeCloseTo(54.9003678, 5);
    expect(high).toBeCloseTo(128.6821875, 5);
  });
  it('closes wherever it gives angles (loop equation), and says why elsewhere', () => {
    const bar = fc.double({ min: 0.5, max: 10, noNaN: true });
    let closed = 0;
    fc.assert(
      fc.property(
        bar,
        bar,
        bar,
        bar,
        fc.double({ min: -720, max: 720, noNaN: true }),
        fc.boolean(),
        (a, b, c, d, angle, open) => {
          const { coupler, rocker } = fourBar(angle, a, b, c, d, open ? 1 : -1);
          if (Number.isNaN(rocker)) {
            expect(fourBarTrouble(angle, a, b, c, d)).toContain('cannot close');
            return;
          }
          closed++;
          expect(fourBarTrouble(angle, a, b, c, d)).toBeNull();
          const rad = Math.PI / 180;
          const x = a * Math.cos(angle * rad) + b * Math.cos(coupler * rad) - c * Math.cos(rocker * rad) - d;
          const y = a * Math.sin(angle * rad) + b * Math.sin(coupler * rad) - c * Math.sin(rocker * rad);
          expect(Math.hypot(x, y)).toBeLessThan(1e-7 * (a + b + c + d));
        },
      ),
      { numRuns: 2000 },
    );
    expect(closed).toBeGreaterThan(200);
  });
  it('Grashof: 40 120 80 100 turns right round, 60 80 70 120 stops at 108.2099569 degrees', () => {
    expect(isGrashof(40, 120, 80, 100)).toBe(true);
    expect(isGrashof(60, 80, 70, 120)).toBe(false);
    expect(fourBarTrouble(108.2099, 60, 80, 70, 120)).toBeNull();
    expect(fourBarTrouble(108.2101, 60, 80, 70, 120)).toContain('cannot close');
  });
  it('where the ground is the shortest bar the rocker counts its turns with the crank', () => {
    const turn = fourBar(380, 80, 90, 70, 30, 1).rocker - fourBar(20, 80, 90, 70, 30, 1).rocker;
    expect(turn).toBeCloseTo(360, 9);
    for (let angle = 0; angle < 720; angle += 1) {
      const step = fourBar(angle + 1, 80, 90, 70, 30, 1).rocker - fourBar(angle, 80, 90, 70, 30, 1).rocker;
      expect(Math.abs(step)).toBeLessThan(10);
    }
  });
});

describe('intermittent wheel (Bickford)', () => {
  it.each([
    [
      4,
      [
        [5, 11.77728433],
        [10, 22.01800303],
        [20, 35.78290698],
        [30, 42.36780516],
        [45, 45],
      ],
    ],
    [
      6,
      [
        [10, 9.706480903],
        [30, 23.79397689],
        [45, 28.67505006],
        [60, 30],
      ],
    ],
    [
      8,
      [
        [10, 6.087168004],
        [45, 20.35415825],
        [67.5, 22.5],
      ],
    ],
  ] as const)('%d slots', (slots, rows) => {
    for (const [alpha, beta] of rows) {
      expect(slotAngle(alpha, slots)).toBeCloseTo(beta, 6);
      expect(intermittentAngle(180 + alpha, slots)).toBeCloseTo(-(180 / slots + beta), 6);
    }
  });
  it.each([
    [4, 2.414213562, 5.406981035],
    [6, 1, 1.349637276],
    [8, 0.6199144044, 0.6997569841],
  ])(
    '%d slots: the published peak speed and acceleration, found on the curve itself',
    (slots, speed, acceleration) => {
      const h = 0.01;
      let [v, a] = [0, 0];
      const engaged = 90 - 180 / slots;
      for (let alpha = -engaged + h; alpha < engaged - h; alpha += h) {
        const [p, q, r] = [alpha - h, alpha, alpha + h].map((x) => slotAngle(x, slots)) as [
          number,
          number,
          number,
        ];
        v = Math.max(v, (r - p) / (2 * h));
        a = Math.max(a, (Math.abs(p - 2 * q + r) / (h * h)) * (180 / Math.PI));
      }
      expect(v).toBeCloseTo(speed, 5);
      expect(a).toBeCloseTo(acceleration, 3);
    },
  );
  it('rests three quarters of a turn with four slots, one step a turn, counted', () => {
    expect(intermittentAngle(0, 4) + 0).toBe(0);
    expect(intermittentAngle(135, 4) + 0).toBe(0);
    expect(intermittentAngle(225, 4)).toBe(-90);
    expect(intermittentAngle(360, 4)).toBe(-90);
    expect(intermittentAngle(5 * 360, 4)).toBe(-450);
    expect(intermittentAngle(-360, 4)).toBe(90);
  });
  // Inner wheels: turn and speed of the wheel from the middle of its step, speed at most, acceleration at its ends.
  it.each([
    [
      3,
      0.4641016151,
      1.732050808,
      [
        [20, 9.274690929, 0.4629914224],
        [60, 27.62634087, 0.4522175894],
        [100, 45.10945228, 0.4137474511],
      ],
    ],
    [
      4,
      0.4142135624,
      1,
      [
        [20, 8.267163486, 0.411627241],
        [60, 24.34287018, 0.3867295402],
        [100, 38.44387641, 0.3007054059],
      ],
    ],
    [
      6,
      0.3333333333,
      0.5773502692,
      [
        [20, 6.636272588, 0.3287430864],
        [60, 19.10660535, 0.2857142857],
        [100, 28.33449044, 0.1516009057],
      ],
    ],
    [
      8,
      0.2767686539,
      0.4142135624,
      [
        [20, 5.498763672, 0.2712457985],
        [60, 15.54577746, 0.2209022885],
        [100, 21.98373963, 0.07892551562],
      ],
    ],
  ] as const)(
    '%d slots that open inwards: the published turns, speeds and accelerations',
    (slots, peak, end, rows) => {
      const h = 0.01;
      const at = (alpha: number): number => slotAngle(alpha, slots, -1);
      const speed = (alpha: number): number => (at(alpha + h) - at(alpha - h)) / (2 * h);
      for (const [alpha, beta, slope] of rows) {
        expect(at(alpha)).toBeCloseTo(beta, 7);
        expect(speed(alpha)).toBeCloseTo(slope, 6);
        expect(intermittentAngle(180 + alpha, slots, -1)).toBeCloseTo(180 / slots + beta, 7);
      }
      expect(speed(0)).toBeCloseTo(peak, 6);
      // The pin goes into its slot along it: the wheel starts from rest, at once with this acceleration.
      const entry = 90 + 180 / slots;
      expect(speed(entry)).toBeCloseTo(0, 4);
      const bend = ((at(entry + h) - 2 * at(entry) + at(entry - h)) / (h * h)) * (180 / Math.PI);
      expect(Math.abs(bend)).toBeCloseTo(end, 3);
      expect(intermittentAngle(180 - entry, slots, -1)).toBeCloseTo(0, 9);
      expect(intermittentAngle(180 + entry, slots, -1)).toBeCloseTo(360 / slots, 9);
      expect(intermittentAngle(360 * 3, slots, -1)).toBeCloseTo((3 * 360) / slots, 9);
    },
  );
  it('refuses what is no wheel', () => {
    expect(intermittentAngle(10, 2.5)).toBeNaN();
    expect(intermittentAngle(10, 4, 0)).toBeNaN();
    expect(intermittentTrouble(4, 0.5)).toContain('outwards (1) or inwards (-1)');
    expect(intermittentTrouble(2)).toContain('3 or more');
  });
  it('sizes', () => {
    expect(intermittentSizes(1, 4).crank).toBeCloseTo(0.7071067812, 9);
    expect(intermittentSizes(1, 6).wheel).toBeCloseTo(0.8660254038, 9);
  });
});

describe('trains (Willis 1841; Shigley, chapter 13)', () => {
  it('ring held, carrier held, sun held, two given', () => {
    expect(planetary(20, 30, { sun: 1, ring: 0 })).toMatchObject({
      carrier: 0.2,
      planet: expect.closeTo(-1 / 3, 12) as number,
    });
    expect(planetary(20, 30, { sun: 0, ring: 1 }).carrier).toBeCloseTo(0.8, 12);
    expect(planetary(20, 30, { sun: 1, carrier: 0 }).ring).toBeCloseTo(-0.25, 12);
    expect(planetary(20, 30, { ring: 0, carrier: 0.2 }).sun).toBeCloseTo(1, 12);
    const two = planetary(20, 30, { sun: 100, ring: -40 });
    expect(two.carrier).toBeCloseTo(-12, 9);
    expect(two.planet).toBeCloseTo(-86.66666667, 7);
    expect(planetary(24, 24, { sun: 1, ring: 0 })).toMatchObject({ carrier: 0.25, planet: -0.5 });
  });
  it('ring phase, inner centre distance, bevel cones, worm', () => {
    expect(ringPhase(20, 60, 0, 0)).toBeCloseTo(3, 9);
    expect(ringPhase(20, 60, 40, 0)).toBeCloseTo(5.666666667, 8);
    expect(innerCentreDistance(2, 20, 40)).toBe(20);
    expect(bevelCones(20, 40)[0]).toBeCloseTo(26.56505118, 7);
    expect(bevelCones(20, 40)[1]).toBeCloseTo(63.43494882, 7);
    expect(wormAngle(3.5 * 360, 1, 40)).toBeCloseTo(31.5, 9);
  });
});

describe('rack, screw, rolling (ISO 261; elementary kinematics)', () => {
  it('rack of module 2 and 20 teeth', () => {
    expect(rackTravel(360, 20)).toBeCloseTo(125.6637061, 6);
    expect(rackTravel(30, 20)).toBeCloseTo(10.47197551, 7);
  });
  it('M10 x 1.5: 9000 degrees are 37.5 mm; lead 8: 45 degrees are 1', () => {
    expect(screwTravel(9000, 1.5)).toBeCloseTo(37.5, 12);
    expect(screwTravel(45, 8)).toBe(1);
  });
  it('rolls clockwise to the right; a hoop of 1.2 m goes 3 pi x 1.2 m in three turns', () => {
    expect(rollAngle(3 * Math.PI * 1.2, 0.6)).toBeCloseTo(-1080, 9);
    expect(rollAngle(10, 0.35)).toBeCloseTo(-1637.022272, 5);
    expect(rollAngle(1, 0)).toBeNaN();
  });
});

describe('belts (Shigley, chapter 17)', () => {
  it.each([
    [100, 200, 500, 1476.243077, 168.521659, 191.478341, 1516.585896],
    [80, 240, 400, 1318.70881, 156.9260819, 203.0739181, 1367.552327],
    [50, 50, 300, 757.0796327, 180, 180, 765.4324189],
    [6, 18, 96, 230.0742341, 172.8333566, 187.1666434, 231.2010742],
  ])('%d and %d, %d apart', (d, D, C, length, wrap1, wrap2, crossed) => {
    const open = belt(d, D, C, false);
    expect(open.length).toBeCloseTo(length, 5);
    expect(open.wrap1).toBeCloseTo(wrap1, 6);
    expect(open.wrap2).toBeCloseTo(wrap2, 6);
    expect(open.ratio).toBe(d / D);
    expect(belt(d, D, C, true).length).toBeCloseTo(crossed, 5);
    expect(belt(d, D, C, true).ratio).toBe(-d / D);
    expect(belt(D, d, C, false).wrap1).toBeCloseTo(wrap2, 6);
  });
  it('pulleys that overlap have none', () => expect(belt(10, 10, 5, false).length).toBeNaN());
});

it('a crank longer than its rod says where it cannot stand', () => {
  expect(crankTrouble(90, 6, 2)).toContain('too short');
  expect(crankTrouble(0, 6, 2)).toBeNull();
});
