import { expect, it } from 'vitest';
import { COMMANDS } from './commands';
import { bestFirst, matches, wantedWords } from './search-words';

const found = (typed: string): string[] => {
  const wanted = wantedWords(typed);
  return bestFirst(
    COMMANDS.filter(({ label, words }) => matches(`${label} ${words ?? ''}`, wanted)),
    ({ label, words }) => [label, words ?? ''],
    wanted,
  ).map(({ id }) => id);
};

it('what begins with the words that were typed stands before what only holds them somewhere', () => {
  // "hang" stands in "what was changed", too.
  expect(found('hang the chosen')[0]).toBe('hang');
  expect(found('undo')[0]).toBe('undo');
  expect(found('checks')).toContain('checks');
  expect(bestFirst(['Rear gear', 'Gear', 'Bulgear'], (name) => [name], ['gear'])).toEqual([
    'Gear',
    'Rear gear',
    'Bulgear',
  ]);
  expect(bestFirst(['B', 'A'], (name) => [name], [])).toEqual(['B', 'A']);
});
