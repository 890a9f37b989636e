import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { channelsOf, type Shot } from '../document';
import { apply, setLink } from '../edit';
import { checkTyped, FUNCTIONS, NameTable } from '../formula';
import { emptyShot, hub, randomLoudness, randomShot } from '../testing/random-shot';
import { compile, COPY_LOOK_SIZE, Evaluator, explainFailure, MATRIX_SIZE, Reference, sample } from './index';

const frames = fc.array(
  fc.oneof(fc.integer({ min: -30, max: 90 }), fc.double({ min: -30, max: 90, noNaN: true })),
  { minLength: 1, maxLength: 5 },
);

function compareAt(shot: Shot, evaluator: Evaluator, frame: number): number {
  let copies = 0;
  const reference = new Reference(shot, frame, randomLoudness);
  const same = (got: number, want: number, what: string): void => {
    if (!Object.is(got, want)) throw new Error(`${what} at ${frame}: ${got}, reference ${want}`);
  };
  for (const id of [...Object.keys(shot.parts), ...Object.keys(shot.looks)])
    for (const spec of channelsOf(shot, id)) {
      const address = `${id}/${spec.path}`;
      const want = reference.value(address);
      const got = spec.kind === 'colour' ? evaluator.colour(address) : [evaluator.number(address)];
      got.forEach((number, i) => same(number, want[i]!, `${address}[${i}]`));
    }
  for (const id of Object.keys(shot.parts)) {
    const world = reference.world(id);
    evaluator.worldOf(id)!.forEach((number, i) => same(number, world[i]!, `${id} world[${i}]`));
    const instances = evaluator.copiesOf(id);
    if (!instances || followsPath(shot, id)) continue;
    const list = reference.copies(id);
    expect(instances.count).toBe(list.length);
    list.forEach(({ matrix, look }, k) => {
      matrix.forEach((number, i) =>
        same(instances.matrices[k * MATRIX_SIZE + i]!, number, `${id} copy ${k} [${i}]`),
      );
      look.forEach((number, i) =>
        same(instances.looks[k * COPY_LOOK_SIZE + i]!, number, `${id} look ${k} [${i}]`),
      );
    });
    copies += list.length;
  }
  return copies;
}

/** Whether a part, what it hangs from or what any of these faces follows a path: their copies are those of the first. */
function followsPath(shot: Shot, id: string, seen = new Set<string>()): boolean {
  for (let at: string | null = id; at !== null && !seen.has(at); at = shot.parts[at]!.parent) {
    seen.add(at);
    const { follow, aim } = shot.parts[at]!;
    if (follow || (aim && followsPath(shot, aim.target, seen))) return true;
  }
  return false;
}

describe('laws of evaluation', () => {
  it('the fast evaluator gives the same bits as the reference, whatever was evaluated before', () => {
    const seen = {
      inForce: 0,
      inError: 0,
      loops: 0,
      copies: 0,
      probes: 0,
      measures: 0,
      phases: 0,
      options: 0,
      pinned: 0,
      reached: 0,
      colours: 0,
    };
    fc.assert(
      fc.property(randomShot, frames, (shot, list) => {
        const plan = compile(shot, randomLoudness);
        seen.inForce += plan.order.length;
        seen.inError += plan.links.length - plan.order.length;
        seen.loops += plan.links.filter((link) => link.error?.code === 'loop').length;
        seen.probes += plan.probes.length;
        seen.measures += plan.measures.length;
        seen.phases += plan.phases.length > 1 ? 1 : 0;
        seen.options += plan.follows.length + plan.nodeAim.filter((aim) => aim).length;
        seen.pinned += plan.pinned.length;
        seen.colours += plan.order.filter(({ width }) => width === 3).length;
        const evaluator = new Evaluator(plan);
        for (const frame of list) {
          evaluator.evaluate(frame);
          seen.copies += compareAt(shot, evaluator, frame);
          seen.reached += plan.order.filter(
            ({ expression, address }) => expression?.type === 'pinned' && !evaluator.hasFailed(address),
          ).length;
        }
      }),
      { numRuns: 1600 },
    );
    // A law that saw nothing of a kind has not been tested on it.
    for (const [what, count] of Object.entries(seen)) expect(count, what).toBeGreaterThan(70);
  }, 300_000);
});

