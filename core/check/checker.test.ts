import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Shot } from '../document';
import { addMarker, apply, keyChannels, removeParts, setLink, setValues, type Change } from '../edit';
import { compile } from '../evaluate';
import { randomShot } from '../testing/random-shot';
import { Checker, checkShot, type Problem } from './index';
import { SITUATIONS } from '../testing/situations';

function finish(steps: Generator<number, Problem[]>): { problems: Problem[]; shares: number[] } {
  const shares: number[] = [];
  for (;;) {
    const step = steps.next();
    if (step.done) return { problems: step.value, shares };
    shares.push(step.value);
  }
}
const texts = (problems: readonly Problem[]): string[] =>
  problems.map(({ code, address, message }) => `${code} ${address} ${message}`).sort();

const PATHS = [
  'location.x',
  'rotation.x',
  'rotation.y',
  'scale.y',
  'visible',
  'copies',
  'gap',
  'copy.location.x',
];
const edit = fc.record({
  kind: fc.nat({ max: 5 }),
  which: fc.nat(),
  path: fc.constantFrom(...PATHS),
  value: fc.integer({ min: 0, max: 120 }),
});

function changeOf(
  shot: Shot,
  { kind, which, path, value }: { kind: number; which: number; path: string; value: number },
): Change | null {
  const ids = Object.keys(shot.parts);
  if (ids.length === 0) return null;
  const id = ids[which % ids.length]!;
  const address = `${id}/${path}`;
  try {
    if (kind < 2)
      return setValues(shot, [
        [address, path === 'visible' ? value % 2 : path === 'copies' ? 1 + (value % 4) : value],
      ]);
    if (kind < 4)
      return keyChannels(shot, value % 48, [
        [address, path === 'visible' ? value % 2 : path === 'copies' ? 1 + (value % 4) : value],
      ]);
    if (kind === 4) return setLink(shot, address, which % 2 ? null : 'frame * 3 + own');
    return ids.length > 2 ? removeParts(shot, [id]) : null;
  } catch {
    return null;
  }
}

describe('checking again after an edit', () => {
  it('tells the same as checking anew', () => {
    const told = { anew: 0, kept: 0 };
    const starts = fc.oneof(
      randomShot,
      fc.constantFrom(...SITUATIONS.map(({ shot }) => shot).filter(({ setup }) => setup.last < 100)),
    );
    fc.assert(
      fc.property(starts, fc.array(edit, { minLength: 1, maxLength: 4 }), (start, edits) => {
        let shot = start;
        const checker = new Checker();
        finish(checker.run(shot, { loops: true }));
        for (const entry of edits) {
          const change = changeOf(shot, entry);
          if (!change) continue;
          shot = apply(shot, change);
          const { problems } = finish(checker.run(shot, { loops: true }));
          if (checker.frames === 0) told.kept++;
          else told.anew++;
          expect(texts(problems)).toEqual(texts(checkShot(shot, compile(shot), { loops: true })));
        }
      }),
      { numRuns: 250 },
    );
    expect(told.anew).toBeGreaterThan(100);
  });
  const long = SITUATIONS.find(({ name }) => name.startsWith('shown at frames 502'))!.shot;
  it('looks at every frame of a long range once, with progress, and at none where nothing that counts has changed', () => {
    const checker = new Checker();
    const { shares, problems } = finish(checker.run(long));
    expect(problems).toEqual([]);
    expect(checker.frames).toBe(1000);
    expect(shares.length).toBe(1000);
    expect(shares.every((share, i) => share > (shares[i - 1] ?? 0) && share < 1)).toBe(true);
    finish(checker.run(apply(long, addMarker(long, 30, 'Bell').change)));
    expect(checker.frames).toBe(0);
  });
  it('a run that is stopped leaves what was known before', () => {
    const checker = new Checker();
    finish(checker.run(long));
    const hidden = apply(long, setValues(long, [['prt_b/opacity', 0]]));
    const steps = checker.run(hidden);
    for (let i = 0; i < 20; i++) steps.next();
    expect(finish(checker.run(long)).problems).toEqual([]);
    expect(checker.frames).toBe(0);
    expect(finish(checker.run(hidden)).problems.map(({ code }) => code)).toEqual(['part.hidden']);
  });
});
