import { describe, expect, it } from 'vitest';
import { channelAt, type Shot } from '../document';
import { apply, bake, setLink } from '../edit';
import { compile, Evaluator, explainFailure, sample } from '../evaluate';
import { colourFromHex, hexOfColour } from '../math';
import { emptyShot, hub } from '../testing/random-shot';
import { checkTyped, completeFormula, formatFormula, NameTable } from './index';

const shot: Shot = {
  ...emptyShot(),
  parts: {
    prt_a: hub('A', {
      tracks: {
        'scale.x': {
          before: 'hold',
          after: 'hold',
          keys: {
            key_a: { frame: 1, value: 0, manner: 'linear' },
            key_b: { frame: 25, value: 1, manner: 'linear' },
          },
        },
      },
    }),
    prt_sky: hub('Sky', {
      kind: 'backdrop',
      values: { colour: [0.25, 0.5, 0.75], upper: [0.1, 0.2, 0.4], fogcolour: [0.9, 0.8, 0.7] },
    }),
    prt_lamp: hub('Old lamp', { look: 'lok_a' }),
  },
  looks: { lok_a: { name: 'Paint', values: { colour: [1, 0.5, 0] }, tracks: {}, links: {} } },
};
const names = new NameTable(shot);
const SELF = 'prt_sky/colour';

const linked = (formula: string, address = SELF): Shot => apply(shot, setLink(shot, address, formula));
const at = (formula: string, frame = 13): readonly number[] => {
  const evaluator = new Evaluator(compile(linked(formula)));
  evaluator.evaluate(frame);
  expect(evaluator.hasFailed(SELF), formula).toBe(false);
  expect(evaluator.plan.linkOf.get(SELF)?.error, formula).toBeNull();
  return evaluator.colour(SELF);
};
const error = (formula: string, address = SELF) => {
  const checked = checkTyped(names, address, formula);
  expect(checked.ok, formula).toBe(false);
  return (checked as Extract<typeof checked, { ok: false }>).error;
};

