import { fault, type Fix } from './error';
import type { FunctionSpec } from './functions';
import { nearestNames } from './nearest';
import { wordFixes } from './check-argument';
import type { Ast } from './parse';
import { writtenName, type Scope } from './scope';

function gone(name: string, from: number, to: number): Error {
  return fault(
    'gone',
    from,
    to,
    `"${name}" is no longer in this shot. Bring it back, or read something else.`,
  );
}

/** Asks which value is meant where only an owner is named; `null` where nothing is called so. */
export function whichValue(scope: Scope, name: string, from: number, to: number): Error | null {
  const owner = scope.owner(name, false);
  if (owner === null || owner === 'gone') return null;
  const path = [...scope.paths(owner.id)][0] ?? 'location.x';
  return fault(
    'unknown-channel',
    from,
    to,
    `Which value of ${name}? Write for example ${writtenName(name)}.${path}`,
    [{ label: `${name}.${path}`, from, to, insert: `${writtenName(name)}.${path}` }],
  );
}

/** Something else of the same name is here now, which the formula was not written for. */
function another(scope: Scope, name: string, from: number, to: number): Error | null {
  if (![...scope.ownerNames()].includes(name)) return null;
  const insert = name.startsWith('dial.') ? name : writtenName(name);
  return fault(
    'gone',
    from,
    to,
    `This was not written for the "${name}" that is here now. Take that, or read something else.`,
    [{ label: `Take ${insert}`, from, to, insert }],
  );
}

/** What a formula was written for is not here any more. */
export function goneOwner(scope: Scope, name: string, from: number, to: number): Error {
  return another(scope, name, from, to) ?? gone(name, from, to);
}

/** Nothing is called so; what is called nearly so is offered. @param plain names besides those of parts and dials */
export function unknownName(
  scope: Scope,
  name: string,
  from: number,
  to: number,
  plain: readonly string[] = [],
): Error {
  const found = another(scope, name, from, to);
  if (found) return found;
  const near = nearestNames(name, plain).map((text) => ({ text, insert: text }));
  const parts = nearestNames(name, scope.ownerNames()).map((text) => ({
    text,
    insert: text.startsWith('dial.') ? text : writtenName(text),
  }));
  const fixes = [...parts, ...near]
    .slice(0, 4)
    .map(({ text, insert }) => ({ label: text, from, to, insert }));
  const hint = fixes.length > 0 ? ` Did you mean ${fixes.map((fix) => fix.insert).join(' or ')}?` : '';
  return fault('unknown-name', from, to, `Nothing here is called "${name}".${hint}`, fixes);
}

/** The id of the part that an argument names. @throws FormulaFault where it names none */
export function partNamed(scope: Scope, spec: FunctionSpec, arg: Ast): string {
  const { from, to } = arg;
  if (arg.type !== 'name') {
    const fixes: Fix[] =
      arg.type === 'reference' && arg.name !== 'dial'
        ? [{ label: arg.name, from, to, insert: writtenName(arg.name) }]
        : [];
    throw fault('unknown-name', from, to, `${spec.name} wants the name of a part here.`, fixes);
  }
  const owner = scope.owner(arg.name, arg.quoted);
  if (owner === 'gone') throw goneOwner(scope, arg.name, from, to);
  if (owner === null || arg.name.startsWith('dial.')) throw unknownName(scope, arg.name, from, to);
  return owner.id;
}

/** The id of the sound that an argument names. @throws FormulaFault where it names none */
export function soundNamed(scope: Scope, arg: Ast): string {
  const { from, to } = arg;
  const names = [...scope.soundNames()];
  const listed = names.length > 0 ? `The shot has ${names.join(', ')}.` : 'The shot has no sound.';
  if (arg.type !== 'name')
    throw fault('unknown-name', from, to, `The name of a sound belongs here. ${listed}`);
  const found = scope.sound(arg.name);
  if (found === 'gone') throw gone(arg.name, from, to);
  if (found === null)
    throw fault(
      'unknown-name',
      from,
      to,
      `There is no sound "${arg.name}". ${listed}`,
      wordFixes(nearestNames(arg.name, names), from, to),
    );
  return found.id;
}
