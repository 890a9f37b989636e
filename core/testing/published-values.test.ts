import { quat } from 'gl-matrix';
import { describe, expect, it } from 'vitest';
import { compileTrack, sampleTrack } from '../curve';
import type { Key, Track, Shot } from '../document';
import { apply, setLink, setValues } from '../edit';
import { compile, Evaluator, sample } from '../evaluate';
import { checkTyped, interpret, NameTable } from '../formula';
import { encodedFromLinear, hexOfColour, linearFromEncoded } from '../math';
import { framesPerSecond, secondsAt, timecodeOf } from '../time';
import { localMatrix, rotationFromEuler, transformPoint, type RotationOrder } from '../transform';
import { emptyShot, hub } from './random-shot';

// Values from published sources that need more than one part of core; others stand beside what they check.

describe('cubic spline of glTF 2.0, appendix C, as Bezier stretches', () => {
  /** Keys [time, in, value, out] as handles: tangents times a third of the stretch. */
  const spline = (rows: readonly (readonly [number, number, number, number])[]): Track => {
    const keys: Record<string, Key> = {};
    rows.forEach(([frame, arrives, value, leaves], i) => {
      const before = i > 0 ? (frame - rows[i - 1]![0]) / 3 : 0;
      const after = i < rows.length - 1 ? (rows[i + 1]![0] - frame) / 3 : 0;
      keys[`key_${i}`] = {
        frame,
        value,
        manner: 'curve',
        left: { reach: before, rise: -arrives * before },
        right: { reach: after, rise: leaves * after },
      };
    });
    return { before: 'hold', after: 'hold', keys };
  };
  it.each([
    [
      'H1',
      [
        [0, 0, 0, 0],
        [1, 0, 1, 0],
      ],
      [
        [0.25, 0.15625],
        [0.5, 0.5],
        [0.75, 0.84375],
      ],
    ],
    [
      'H2 x',
      [
        [1, 0, 10, 5],
        [3, -3, 20, 0],
      ],
      [
        [1, 10],
        [1.5, 13.25],
        [2, 17],
        [2.5, 19.75],
        [3, 20],
      ],
    ],
    [
      'H2 y',
      [
        [1, 0, 0, 0],
        [3, 6, 0, 0],
      ],
      [
        [1.5, -0.5625],
        [2, -1.5],
        [2.5, -1.6875],
      ],
    ],
    [
      'H2 z',
      [
        [1, 0, -4, 2],
        [3, 0.5, 8, 0],
      ],
      [
        [1.5, -1.609375],
        [2, 2.375],
        [2.5, 6.171875],
      ],
    ],
    [
      'H3 x',
      [
        [0, 0, 0, 8],
        [0.5, 4, 2, -4],
        [2, 0, 6, 0],
      ],
      [
        [0.25, 1.25],
        [0.5, 2],
        [0.875, 1.78125],
        [1.25, 3.25],
        [1.7, 5.392],
      ],
    ],
    [
      'H3 y',
      [
        [0, 0, 100, 0],
        [0.5, -64, 60, -64],
        [2, 0, 20, 0],
      ],
      [
        [0.25, 84],
        [0.875, 40.25],
        [1.25, 28],
        [1.7, 21.088],
      ],
    ],
    [
      'H3 z',
      [
        [0, 0, -8, 0],
        [0.5, 16, 0, 32],
        [2, -2, 4, 0],
      ],
      [
        [0.25, -5],
        [0.875, 7.515625],
        [1.25, 8.375],
        [1.7, 5.504],
      ],
    ],
  ] as const)('%s', (_, rows, want) => {
    const track = compileTrack(spline(rows));
    for (const [time, value] of want) expect(sampleTrack(track, time)).toBeCloseTo(value, 6);
  });
});

