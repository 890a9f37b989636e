import { describe, expect, it } from 'vitest';
import type { Shot } from '../document';
import { apply } from '../edit';
import { compile, Evaluator } from '../evaluate';
import { emptyShot, hub } from '../testing/random-shot';
import { applyFound, changeTrouble, find, FindRefused, type Question } from './index';

/** A crank of a whole turn in 96 frames, a piston on a rod, a wheel with a number of teeth. */
const engine: Shot = {
  ...emptyShot(),
  setup: { ...emptyShot().setup, first: 0, last: 96 },
  parts: {
    prt_c: hub('Crank', { links: { 'rotation.z': { formula: 'turns(frame / 96)', refs: {} } } }),
    prt_p: hub('Piston', {
      links: {
        'location.x': {
          formula: 'slider(Crank.rotation.z, dial.throw, dial.rod)',
          refs: { Crank: 'prt_c', 'dial.throw': 'dia_t', 'dial.rod': 'dia_r' },
        },
      },
    }),
    prt_k: hub('Keyed', {
      tracks: {
        'location.x': {
          before: 'hold',
          after: 'hold',
          keys: { key_a: { frame: 0, value: 0, manner: 'linear' } },
        },
      },
    }),
    prt_r: {
      ...hub('Row', { values: { copies: 4 } }),
      kind: 'repeat',
      repeat: { pattern: 'row', step: null },
    },
  },
  dials: {
    dia_t: {
      name: 'throw',
      quantity: 'length',
      min: 0.01,
      max: 2,
      values: { value: 1 },
      tracks: {},
      links: {},
    },
    dia_r: { name: 'rod', quantity: 'length', min: 1, max: 10, values: { value: 3 }, tracks: {}, links: {} },
  },
};
const THROW = { address: 'dia_t/value', least: 0.1, most: 0.9 };
const ROD = { address: 'dia_r/value', least: 2, most: 10 };
const ask = (more: Partial<Question>) =>
  find(engine, {
    formula: 'Piston.location.x',
    moment: { kind: 'frame', frame: 24 },
    wanted: { kind: 'is', target: 2.5 },
    unknowns: [ROD],
    ...more,
  });

describe('what values must be', () => {
  it('is found for a place at a frame: rod of a crank at a right angle', () => {
    // x^2 = l^2 - r^2 there.
    const found = ask({});
    expect(found.answers[0]).toMatchObject({ exact: true });
    expect(found.answers[0]!.at[0]).toBeCloseTo(Math.sqrt(2.5 ** 2 + 1), 9);
    expect(found.quantity).toBe('length');
    expect(found.now).toBeCloseTo(Math.sqrt(8), 9);
  });
  it('is found for the most over a range, and for a stroke of both', () => {
    const reach = ask({ moment: { kind: 'most', from: 0, to: 96 }, wanted: { kind: 'is', target: 5 } });
    expect(reach.answers[0]!.at[0]).toBeCloseTo(4, 9);
    // At the outer dead centre throw and rod together; at the inner one their difference.
    const both = ask({
      formula: 'at(Piston.location.x, 0) - at(Piston.location.x, 48)',
      wanted: { kind: 'is', target: 1.2 },
      unknowns: [THROW],
    });
    expect(both.answers[0]!.at[0]).toBeCloseTo(0.6, 9);
  });
  it('is found for what is to be least: a speed, by two values', () => {
    const found = ask({
      formula: 'abs(Piston.location.x - 2m) + abs(dial.throw - 0.5m)',
      wanted: { kind: 'least' },
      unknowns: [THROW, ROD],
    });
    expect(found.answers[0]!.value).toBeCloseTo(0, 5);
    expect(found.answers[0]!.at[0]).toBeCloseTo(0.5, 4);
    expect(found.answers[0]!.at[1]).toBeCloseTo(Math.sqrt(4 + 0.25), 4);
  });
  it('is found for the swing of a four-bar: coupler by which its rocker goes up to 120 degrees', () => {
    const bars: Shot = {
      ...engine,
      parts: {
        ...engine.parts,
        prt_p: hub('Rocker', {
          links: {
            'rotation.z': {
              formula: 'fourbar(Crank.rotation.z, 0.4m, dial.rod, 0.8m, 1m)',
              refs: { Crank: 'prt_c', 'dial.rod': 'dia_r' },
            },
          },
        }),
      },
    };
    const found = find(bars, {
      formula: 'Rocker.rotation.z',
      moment: { kind: 'most', from: 0, to: 96 },
      wanted: { kind: 'is', target: 120 },
      unknowns: [{ address: 'dia_r/value', least: 1, most: 1.4 }],
    });
    // Crank and coupler lie over one another there: by the law of cosines in what is left of the four bars.
    const coupler = 0.4 + Math.sqrt(1 + 0.64 - 2 * 0.8 * Math.cos(Math.PI / 3));
    expect(found.answers[0]!.at[0]).toBeCloseTo(coupler, 7);
    expect(found.now).toBeNaN();
  });
  it('is found for a speed: a piston as fast as is wanted where its crank is square to it', () => {
    // There its speed is that of the crank pin, whatever the rod: a turn in four seconds.
    const found = ask({
      formula: 'let v = speed(Piston.location.x); abs(v)',
      wanted: { kind: 'is', target: 0.5 },
      unknowns: [THROW],
    });
    expect(found).toMatchObject({ quantity: 'length', perSecond: true });
    expect(found.answers[0]!.at[0]).toBeCloseTo((0.5 * 4) / (2 * Math.PI), 3);
  });
  it('are whole where the value is', () => {
    const found = ask({
      formula: 'Row.copies * 0.3',
      wanted: { kind: 'is', target: 2 },
      unknowns: [{ address: 'prt_r/copies', least: 1, most: 40 }],
    });
    expect(found.answers[0]).toMatchObject({ at: [7], exact: false });
  });
  it('leave no trace until they are taken, in one change', () => {
    const before = JSON.stringify(engine);
    const found = ask({});
    expect(JSON.stringify(engine)).toBe(before);
    const change = applyFound(engine, [ROD], found.answers[0]!.at);
    expect(change.label).toBe('Take what was found');
    const evaluator = new Evaluator(compile(apply(engine, change)));
    evaluator.evaluate(24);
    expect(evaluator.number('prt_p/location.x')).toBeCloseTo(2.5, 9);
  });
});

describe('a question that cannot be asked', () => {
  it.each<[Partial<Question>, string]>([
    [{ formula: 'Pistn.location.x' }, 'Pistn'],
    [{ unknowns: [] }, '0 are chosen'],
    [{ unknowns: Array.from({ length: 5 }, () => ROD) }, '5 are chosen'],
    [{ unknowns: [{ ...ROD, least: 9, most: 4 }] }, 'is nothing'],
    [{ unknowns: [{ address: 'prt_p/location.x', least: 0, most: 1 }] }, 'linked'],
    [{ unknowns: [{ address: 'prt_k/location.x', least: 0, most: 1 }] }, 'keyed'],
    [{ moment: { kind: 'most', from: 5, to: 4 } }, 'Frames 5 to 4'],
  ])('%j', (more, words) => {
    expect(() => ask(more)).toThrow(FindRefused);
    expect(() => ask(more)).toThrow(words);
  });
  it('says of a value whether it can be changed', () => {
    expect(changeTrouble(engine, 'dia_r/value')).toBeNull();
    expect(changeTrouble(engine, 'prt_x/location.x')).toContain('no longer');
  });
});
