import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Shot } from '../document';
import { apply, renamePart, setLink } from '../edit';
import { compile, Evaluator, explainFailure, KERNELS } from '../evaluate';
import { emptyShot, hub } from '../testing/random-shot';
import {
  checkTyped,
  completeFormula,
  formatFormula,
  FUNCTIONS,
  FormulaFault,
  jitter,
  NameTable,
  parseFormula,
  smoothNoise,
  textOfLink,
  type Ast,
} from './index';

const shot: Shot = {
  ...emptyShot(),
  parts: {
    prt_a: hub('Pinion', {
      tracks: {
        'rotation.z': {
          before: 'hold',
          after: 'hold',
          keys: {
            key_a: { frame: 1, value: 0, manner: 'linear' },
            key_b: { frame: 25, value: 240, manner: 'linear' },
            key_c: { frame: 48, value: 10, manner: 'linear' },
          },
        },
      },
    }),
    prt_b: hub('Crown wheel', { values: { 'location.x': 3, 'location.y': 4 } }),
    prt_r: {
      ...hub('Row', { values: { copies: 4 } }),
      kind: 'repeat',
      repeat: { pattern: 'row', step: null },
    },
  },
  dials: {
    dia_s: { name: 'speed', quantity: 'none', min: 0, max: 10, values: { value: 3 }, tracks: {}, links: {} },
  },
  sounds: { snd_o: { name: 'harbour organ', start: 1, values: {}, tracks: {}, links: {} } },
};
const names = new NameTable(shot);

function at(formula: string, frame: number, address = 'prt_b/scale.x'): number {
  const linked = apply(shot, setLink(shot, address, formula));
  const loudness = {
    snd_o: { rate: 1, edges: [0, 100, 200], power: Float32Array.from([0.5, 0, 0, 0.125, 0.5, 0.5]) },
  };
  const evaluator = new Evaluator(compile(linked, loudness));
  evaluator.evaluate(frame);
  expect(evaluator.plan.linkOf.get(address)!.error).toBeNull();
  expect(explainFailure(evaluator, address)).toBeNull();
  return evaluator.number(address);
}
function refused(formula: string, address = 'prt_b/scale.x'): string {
  const checked = checkTyped(names, address, formula);
  if (checked.ok) throw new Error(`${formula} was accepted`);
  return `${checked.error.message} [${checked.error.fixes.map((fix) => fix.insert).join('|')}]`;
}

describe("a formula's own names", () => {
  it('stand for what they are, and may use one another', () => {
    expect(at('let r = 3; r * r + r', 1)).toBe(12);
    expect(at('let a = Pinion.rotation.z / 1deg; let half = a / 2; half + max(half, 7)', 13)).toBe(120);
    expect(at('let turn = dial.speed * 60deg; sin(turn)', 1)).toBe(at('sin(dial.speed * 60deg)', 1));
    expect(at('let w = "Crown wheel".location.y; w', 1, 'prt_a/location.x')).toBe(4);
    // Of a repeat's copies each has its own.
    expect(checkTyped(names, 'prt_r/copy.location.x', 'let n = index; n * 1m').ok).toBe(true);
  });
  it('hide the word of the same name nowhere, and are refused where they cannot be', () => {
    expect(refused('let pi = 3; pi')).toContain('"pi" means something already');
    expect(refused('let sin = 3; sin')).toContain('means something already');
    expect(refused('let r = 1; let r = 2; r')).toContain('before this one');
    expect(refused('let r = 1 r')).toContain('A ; is missing');
    expect(refused('let r 1; r')).toContain('A = is missing');
    expect(refused('let r = 1;')).toContain('A value is missing at the end');
    expect(refused('let r = 1; r + q')).toContain('Nothing here is called "q"');
    expect(refused('let radius = 1; radus + 1')).toContain('radius');
    expect(refused('2; 3')).toContain('A ; stands after a name');
    expect(refused('let r = s; let s = 1; r')).toContain('Nothing here is called "s"');
    expect(refused('let r = 1; r = 2')).toContain('single =');
    expect(refused('let r = = 2; r')).toContain('single =');
    expect(refused('2 = 3')).toContain('single =');
  });
  it('keep what they measure', () => {
    expect(refused('let a = 30deg; a * 1m')).toContain('belongs');
    expect(refused('let a = 30deg; a + 1m')).toContain('angle');
  });
  it('do not let a short text grow without end', () => {
    const doubled = Array.from({ length: 40 }, (_, i) => `let n${i + 1} = n${i} + n${i};`).join(' ');
    expect(refused(`let n0 = frame; ${doubled} n40`)).toContain('more than 20000 pieces');
  });
  it('follow renaming, are written evenly, and are proposed', () => {
    const linked = apply(shot, setLink(shot, 'prt_b/scale.x', 'let r = Pinion.rotation.z; r / 1deg'));
    const renamed = apply(linked, renamePart(linked, 'prt_a', 'Small wheel'));
    expect(textOfLink(new NameTable(renamed), renamed.parts.prt_b!.links['scale.x']!)).toBe(
      'let r = "Small wheel".rotation.z; r / 1deg',
    );
    expect(formatFormula('let  r=2 ;let s = (r)*3;r+( s )')).toBe('let r = 2; let s = r * 3; r + s');
    const text = 'let reach = 2; rea';
    expect(completeFormula(names, 'prt_b/scale.x', text, text.length).proposals[0]!.insert).toBe('reach');
  });
});

