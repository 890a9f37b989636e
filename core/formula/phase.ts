import { unitNamed } from './units';
import { FormulaFault } from './error';
import { parseFormula, type Ast } from './parse';

/** Functions that go round with the angle that is their first argument. */
export const CYCLIC_FUNCTIONS: ReadonlySet<string> = new Set([
  'slider',
  'rodangle',
  'cam',
  'intermittent',
  'fourbar',
  'coupler',
  'wave',
  'tri',
  'saw',
  'square',
  'sin',
  'cos',
]);

/** The constant angle by which a formula runs ahead of what it reads, and where in the text it stands. */
export interface Phase {
  readonly degrees: number;
  readonly from: number;
  readonly to: number;
  /** It begins its sum: `45deg + Crank.rotation.z`. */
  readonly leads: boolean;
}

const RATE = { num: 24, den: 1 };

function degreesOf(node: Ast): number | null {
  if (node.type === 'unary' && node.op === '-') {
    const inner = degreesOf(node.operand);
    return inner === null ? null : -inner;
  }
  if (node.type !== 'number' || node.unit === undefined) return null;
  const unit = unitNamed(node.unit, RATE);
  const angle =
    unit && unit.dimension.angle === 1 && unit.dimension.time === 0 && unit.dimension.length === 0;
  return angle ? node.value * unit.factor : null;
}

function inSum(node: Ast): Phase {
  if (node.type === 'binary' && (node.op === '+' || node.op === '-')) {
    const right = degreesOf(node.right);
    if (right !== null)
      return {
        degrees: node.op === '+' ? right : -right,
        from: node.left.to,
        to: node.right.to,
        leads: false,
      };
    const rest = inSum(node.left);
    if (rest.from !== rest.to) return rest;
    const first = degreesOf(node.left);
    if (first !== null) return { degrees: first, from: node.left.from, to: node.left.to, leads: true };
  }
  return { degrees: 0, from: node.to, to: node.to, leads: false };
}

function firstCyclic(node: Ast): Ast | null {
  const among = (children: readonly Ast[]): Ast | null => {
    for (const child of children) {
      const found = firstCyclic(child);
      if (found) return found;
    }
    return null;
  };
  switch (node.type) {
    case 'call':
      return CYCLIC_FUNCTIONS.has(node.name) && node.args[0] ? node.args[0] : among(node.args);
    case 'unary':
      return among([node.operand]);
    case 'binary':
      return among([node.left, node.right]);
    case 'let':
      return among([...node.locals.map(({ value }) => value), node.body]);
    default:
      return null;
  }
}

/**
 * Where a formula has its phase: in the first argument of the first function that goes round, else, for a formula
 * that gives an angle, in its sum. A formula without a phase has 0 degrees at the place where one can be written.
 * @param angle whether the formula gives an angle
 * @returns `null` for a text that is no formula, or that has no place for a phase
 */
export function phaseIn(text: string, angle: boolean): Phase | null {
  let ast: Ast;
  try {
    ast = parseFormula(text);
  } catch (error) {
    if (error instanceof FormulaFault) return null;
    throw error;
  }
  const cyclic = firstCyclic(ast);
  if (cyclic) return inSum(cyclic);
  return angle ? inSum(ast.type === 'let' ? ast.body : ast) : null;
}

/** A formula with another phase, in degrees; 0 leaves the term out. */
export function withPhase(text: string, phase: Phase, degrees: number): string {
  const shown = Number(degrees.toFixed(4)) + 0;
  const term = phase.leads
    ? `${shown}deg`
    : shown === 0
      ? ''
      : shown > 0
        ? ` + ${shown}deg`
        : ` - ${-shown}deg`;
  return text.slice(0, phase.from) + term + text.slice(phase.to);
}