describe('Euler orders as quaternions (Diebel 2006; gl-matrix)', () => {
  it.each(['XYZ', 'XZY', 'YXZ', 'YZX', 'ZXY', 'ZYX'] as const)(
    '%s of (400, -75, 725) and (25, 90, 40)',
    (order) => {
      for (const angles of [
        [30, 45, 60],
        [400, -75, 725],
        [25, 90, 40],
      ] as [number, number, number][]) {
        const m = rotationFromEuler(new Float64Array(9), ...angles, order satisfies RotationOrder);
        const q = quat.fromEuler(quat.create(), ...angles, order.toLowerCase() as 'xyz');
        const [x, y, z, w] = q as unknown as [number, number, number, number];
        const rows = [
          1 - 2 * (y * y + z * z),
          2 * (x * y - z * w),
          2 * (x * z + y * w),
          2 * (x * y + z * w),
          1 - 2 * (x * x + z * z),
          2 * (y * z - x * w),
          2 * (x * z - y * w),
          2 * (y * z + x * w),
          1 - 2 * (x * x + y * y),
        ];
        rows.forEach((value, i) => expect(m[i]).toBeCloseTo(value, 5));
      }
    },
  );
  it('in gimbal lock only the sum of the outer turns counts: (25, 90, 40) is (65, 90, 0)', () => {
    const a = rotationFromEuler(new Float64Array(9), 25, 90, 40, 'XYZ');
    const b = rotationFromEuler(new Float64Array(9), 65, 90, 0, 'XYZ');
    a.forEach((value, i) => expect(value).toBeCloseTo(b[i]!, 9));
  });
});

describe('a box of side 500 from six flat layers, by turns and pivots (exact geometry)', () => {
  type Layer = { location?: number[]; pivot?: number[]; rotation?: number[]; parent?: number };
  const corners = (layers: readonly Layer[]): number[][][] => {
    const parts: Shot['parts'] = Object.fromEntries(
      layers.map(({ location = [0, 0, 0], pivot = [0, 0, 0], rotation = [0, 0, 0], parent }, i) => [
        `prt_${i}`,
        hub(`L${i}`, {
          parent: parent === undefined ? null : `prt_${parent}`,
          values: Object.fromEntries(
            Object.entries({ location, pivot, rotation }).flatMap(([name, triple]) =>
              triple.map((value, axis) => [`${name}.${'xyz'[axis]}`, value]),
            ),
          ),
        }),
      ]),
    );
    const evaluator = new Evaluator(compile({ ...emptyShot(), parts }));
    evaluator.evaluate(1);
    return layers.map((_, i) =>
      [
        [-250, -250],
        [250, -250],
        [250, 250],
        [-250, 250],
      ].map(([x, y]) => transformPoint(evaluator.worldOf(`prt_${i}`)!, x!, y!, 0)),
    );
  };
  const turn = (x: number, y: number): number[] => [x, y, 0];
  const back = [0, 0, -250];
  const sets: Record<string, Layer[]> = {
    'all pivots 250 behind': [
      turn(0, 0),
      turn(0, 90),
      turn(0, 180),
      turn(0, -90),
      turn(-90, 0),
      turn(90, 0),
    ].map((rotation) => ({ rotation, pivot: back })),
    'a hinged net': [
      {},
      { location: [500, 0, 0], pivot: [-250, 0, 0], rotation: turn(0, 90) },
      { location: [500, 0, 0], pivot: [-250, 0, 0], rotation: turn(0, 90), parent: 1 },
      { location: [-500, 0, 0], pivot: [250, 0, 0], rotation: turn(0, -90) },
      { location: [0, 500, 0], pivot: [0, -250, 0], rotation: turn(-90, 0) },
      { location: [0, -500, 0], pivot: [0, 250, 0], rotation: turn(90, 0) },
    ],
    'moved outward': [
      { location: [0, 0, 250] },
      { location: [250, 0, 0], rotation: turn(0, 90) },
      { location: [0, 0, -250], rotation: turn(0, 180) },
      { location: [-250, 0, 0], rotation: turn(0, -90) },
      { location: [0, 250, 0], rotation: turn(-90, 0) },
      { location: [0, -250, 0], rotation: turn(90, 0) },
    ],
  };
  it.each(Object.entries(sets))(
    '%s: 24 corners fall on 8 points, each in three layers, to 1e-9',
    (_, layers) => {
      const points: { at: number[]; count: number }[] = [];
      for (const corner of corners(layers).flat()) {
        const same = points.find(({ at }) =>
          at.every((value, axis) => Math.abs(value - corner[axis]!) < 1e-9),
        );
        if (same) same.count++;
        else points.push({ at: corner, count: 1 });
      }
      expect(points.map(({ count }) => count)).toEqual(Array(8).fill(3));
    },
  );
  it('the net half open: the hinge stays, the free corner is at (603.5533906, 250, -353.5533906)', () => {
    const half = corners([{}, { ...sets['a hinged net']![1]!, rotation: turn(0, 45) }]);
    [603.5533906, 250, -353.5533906].forEach((value, axis) =>
      expect(half[1]![2]![axis]).toBeCloseTo(value, 6),
    );
    [250, 250, 0].forEach((value, axis) => expect(half[1]![3]![axis]).toBeCloseTo(value, 9));
  });
});

