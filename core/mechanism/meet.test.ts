import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  circleLineTrouble,
  circleMeetsLine,
  circlesMeet,
  circlesTrouble,
  fourBar,
  linesMeet,
  linesTrouble,
  sliderPosition,
  springStep,
  twoBones,
  type Sprung,
} from './index';

const DEG = 180 / Math.PI;

describe('circle meets circle (table of pairs of bars, checked against Newton)', () => {
  it.each([
    [0, 0, 5, 6, 0, 5, [3, 4], [3, -4]],
    [1, 2, 3, 4, -1, 4, [3.8297067139, 2.9963733805], [0.0036266194585, -0.82970671387]],
    [1000, 2000, 50, 1060, 2025, 30, [1032.8274181, 2037.7141965], [1049.8944754, 1996.7532591]],
    [-3, 4, 2.5, -1, 7, 1.75, [-2.6703891141, 6.478176076], [-0.83922627055, 5.257400847]],
    [0, 0, 2, 5, 0, 3, [2, 0], [2, 0]],
    [0, 0, 5, 3, 0, 2, [5, 0], [5, 0]],
  ] as const)('%d %d, %d; %d %d, %d', (x1, y1, r1, x2, y2, r2, left, right) => {
    for (const [branch, [x, y]] of [
      [1, left],
      [-1, right],
    ] as const) {
      const met = circlesMeet(x1, y1, r1, x2, y2, r2, branch);
      expect(met.x).toBeCloseTo(x, 7);
      expect(met.y).toBeCloseTo(y, 7);
    }
    expect(circlesTrouble(x1, y1, r1, x2, y2, r2)).toBeNull();
  });
  it('says why there is no meeting', () => {
    expect(circlesMeet(0, 0, 2, 10, 0, 3, 1).x).toBeNaN();
    expect(circlesTrouble(0, 0, 2, 10, 0, 3)).toContain('10 from middle to middle, their radii reach 5');
    expect(circlesTrouble(0, 0, 10, 2, 1, 3)).toContain('2.236068 from middle to middle, 7 would be needed');
    expect(circlesTrouble(1, 1, 3, 1, 1, 3)).toContain('the same');
    expect(circlesTrouble(1, 1, 3, 1, 1, 2)).toContain('one middle');
    expect(circlesTrouble(0, 0, -1, 1, 1, 2)).toContain('below 0');
  });
  it('lies on both circles, on its side, wherever they meet', () => {
    const at = fc.integer({ min: -1000, max: 1000 }).map((n) => n / 10);
    const radius = fc.integer({ min: 1, max: 1200 }).map((n) => n / 10);
    let met = 0;
    fc.assert(
      fc.property(
        at,
        at,
        radius,
        at,
        at,
        radius,
        fc.constantFrom(1, -1),
        (x1, y1, r1, x2, y2, r2, branch) => {
          const { x, y } = circlesMeet(x1, y1, r1, x2, y2, r2, branch);
          const d = Math.hypot(x2 - x1, y2 - y1);
          if (Number.isNaN(x)) {
            expect(d > r1 + r2 || d < Math.abs(r1 - r2) || d === 0).toBe(true);
            return;
          }
          met++;
          expect(Math.abs(Math.hypot(x - x1, y - y1) - r1)).toBeLessThan(1e-9);
          expect(Math.abs(Math.hypot(x - x2, y - y2) - r2)).toBeLessThan(1e-6);
          expect(((x2 - x1) * (y - y1) - (y2 - y1) * (x - x1)) * branch).toBeGreaterThanOrEqual(-1e-9);
        },
      ),
      { numRuns: 1000 },
    );
    expect(met).toBeGreaterThan(300);
  });
  it('closes the four-bar as its own formula does', () => {
    for (let angle = 0; angle < 360; angle += 7) {
      const [ax, ay] = [40 * Math.cos(angle / DEG), 40 * Math.sin(angle / DEG)];
      const { x, y } = circlesMeet(ax, ay, 120, 100, 0, 80, 1);
      expect(Math.atan2(y, x - 100) * DEG).toBeCloseTo(fourBar(angle, 40, 120, 80, 100, 1).rocker, 9);
    }
  });
});