const linked = (a: string, b: string, c = 'own') => {
  let shot = { ...emptyShot(), parts: { prt_a: hub('A'), prt_b: hub('B'), prt_c: hub('C') } };
  for (const [id, formula] of [
    ['prt_a', a],
    ['prt_b', b],
    ['prt_c', c],
  ] as const)
    shot = apply(shot, setLink(shot, `${id}/location.x`, formula)) as typeof shot;
  return shot;
};

describe('links', () => {
  it('a chain written in any order is worked out in the right one', () => {
    const evaluator = new Evaluator(compile(linked('B.location.x + 1m', 'C.location.x * 2', 'frame * 1m')));
    evaluator.evaluate(10);
    expect(evaluator.number('prt_a/location.x')).toBe(21);
  });
  it('a loop is named whole, its members keep their own value, others go on', () => {
    const shot = linked('B.location.x', 'C.location.x', 'A.location.x');
    const withReader = apply(shot, setLink(shot, 'prt_a/location.y', 'B.location.x + frame * 1m'));
    const plan = compile(withReader);
    const messages = plan.links.filter((link) => link.error).map((link) => link.error!.message);
    expect(messages).toHaveLength(3);
    expect(messages[0]).toContain('A.location.x reads B.location.x reads C.location.x reads A.location.x');
    const evaluator = new Evaluator(plan);
    evaluator.evaluate(4);
    expect(evaluator.number('prt_a/location.y')).toBe(4);
  });
  it('division by zero falls back to own at that frame only, and says where', () => {
    const plan = compile(linked('1m / (frame - 5)', 'own'));
    const evaluator = new Evaluator(plan);
    evaluator.evaluate(5);
    expect(evaluator.number('prt_a/location.x')).toBe(0);
    expect(evaluator.hasFailed('prt_a/location.x')).toBe(true);
    expect(explainFailure(evaluator, 'prt_a/location.x')).toMatchObject({
      code: 'division-by-zero',
      message: expect.stringContaining('frame 5') as string,
    });
    evaluator.evaluate(6);
    expect(evaluator.number('prt_a/location.x')).toBe(1);
    expect(explainFailure(evaluator, 'prt_a/location.x')).toBeNull();
  });
  it('a crank longer than its rod is told of', () => {
    const evaluator = new Evaluator(compile(linked('slider(90deg, 6m, 2m)', 'own')));
    evaluator.evaluate(1);
    expect(explainFailure(evaluator, 'prt_a/location.x')?.message).toContain('slider has no value');
  });
});