describe('slider-crank speed and acceleration by `speed` (Uicker, Pennock and Shigley)', () => {
  it.each([
    [30, -1.29277002],
    [60, -2.03356215],
    [90, -2],
    [120, -1.43053946],
    [270, 2],
  ])('at %d degrees', (angle, speed) => {
    // One degree a frame, so that a radian takes 180 / pi frames.
    let shot: Shot = {
      ...emptyShot(),
      setup: { ...emptyShot().setup, first: 0, last: 360 },
      parts: { prt_a: hub('Slider'), prt_b: hub('Meter') },
    };
    shot = apply(shot, setLink(shot, 'prt_a/location.x', 'slider(frame * 1deg, 2m, 6m)'));
    shot = apply(shot, setLink(shot, 'prt_b/scale.x', 'speed(Slider.location.x) * 1s / 1m'));
    const evaluator = new Evaluator(compile(shot));
    evaluator.evaluate(angle);
    const perRadian =
      (evaluator.number('prt_b/scale.x') / framesPerSecond(shot.setup.rate)) * (180 / Math.PI);
    expect(perRadian).toBeCloseTo(speed, 5);
  });
  it('is fastest at 73.17529664 degrees, with 2.109279093', () => {
    let shot: Shot = { ...emptyShot(), parts: { prt_a: hub('Slider') } };
    shot = apply(shot, setLink(shot, 'prt_a/location.x', 'slider(frame * 1deg, 2m, 6m)'));
    const { values } = sample(compile(shot), ['prt_a/location.x'], 73, 73.4, 0.001);
    let best = { speed: 0, frame: 0 };
    for (let i = 1; i < values.length - 1; i++) {
      const speed = ((values[i - 1]! - values[i + 1]!) / 0.002) * (180 / Math.PI);
      if (speed > best.speed) best = { speed, frame: 73 + i * 0.001 };
    }
    expect(best.speed).toBeCloseTo(2.109279093, 6);
    expect(best.frame).toBeCloseTo(73.175, 1);
  });
});

describe('functions of formulas (GLSL ES 3.00, section 8; common practice)', () => {
  const names = new NameTable({ ...emptyShot(), parts: { prt_a: hub('A') } });
  const value = (text: string, path = 'scale.x'): number => {
    const checked = checkTyped(names, `prt_a/${path}`, text);
    if (!checked.ok) throw new Error(checked.error.message);
    const none = (): number => NaN;
    return interpret(checked.expression, {
      own: 0,
      clock: none,
      channel: none,
      probe: none,
      measure: none,
      pinned: () => NaN,
      level: none,
    });
  };
  it.each([
    ['smoothstep(0, 1, 0.1)', 0.028],
    ['smoothstep(10, 30, 14)', 0.104],
    ['smoothstep(10, 30, 5)', 0],
    ['smoothstep(10, 30, 35)', 1],
    ['mix(10, 20, 0.25)', 12.5],
    ['mix(0, 1, 1.5)', 1.5],
    ['mix(100, -20, 0.35)', 58],
    ['remap(50, 32, 212, 0, 100)', 10],
    ['remap(12, 0, 10, 0, 1)', 1.2],
    ['remap(7, 10, 0, 0, 1)', 0.3],
    ['remap(0.3, -1, 1, 20, -20)', -6],
    ['mod(-7, 3)', 2],
    ['mod(7, -3)', -2],
    ['mod(-0.5, 360)', 359.5],
    ['-7 % 3', 2],
    ['10 % 4 * 2', 4],
    ['-2^2', -4],
    ['2^3^2', 512],
    ['2+3*4^2/(1-5)', -10],
    ['sin(pi/6 * 180/pi)*10+2*(3-1)', 9],
    ['round(2.5)', 3],
    ['round(-0.5)', -1],
    ['round(-2.5)', -3],
    ['atan2(1, -1) / 1deg', 135],
    ['1rad / 1deg', 57.2957795131],
    ['atan2(3, -4) / 1rad', 2.4980915448],
    ['60rpm * 1s / 1deg', 360],
    ['33.3333333333rpm * 100f / 1deg', 833.333333],
  ])('%s', (text, want) => expect(value(text)).toBeCloseTo(want, 5));
  const xs = [-0.3, 0, 0.1, 0.25, 0.4, 0.5, 0.6, 0.75, 0.9, 1, 2.3];
  it.each([
    ['saw', [0.7, 0, 0.1, 0.25, 0.4, 0.5, 0.6, 0.75, 0.9, 0, 0.3]],
    ['tri', [-0.8, 0, 0.4, 1, 0.4, 0, -0.4, -1, -0.4, 0, 0.8]],
    ['square', [-1, 1, 1, 1, 1, -1, -1, -1, -1, 1, 1]],
    [
      'wave',
      [-0.951056516, 0, 0.587785252, 1, 0.587785252, 0, -0.587785252, -1, -0.587785252, 0, 0.951056516],
    ],
  ])('%s over periods', (name, want) =>
    xs.forEach((x, i) => expect(value(`${name}(${x})`)).toBeCloseTo(want[i]!, 9)),
  );
  it('pulse of a quarter', () =>
    xs.forEach((x, i) => expect(value(`pulse(${x}, 0.25)`)).toBe([0, 1, 1, 0, 0, 0, 0, 0, 0, 1, 0][i])));
});