describe('other moments', () => {
  it('at, delay, speed, travel', () => {
    expect(at('at(Pinion.rotation.z, 13) / 1deg', 40)).toBeCloseTo(120, 9);
    expect(at('delay(Pinion.rotation.z, 6f) / 1deg', 13)).toBeCloseTo(60, 9);
    expect(at('delay(Pinion.rotation.z, 0.25s) / 1deg', 13)).toBeCloseTo(60, 9);
    expect(at('speed(Pinion.rotation.z) / 1rpm', 10)).toBeCloseTo(40, 6);
    expect(at('travel(Pinion.rotation.z) / 1deg', 25)).toBeCloseTo(240, 9);
    expect(at('travel(Pinion.rotation.z) / 1deg', 48)).toBeCloseTo(470, 9);
    expect(at('travel(Pinion.rotation.z) / 1deg', -5)).toBe(0);
    expect(at('delay(own, 1f)', 20)).toBe(1);
  });
  it('refuses what is no channel', () => {
    expect(refused('at(3, 5)')).toContain('asks one channel at another moment');
    expect(refused('at(Pinion, 5)')).toContain('Which value of Pinion');
    expect(refused('delay(Pinion.rotation.z, 5deg)')).toContain('wants a time');
  });
  it('a channel that asks for itself through another is a loop', () => {
    let looped = apply(shot, setLink(shot, 'prt_b/scale.x', 'at(Pinion.scale.x, frame - 1)'));
    looped = apply(looped, setLink(looped, 'prt_a/scale.x', '"Crown wheel".scale.x'));
    expect(compile(looped).links.map((link) => link.error?.code)).toEqual(['loop', 'loop']);
  });
});

describe('places and sounds', () => {
  it('world places and distances', () => {
    expect(at('worldx("Crown wheel") / 1m', 1, 'prt_a/scale.x')).toBe(3);
    expect(at('distance(Pinion, "Crown wheel") / 1m', 1, 'prt_a/scale.x')).toBe(5);
    expect(refused('distance(Pinion)')).toContain('takes 2 values');
    expect(refused('worldx(Pinion.location.x)')).toContain('wants the name of a part here. [Pinion]');
    expect(refused('worldx(Pinoin)')).toContain('Pinion');
  });
  it('level: bands by their share, between rows, silence outside', () => {
    expect(at('level("harbour organ", 0Hz, 100Hz)', 1)).toBeCloseTo(1, 6);
    expect(at('level("harbour organ", 50, 100)', 1)).toBeCloseTo(Math.SQRT1_2, 6);
    expect(at('level("harbour organ", 0Hz, 200Hz)', 1 + 12)).toBeCloseTo(Math.sqrt(2 * (0.25 + 0.0625)), 6);
    expect(at('level("harbour organ", 0Hz, 200Hz)', 1 + 24 * 30)).toBe(0);
    expect(refused('level(organ, 1Hz, 2Hz)')).toContain('The shot has harbour organ');
    expect(refused('level("harbour organ", 1m, 2Hz)')).toContain('frequency');
  });
  it('without a table it says that the file has not been read', () => {
    const linked = apply(shot, setLink(shot, 'prt_b/scale.x', 'level("harbour organ", 1Hz, 2Hz)'));
    const evaluator = new Evaluator(compile(linked));
    evaluator.evaluate(1);
    expect(explainFailure(evaluator, 'prt_b/scale.x')?.message).toContain('has not been read');
  });
  it('references follow renaming, as arguments too', () => {
    const linked = apply(
      shot,
      setLink(
        shot,
        'prt_b/scale.x',
        'distance(Pinion, "Crown wheel") / worldx(Pinion) + level("harbour organ", 1Hz, 2Hz)',
      ),
    );
    const renamed = apply(linked, renamePart(linked, 'prt_a', 'Small gear'));
    const text = textOfLink(new NameTable(renamed), renamed.parts.prt_b!.links['scale.x']!);
    expect(text).toBe(
      'distance("Small gear", "Crown wheel") / worldx("Small gear") + level("harbour organ", 1Hz, 2Hz)',
    );
    expect(compile(renamed).links[0]!.error).toBeNull();
  });
});

