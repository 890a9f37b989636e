import { describe, expect, it } from 'vitest';
import type { Shot } from '../document';
import { compile } from '../evaluate';
import { emptyShot, hub } from '../testing/random-shot';
import { derived, dwells, motionReport, reportCsv, type MotionAsked, type MotionSubject } from './index';

/** A crank that turns once in 96 frames from frame 0 on, evenly, and what a formula makes of it. */
function driven(
  formula: string,
  path = 'location.x',
  turn: [number, number][] = [
    [-24, -90],
    [120, 450],
  ],
): Shot {
  const before = emptyShot();
  return {
    ...before,
    setup: { ...before.setup, first: 0, last: 96, rate: { num: 24, den: 1 } },
    parts: {
      prt_c: hub('Crank', {
        tracks: {
          'rotation.z': {
            before: 'straight',
            after: 'straight',
            keys: Object.fromEntries(
              turn.map(([frame, value], i) => [`key_${i}`, { frame, value, manner: 'linear' as const }]),
            ),
          },
        },
      }),
      prt_s: hub('Slider', { links: { [path]: { formula, refs: { Crank: 'prt_c' } } } }),
    },
  };
}
const SLIDER: MotionSubject = { kind: 'channel', address: 'prt_s/location.x' };
const report = (shot: Shot, more: Partial<MotionAsked> = {}) =>
  motionReport(compile(shot), { subjects: [SLIDER], from: 0, to: 96, driver: 'prt_c/rotation.z', ...more });
/** Values, speeds, accelerations and jerks at a frame. */
const rowAt = (of: ReturnType<typeof report>, frame: number): number[] =>
  of.subjects[0]!.curves.map(({ values }) => values[Math.round((frame - of.frames[0]!) * 8)]!);

describe('slider-crank, throw 1 (Norton; Uicker, Pennock and Shigley: position differentiated in closed form)', () => {
  // Angle, then v, a and j for a rod of 3 and one of 4, per radian of the crank.
  it.each([
    [0, [0, -1.333333333, 0], [0, -1.25, 0]],
    [15, [-0.3424642468, -1.258022206, 0.5688759549], [-0.3214502919, -1.183869557, 0.4990849683]],
    [45, [-0.8786053663, -0.7171949333, 1.39132086], [-0.8341069082, -0.7112035595, 1.214710827]],
    [90, [-1, 0.3535533906, 1], [-1, 0.2581988897, 1]],
    [120, [-0.7152697315, 0.6661650352, 0.236838507], [-0.7551422131, 0.6248884321, 0.4118542916]],
    [180, [0, 0.6666666667, 0], [0, 0.75, 0]],
  ] as const)('at %d degrees', (angle, three, four) => {
    for (const [rod, wanted] of [
      [3, three],
      [4, four],
    ] as const) {
      const found = rowAt(report(driven(`slider(Crank.rotation.z, 1m, ${rod}m)`)), (angle * 96) / 360);
      expect(found[1]).toBeCloseTo(wanted[0], 7);
      expect(found[2]).toBeCloseTo(wanted[1], 6);
      expect(found[3]).toBeCloseTo(wanted[2], 3);
    }
  });
  it('is fastest where the books say, and its stroke is twice the throw', () => {
    const [value, speed] = report(driven('slider(Crank.rotation.z, 1m, 3m)'), { to: 48 }).subjects[0]!.curves;
    expect(value.most.value - value.least.value).toBeCloseTo(2, 9);
    expect(speed.least.value).toBeCloseTo(-1.054639547, 7);
    expect((speed.least.frame * 360) / 96).toBeCloseTo(73.17529664, 3);
  });
  it('tells the same per radian when the crank turns unevenly', () => {
    const shot = driven('slider(Crank.rotation.z, 1m, 3m)');
    const ramped: Shot = {
      ...shot,
      parts: {
        ...shot.parts,
        prt_c: hub('Crank', {
          links: { 'rotation.z': { formula: 'deg(40 * time / 1s + 12 * (time / 1s)^2)', refs: {} } },
        }),
      },
    };
    const found = report(ramped, { from: 1, to: 60 });
    for (const frame of [5, 23.5, 44, 59]) {
      const angle = (found.driver![Math.round((frame - 1) * 8)]! * Math.PI) / 180;
      expect((angle * 180) / Math.PI).toBeCloseTo(40 * (frame / 24) + 12 * (frame / 24) ** 2, 9);
      const [sin, cos, twice] = [Math.sin(angle), Math.cos(angle), Math.sin(2 * angle)];
      const q = Math.sqrt(9 - sin ** 2);
      const [, v, a, b] = rowAt(found, frame);
      expect(v).toBeCloseTo(-sin - twice / (2 * q), 6);
      expect(a).toBeCloseTo(-cos - Math.cos(2 * angle) / q - twice ** 2 / (4 * q ** 3), 5);
      const jerk =
        sin +
        (2 * twice) / q -
        (3 * twice * Math.cos(2 * angle)) / (2 * q ** 3) -
        (3 * twice ** 3) / (8 * q ** 5);
      expect(b).toBeCloseTo(jerk, 2);
    }
  });
  it('tells over time where it is asked, per second', () => {
    // A quarter turn a second: once round in 4 s.
    const w = (2 * Math.PI) / 4;
    const found = rowAt(report(driven('slider(Crank.rotation.z, 1m, 3m)'), { driver: null }), 24);
    expect(found[1]).toBeCloseTo(-1 * w, 6);
    expect(found[2]).toBeCloseTo(0.3535533906 * w * w, 6);
  });
});

