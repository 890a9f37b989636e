import type { Shot } from '../../../../core/document';

/**
 * The next document with everything that is as it was before taken from the one before: a document that has been sent
 * to a worker is a copy, and what has changed is told by what is not the same object.
 */
export function keepIdentity(before: Shot | null, next: Shot): Shot {
  if (!before) return next;
  const kept: Record<string, unknown> = {};
  for (const [table, entries] of Object.entries(next)) {
    const old = before[table as keyof Shot] as unknown;
    kept[table] =
      typeof entries === 'object' && entries !== null && typeof old === 'object' && old !== null
        ? keepEntries(old, entries)
        : entries;
  }
  return kept as Shot;
}

/** A table with unchanged entries taken from the old one; the old table itself where none has changed. */
function keepEntries(old: object, now: object): object {
  const before = old as Record<string, unknown>;
  let same = Object.keys(before).length === Object.keys(now).length;
  const out: Record<string, unknown> = {};
  for (const [id, entry] of Object.entries(now)) {
    const equal = Object.hasOwn(before, id) && JSON.stringify(before[id]) === JSON.stringify(entry);
    out[id] = equal ? before[id] : entry;
    same &&= equal;
  }
  return same ? old : out;
}
