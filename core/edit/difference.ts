import type { Shot } from '../document';
import type { Change, Json, Patch } from './change';

const isRecord = (value: Json): value is Record<string, Json> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** Equal as JSON, whatever the order of the keys of a record. */
function same(a: Json, b: Json): boolean {
  if (Object.is(a, b)) return true;
  if (Array.isArray(a) && Array.isArray(b))
    return a.length === b.length && a.every((value, i) => same(value, b[i]));
  if (!isRecord(a) || !isRecord(b)) return false;
  const keys = Object.keys(a);
  return (
    keys.length === Object.keys(b).length &&
    keys.every((key) => Object.hasOwn(b, key) && same(a[key], b[key]))
  );
}

/**
 * The change that leads from one document to another: the smallest places of records in which they differ, lists as a
 * whole. Branches that both share are not looked into, so documents that come from each other are compared quickly.
 * Law, tested: `apply(a, difference(a, b))` equals `b`.
 */
export function difference(from: Shot, to: Shot, label = 'Made elsewhere'): Change {
  const patches: Patch[] = [];
  const walk = (a: Record<string, Json>, b: Record<string, Json>, path: readonly string[]): void => {
    for (const key of new Set([...Object.keys(a), ...Object.keys(b)])) {
      const [before, after] = [
        Object.hasOwn(a, key) ? a[key] : undefined,
        Object.hasOwn(b, key) ? b[key] : undefined,
      ];
      if (before === after) continue;
      if (isRecord(before) && isRecord(after)) walk(before, after, [...path, key]);
      else if (!same(before, after)) patches.push({ path: [...path, key], before, after });
    }
  };
  walk(from, to, []);
  return { label, patches };
}
