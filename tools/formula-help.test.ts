import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { FUNCTIONS, UNIT_NAMES } from '../core/formula';
import { formulaHelp } from './formula-help';

const path = new URL('../docs/formulas.md', import.meta.url);

it('docs/formulas.md is what the function table says', () => {
  const text = readFileSync(path, 'utf8');
  expect(text).toBe(formulaHelp());
  for (const name of FUNCTIONS.keys()) expect(text).toContain(`\`${name}(`);
  for (const unit of UNIT_NAMES) expect(text).toContain(unit);
});
