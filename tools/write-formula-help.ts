import { writeFileSync } from 'node:fs';
import { formulaHelp } from './formula-help';

writeFileSync('docs/formulas.md', formulaHelp());
