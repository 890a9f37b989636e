import bezierEasing from 'bezier-easing';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Key, Track } from '../document';
import { compileTrack, EASES, sampleTrack, solveShare, type Ease } from './index';

function track(keys: Key[], more: Partial<Track> = {}): Track {
  return {
    before: 'hold',
    after: 'hold',
    keys: Object.fromEntries(keys.map((key, i) => [`key_${i}`, key])),
    ...more,
  };
}

const at = (shape: Track, frame: number): number => sampleTrack(compileTrack(shape), frame);

function eased(ease: Ease, span = 1, from = 0, to = 1): Track {
  const [x1, y1, x2, y2] = EASES[ease];
  return track([
    { frame: 0, value: from, manner: 'curve', right: { reach: x1 * span, rise: y1 * (to - from) } },
    {
      frame: span,
      value: to,
      manner: 'curve',
      left: { reach: (1 - x2) * span, rise: (y2 - 1) * (to - from) },
    },
  ]);
}

describe('CSS Easing Functions Level 1 keywords', () => {
  const published: Record<Ease, number[]> = {
    ease: [
      0.09479630572, 0.2952443343, 0.513315161, 0.682540506, 0.8024033876, 0.8852293099, 0.9407646143,
      0.9756253556, 0.9943164775,
    ],
    'ease-in': [
      0.01702660965, 0.06228200014, 0.1295767608, 0.2148609388, 0.3153568126, 0.4291197693, 0.5548140325,
      0.6916339333, 0.8394278458,
    ],
    'ease-out': [
      0.1605721542, 0.3083660667, 0.4451859675, 0.5708802307, 0.6846431874, 0.7851390612, 0.8704232392,
      0.9377179999, 0.9829733903,
    ],
    'ease-in-out': [
      0.01972245355, 0.08165985627, 0.1873959067, 0.3318838701, 0.5, 0.6681161299, 0.8126040933, 0.9183401437,
      0.9802775465,
    ],
  };
  for (const [ease, values] of Object.entries(published) as [Ease, number[]][])
    it(ease, () => values.forEach((value, i) => expect(at(eased(ease), (i + 1) / 10)).toBeCloseTo(value, 9)));
  it('agrees with bezier-easing on any control points', () => {
    const unit = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(
        unit,
        fc.double({ min: -2, max: 3, noNaN: true }),
        unit,
        fc.double({ min: -2, max: 3, noNaN: true }),
        // Thousandths: on a vertical start the library itself is off by an eighth at the smallest numbers there are.
        fc.integer({ min: 0, max: 1000 }).map((n) => n / 1000),
        (x1, y1, x2, y2, x) => {
          const shape = track([
            { frame: 0, value: 0, manner: 'curve', right: { reach: x1, rise: y1 } },
            { frame: 1, value: 1, manner: 'curve', left: { reach: 1 - x2, rise: y2 - 1 } },
          ]);
          // Where the curve is nearly vertical in time a share of 1e-15 moves the value by up to its cube root.
          const flat = x2 > 0.99 || x1 < 0.01 || (x1 > 0.9 && x2 < 0.1);
          expect(Math.abs(at(shape, x) - bezierEasing(x1, y1, x2, y2)(x))).toBeLessThan(flat ? 1e-3 : 1e-6);
        },
      ),
      { numRuns: 3000 },
    );
  });
  it('goes on outside as CSS extends: along the end tangents', () => {
    const straight = (ease: Ease): Track => ({ ...eased(ease), before: 'straight', after: 'straight' });
    expect(at(straight('ease'), -0.5)).toBeCloseTo(-0.2, 12);
    expect(at(straight('ease'), 1.5)).toBeCloseTo(1, 12);
    expect(at(straight('ease-in'), 1.5)).toBeCloseTo(1.862068966, 9);
    expect(at(straight('ease-out'), -0.5)).toBeCloseTo(-0.8620689655, 9);
    expect(at(straight('ease-in-out'), -0.25)).toBeCloseTo(0, 12);
  });
  it('goes on outside a named easing by the slope of its equation, not of its jump to 0 or 1', () => {
    const keyed = (manner: Key['manner']): Track =>
      track(
        [
          { frame: 10, value: 0, manner },
          { frame: 34, value: 1, manner: 'linear' },
        ],
        { before: 'straight', after: 'straight' },
      );
    // d/dt 2^(10 (t - 1)) at 0 is 10 ln 2 / 1024; half a stretch before the first key.
    expect(at(keyed('expo-in'), -2)).toBeCloseTo((-0.5 * 10 * Math.LN2) / 1024, 12);
    expect(at(keyed('expo-out'), 46)).toBeCloseTo(1 + (0.5 * 10 * Math.LN2) / 1024, 12);
    expect(Math.abs(at(keyed('elastic-in'), -2))).toBeLessThan(0.02);
    expect(Math.abs(at(keyed('elastic-in-out'), -2))).toBeLessThan(0.02);
    // A circle ends upright: level is the only way on.
    expect(at(keyed('circ-in'), 46)).toBe(1);
  });
});

