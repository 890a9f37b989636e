import type { z } from 'zod';

/** What stands at a path of JSON; `undefined` where nothing does. */
export function foundAt(json: unknown, path: readonly PropertyKey[]): unknown {
  let current = json;
  for (const segment of path) {
    if (typeof current !== 'object' || current === null || !Object.hasOwn(current, segment)) return undefined;
    current = (current as Record<PropertyKey, unknown>)[segment];
  }
  return current;
}

const SHOWN = 60;
const DEPTH = 3;
/** Fields named one by one; of more, the number is told. */
const NAMED = 5;

/** A value with what lies deeper than a few levels left out, so that no nesting can exhaust the stack. */
function shallow(value: unknown, depth: number): unknown {
  if (typeof value !== 'object' || value === null) return value;
  if (depth === 0) return '...';
  if (Array.isArray(value)) return value.slice(0, 20).map((entry) => shallow(entry, depth - 1));
  return Object.fromEntries(
    Object.entries(value)
      .slice(0, 20)
      .map(([name, entry]) => [name, shallow(entry, depth - 1)]),
  );
}

/** A value as messages show it: the beginning of its JSON. */
export function shownValue(value: unknown): string {
  const text = JSON.stringify(shallow(value, DEPTH)) ?? String(value);
  return text.length > SHOWN ? `${text.slice(0, SHOWN)}...` : text;
}

const KINDS: ReadonlyMap<string, string> = new Map([
  ['number', 'a number'],
  ['int', 'a whole number'],
  ['string', 'a text'],
  ['boolean', 'true or false'],
  ['object', 'an object with named fields'],
  ['record', 'an object with named fields'],
  ['array', 'a list'],
  ['tuple', 'a list'],
  ['null', 'nothing (null)'],
]);

const COUNTED: ReadonlyMap<string, string> = new Map([
  ['string', 'characters'],
  ['array', 'entries'],
  ['tuple', 'entries'],
]);

function allowed(issue: z.core.$ZodIssue): string {
  switch (issue.code) {
    case 'invalid_type':
      return `must be ${KINDS.get(issue.expected) ?? issue.expected}`;
    case 'too_big': {
      const counted = COUNTED.get(issue.origin);
      // A limit with words of its own tells more.
      if (!/^Too big/.test(issue.message)) return issue.message;
      return counted
        ? `may have at most ${issue.maximum} ${counted}`
        : `must be ${issue.inclusive === false ? 'below' : 'at most'} ${issue.maximum}`;
    }
    case 'too_small': {
      const counted = COUNTED.get(issue.origin);
      if (!/^Too small/.test(issue.message)) return issue.message;
      return counted
        ? `must have at least ${issue.minimum} ${counted}`
        : `must be ${issue.inclusive === false ? 'above' : 'at least'} ${issue.minimum}`;
    }
    case 'invalid_value':
      return `must be ${issue.values.length > 1 ? 'one of ' : ''}${issue.values.map(String).join(', ')}`;
    case 'invalid_key':
      return `its name ${issue.issues[0] ? allowed(issue.issues[0]) : 'is not allowed'}`;
    case 'invalid_union':
      // Unions say in their own words what they take; one without tells what its first form wants.
      return /^Invalid input/.test(issue.message) && issue.errors[0]?.[0]
        ? allowed(issue.errors[0][0])
        : issue.message;
    default:
      return issue.message;
  }
}

/** What is wrong with a value, what stands there and what is allowed, as a sentence. */
export function describeIssue(issue: z.core.$ZodIssue, found: unknown): string {
  if (issue.code === 'unrecognized_keys') {
    const { keys } = issue;
    const named = keys.slice(0, NAMED).map((key) => `"${key.slice(0, SHOWN)}"`);
    if (keys.length > NAMED) named.push(`${keys.length - NAMED} more`);
    return `There ${keys.length > 1 ? 'are no fields' : 'is no field'} ${named.join(', ')} here: leave ${keys.length > 1 ? 'them' : 'it'} out.`;
  }
  if (found === undefined)
    return /received undefined/.test(issue.message) || issue.code === 'invalid_union'
      ? `This is missing: it ${allowed(issue)}.`
      : `This ${allowed(issue)}.`;
  return `${shownValue(found)} is not allowed: ${allowed(issue)}.`;
}
