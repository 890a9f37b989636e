import { interpret, type Expression, type FormulaError, type Moment } from '../formula';
import type { Evaluator } from './evaluator';
import { CLOCK_FRAME, CLOCK_PROGRESS, CLOCK_TIME } from './plan';

const CLOCK = { frame: CLOCK_FRAME, time: CLOCK_TIME, progress: CLOCK_PROGRESS } as const;

/** The moment that an evaluator last worked out, as a formula of one channel sees it. */
export function momentOf(evaluator: Evaluator, address: string): Moment {
  return {
    own: evaluator.own(address),
    clock: (name) => evaluator.values[CLOCK[name]]!,
    channel: (other) => evaluator.number(other),
  };
}

/**
 * Why a link gives no number at the evaluated frame, with the part of the formula at fault; `null` when it does
 * give one.
 */
export function explainFailure(evaluator: Evaluator, address: string): FormulaError | null {
  const link = evaluator.plan.linkOf.get(address);
  if (!link) return null;
  if (!link.expression) return link.error;
  let found: FormulaError | null = null;
  const values = new Map<Expression, number>();
  const value = interpret(link.expression, momentOf(evaluator, address), (node, result) => {
    values.set(node, result);
    if (found || result - result === 0) return;
    const { from, to } = node;
    const divides =
      node.type === 'binary' && (node.op === '/' || node.op === '%') && values.get(node.right) === 0;
    found = divides
      ? {
          code: 'division-by-zero',
          from,
          to,
          message: `Division by zero at frame ${evaluator.frame}. The channel keeps its own value there.`,
          fixes: [],
        }
      : {
          code: 'not-a-number',
          from,
          to,
          message: `${nameOf(node)} has no value at frame ${evaluator.frame}${argumentsOf(node, values)}. The channel keeps its own value there.`,
          fixes: [],
        };
  });
  return value - value === 0 ? null : found;
}

function nameOf(node: Expression): string {
  return node.type === 'call' ? node.spec.name : 'This';
}

function argumentsOf(node: Expression, values: ReadonlyMap<Expression, number>): string {
  if (node.type !== 'call') return '';
  const shown = node.args.map((arg) => Math.round((values.get(arg) ?? NaN) * 1000) / 1000);
  return ` for ${shown.join(', ')}`;
}
