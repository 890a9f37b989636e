import { fault } from './error';

export type TokenKind = 'number' | 'colour' | 'name' | 'quoted' | 'operator' | 'end';

export interface Token {
  readonly kind: TokenKind;
  /** The operator, name (without quotation marks), digits, or colour as `#rrggbb`. */
  readonly text: string;
  /** Unit written directly after a number. */
  readonly unit?: string;
  readonly from: number;
  readonly to: number;
}

const SPACE = /\s+/y;
const NUMBER = /(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?/y;
const NAME = /[\p{L}_][\p{L}\p{N}_]*/uy;
const COLOUR = /#[\p{L}\p{N}_]*/uy;
const QUOTED = /"([^"\n]*)"/y;
const OPERATOR = /<=|>=|==|!=|[-+*/%^(),.<>;]/y;
/** A text that begins with a name of its own: a single = stands in it. */
const LOCALS = /^\s*let\s/;
const SAME_SIGN: ReadonlyMap<string, string> = new Map([
  ['×', '*'],
  ['·', '*'],
  ['÷', '/'],
  ['−', '-'],
  ['≤', '<='],
  ['≥', '>='],
  ['≠', '!='],
]);

function matchAt(pattern: RegExp, text: string, at: number): RegExpExecArray | null {
  pattern.lastIndex = at;
  return pattern.exec(text);
}

/** Splits a formula into tokens, ending with an `end` token. Positions are UTF-16 offsets in `text`. */
export function tokenize(text: string): Token[] {
  const tokens: Token[] = [];
  const locals = LOCALS.test(text);
  let at = 0;
  while (at < text.length) {
    const space = matchAt(SPACE, text, at);
    if (space) {
      at += space[0].length;
      continue;
    }
    const number = matchAt(NUMBER, text, at);
    if (number) {
      let to = at + number[0].length;
      if (!Number.isFinite(Number(number[0])))
        throw fault('syntax', at, to, `${number[0]} is too large: numbers go up to 1.79e308.`);
      const unit = matchAt(NAME, text, to);
      if (unit) to += unit[0].length;
      tokens.push({ kind: 'number', text: number[0], unit: unit?.[0], from: at, to });
      at = to;
      continue;
    }
    const name = matchAt(NAME, text, at);
    if (name) {
      tokens.push({ kind: 'name', text: name[0], from: at, to: at + name[0].length });
      at += name[0].length;
      continue;
    }
    const colour = matchAt(COLOUR, text, at);
    if (colour) {
      const to = at + colour[0].length;
      if (!/^#[0-9a-f]{6}$/i.test(colour[0]))
        throw fault(
          'syntax',
          at,
          to,
          `A colour is # and six digits from 0 to f, as #e8a33d: "${colour[0]}" is none.`,
        );
      tokens.push({ kind: 'colour', text: colour[0], from: at, to });
      at = to;
      continue;
    }
    const quoted = matchAt(QUOTED, text, at);
    if (quoted) {
      tokens.push({ kind: 'quoted', text: quoted[1] ?? '', from: at, to: at + quoted[0].length });
      at += quoted[0].length;
      continue;
    }
    const operator =
      matchAt(OPERATOR, text, at)?.[0] ??
      (SAME_SIGN.has(text[at] ?? '') || (locals && text[at] === '=') ? text[at] : undefined);
    if (operator !== undefined) {
      tokens.push({
        kind: 'operator',
        text: SAME_SIGN.get(operator) ?? operator,
        from: at,
        to: at + operator.length,
      });
      at += operator.length;
      continue;
    }
    const found = String.fromCodePoint(text.codePointAt(at) ?? 0);
    const to = at + found.length;
    if (found === '"')
      throw fault('syntax', at, text.length, 'A quoted name has no closing quotation mark.', [
        { label: 'Close the name', from: text.length, to: text.length, insert: '"' },
      ]);
    if (found === '=')
      throw fault('syntax', at, to, 'A single = cannot stand here. To compare two values write ==.', [
        { label: 'Use ==', from: at, to, insert: '==' },
      ]);
    throw fault('syntax', at, to, `"${found}" has no meaning in a formula.`, [
      { label: 'Leave it out', from: at, to, insert: '' },
    ]);
  }
  tokens.push({ kind: 'end', text: '', from: text.length, to: text.length });
  return tokens;
}