describe('copies of a repeat', () => {
  it('index and count are known there and only there', () => {
    const linked = apply(
      shot,
      setLink(shot, 'prt_r/copy.location.y', 'index / count * 1m + sin(index * 90deg) * 1m'),
    );
    const evaluator = new Evaluator(compile(linked));
    evaluator.evaluate(1);
    const { place } = evaluator.instant.copies[0]!;
    [0, 1.25, 0.5, -0.25].forEach((y, i) => expect(place[i * 12 + 7]).toBeCloseTo(y, 9));
    expect(refused('index')).toContain("only in the links of a repeat's copies");
  });
  it('a copy for which there is no number keeps its own, and the link is told', () => {
    const linked = apply(shot, setLink(shot, 'prt_r/copy.scale.x', '1 / (index - 2)'));
    const evaluator = new Evaluator(compile(linked));
    evaluator.evaluate(1);
    expect(evaluator.hasFailed('prt_r/copy.scale.x')).toBe(true);
    expect(evaluator.instant.copies[0]!.place[2 * 12]).toBe(1);
  });
});

describe('words of functions', () => {
  it('are taken with and without quotation marks, however they are spaced', () => {
    for (const law of ['"3-4-5"', '"modified sine"', 'modified_sine', 'ModifiedSine', 'cycloidal'])
      expect(
        checkTyped(names, 'prt_b/location.x', `cam(${law}, 30deg, 1m, 90deg, 90deg, 90deg)`).ok,
        law,
      ).toBe(true);
    expect(refused('ease(bounce, 0.5)')).toContain('none of its words');
    expect(refused('ease("bounce-ot", 0.5)')).toContain('"bounce-out"');
    expect(refused('ease(3, 0.5)')).toContain('A word belongs here');
  });
});

describe('noise', () => {
  it('stays within -1 and 1, is 0 at whole numbers, smooth, and another for another seed', () => {
    let change = 0;
    for (let i = 0; i < 5000; i++) {
      const x = i / 37 - 60;
      const [a, b] = [smoothNoise(3, x), smoothNoise(3, x + 0.001)];
      expect(Math.abs(a)).toBeLessThanOrEqual(1);
      expect(Math.abs(a - b)).toBeLessThan(0.006);
      change += Math.abs(a - smoothNoise(4, x));
      expect(Math.abs(jitter(3, x, 5))).toBeLessThanOrEqual(1);
    }
    expect(change / 5000).toBeGreaterThan(0.1);
    expect(smoothNoise(3, 17) + 0).toBe(0);
    expect(jitter(3, 1.01, 10)).toBe(jitter(3, 1.09, 10));
    expect(jitter(3, 1.01, 10)).not.toBe(jitter(3, 1.11, 10));
    // The same for ever: written down when it was made.
    expect(smoothNoise(2, 0.5)).toBe(-0.24148063483682475);
  });
});

describe('formatter', () => {
  it.each([
    ['(a.b)*( c.d+1 )', 'a.b * (c.d + 1)'],
    ['((1))', '1'],
    ['-(2^2)', '-2^2'],
    ['(-2)^2', '(-2)^2'],
    ['2^(3^2)', '2^3^2'],
    ['(2^3)^2', '(2^3)^2'],
    ['1-(2-3)', '1 - (2 - 3)'],
    ['(1-2)-3', '1 - 2 - 3'],
    ['not(1<2 and 3<4)', 'not (1 < 2 and 3 < 4)'],
    ['if( 1<2,"Pinion".x.y , "Crown wheel".rotation.z )', 'if(1 < 2, Pinion.x.y, "Crown wheel".rotation.z)'],
    ['2^(-1)', '2^-1'],
    ['  1 + ', '1 +'],
  ])('%s', (text, want) => expect(formatFormula(text)).toBe(want));
  it('means the same as before, and formatting again changes nothing', () => {
    const bare = (ast: Ast): unknown =>
      JSON.parse(
        JSON.stringify(ast, (key, value: unknown) =>
          ['from', 'to', 'nameTo', 'pathFrom', 'quoted'].includes(key) ? undefined : value,
        ),
      );
    const { text } = fc.letrec<{ text: string }>((tie) => ({
      text: fc.oneof(
        { maxDepth: 5 },
        fc.constantFrom('1', '2.5mm', 'own', 'Pinion.rotation.z', '"Crown wheel".scale.x', 'frame'),
        fc
          .tuple(
            tie('text'),
            fc.constantFrom('+', '-', '*', '/', '%', '^', 'and', 'or'),
            tie('text'),
            fc.boolean(),
          )
          .map(([a, op, b, p]) =>
            p ? `(${a} ${op} ${b})` : `(${a})${op === 'and' || op === 'or' ? ` ${op} ` : op}(${b})`,
          ),
        fc.tuple(tie('text'), tie('text')).map(([a, b]) => `((${a}) < (${b}))`),
        tie('text').map((a) => `-(${a})`),
        tie('text').map((a) => `not (${a})`),
        fc.tuple(tie('text'), tie('text')).map(([a, b]) => `max(${a}, ${b})`),
      ),
    }));
    fc.assert(
      fc.property(text, (formula) => {
        let before: Ast;
        try {
          before = parseFormula(formula);
        } catch (thrown) {
          expect(thrown).toBeInstanceOf(FormulaFault);
          return;
        }
        const formatted = formatFormula(formula);
        expect(bare(parseFormula(formatted))).toEqual(bare(before));
        expect(formatFormula(formatted)).toBe(formatted);
        expect(formatted.length).toBeLessThanOrEqual(formula.length + 40);
      }),
      { numRuns: 2000 },
    );
  });
});

