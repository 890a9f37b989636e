import fc from 'fast-check';
import { expect, it } from 'vitest';
import { channelsOf, trackOf, type Shot } from '../document';
import { compile, Evaluator } from '../evaluate';
import { emptyShot, hub, randomLoudness, randomShot } from '../testing/random-shot';
import { apply, keyChannels, moveKeys, setBlend, setLink, setStretch, setValues, type Change } from './index';

const PATHS = [
  'location.x',
  'location.y',
  'rotation.z',
  'scale.y',
  'pivot.x',
  'visible',
  'along',
  'copies',
  'copy.glow',
  'colour',
];

function everything(shot: Shot, evaluator: Evaluator): number[] {
  const out: number[] = [];
  for (const id of [...Object.keys(shot.parts), ...Object.keys(shot.looks)])
    for (const spec of channelsOf(shot, id)) {
      const address = `${id}/${spec.path}`;
      out.push(...(spec.kind === 'colour' ? evaluator.colour(address) : [evaluator.number(address)]));
    }
  for (const id of Object.keys(shot.parts)) {
    out.push(...evaluator.worldOf(id)!);
    const copies = evaluator.copiesOf(id);
    if (copies) out.push(copies.count, ...copies.matrices.subarray(0, copies.count * 12));
  }
  return out;
}

const edit = fc.record({
  kind: fc.integer({ min: 0, max: 9 }),
  which: fc.nat(),
  path: fc.constantFrom(...PATHS),
  frame: fc.integer({ min: -5, max: 60 }),
  value: fc.double({ min: -90, max: 90, noNaN: true }),
});

function changeOf(
  shot: Shot,
  { kind, which, path, frame, value }: typeof edit extends fc.Arbitrary<infer T> ? T : never,
): Change | null {
  const ids = path === 'colour' ? Object.keys(shot.looks) : Object.keys(shot.parts);
  const address = `${ids[which % ids.length]}/${path}`;
  const spec = channelsOf(shot, ids[which % ids.length]!).find((entry) => entry.path === path);
  if (!spec) return null;
  if (spec.kind === 'colour') {
    const colour = [Math.abs(value) / 90, (which % 7) / 6, 0.4] as const;
    if (kind < 4) return setValues(shot, [[address, colour]]);
    if (kind < 8) return keyChannels(shot, frame, [[address, colour]]);
    return trackOf(shot, address) ? setBlend(shot, address, which % 3 ? 'oklab' : 'linear') : null;
  }
  const whole =
    spec.kind === 'switch' ? Math.abs(Math.round(value)) % 2 : spec.whole ? 1 + (which % 4) : value;
  const fitted = Math.max(spec.min, Math.min(spec.max, whole));
  const keys = Object.keys(trackOf(shot, address)?.keys ?? {}).map((key) => ({ address, key }));
  if (kind < 4) return setValues(shot, [[address, fitted]]);
  if (kind < 7) return keyChannels(shot, frame, [[address, fitted]]);
  if (kind === 7) return keys.length > 0 ? moveKeys(shot, keys.slice(0, 1), 3) : null;
  if (kind === 8) return keys.length > 0 ? setStretch(shot, keys, 'linear') : null;
  return setLink(shot, address, which % 2 ? null : 'own');
}

it('an edited evaluator has the same bits as a new one, at the frame shown and at any other', () => {
  const count = { inPlace: 0, anew: 0 };
  fc.assert(
    fc.property(
      randomShot,
      fc.array(edit, { minLength: 1, maxLength: 10 }),
      fc.integer({ min: -10, max: 70 }),
      fc.integer({ min: -10, max: 70 }),
      (start, edits, frame, other) => {
        let shot = start;
        let evaluator = new Evaluator(compile(shot, randomLoudness));
        evaluator.evaluate(frame);
        for (const entry of edits) {
          const change = changeOf(shot, entry);
          if (!change) continue;
          shot = apply(shot, change);
          if (
            evaluator.update(
              shot,
              change.patches.map((patch) => patch.path),
            )
          )
            count.inPlace++;
          else {
            count.anew++;
            evaluator = new Evaluator(compile(shot, randomLoudness));
            evaluator.evaluate(frame);
          }
          const fresh = new Evaluator(compile(shot, randomLoudness));
          fresh.evaluate(frame);
          const [got, want] = [everything(shot, evaluator), everything(shot, fresh)];
          const at = got.findIndex((value, i) => !Object.is(value, want[i]));
          if (at >= 0 || got.length !== want.length)
            throw new Error(
              `number ${at} is ${got[at]}, a new evaluator gives ${want[at]}; after ${change.label}`,
            );
        }
        const fresh = new Evaluator(compile(shot, randomLoudness));
        evaluator.evaluate(other);
        fresh.evaluate(other);
        expect(everything(shot, evaluator)).toEqual(everything(shot, fresh));
      },
    ),
    { numRuns: 500 },
  );
  expect(count.inPlace).toBeGreaterThan(700);
  expect(count.anew).toBeGreaterThan(150);
});

it('a key that leaves a value as it is now changes what is asked of that value at another moment', () => {
  let shot: Shot = { ...emptyShot(), parts: { prt_a: hub('A'), prt_b: hub('B'), prt_c: hub('C') } };
  const edited = (change: Change): void => void (shot = apply(shot, change));
  for (const [frame, value] of [
    [1, 0],
    [10, 4],
    [20, 6],
  ] as const)
    edited(keyChannels(shot, frame, [['prt_a/location.x', value]]));
  edited(setLink(shot, 'prt_b/location.x', 'A.location.x'));
  edited(setLink(shot, 'prt_c/location.x', 'delay(B.location.x, 20f)'));
  const evaluator = new Evaluator(compile(shot));
  evaluator.evaluate(30);
  expect(evaluator.number('prt_c/location.x')).toBeCloseTo(4, 12);
  const change = keyChannels(shot, 10, [['prt_a/location.x', 5]]);
  edited(change);
  expect(
    evaluator.update(
      shot,
      change.patches.map((patch) => patch.path),
    ),
  ).toBe(true);
  expect(evaluator.number('prt_b/location.x')).toBe(6);
  expect(evaluator.number('prt_c/location.x')).toBeCloseTo(5, 12);
});
