import { fault } from './error';
import { tokenize, type Token } from './tokens';

/** A formula as written, before names and units have a meaning. Ranges are offsets in the text. */
export type Ast = { readonly from: number; readonly to: number } & (
  | { readonly type: 'number'; readonly value: number; readonly text: string; readonly unit?: string }
  /** A colour written as `#rrggbb`. */
  | { readonly type: 'hex'; readonly text: string }
  | { readonly type: 'name'; readonly name: string; readonly quoted: boolean }
  | {
      readonly type: 'reference';
      readonly name: string;
      readonly quoted: boolean;
      readonly nameTo: number;
      readonly path: string;
      readonly pathFrom: number;
    }
  | { readonly type: 'unary'; readonly op: '-' | 'not'; readonly operand: Ast }
  | { readonly type: 'binary'; readonly op: BinaryOp; readonly left: Ast; readonly right: Ast }
  | { readonly type: 'call'; readonly name: string; readonly nameTo: number; readonly args: readonly Ast[] }
  | { readonly type: 'let'; readonly locals: readonly Local[]; readonly body: Ast }
);

/** A name of a formula's own for a piece of it: `let r = 2m; ...`. */
export interface Local {
  readonly name: string;
  readonly from: number;
  readonly to: number;
  readonly value: Ast;
}

export type BinaryOp =
  | '+'
  | '-'
  | '*'
  | '/'
  | '%'
  | '^'
  | '<'
  | '<='
  | '>'
  | '>='
  | '=='
  | '!='
  | 'and'
  | 'or';

/** How tightly operators bind: higher binds tighter. */
export const BINDING: ReadonlyMap<string, number> = new Map([
  ['or', 1],
  ['and', 2],
  ['<', 4],
  ['<=', 4],
  ['>', 4],
  ['>=', 4],
  ['==', 4],
  ['!=', 4],
  ['+', 5],
  ['-', 5],
  ['*', 6],
  ['/', 6],
  ['%', 6],
  ['^', 8],
]);
export const NOT_BINDING = 3;
export const COMPARISON_BINDING = 4;
export const MINUS_BINDING = 7;
export const POWER_BINDING = 8;
/** Nesting beyond this is refused, so that no text can exhaust the stack. */
const DEPTH_LIMIT = 200;
export const TEXT_LIMIT = 2000;

/**
 * Reads a formula. `^` binds right and tighter than unary minus (`-2^2` is -4); then `* / %`, `+ -`, one
 * comparison, `not`, `and`, `or`.
 * @throws FormulaFault with the place and the cure
 */
export function parseFormula(text: string): Ast {
  if (text.length > TEXT_LIMIT)
    throw fault(
      'too-long',
      TEXT_LIMIT,
      text.length,
      `A formula may have ${TEXT_LIMIT} characters, this one has ${text.length}.`,
    );
  return new Parser(tokenize(text)).formula();
}

const single = ({ from, to }: Token): Error =>
  fault('syntax', from, to, 'A single = cannot stand here. To compare two values write ==.', [
    { label: 'Use ==', from, to, insert: '==' },
  ]);

class Parser {
  private index = 0;
  private depth = 0;

  constructor(private readonly tokens: readonly Token[]) {}

  formula(): Ast {
    const start = this.peek().from;
    const locals = this.locals();
    const body = this.expression(0);
    const ast: Ast = locals.length === 0 ? body : { type: 'let', locals, body, from: start, to: body.to };
    const rest = this.peek();
    if (rest.kind !== 'end') {
      if (rest.text === ';')
        throw fault(
          'syntax',
          rest.from,
          rest.to,
          'A ; stands after a name of its own only, as in: let r = 2m; r * 3.',
          [{ label: 'Leave it out', from: rest.from, to: rest.to, insert: '' }],
        );
      if (rest.text === '=') throw single(rest);
      if (rest.text === ')')
        throw fault('syntax', rest.from, rest.to, 'This closing parenthesis has no opening one.', [
          { label: 'Leave it out', from: rest.from, to: rest.to, insert: '' },
        ]);
      throw fault(
        'syntax',
        rest.from,
        rest.to,
        `An operator such as * or + is missing before "${rest.text}".`,
        [{ label: 'Multiply', from: rest.from, to: rest.from, insert: '* ' }],
      );
    }
    return ast;
  }

  /** Names of the formula's own, at its beginning. */
  private locals(): Local[] {
    const found: Local[] = [];
    for (let token = this.peek(); token.kind === 'name' && token.text === 'let'; token = this.peek()) {
      if (this.tokens[this.index + 1]!.kind !== 'name') break;
      this.next();
      const { text: name, from, to } = this.next();
      const equals = this.peek();
      if (equals.text !== '=' || equals.kind !== 'operator')
        throw fault('syntax', from, to, `A = is missing after "${name}": let ${name} = ...;`, [
          { label: 'Put it in', from: to, to, insert: ' =' },
        ]);
      this.next();
      const value = this.expression(0);
      const end = this.peek();
      if (end.text !== ';')
        throw fault('syntax', value.from, value.to, `A ; is missing after what ${name} is.`, [
          { label: 'Put it in', from: value.to, to: value.to, insert: ';' },
        ]);
      this.next();
      found.push({ name, from, to, value });
    }
    return found;
  }