describe('cam laws (Norton, Cam Design and Manufacturing Handbook: peak factors)', () => {
  // Lift 1 over half a turn: factors divide by beta to the power 1, 2 and 3.
  it.each([
    ['harmonic', 1.570796327, 4.934802201],
    ['cycloidal', 2, 6.283185307],
    ['3-4-5', 1.875, 5.773502692],
    ['4-5-6-7', 2.1875, 7.513188404],
    ['modified sine', 1.759603386, 5.527957071],
    ['modified trapezoid', 2, 4.888123763],
  ])('%s', (law, cv, ca) => {
    const name = law.includes(' ') || law.includes('-') ? `"${law}"` : law;
    const shot = driven(`cam(${name}, Crank.rotation.z, 1m, 180deg, 0deg, 180deg)`);
    // Away from the ends, where some of the laws jump.
    const [value, speed, acceleration] = report(shot, { from: 1, to: 47 }).subjects[0]!.curves;
    expect(speed.most.value * Math.PI).toBeCloseTo(cv, 4);
    if (law !== 'harmonic') expect(acceleration.most.value * Math.PI ** 2).toBeCloseTo(ca, 2);
    expect(value.most.value).toBeLessThan(1);
  });
  it('stands still where the law says', () => {
    const shot = driven('cam(cycloidal, Crank.rotation.z, 25mm, 120deg, 60deg, 120deg)');
    // Up over frames 0 to 32, up until 48, down until 80, then down.
    const { dwells: found } = report(shot).subjects[0]!;
    const high = found.find(({ level }) => level > 0.024)!;
    expect(high.from).toBeLessThan(32);
    expect(high.from).toBeGreaterThan(29);
    expect(high.to).toBeGreaterThan(48);
    expect(high.to).toBeLessThan(51);
    expect(found.some(({ from, to, level }) => level < 0.001 && from <= 80 && to === 96)).toBe(true);
  });
});

describe('points', () => {
  it('go round a circle by its length', () => {
    const shot = driven('0');
    const round: Shot = {
      ...shot,
      parts: { ...shot.parts, prt_p: hub('Pin', { parent: 'prt_c', values: { 'location.x': 0.5 } }) },
    };
    const found = report(round, {
      driver: null,
      subjects: [
        { kind: 'way', part: 'prt_p' },
        { kind: 'place', part: 'prt_p', axis: 'y' },
      ],
    });
    const [way, y] = found.subjects;
    expect(way!.curves[0].values.at(-1)).toBeCloseTo(Math.PI, 3);
    expect(way!.curves[1].most.value).toBeCloseTo(Math.PI / 4, 3);
    expect(y!.curves[0].most.value).toBeCloseTo(0.5, 9);
    expect(y!.curves[0].most.frame).toBeCloseTo(24, 6);
  });
});

describe('what is refused, and what cannot be told', () => {
  it('names the range and what is not there', () => {
    expect(() => report(driven('0'), { from: 5, to: 5 })).toThrow('Frames 5 to 5');
    expect(() => report(driven('0'), { subjects: [{ kind: 'way', part: 'prt_x' }] })).toThrow('prt_x');
    const colour: MotionSubject = { kind: 'channel', address: 'lok_a/colour' };
    const painted: Shot = {
      ...driven('0'),
      looks: { lok_a: { name: 'Red', values: {}, tracks: {}, links: {} } },
    };
    expect(() => report(painted, { subjects: [colour] })).toThrow('is a colour');
    expect(() => report(driven('0'), { subjects: Array.from({ length: 9 }, () => SLIDER) })).toThrow(
      'At most 8',
    );
  });
  it('falls back on time where the driver turns round', () => {
    const back = driven('slider(Crank.rotation.z, 1m, 3m)', 'location.x', [
      [0, 0],
      [48, 90],
      [96, 0],
    ]);
    const found = report(back);
    expect(found.trouble).toContain('turns round');
    expect(found.driver).toBeNull();
  });
});

it('derivatives are exact for a polynomial of the third degree', () => {
  const rows = Float64Array.from({ length: 9 }, (_, i) => 2 * i ** 3 - i ** 2 + 3);
  const { speed, acceleration, jerk } = derived(rows, 1);
  expect(speed[2]).toBeCloseTo(6 * 16 - 8, 9);
  expect(acceleration[2]).toBeCloseTo(12 * 4 - 2, 9);
  expect(jerk[2]).toBeCloseTo(12, 9);
});

it('dwells are the longest stretches within the tolerance', () => {
  const frames = Float64Array.from({ length: 41 }, (_, i) => i);
  const values = frames.map((frame) => Math.min(5, Math.max(0, frame - 10)) + (frame > 30 ? frame - 30 : 0));
  expect(dwells(values, frames, 0.1)).toEqual([
    { from: 0, to: 10, level: 0 },
    { from: 15, to: 30, level: 5 },
  ]);
});

it('a table has a row for each whole frame, in the units that are asked for', () => {
  const text = reportCsv(
    report(driven('slider(Crank.rotation.z, 1m, 3m)'), { to: 2 }),
    () => 'Slider, x (mm)',
    () => 1000,
    'Crank (deg)',
  );
  const lines = text.trimEnd().split('\r\n');
  expect(lines).toHaveLength(4);
  expect(lines[0]).toBe(
    'frame,Crank (deg),"Slider, x (mm) value","Slider, x (mm) speed","Slider, x (mm) acceleration","Slider, x (mm) jerk"',
  );
  expect(lines[1]!.split(',').slice(0, 3).map(Number)).toEqual([0, 0, 4000]);
});
