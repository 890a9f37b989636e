import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { apply } from '../edit';
import { randomShot } from '../testing/random-shot';
import { blankShot, parseChanged, parseShot, PROBLEMS_TOLD, type Shot } from './index';

/** Places of a document down to values of keys, each with what stands there. */
function places(json: unknown, path: string[] = []): { path: string[]; value: unknown }[] {
  const here = path.length > 0 ? [{ path, value: json }] : [];
  if (typeof json !== 'object' || json === null || Array.isArray(json)) return here;
  return [...here, ...Object.entries(json).flatMap(([name, value]) => places(value, [...path, name]))];
}

const ODD: readonly unknown[] = [null, 'wrong', {}, [], 1e308, -7.5, 0, 3, true, 'prt_none', { deep: {} }];

/** Things that happen to documents: something goes, turns into something else, or appears elsewhere. */
const happening = fc.record({
  where: fc.nat(),
  from: fc.nat(),
  what: fc.constantFrom('remove', 'odd', 'copy', 'copy', 'name'),
  odd: fc.constantFrom(...ODD),
});

function patchOf(
  shot: Shot,
  { where, from, what, odd }: { where: number; from: number; what: string; odd: unknown },
): { path: string[]; after: unknown } {
  const all = places(shot);
  const { path } = all[where % all.length]!;
  if (what === 'remove') return { path, after: undefined };
  if (what === 'odd') return { path, after: odd };
  // A value from a place with the same name elsewhere is often sound, and its references are not.
  const alike = all.filter((place) => place.path.at(-1) === path.at(-1) || place.path.length === path.length);
  const { value } = alike[from % alike.length]!;
  if (what === 'name') return { path: [...path.slice(0, -1), `${path.at(-1)!}x`], after: value };
  return { path, after: value };
}

describe('a document that came from a sound one', () => {
  it('is judged by what was changed as it is judged as a whole', () => {
    let sound = 0;
    let unsound = 0;
    fc.assert(
      fc.property(randomShot, fc.array(happening, { minLength: 1, maxLength: 2 }), (made, steps) => {
        const shot = JSON.parse(JSON.stringify(made)) as Shot;
        let after = shot;
        const touched: string[][] = [];
        for (const step of steps) {
          const patch = patchOf(after, step);
          try {
            after = apply(after, { label: '', patches: [patch] });
          } catch {
            continue;
          }
          touched.push(patch.path);
        }
        const whole = parseShot(after);
        expect(parseChanged(after, touched)).toEqual(whole);
        if (whole.ok) sound++;
        else unsound++;
      }),
      { numRuns: 1500 },
    );
    expect(Math.min(sound, unsound)).toBeGreaterThan(200);
  });

  it('is looked at where it is read, too: a clip moves a dial whose limits are drawn in', () => {
    const peak = { frame: 1, value: 5, manner: 'hold' };
    const shot = {
      ...blankShot(),
      dials: { dia_a: { name: 'A', quantity: 'none', min: 0, max: 9, values: {}, tracks: {}, links: {} } },
      clips: {
        clp_a: {
          name: 'Swell',
          root: 'prt_a',
          first: 1,
          last: 9,
          tracks: { 'dia_a/value': { before: 'hold', after: 'hold', keys: { key_a: peak } } },
        },
      },
    } as Shot;
    expect(parseShot(shot)).toMatchObject({ ok: true });
    const path = ['dials', 'dia_a', 'max'];
    const after = apply(shot, { label: '', patches: [{ path, after: 4 }] });
    expect(parseChanged(after, [path])).toMatchObject({ ok: false });
  });

  it('tells a bounded number of problems, however many there are', () => {
    const keys = Object.fromEntries(
      Array.from({ length: 50_000 }, (_, i) => [`key_${i}`, { frame: 'x', value: null }]),
    );
    const parsed = parseShot({ ...wholeShot(), parts: { prt_a: { tracks: { 'location.x': { keys } } } } });
    expect(parsed.ok ? [] : parsed.problems).toHaveLength(PROBLEMS_TOLD);
    const fields = Object.fromEntries(Array.from({ length: 50_000 }, (_, i) => [`field${i}`, 1]));
    const odd = parseShot({ ...wholeShot(), ...fields });
    expect(odd.ok ? '' : odd.problems[0]!.message).toMatch(/"field4", 49995 more here/);
  });

  it('has no entry by the name that objects do not hold like any other', () => {
    const shot = wholeShot();
    for (const text of [
      JSON.stringify(shot).replace('"parts":{', '"parts":{"__proto__":{},'),
      JSON.stringify(shot).replace('"dials":{', '"dials":{"dia_a":{"name":"A","values":{"__proto__":1}},'),
    ]) {
      const parsed = parseShot(JSON.parse(text));
      expect(parsed.ok ? '' : parsed.problems[0]!.message).toContain('__proto__ is no name in a document');
    }
  });
});

const wholeShot = (): Shot => fc.sample(randomShot, { numRuns: 1, seed: 7 })[0]!;
