import { childrenOf, type Owner, type Shot, OWNER_TABLES } from '../document';

/** Tables on which everything may rest: an edit of one is an edit of all. */
const WHOLE = ['setup', 'sounds', 'clips', 'placements', 'trays'] as const;

/** For each owner, those whose values or places rest on it directly. */
function readersOf(shot: Shot): Map<string, Set<string>> {
  const readers = new Map<string, Set<string>>();
  const note = (read: string | null | undefined, reader: string): void => {
    if (!read || read === reader) return;
    const set = readers.get(read);
    if (set) set.add(reader);
    else readers.set(read, new Set([reader]));
  };
  for (const table of OWNER_TABLES)
    for (const [id, owner] of Object.entries<Pick<Owner, 'links'>>(shot[table]))
      for (const link of Object.values(owner.links))
        for (const ref of Object.values(link.refs)) {
          note(ref, id);
          // The name of a part also reaches its shape and its look, and the path that it follows.
          note(shot.parts[ref]?.shape, id);
          note(shot.parts[ref]?.look, id);
        }
  for (const [id, { a, b }] of Object.entries(shot.pins)) {
    note(id, a);
    note(a, b ?? id);
    if (b === null) continue;
    note(id, b);
    note(b, a);
  }
  for (const [id, part] of Object.entries(shot.parts)) {
    note(part.parent, id);
    note(part.shape, id);
    note(part.look, id);
    note(part.aim?.target, id);
    note(part.repeat?.step, id);
    note(part.glowOf, id);
    if (!part.follow) continue;
    note(part.follow.path, id);
    for (const point of childrenOf(shot, part.follow.path)) note(point, id);
  }
  return readers;
}

/**
 * Ids of owners that an edit has a bearing on: what was changed, and all that reads or hangs from it, before or after.
 * `null` stands for everything.
 */
export function affectedOwners(before: Shot, after: Shot): ReadonlySet<string> | null {
  if (WHOLE.some((table) => before[table] !== after[table])) return null;
  const affected = new Set<string>();
  for (const table of OWNER_TABLES) {
    const [old, now] = [before[table], after[table]] as Record<string, unknown>[];
    if (old === now) continue;
    for (const id of new Set([...Object.keys(old!), ...Object.keys(now!)]))
      if (old![id] !== now![id]) affected.add(id);
  }
  const waiting = [...affected];
  if (waiting.length === 0) return affected;
  const graphs = [readersOf(before), readersOf(after)];
  for (let id = waiting.pop(); id !== undefined; id = waiting.pop())
    for (const graph of graphs)
      for (const reader of graph.get(id) ?? []) {
        if (affected.has(reader)) continue;
        affected.add(reader);
        waiting.push(reader);
      }
  return affected;
}
