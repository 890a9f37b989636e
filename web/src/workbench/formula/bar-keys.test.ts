import { expect, it } from 'vitest';
import { barKey, type BarMoves } from './bar-keys';

/** What a key does, in words; `null` where the text field has it. */
function pressed(key: string, proposals: number, picked: number): string | null {
  const done: string[] = [];
  const moves: BarMoves = {
    pick: (at) => void done.push(`pick ${at}`),
    take: (at) => void done.push(`take ${at}`),
    keep: () => void done.push('keep'),
    close: () => void done.push('close'),
    leave: () => void done.push('leave'),
  };
  barKey(key, proposals, picked, moves)?.();
  return done[0] ?? null;
}

it('arrows go round the proposals, also from none of them', () => {
  expect(pressed('ArrowDown', 3, -1)).toBe('pick 0');
  expect(pressed('ArrowDown', 3, 2)).toBe('pick 0');
  expect(pressed('ArrowUp', 3, 0)).toBe('pick 2');
});

it('Tab takes the first proposal where none is picked; Enter keeps what is typed', () => {
  expect(pressed('Tab', 3, -1)).toBe('take 0');
  expect(pressed('Tab', 3, 2)).toBe('take 2');
  expect(pressed('Enter', 3, -1)).toBe('keep');
  expect(pressed('Enter', 3, 1)).toBe('take 1');
  expect(pressed('Enter', 0, 1)).toBe('keep');
});

it('Escape leaves the proposals first, then the bar', () => {
  expect(pressed('Escape', 2, 0)).toBe('close');
  expect(pressed('Escape', 0, -1)).toBe('leave');
});

it("every other key is the text field's, and so are arrows and Tab where nothing is proposed", () => {
  for (const key of ['ArrowDown', 'ArrowUp', 'Tab', 'ArrowLeft', 'a']) expect(pressed(key, 0, -1)).toBe(null);
  expect(pressed('ArrowLeft', 3, 1)).toBe(null);
});
