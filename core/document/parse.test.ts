import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { hub, randomShot } from '../testing/random-shot';
import { blankShot, foundAt, parseShot, treeOrder, type Part } from './index';

const problemsOf = (json: unknown): readonly { path: string; message: string }[] => {
  const parsed = parseShot(json);
  return parsed.ok ? [] : parsed.problems;
};

/** Every place of a document, as a path. */
function places(json: unknown, path: string[] = []): string[][] {
  if (typeof json !== 'object' || json === null) return [path];
  return [
    path,
    ...Object.keys(json).flatMap((key) => places((json as Record<string, unknown>)[key], [...path, key])),
  ];
}

const WRONG: readonly unknown[] = [
  null,
  'wrong',
  {},
  [],
  [[]],
  1e308,
  -7.5,
  true,
  '__proto__',
  { deep: { deeper: [] } },
];

/** A deep copy with another value at a path. */
function put(json: unknown, path: readonly string[], value: unknown): unknown {
  const copy = structuredClone(json) as Record<string, unknown>;
  if (path.length === 0) return value;
  (foundAt(copy, path.slice(0, -1)) as Record<string, unknown>)[path.at(-1)!] = value;
  return copy;
}

describe('what is wrong with a document', () => {
  it('is told with its place, what stands there and what is allowed, whatever is wrong', () => {
    const seen = new Set<string>();
    fc.assert(
      fc.property(randomShot, fc.nat(), fc.constantFrom(...WRONG), (shot, which, value) => {
        const json = JSON.parse(JSON.stringify(shot)) as unknown;
        const all = places(json);
        const path = all[which % all.length]!;
        for (const { path: where, message } of problemsOf(put(json, path, value))) {
          expect(message).not.toMatch(/invalid/i);
          expect(message.length).toBeGreaterThan(12);
          expect(message).toMatch(/[.:]/);
          expect(where === '' || path.length === 0 || where.length > 0).toBe(true);
          seen.add(message.replace(/^.*? is not allowed/, '').replace(/[0-9]+/g, 'n'));
        }
      }),
      { numRuns: 1500 },
    );
    // Many kinds of mistakes were met, each with words of its own.
    expect(seen.size).toBeGreaterThan(25);
  });
  it('names fields that do not belong there and those that are missing', () => {
    expect(problemsOf({ ...blankShot(), extra: 1 })[0]!.message).toContain('no field "extra" here');
    const { setup: _gone, ...rest } = blankShot();
    expect(problemsOf(rest)[0]).toMatchObject({
      path: 'setup',
      message: expect.stringContaining('missing') as string,
    });
  });
  it('shows the beginning of JSON 5,000 deep, with its place', () => {
    const deep = JSON.parse('['.repeat(5000) + ']'.repeat(5000)) as unknown;
    for (const values of [{ 'location.x': deep }, deep]) {
      const [problem] = problemsOf({ ...blankShot(), parts: { prt_a: { ...hub('A'), values } } });
      expect(problem!.path).toContain('parts/prt_a/values');
      expect(problem!.message).toMatch(/^\[.* is not allowed: must be/);
    }
    expect(problemsOf(deep)[0]!.message).toContain('must be');
    expect(problemsOf({ ...blankShot(), extra: deep })[0]!.message).toContain('extra');
  });
  it('tells a handle that rises beyond all bounds, with its key', () => {
    const key = (rise: number) => ({
      frame: 1,
      value: 0,
      manner: 'curve' as const,
      right: { reach: 3, rise },
    });
    const shot = (rise: number) => ({
      ...blankShot(),
      parts: {
        prt_a: hub('A', {
          tracks: {
            'location.x': {
              before: 'hold',
              after: 'hold',
              keys: { key_a: key(rise), key_b: { ...key(0), frame: 9 } },
            },
          },
        }),
      },
    });
    expect(problemsOf(shot(1e308))[0]).toEqual({
      code: 'schema.too_big',
      path: 'parts/prt_a/tracks/location.x/keys/key_a/right/rise',
      message: '1e+308 is not allowed: must be at most 1000000000000.',
    });
    expect(problemsOf(shot(1e12))).toEqual([]);
  });
});

describe('parents', () => {
  const chain = (count: number, top: string | null): Record<string, Part> =>
    Object.fromEntries(
      Array.from({ length: count }, (_, i) => [
        `prt_${i}`,
        hub(`P${i}`, { parent: i === 0 ? top : `prt_${i - 1}` }),
      ]),
    );
  it('a chain of 20,000 is no loop, and the tree is walked to its end', () => {
    const shot = { ...blankShot(), parts: chain(20_000, null) };
    expect(problemsOf(shot)).toEqual([]);
    expect(treeOrder(shot).at(-1)).toEqual({ id: 'prt_19999', depth: 19_999 });
  });
  it('a loop is told for its members, not for what hangs below it', () => {
    const parts = { ...chain(3, 'prt_2'), prt_x: hub('Below', { parent: 'prt_1' }) };
    expect(problemsOf({ ...blankShot(), parts }).map(({ path }) => path)).toEqual([
      'parts/prt_0/parent',
      'parts/prt_1/parent',
      'parts/prt_2/parent',
    ]);
  });
});
