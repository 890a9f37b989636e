import { describe, expect, it } from 'vitest';
import type { Shot, Track } from '../document';
import { apply, setLink } from '../edit';
import { emptyShot, hub } from '../testing/random-shot';
import { askedMoments, compile, Evaluator, explainFailure } from './index';

type Keys = readonly (readonly [frame: number, value: number, manner?: Track['keys'][string]['manner']])[];

/** A hub whose scale follows keys, and another one whose scale is linked by a formula; frames from 0 on, 24 a second. */
function scene(keys: Keys, formula: string, more: Partial<Shot['setup']> = {}): Shot {
  const before: Shot = emptyShot();
  return {
    ...before,
    setup: { ...before.setup, first: 0, last: 96, rate: { num: 24, den: 1 }, ...more },
    parts: {
      prt_a: hub('A', {
        tracks: {
          'scale.x': {
            before: 'hold',
            after: 'hold',
            keys: Object.fromEntries(
              keys.map(([frame, value, manner = 'linear'], i) => [`key_${i}`, { frame, value, manner }]),
            ),
          },
        },
      }),
      prt_b: hub('B', { links: { 'scale.x': { formula, refs: { A: 'prt_a' } } } }),
    },
  };
}

function at(keys: Keys, formula: string, ...frames: number[]): number[] {
  const evaluator = new Evaluator(compile(scene(keys, formula)));
  return frames.map((frame) => {
    evaluator.evaluate(frame);
    expect(explainFailure(evaluator, 'prt_b/scale.x')).toBeNull();
    return evaluator.number('prt_b/scale.x');
  });
}

describe('what a speed has added up to (integrals by hand and by quadrature)', () => {
  it.each([
    [
      [
        [0, 0],
        [24, 10],
        [48, -10],
        [72, 0],
      ],
      72,
      0,
    ],
    [
      [
        [0, 5],
        [36, -3],
        [60, 8],
        [96, 0],
      ],
      96,
      10,
    ],
    [
      [
        [0, 4, 'hold'],
        [30, -6, 'hold'],
        [54, 2, 'hold'],
      ],
      96,
      2.5,
    ],
  ] as const)('%j to %d', (keys, frame, wanted) => {
    expect(at(keys, 'gone(A.scale.x)', frame)[0]).toBeCloseTo(wanted, 10);
  });
  it('goes back where the speed does, and is nothing before the first frame', () => {
    const keys = [
      [0, 12, 'hold'],
      [24, -12, 'hold'],
    ] as const;
    expect(at(keys, 'gone(A.scale.x)', 24, 36, 48, 12.5, -5)).toEqual([12, 6, 0, 6.25, 0]);
  });
});

describe('what follows by a spring', () => {
  // 1 Hz, damping ratio 0.2: the step response of the table, from the frame of the step on.
  const spring = `${(2 * Math.PI) ** 2}, ${0.4 * 2 * Math.PI}`;
  const step = [
    [0, 0, 'hold'],
    [24, 1, 'hold'],
  ] as const;
  it('swings over as the published response does, and rests where it began', () => {
    const found = at(step, `follow(A.scale.x, ${spring})`, 0, 24, 36, 42, 48, 72, 30.5, 3);
    [0, 0, 1.525506349, 1.116222465, 0.725035894, 0.9257472251].forEach((wanted, i) =>
      expect(found[i]).toBeCloseTo(wanted, 8),
    );
    expect(found[7]).toBe(0);
  });
  it('gives the same bits whatever was asked before', () => {
    const keys = [
      [0, 1],
      [20, 5],
      [50, -2],
      [90, 3],
    ] as const;
    for (const formula of ['follow(A.scale.x, 90, 3)', 'gone(A.scale.x)', 'since(A.scale.x) / 1s']) {
      const forward = at(keys, formula, ...Array.from({ length: 97 }, (_, i) => i));
      const backward = at(keys, formula, ...Array.from({ length: 97 }, (_, i) => 96 - i)).reverse();
      const alone = [7, 43, 96].map((frame) => at(keys, formula, frame)[0]);
      expect(backward).toEqual(forward);
      expect(alone).toEqual([forward[7], forward[43], forward[96]]);
    }
  });
  it('wants numbers that stand still', () => {
    const told = (formula: string): string | undefined =>
      compile(scene([[0, 1]], formula)).linkOf.get('prt_b/scale.x')?.error?.message;
    expect(told('follow(A.scale.x, frame, 2)')).toContain('stands still');
    expect(told('follow(A.scale.x, 0, 2)')).toContain('above 0');
    expect(told('follow(A.scale.x, 9, -1)')).toContain('from 0 on');
    expect(told('follow(A.scale.x, 9, 0)')).toBeUndefined();
  });
});

