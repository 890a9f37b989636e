import { BINDING, COMPARISON_BINDING, MINUS_BINDING, NOT_BINDING, parseFormula, type Ast } from './parse';
import { writtenName } from './scope';
import { FormulaFault } from './error';

/** Binds tighter than every operator. */
const TIGHT = 9;

function levelOf(ast: Ast): number {
  if (ast.type === 'binary') return BINDING.get(ast.op)!;
  if (ast.type === 'unary') return ast.op === 'not' ? NOT_BINDING : MINUS_BINDING;
  return TIGHT;
}

function wrapped(ast: Ast, needs: number): string {
  const text = print(ast);
  return levelOf(ast) < needs ? `(${text})` : text;
}

function print(ast: Ast): string {
  switch (ast.type) {
    case 'number':
      return `${ast.text}${ast.unit ?? ''}`;
    case 'hex':
      return ast.text;
    case 'name':
      return ast.quoted ? `"${ast.name}"` : ast.name;
    case 'reference':
      return `${ast.quoted ? writtenName(ast.name) : ast.name}.${ast.path}`;
    case 'unary':
      // A minus before a power needs no parentheses: -2^2 is the same either way.
      return ast.op === 'not'
        ? `not ${wrapped(ast.operand, NOT_BINDING)}`
        : `-${wrapped(ast.operand, MINUS_BINDING)}`;
    case 'let':
      return `${ast.locals.map(({ name, value }) => `let ${name} = ${print(value)}; `).join('')}${print(ast.body)}`;
    case 'call':
      return `${ast.name}(${ast.args.map(print).join(', ')})`;
    case 'binary': {
      const level = BINDING.get(ast.op)!;
      // Powers bind to the right; comparisons stand alone; all others bind to the left.
      const right = ast.op === '^' ? MINUS_BINDING : level + 1;
      const left = ast.op === '^' ? level + 1 : level === COMPARISON_BINDING ? level + 1 : level;
      const operator = ast.op === '^' ? '^' : ` ${ast.op} `;
      return `${wrapped(ast.left, left)}${operator}${wrapped(ast.right, right)}`;
    }
  }
}

/**
 * A formula with even spaces and no parentheses that change nothing: `(a)*( b+1 )` becomes `a * (b + 1)`. Names stay in
 * quotation marks only where they need them; it means the same to the bit. A formula that cannot be read is given back
 * trimmed.
 */
export function formatFormula(text: string): string {
  try {
    return print(parseFormula(text));
  } catch (thrown) {
    if (!(thrown instanceof FormulaFault)) throw thrown;
    return text.trim();
  }
}