  private peek(): Token {
    return this.tokens[this.index]!;
  }

  private next(): Token {
    const token = this.peek();
    if (token.kind !== 'end') this.index++;
    return token;
  }

  private operatorAhead(): string | null {
    const token = this.peek();
    if (token.kind === 'operator' && BINDING.has(token.text)) return token.text;
    if (token.kind === 'name' && (token.text === 'and' || token.text === 'or')) return token.text;
    return null;
  }

  private expression(minimum: number): Ast {
    if (++this.depth > DEPTH_LIMIT) {
      const token = this.peek();
      throw fault('syntax', token.from, token.to, `Nested more than ${DEPTH_LIMIT} deep.`);
    }
    let left = this.prefix();
    for (let op = this.operatorAhead(); op !== null; op = this.operatorAhead()) {
      const binding = BINDING.get(op)!;
      if (binding < minimum) break;
      const token = this.next();
      const right = this.expression(binding === POWER_BINDING ? binding : binding + 1);
      left = { type: 'binary', op: op as BinaryOp, left, right, from: left.from, to: right.to };
      const follow = this.operatorAhead();
      if (binding === COMPARISON_BINDING && follow !== null && BINDING.get(follow) === COMPARISON_BINDING)
        throw fault(
          'syntax',
          token.from,
          this.peek().to,
          'Compare two values at a time: join comparisons with "and".',
        );
    }
    this.depth--;
    return left;
  }

  private prefix(): Ast {
    const token = this.peek();
    if (token.kind === 'operator' && (token.text === '-' || token.text === '+')) {
      this.next();
      const operand = this.expression(MINUS_BINDING);
      return token.text === '+'
        ? operand
        : { type: 'unary', op: '-', operand, from: token.from, to: operand.to };
    }
    if (token.kind === 'name' && token.text === 'not') {
      this.next();
      const operand = this.expression(NOT_BINDING);
      return { type: 'unary', op: 'not', operand, from: token.from, to: operand.to };
    }
    return this.primary();
  }

  private primary(): Ast {
    const token = this.next();
    if (token.kind === 'number')
      return {
        type: 'number',
        value: Number(token.text),
        text: token.text,
        unit: token.unit,
        from: token.from,
        to: token.to,
      };
    if (token.kind === 'colour') return { type: 'hex', text: token.text, from: token.from, to: token.to };
    if (token.kind === 'quoted') {
      const ahead = this.peek();
      if (ahead.kind === 'operator' && ahead.text === '.') return this.reference(token);
      return { type: 'name', name: token.text, quoted: true, from: token.from, to: token.to };
    }
    if (token.kind === 'name' && token.text !== 'and' && token.text !== 'or') {
      const ahead = this.peek();
      if (ahead.kind === 'operator' && ahead.text === '(') return this.call(token);
      if (ahead.kind === 'operator' && ahead.text === '.') return this.reference(token);
      return { type: 'name', name: token.text, quoted: false, from: token.from, to: token.to };
    }
    if (token.kind === 'operator' && token.text === '(') {
      const inner = this.expression(0);
      const close = this.closing(token);
      return { ...inner, from: token.from, to: close.to };
    }
    if (token.text === '=') throw single(token);
    const what = token.kind === 'end' ? 'at the end' : `before "${token.text}"`;
    throw fault(
      'missing-operand',
      Math.max(0, token.from - (token.kind === 'end' ? 1 : 0)),
      token.to,
      `A value is missing ${what}.`,
    );
  }

  private closing(open: Token): Token {
    const close = this.peek();
    if (close.kind === 'operator' && close.text === ')') return this.next();
    if (close.kind === 'end')
      throw fault('syntax', open.from, open.to, 'This parenthesis is not closed.', [
        { label: 'Close it', from: close.to, to: close.to, insert: ')' },
      ]);
    throw fault('syntax', close.from, close.to, `Expected ) or an operator, found "${close.text}".`);
  }

  private reference(name: Token): Ast {
    const first = this.peek();
    const words: string[] = [];
    let to = first.to;
    const pathFrom = first.to;
    while (this.peek().kind === 'operator' && this.peek().text === '.') {
      const dot = this.next();
      const word = this.peek();
      if (word.kind !== 'name')
        throw fault('unknown-channel', dot.from, dot.to, `The name of a value is missing after the dot.`);
      this.next();
      words.push(word.text);
      to = word.to;
    }
    return {
      type: 'reference',
      name: name.text,
      quoted: name.kind === 'quoted',
      nameTo: name.to,
      path: words.join('.'),
      pathFrom,
      from: name.from,
      to,
    };
  }

  private call(name: Token): Ast {
    const open = this.next();
    const args: Ast[] = [];
    const empty = this.peek();
    if (!(empty.kind === 'operator' && empty.text === ')')) {
      args.push(this.expression(0));
      while (this.peek().kind === 'operator' && this.peek().text === ',') {
        this.next();
        args.push(this.expression(0));
      }
    }
    const close = this.closing(open);
    return { type: 'call', name: name.text, nameTo: name.to, args, from: name.from, to: close.to };
  }
}
