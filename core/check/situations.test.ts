import { expect, it } from 'vitest';
import { checkStructure } from '../document';
import { compile } from '../evaluate';
import { checkShot } from './index';
import { SITUATIONS } from '../testing/situations';

it('every situation is a sound document', () => {
  for (const { name, shot } of SITUATIONS) expect(checkStructure(shot), name).toEqual([]);
  expect(new Set(SITUATIONS.map(({ name }) => name)).size).toBe(SITUATIONS.length);
});

it('there are enough of them, about half of them sound', () => {
  const sound = SITUATIONS.filter(({ tells }) => tells.length === 0).length;
  expect(SITUATIONS.length).toBeGreaterThanOrEqual(80);
  expect(sound / SITUATIONS.length).toBeGreaterThan(0.4);
  expect(sound / SITUATIONS.length).toBeLessThan(0.6);
});

it('all checks run on all situations: nothing is missed, nothing is told for nothing', () => {
  const missed: string[] = [];
  const wrong: string[] = [];
  for (const { name, why, shot, options, tells } of SITUATIONS) {
    const found = checkShot(shot, compile(shot), options);
    for (const code of tells)
      if (!found.some((problem) => problem.code === code)) missed.push(`${name}: ${code} (${why})`);
    for (const { code, message } of found)
      if (!tells.includes(code)) wrong.push(`${name} (${why}): ${code}: ${message}`);
  }
  process.stdout.write(`${SITUATIONS.length} situations: ${missed.length} missed, ${wrong.length} false\n`);
  expect({ missed, wrong }).toEqual({ missed: [], wrong: [] });
});