describe('circle meets line', () => {
  const direction = (x: number, y: number): number => Math.atan2(y, x) * DEG;
  it.each([
    [0, 0, 5, 0, 3, direction(1, 0), [4, 3], [-4, 3]],
    [2, 1, 4, -1, 0, direction(3, 4), [2.7032685319, 4.9376913759], [-1.5832685319, -0.77769137592]],
    [10, -5, 13, 0, 0, direction(-2, 1), [-1.627553483, 0.8137767415], [21.627553483, -10.813776741]],
    [1, 1, 3, 0, -2, direction(0, 1), [0, 3.8284271247], [0, -1.8284271247]],
    [3, 4, 5, 0, -1, direction(1, 0), [3, -1], [3, -1]],
  ] as const)('%d %d, %d; through %d %d at %d', (x, y, r, px, py, angle, far, near) => {
    for (const [branch, wanted] of [
      [1, far],
      [-1, near],
    ] as const) {
      const met = circleMeetsLine(x, y, r, px, py, angle, branch);
      // Where it only touches, the root of nearly nothing is all that is left of the digits.
      const digits = far[0] === near[0] && far[1] === near[1] ? 5 : 8;
      expect(met.x).toBeCloseTo(wanted[0], digits);
      expect(met.y).toBeCloseTo(wanted[1], digits);
    }
  });
  it('says how far the line passes, and agrees with the slider-crank', () => {
    expect(circleMeetsLine(0, 0, 2, 0, 3, direction(4, 1), 1).x).toBeNaN();
    expect(circleLineTrouble(0, 0, 2, 0, 3, direction(4, 1))).toContain('2.910428 from the middle');
    for (let angle = 0; angle < 360; angle += 11) {
      const [ax, ay] = [2 * Math.cos(angle / DEG), 2 * Math.sin(angle / DEG)];
      expect(circleMeetsLine(ax, ay, 6, 0, 0.5, 0, 1).x).toBeCloseTo(sliderPosition(angle, 2, 6, 0.5), 10);
    }
  });
});

describe('line meets line', () => {
  const direction = (x: number, y: number): number => Math.atan2(y, x) * DEG;
  it.each([
    [0, 0, [1, 1], 4, 0, [-1, 1], 2, 2],
    [1, 2, [3, -1], 0, 0, [2, 5], 0.82352941176, 2.0588235294],
    [-4, 7, [0, 1], 2, -3, [1, 0], -4, -3],
    [100, 50, [7, 3], -20, 80, [5, -4], 46.279069767, 26.976744186],
    [0, 0, [1, 0], 0, 1, [10, -1], 10, 0],
  ] as const)('%d %d along %j, %d %d along %j', (x1, y1, d1, x2, y2, d2, x, y) => {
    const met = linesMeet(x1, y1, direction(d1[0], d1[1]), x2, y2, direction(d2[0], d2[1]));
    expect(met.x).toBeCloseTo(x, 7);
    expect(met.y).toBeCloseTo(y, 7);
  });
  it('does not where they are parallel', () => {
    expect(linesMeet(0, 0, direction(2, 1), 1, 3, direction(4, 2)).x).toBeNaN();
    expect(linesTrouble(0, 0, 30, 1, 3, 210)).toContain('parallel');
    expect(linesTrouble(0, 0, 30, 1, 3, 31)).toBeNull();
  });
});

describe('two bones (law of cosines; table checked against a general solver)', () => {
  it.each([
    [5, 5, 6, 0, 53.13010235, -106.2602047, -53.13010235],
    [300, 250, 120, -340, -27.28263114, -98.62692656, -113.8372992],
    [1, 1, 0, 0.5, 165.5224878, -151.0449756, 14.47751219],
    [3, 2, 4, 1, 41.25116618, -70.52877937, -13.17867924],
    [300, 250, -60, 30, -169.2246889, -170.6332111, 116.0945865],
    [4, 3, 5, 0, 36.86989765, -90, -36.86989765],
  ])('%d and %d to %d %d', (l1, l2, x, y, root, bend, rootRight) => {
    const left = twoBones(x, y, l1, l2, 1);
    expect(left.root).toBeCloseTo(root, 6);
    expect(left.bend).toBeCloseTo(bend, 6);
    const right = twoBones(x, y, l1, l2, -1);
    expect(right.root).toBeCloseTo(rootRight, 6);
    expect(right.bend).toBeCloseTo(-bend, 6);
  });
  it('point at what is out of their reach, stretched or folded', () => {
    const hand = (x: number, y: number, l1: number, l2: number): number[] => {
      const { root, bend } = twoBones(x, y, l1, l2, 1);
      return [
        l1 * Math.cos(root / DEG) + l2 * Math.cos((root + bend) / DEG),
        l1 * Math.sin(root / DEG) + l2 * Math.sin((root + bend) / DEG),
      ];
    };
    const far = hand(6, 3, 3, 2);
    expect(far[0]).toBeCloseTo(4.472135955, 8);
    expect(far[1]).toBeCloseTo(2.236067977, 8);
    const near = hand(1, 2, 5, 2);
    expect(near[0]).toBeCloseTo(1.341640786, 8);
    expect(near[1]).toBeCloseTo(2.683281573, 8);
    const within = hand(120, -340, 300, 250);
    expect(within[0]).toBeCloseTo(120, 8);
    expect(within[1]).toBeCloseTo(-340, 8);
    expect(twoBones(0, 0, 2, 2, 1)).toEqual({ root: 90, bend: -180 });
  });
});