describe('completion', () => {
  const complete = (marked: string, address = 'prt_b/scale.x'): ReturnType<typeof completeFormula> => {
    const caret = marked.indexOf('|');
    return completeFormula(names, address, marked.replace('|', ''), caret, (of) =>
      of === 'prt_a/rotation.z' ? 42 : NaN,
    );
  };
  const inserts = (marked: string, address?: string): string[] =>
    complete(marked, address).proposals.map((proposal) => proposal.insert);
  it('names, with quotation marks where they need them', () => {
    expect(inserts('2 * Pi|')[0]).toBe('Pinion.');
    expect(inserts('2 * pi|').slice(0, 2)).toEqual(['pi', 'Pinion.']);
    expect(inserts('cr|')[0]).toBe('"Crown wheel".');
    expect(inserts('wheel|')[0]).toBe('"Crown wheel".');
    expect(inserts('"Crow|')[0]).toBe('"Crown wheel".');
    expect(inserts('dial.|')).toEqual(['speed']);
    expect(inserts('sli|')[0]).toBe('slider(');
  });
  it('channels with what they measure and what they are now', () => {
    const { proposals, from, to } = complete('Pinion.rot| + 1');
    expect([from, to]).toEqual([7, 10]);
    expect(proposals[0]).toMatchObject({ insert: 'rotation.x', dimension: 'an angle' });
    expect(complete('Pinion.rotation.z|').proposals[0]).toMatchObject({ insert: 'rotation.z', value: 42 });
    expect(inserts('"Crown wheel".sc|')).not.toContain('scale.x');
    expect(inserts('"Crown wheel".sc|')).toContain('scale.y');
  });
  it('what an argument takes: words, parts, sounds; and units after a number', () => {
    expect(inserts('cam(|')).toEqual([
      'harmonic',
      'cycloidal',
      '"3-4-5"',
      '"4-5-6-7"',
      '"modified sine"',
      '"modified trapezoid"',
    ]);
    expect(inserts('cam("3|, 1')[0]).toBe('"3-4-5"');
    expect(inserts('distance(Pinion, cr|')).toEqual(['"Crown wheel"']);
    expect(inserts('level(|')).toEqual(['"harbour organ"']);
    expect(inserts('3m|').slice(0, 2)).toEqual(['m', 'mm']);
    expect(complete('mix(1, (2 + 3), |').call).toMatchObject({ argument: 2, spec: { name: 'mix' } });
    expect(complete('1 + |').call).toBeNull();
    expect(inserts('ind|', 'prt_r/copy.glow')).toContain('index');
    expect(inserts('ind|')).not.toContain('index');
  });
  it('never throws, whatever stands there', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: fc.constantFrom(...'aP1"(.),+ mdial'), maxLength: 14 }),
        fc.nat(14),
        (text, caret) => {
          const { from, to, proposals } = completeFormula(
            names,
            'prt_b/scale.x',
            text,
            Math.min(caret, text.length),
          );
          expect(from).toBeLessThanOrEqual(to);
          expect(to).toBeLessThanOrEqual(text.length);
          expect(proposals.length).toBeLessThanOrEqual(50);
        },
      ),
      { numRuns: 3000 },
    );
  });
});

it('kernels give the same bits as the plain functions', () => {
  const number = fc.oneof(
    fc.double({ min: -1000, max: 1000, noNaN: true }),
    fc.constantFrom(0, -0, 90, 180, 360, 1e9),
  );
  expect(KERNELS.size).toBeGreaterThan(10);
  for (const [name, kernel] of KERNELS) {
    const spec = FUNCTIONS.get(name)!;
    fc.assert(
      fc.property(fc.array(number, { minLength: 4, maxLength: 4 }), (args) => {
        const slots = Float64Array.from([0, ...args]);
        kernel(slots, 0, 1, 2, 3);
        expect(
          Object.is(slots[0], spec.compute(...args.slice(0, spec.params.length))),
          `${name}(${args.join(', ')})`,
        ).toBe(true);
      }),
      { numRuns: 500 },
    );
  }
});
