import type { Channel } from '../document';
import { fault } from './error';
import { COMPONENTS, type Component } from './expression';
import { FUNCTIONS } from './functions';
import type { Ast } from './parse';
import type { Scope } from './scope';

/** Names of the components of a colour, as they stand after its own: `Lamp.colour.red`. */
export const COMPONENT_NAMES = ['red', 'green', 'blue'] as const;

/** A channel and the component of it that a path names; `null` for a path that names none. */
export function componentAt(
  channelAt: (path: string) => Channel | null,
  path: string,
): { readonly channel: Channel; readonly component: Component } | null {
  const dot = path.lastIndexOf('.');
  const component = COMPONENTS.find((i) => COMPONENT_NAMES[i] === path.slice(dot + 1));
  if (dot < 0 || component === undefined) return null;
  const channel = channelAt(path.slice(0, dot));
  return channel?.spec.kind === 'colour' ? { channel, component } : null;
}

/** Paths of the components of a colour. */
export const componentPaths = (path: string): string[] => COMPONENT_NAMES.map((name) => `${path}.${name}`);

const COMPARES: ReadonlySet<string> = new Set(['<', '<=', '>', '>=', '==', '!=', 'and', 'or']);

/**
 * Whether a formula, as written, gives a colour: where it reads one, writes one, or reckons with one.
 * @param local whether a name of the formula's own stands for a colour; `null` where it is none of them
 */
export function givesColour(ast: Ast, scope: Scope, local: (name: string) => boolean | null): boolean {
  const inner = (part: Ast | undefined): boolean => part !== undefined && givesColour(part, scope, local);
  switch (ast.type) {
    case 'number':
      return false;
    case 'hex':
      return true;
    case 'name':
      return (ast.quoted ? null : local(ast.name)) ?? (!ast.quoted && ast.name === 'own' && scope.colour);
    case 'reference': {
      const owner = scope.owner(ast.name, ast.quoted);
      if (owner === null || owner === 'gone') return false;
      return scope.channel(owner.id, ast.path)?.spec.kind === 'colour';
    }
    case 'unary':
      return ast.op === '-' && inner(ast.operand);
    case 'binary':
      return !COMPARES.has(ast.op) && (inner(ast.left) || inner(ast.right));
    case 'call': {
      if (ast.name === 'if') return inner(ast.args[1]) || inner(ast.args[2]);
      const spec = FUNCTIONS.get(ast.name);
      if (spec?.special === 'colour') return true;
      return ast.args.some((arg, i) => takesColour(spec?.rules ?? [], i) && inner(arg));
    }
    case 'let':
      return inner(ast.body);
  }
}

/** Whether an argument may be a colour: what shares its measure with the result, or is asked at another moment. */
export function takesColour(rules: readonly string[], argument: number): boolean {
  const rule = rules[Math.min(argument, rules.length - 1)];
  return rule === 'same' || rule === 'ref';
}

/** The refusal of a colour where a number belongs. */
export function noNumber({ from, to }: Ast, what: string, text: string | null): Error {
  return fault(
    'colour',
    from,
    to,
    `${what} is a colour, and a number belongs here: take its red, its green or its blue.`,
    text === null ? [] : componentPaths(text).map((insert) => ({ label: insert, from, to, insert })),
  );
}