describe('what follows by a spring with a damper (Ogata; table checked against DOP853 at 1e-12)', () => {
  const W = 2 * Math.PI;
  const TIMES = [0.1, 0.2, 0.3, 0.5, 0.75, 1, 1.5, 2];
  /** Places at the times of the table, in steps of a length: the table knows nothing of steps. */
  const followed = (input: (t: number) => number, ratio: number, step: number): number[] => {
    let state: Sprung = { place: 0, speed: 0 };
    const found: number[] = [];
    for (let i = 0; found.length < TIMES.length; i++) {
      const t = i * step;
      if (Math.abs(t - TIMES[found.length]!) < 1e-9) found.push(state.place);
      state = springStep(state, input(t), input(t + step), step, W * W, 2 * ratio * W);
    }
    return found;
  };
  it.each([
    [
      'step',
      0.2,
      [
        0.1760403617, 0.5912588952, 1.052258559, 1.525506349, 1.116222465, 0.725035894, 1.143225239,
        0.9257472251,
      ],
    ],
    [
      'step',
      0.5,
      [
        0.156781542, 0.4796121469, 0.7994529886, 1.140699674, 1.100115012, 0.989822129, 0.9977820475,
        1.00128148,
      ],
    ],
    [
      'step',
      1,
      [
        0.1313114554, 0.3577395565, 0.561960454, 0.8210255536, 0.9486839474, 0.9863990685, 0.9991587254,
        0.9999526894,
      ],
    ],
    [
      'step',
      2,
      [
        0.09699772342, 0.2313615091, 0.3499282567, 0.5357276746, 0.6952234079, 0.7999263754, 0.9137803416,
        0.9628445303,
      ],
    ],
    [
      'ramp',
      0.2,
      [
        0.006067805212, 0.04323442754, 0.1258112623, 0.3973864863, 0.741947727, 0.9596958865, 1.422551904,
        1.944369991,
      ],
    ],
    [
      'ramp',
      0.5,
      [
        0.005558580049, 0.03681840257, 0.1012885476, 0.3028430319, 0.5889720032, 0.8483881073, 1.339624886,
        1.840982115,
      ],
    ],
    [
      'ramp',
      1,
      [
        0.004853456481, 0.02920605383, 0.07557169126, 0.2170524904, 0.4412870524, 0.684151982, 1.181836851,
        1.681698199,
      ],
    ],
    [
      'ramp',
      2,
      [
        0.003828189911, 0.02032359882, 0.04954371784, 0.139146418, 0.2944097019, 0.4822188256, 0.9145924918,
        1.385449623,
      ],
    ],
  ] as const)('a %s with damping ratio %d, whatever the steps', (kind, ratio, wanted) => {
    const input = kind === 'step' ? () => 1 : (t: number) => t;
    for (const step of [0.05, 0.01])
      followed(input, ratio, step).forEach((place, i) => expect(place).toBeCloseTo(wanted[i]!, 8));
  });
  it('is the same on both sides of the critical damping, and never blows up', () => {
    const near = (damping: number): number =>
      springStep({ place: 3, speed: -1 }, 0, 1, 0.25, 100, damping).place;
    expect(near(20 - 1e-5)).toBeCloseTo(near(20), 5);
    expect(near(20 + 1e-5)).toBeCloseTo(near(20), 5);
    const { place, speed } = springStep({ place: 1, speed: 0 }, 0, 0, 10, 1e8, 3e4);
    expect([place, speed].every((value) => Math.abs(value) < 1e-6)).toBe(true);
  });
});