describe('a colour that a formula gives', () => {
  it('is written, read, mixed and reckoned with component by component, in linear light', () => {
    expect(at('#e8a33d')).toEqual(colourFromHex('#e8a33d'));
    expect(at('colour(0.1, scale(0), 1)'.replace('scale(0)', 'A.scale.x'))).toEqual([0.1, 0.5, 1]);
    expect(at('Sky.upper')).toEqual([0.1, 0.2, 0.4]);
    expect(at('"Old lamp".colour')).toEqual([1, 0.5, 0]);
    expect(at('mix(Sky.upper, Sky.fogcolour, A.scale.x)')).toEqual(
      [0.5, 0.5, 0.55].map((x) => expect.closeTo(x, 12) as number),
    );
    expect(at('Sky.upper * 2 + colour(0, 0.1, 0)')).toEqual([0.2, 0.5, 0.8]);
    expect(at('if(frame > 10, Sky.upper, #000000)')).toEqual([0.1, 0.2, 0.4]);
    expect(at('if(frame > 10, Sky.upper, #000000)', 5)).toEqual([0, 0, 0]);
    expect(at('colour(Sky.upper.blue, Sky.upper.red, Sky.upper.green)')).toEqual([0.4, 0.1, 0.2]);
    expect(at('let warm = #ff0000; let share = A.scale.x; mix(own, warm, share)')).toEqual([
      0.625, 0.25, 0.375,
    ]);
    // Beyond what a colour can be it is cut off.
    expect(at('Sky.fogcolour + Sky.upper')).toEqual([1, 1, 1]);
  });

  it('has the hues of the published table', () => {
    // CSS Color Module Level 4, section 6.1 (named colours) with the hue, saturation and lightness of each after 7.1.
    const table = [
      ['hsl(0deg, 1, 0.5)', '#ff0000'],
      ['hsl(120deg, 1, 0.25)', '#008000'],
      ['hsl(240deg, 1, 0.25)', '#000080'],
      ['hsl(60deg, 1, 0.25)', '#808000'],
      ['hsl(300deg, 1, 0.25)', '#800080'],
      ['hsl(270deg, 0.5, 0.4)', '#663399'],
      ['hsl(180deg, 1, 0.5)', '#00ffff'],
      ['hsl(0deg, 0, 0.75)', '#bfbfbf'],
      ['hsl(-120deg, 1, 0.5)', '#0000ff'],
    ] as const;
    for (const [formula, hex] of table)
      expect(hexOfColour(at(formula) as [number, number, number]), formula).toBe(hex);
  });

  it('keeps the value of the channel, whole, where one component gives no number, and says why', () => {
    const evaluator = new Evaluator(compile(linked('colour(1, 0, 1 / (frame - 13))')));
    evaluator.evaluate(13);
    expect(evaluator.colour(SELF)).toEqual([0.25, 0.5, 0.75]);
    expect(explainFailure(evaluator, SELF)?.message).toContain('Division by zero at frame 13');
    evaluator.evaluate(14);
    expect(evaluator.colour(SELF)).toEqual([1, 0, 1]);
  });

  it('is asked at other moments, also its own', () => {
    const grows = apply(shot, setLink(shot, 'prt_sky/upper', 'colour(A.scale.x, 0.5, 1 - A.scale.x)'));
    const asks = apply(grows, setLink(grows, SELF, 'delay(Sky.upper, 6f)'));
    const evaluator = new Evaluator(compile(asks));
    evaluator.evaluate(19);
    expect(evaluator.colour(SELF)).toEqual([0.5, 0.5, 0.5]);
    evaluator.evaluate(25);
    expect(evaluator.colour(SELF)).toEqual([0.75, 0.5, 0.25]);
  });

  it('is told from a number, with what to write instead', () => {
    expect(error('A.scale.x')).toMatchObject({ code: 'colour', from: 0, to: 9 });
    expect(error('A.scale.x').fixes[0]!.insert).toBe('colour(A.scale.x, A.scale.x, A.scale.x)');
    expect(error('Sky.colour', 'prt_a/scale.x').fixes.map(({ insert }) => insert)).toEqual([
      'Sky.colour.red',
      'Sky.colour.green',
      'Sky.colour.blue',
    ]);
    expect(checkTyped(names, 'prt_a/scale.x', 'Sky.colour.green * 2').ok).toBe(true);
    expect(checkTyped(names, 'prt_a/scale.x', '"Old lamp".colour.green').ok).toBe(true);
    for (const formula of ['#ff0000', 'colour(1, 0, 0)', 'hsl(1, 1, 1)', 'let c = Sky.upper; c'])
      expect(error(formula, 'prt_a/scale.x').code, formula).toBe('colour');
    // What is compared, a share and a time are numbers, also inside a colour.
    for (const formula of [
      'if(Sky.upper > 1, #000000, #ffffff)',
      'mix(#000000, #ffffff, Sky.upper)',
      'at(Sky.upper, own)',
      'colour(own, 1, 1)',
    ])
      expect(error(formula).code, formula).toBe('colour');
    expect(error('#ff00')).toMatchObject({ code: 'syntax', from: 0, to: 5 });
    expect(error('Sky.colour * 2')).toMatchObject({ code: 'itself' });
    expect(error('Sky.upper * 1m')).toMatchObject({ code: 'dimension' });
    expect(error('colour(1, 0)')).toMatchObject({ code: 'argument-count' });
    expect(error('Sky.uper').message).toContain('upper');
  });

  it('is proposed where a colour is wanted, and its components where a number is', () => {
    const labels = (address: string, text: string): string[] =>
      completeFormula(names, address, text, text.length).proposals.map(({ label }) => label);
    expect(labels(SELF, 'Sky.up')[0]).toBe('upper');
    expect(labels(SELF, 'Sky.')[0]).toBe('upper');
    expect(labels(SELF, 'hs')).toContain('hsl');
    expect(labels('prt_a/scale.x', 'hs')).not.toContain('hsl');
    expect(labels('prt_a/scale.x', 'Sky.up')).toEqual(['upper.red', 'upper.green', 'upper.blue']);
    expect(formatFormula('mix( #ff0000,Sky.upper , 0.5)')).toBe('mix(#ff0000, Sky.upper, 0.5)');
  });

  it('is sampled and baked as a colour', () => {
    const mixed = linked('mix(Sky.upper, Sky.fogcolour, A.scale.x)');
    const plan = compile(mixed);
    expect(sample(plan, [SELF], 1, 25, 24).values).toHaveLength(6);
    const { change, error: off } = bake(mixed, plan, [SELF], 1, 25, 1);
    expect(off).toBeLessThan(1e-12);
    const baked = apply(mixed, change);
    expect(baked.parts.prt_sky!.links).toEqual({});
    expect(channelAt(baked, SELF)?.spec.kind).toBe('colour');
    const evaluator = new Evaluator(compile(baked));
    evaluator.evaluate(13);
    expect(evaluator.colour(SELF)[0]).toBeCloseTo(0.5, 12);
  });
});