describe('a formula that meets no number', () => {
  const at5 = (formula: string): { value: number; failed: boolean; told: string } => {
    const evaluator = new Evaluator(compile(linked(formula, 'own', '2m')));
    evaluator.evaluate(5);
    return {
      value: evaluator.number('prt_a/location.x'),
      failed: evaluator.hasFailed('prt_a/location.x'),
      told: explainFailure(evaluator, 'prt_a/location.x')?.message ?? '',
    };
  };
  // Every function with no number, or one without end, in each of its places; `own` is 0.
  const NOTHING = ['0/0', '1/0', 'log(frame - 6)', 'exp(frame * 1000)'];
  const calls = [...FUNCTIONS.values()].flatMap((spec) =>
    spec.special
      ? []
      : spec.rules.flatMap((rule, i) =>
          rule === 'word'
            ? []
            : NOTHING.map((nothing) => {
                const args = spec.rules.map((other, k) =>
                  k === i ? nothing : other === 'word' ? `"${spec.words![0]!}"` : '2',
                );
                const unit =
                  typeof spec.result !== 'object'
                    ? ' * 1m'
                    : spec.result.length
                      ? ''
                      : spec.result.angle
                        ? ' / 1deg * 1m'
                        : ' * 1m';
                return `${spec.name}(${args.join(', ')})${unit}`;
              }),
        ),
  );
  it.each([
    ...calls,
    'if(0/0, 5, 6) * 1m',
    'if(1/0, 5, 6) * 1m',
    'min(5, 1/0) * 1m',
    'max(1, 2, 0/0) * 1m',
    'square(0/0) * 1m',
    'step(0, 0/0) * 1m',
    '(0/0 < 1) * 1m',
    '(1/0 == 1/0) * 1m',
    '(not (0/0)) * 1m',
    '(1/0 and 1) * 1m',
    '(1 and 0/0) * 1m',
    '(0 or 0/0) * 1m',
    '1m / (1/0)',
    '(2 ^ (0/0 * 0)) * 1m',
    '(7 % (1/0)) * 1m',
    'clamp(1/0, 0, 5) * 1m',
  ])('%s falls back to own and is told', (formula) => {
    const typed = checkTyped(new NameTable(linked('own', 'own')), 'prt_a/location.x', formula);
    // Some arguments take no ratio or no plain number: those cells are in the table of dimensions.
    if (!typed.ok) return expect(typed.error.code).toBe('dimension');
    const { value, failed, told } = at5(formula);
    expect([value, failed]).toEqual([0, true]);
    expect(told).toContain('keeps its own value');
  });
  it.each([
    ['if(frame == 5, 7m, 1m / (frame - 5))', 7],
    ['if(frame != 5, 1m / (frame - 5), 7m)', 7],
    ['(frame == 6 and 1 / (frame - 5) > 2) * 1m', 0],
    ['(frame == 5 or 1 / (frame - 5) > 2) * 1m', 1],
  ])('%s counts only what is chosen', (formula, want) => {
    const { value, failed, told } = at5(formula);
    expect([value, failed, told]).toEqual([want, false, '']);
  });
  it('tells what failed, not what was left out', () => {
    expect(at5('if(frame == 5, log(-1), 1 / (frame - 5)) * 1m').told).toContain('log has no value');
  });
  it('keeps every argument of min and max to the end, wherever computed ones stand', () => {
    expect(at5('max(0, 1, frame * 1) * 1m').value).toBe(5);
    expect(at5('min(9, 8, frame - 3) * 1m').value).toBe(2);
    expect(at5('max(1, 2, frame * 1, slider(0, 1m, 3m, 0.5m) / 1m, frame + 1, 3) * 1m').value).toBe(6);
  });
  it('refuses numbers too large to be any', () => {
    const typed = checkTyped(new NameTable(linked('own', 'own')), 'prt_a/location.x', '1e999');
    expect(typed).toMatchObject({ ok: false, error: { from: 0, to: 5 } });
  });
});

describe('sample', () => {
  it('gives rows of channels and world matrices', () => {
    const plan = compile(linked('frame * 1m', 'own'));
    const table = sample(plan, ['prt_a/location.x', 'prt_a/world'], 1, 3, 0.5);
    expect([...table.frames]).toEqual([1, 1.5, 2, 2.5, 3]);
    expect(table.columns).toBe(17);
    expect([...table.values.slice(17, 34)].map((number) => number + 0)).toEqual([
      1.5, 1, 0, 0, 1.5, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1,
    ]);
  });
  it('refuses unknown channels and steps', () => {
    const plan = compile(linked('own', 'own'));
    expect(() => sample(plan, ['prt_a/nothing'], 1, 2)).toThrow('no channel');
    expect(() => sample(plan, ['prt_a/location.x'], 1, 2, 0)).toThrow('above 0');
  });
});