describe('how long ago something came true', () => {
  it('counts from the last rise above 0, found to a sixty-fourth of a frame', () => {
    const keys = [
      [0, -1],
      [24, 1],
      [36, -1],
      [48, 1],
    ] as const;
    const found = at(keys, 'since(A.scale.x) / 1s', 6, 12, 18, 24, 35, 48, -3);
    expect(found[0]).toBe(-1);
    // It crosses 0 at frame 12, where it is not above it yet, and again at 42.
    expect(found[1]).toBe(-1);
    expect(found[2]).toBeCloseTo((18 - 12 - 1 / 64) / 24, 12);
    expect(found[3]).toBeCloseTo((24 - 12 - 1 / 64) / 24, 12);
    expect(found[4]).toBeCloseTo((35 - 12 - 1 / 64) / 24, 12);
    expect(found[5]).toBeCloseTo((48 - 42 - 1 / 64) / 24, 12);
    expect(found[6]).toBe(-1);
  });
  it('begins with the first frame where it is true then', () => {
    expect(at([[0, 5]], 'since(A.scale.x) / 1s', 0, 12)).toEqual([0, 0.5]);
  });
});

it('counts what runs among what one frame may ask for, and comes to far frames', () => {
  const plan = compile(scene([[0, 1]], 'follow(A.scale.x, 9, 1)', { last: 5000 }));
  expect(askedMoments(plan)).toEqual({ address: 'prt_b/scale.x', moments: 8 });
  const evaluator = new Evaluator(plan);
  evaluator.evaluate(5000);
  expect(evaluator.number('prt_b/scale.x')).toBe(1);
});

describe('a ratchet that a lever works', () => {
  /** Turn of the wheel per stroke of a lever that goes to and fro so far, the mean of strokes two to eleven. */
  const perStroke = (swing: number, teeth: number, pawls: number): number => {
    let shot: Shot = {
      ...emptyShot(),
      parts: { prt_lever: hub('Lever'), prt_wheel: hub('Wheel') },
    };
    shot = { ...shot, setup: { ...shot.setup, first: 0, last: 480 } };
    shot = apply(
      shot,
      setLink(shot, 'prt_lever/rotation.z', `${swing}deg * (1 - cos(360deg * frame / 40)) / 2`),
    );
    shot = apply(
      shot,
      setLink(shot, 'prt_wheel/rotation.z', `ratchet(Lever.rotation.z, ${teeth}, ${pawls})`),
    );
    const evaluator = new Evaluator(compile(shot));
    const at = (frame: number): number => {
      evaluator.evaluate(frame);
      return evaluator.number('prt_wheel/rotation.z');
    };
    return (at(440) - at(40)) / 10;
  };

  // Chironis, "Mechanisms and Mechanical Devices Sourcebook": floor(swing z m / 360) 360 / (z m).
  it.each([
    [50, 20, 1, 36],
    [18, 20, 1, 18],
    [17.9, 20, 1, 0],
    [50, 20, 2, 45],
    [38, 24, 3, 35],
    [10, 60, 1, 6],
  ])(
    'strokes of %s degrees on %s teeth with %s pawls turn it by %s degrees each',
    (swing, teeth, pawls, wanted) => {
      expect(perStroke(swing, teeth, pawls)).toBeCloseTo(wanted, 9);
    },
  );
});
