/** A change of the formula's text that mends an error: replace [from, to) by `insert`. */
export interface Fix {
  readonly label: string;
  readonly from: number;
  readonly to: number;
  readonly insert: string;
}

export type FormulaErrorCode =
  | 'syntax'
  | 'missing-operand'
  | 'unknown-name'
  | 'unknown-channel'
  | 'unknown-function'
  | 'unknown-unit'
  | 'gone'
  | 'argument-count'
  | 'dimension'
  | 'colour'
  | 'itself'
  | 'loop'
  | 'division-by-zero'
  | 'not-a-number'
  | 'too-long';

/** What is wrong with a formula: where in its text (`[from, to)`), in a sentence, and what would mend it. */
export interface FormulaError {
  readonly code: FormulaErrorCode;
  readonly from: number;
  readonly to: number;
  readonly message: string;
  readonly fixes: readonly Fix[];
}

/** Thrown inside the formula module and turned into a `FormulaError` at its door. */
export class FormulaFault extends Error {
  constructor(readonly problem: FormulaError) {
    super(problem.message);
  }
}

export function fault(
  code: FormulaErrorCode,
  from: number,
  to: number,
  message: string,
  fixes: readonly Fix[] = [],
): FormulaFault {
  return new FormulaFault({ code, from, to, message, fixes });
}
