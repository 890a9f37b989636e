import { expect, it } from 'vitest';
import { factWords } from './fact-words';

it('facts have the unit of what they measure, lengths that of the shot', () => {
  expect(factWords('centre distance', 0.18, 'mm')).toBe('180 mm');
  expect(factWords('centre distance', 0.18, 'm')).toBe('0.18 m');
  expect(factWords('pressure angle, fall', -28.123456789, 'cm')).toBe('\u221228.1235\u00b0');
  expect(factWords('contact ratio', 1.6512345678, 'mm')).toBe('1.65123');
});