describe('colour (IEC 61966-2-1): blends in linear light', () => {
  const blend = (from: string, to: string, share: number): string => {
    const read = (hex: string): number[] =>
      [1, 3, 5].map((at) => linearFromEncoded(parseInt(hex.slice(at, at + 2), 16) / 255));
    const [a, b] = [read(from), read(to)];
    const key = (frame: number, value: number[]): Key => ({
      frame,
      value: value as [number, number, number],
      manner: 'linear',
    });
    const track: Track = { before: 'hold', after: 'hold', keys: { key_a: key(0, a), key_b: key(100, b) } };
    return hexOfColour(
      [0, 1, 2].map((i) => sampleTrack(compileTrack(track, i), share * 100)) as [number, number, number],
    );
  };
  it.each([
    ['#ff0000', '#ffff00', 0.5, '#ffbc00'],
    ['#ff0000', '#ffff00', 0.25, '#ff8900'],
    ['#ff0000', '#00ff00', 0.5, '#bcbc00'],
    ['#000000', '#ffffff', 0.5, '#bcbcbc'],
    ['#336699', '#ffcc00', 0.3, '#9a8f82'],
  ])('%s to %s at %d is %s', (from, to, share, want) => expect(blend(from, to, share)).toBe(want));
  it.each([
    [0.02, 0.001547987616],
    [0.04045, 0.003130804954],
    [0.1, 0.01002282557],
    [0.25, 0.05087608817],
    [0.5, 0.2140411405],
    [0.75, 0.522521554],
  ])('%d is %d in linear light', (encoded, linear) => {
    expect(linearFromEncoded(encoded)).toBeCloseTo(linear, 9);
    expect(encodedFromLinear(linear)).toBeCloseTo(encoded, 6);
  });
});

describe('rolling and frame time', () => {
  it('a rim point that starts at the ground, radius 1, rolled 60 degrees: (0.1811721474, 0.5)', () => {
    let shot: Shot = { ...emptyShot(), parts: { prt_a: hub('Wheel') } };
    shot = apply(
      shot,
      setValues(shot, [
        ['prt_a/location.y', 1],
        ['prt_a/location.x', Math.PI / 3],
      ]),
    );
    shot = apply(shot, setLink(shot, 'prt_a/rotation.z', 'roll(Wheel.location.x, 1m)'));
    const evaluator = new Evaluator(compile(shot));
    evaluator.evaluate(1);
    const [x, y] = transformPoint(evaluator.worldOf('prt_a')!, 0, -1, 0);
    expect(x).toBeCloseTo(0.1811721474, 9);
    expect(y).toBeCloseTo(0.5, 9);
  });
  it('100 frames at 24, 25 and 23.976 (SMPTE ST 12-1)', () => {
    expect(secondsAt(100, 0, { num: 24, den: 1 })).toBeCloseTo(4.16666667, 8);
    expect(secondsAt(100, 0, { num: 24000, den: 1001 })).toBeCloseTo(4.17083333, 8);
    expect(timecodeOf(100, { num: 24, den: 1 })).toBe('00:00:04:04');
    expect(timecodeOf(100, { num: 24000, den: 1001 })).toBe('00:00:04:04');
  });
  it('a pivot turns in place: T(location) T(pivot) R S T(-pivot), not the anchor convention', () => {
    const m = localMatrix({
      location: [10, 20, 30],
      pivot: [5, 0, 0],
      rotation: [0, 0, 90],
      scale: [2, 1, 1],
      rest: [0, 0, 0],
      order: 'XYZ',
    });
    [14, 22, 30].forEach((value, i) => expect(transformPoint(m, 6, 1, 0)[i]).toBeCloseTo(value, 12));
  });
});