describe('Bezier stretches between keys (Farin, Curves and Surfaces for CAGD)', () => {
  const handles = (p: [number, number][]): Track =>
    track([
      {
        frame: p[0]![0],
        value: p[0]![1],
        manner: 'curve',
        right: { reach: p[1]![0] - p[0]![0], rise: p[1]![1] - p[0]![1] },
      },
      {
        frame: p[3]![0],
        value: p[3]![1],
        manner: 'curve',
        left: { reach: p[3]![0] - p[2]![0], rise: p[2]![1] - p[3]![1] },
      },
    ]);
  it.each([
    [
      'A',
      [
        [0, 0],
        [100 / 3, 0],
        [200 / 3, 10],
        [100, 10],
      ],
      [
        [10, 0.28],
        [25, 1.5625],
        [50, 5],
        [75, 8.4375],
        [90, 9.72],
      ],
    ],
    [
      'B',
      [
        [10, 100],
        [16, 160],
        [28, -40],
        [34, 20],
      ],
      [
        [12, 110.7781886],
        [16, 101.6460362],
        [22, 60],
        [28, 18.35396379],
        [32, 9.221811432],
      ],
    ],
    [
      'D',
      [
        [24, -90],
        [30, -90],
        [44, 45],
        [48, 90],
      ],
      [
        [26, -86.24811308],
        [30, -66.49066791],
        [36, -23.02706344],
        [42, 29.53048741],
        [47, 79.10031703],
      ],
    ],
  ] as [string, [number, number][], [number, number][]][])('case %s', (_, points, values) => {
    for (const [frame, value] of values) expect(at(handles(points), frame)).toBeCloseTo(value, 6);
  });
  it('case C, vertical in the middle', () => {
    const shape = handles([
      [0, 0],
      [40, 0],
      [0, 100],
      [40, 100],
    ]);
    for (const [frame, value] of [
      [5, 0.6079777688],
      [10, 2.972460551],
      [20, 50],
      [30, 97.02753945],
      [39, 99.97856794],
    ] as const)
      expect(Math.abs(at(shape, frame) - value)).toBeLessThan(1e-2);
  });
  it('keeps the root inside [0, 1] for ease-in at 0.9', () => {
    const [x1, , x2] = EASES['ease-in'];
    const c = 3 * x1;
    const b = 3 * x2 - 2 * c;
    expect(solveShare(1 - b - c, b, c, 0.9)).toBeCloseTo(0.746177468, 9);
  });
});

describe('hold and linear, as STEP and LINEAR of glTF 2.0 appendix C', () => {
  const keys = (manner: Key['manner']): Track =>
    track([
      { frame: 0, value: 1, manner },
      { frame: 1, value: 5, manner },
      { frame: 2.5, value: -2, manner },
    ]);
  const times = [-1, 0.25, 0.999, 1, 1.6, 2.4999, 2.5, 3];
  it('hold', () => expect(times.map((t) => at(keys('hold'), t))).toEqual([1, 1, 1, 5, 5, 5, -2, -2]));
  it('linear', () =>
    times.forEach((t, i) =>
      expect(at(keys('linear'), t)).toBeCloseTo([1, 2, 4.996, 5, 2.2, -1.999533333, -2, -2][i]!, 9),
    ));
});

describe('before and after the keys', () => {
  const ramp = (after: Track['after']): Track => ({
    ...track([
      { frame: 0, value: 0, manner: 'linear' },
      { frame: 10, value: 5, manner: 'linear' },
    ]),
    before: after,
    after,
  });
  it.each([
    ['hold', 5, 0],
    ['straight', 6, -1],
    ['repeat', 1, 4],
    ['repeat-adding', 6, -1],
    ['mirror', 4, 1],
  ] as const)('%s at 12 and -2', (manner, later, earlier) => {
    expect(at(ramp(manner), 12)).toBeCloseTo(later, 12);
    expect(at(ramp(manner), -2)).toBeCloseTo(earlier, 12);
  });
  it('a single key holds whatever the manner', () => {
    for (const after of ['hold', 'repeat', 'mirror', 'straight', 'repeat-adding'] as const)
      expect(at({ ...track([{ frame: 3, value: 7, manner: 'curve' }]), after, before: after }, 99)).toBe(7);
  });
  it('of two keys on one frame the later id counts from that frame on', () => {
    const shape = track([
      { frame: 0, value: 0, manner: 'linear' },
      { frame: 5, value: 1, manner: 'linear' },
      { frame: 5, value: 9, manner: 'hold' },
    ]);
    expect(at(shape, 4.999)).toBeCloseTo(0.9998, 9);
    expect(at(shape, 5)).toBe(9);
  });
});

it('automatic handles never overshoot the keys at either side', () => {
  const values = fc.array(fc.double({ min: -100, max: 100, noNaN: true }), { minLength: 3, maxLength: 8 });
  fc.assert(
    fc.property(
      values,
      fc.array(fc.double({ min: 0.5, max: 20, noNaN: true }), { minLength: 8, maxLength: 8 }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      (list, gaps, share) => {
        let frame = 0;
        const keys = list.map((value, i): Key => ({ frame: (frame += gaps[i]!), value, manner: 'curve' }));
        for (let i = 0; i < keys.length - 1; i++) {
          const [a, b] = [keys[i]!, keys[i + 1]!];
          const value = at(track(keys), a.frame + share * (b.frame - a.frame));
          const [low, high] = [
            Math.min(a.value as number, b.value as number),
            Math.max(a.value as number, b.value as number),
          ];
          expect(value).toBeGreaterThanOrEqual(low - 1e-9);
          expect(value).toBeLessThanOrEqual(high + 1e-9);
        }
      },
    ),
    { numRuns: 500 },
  );
});
