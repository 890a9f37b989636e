import { randomUUID } from 'node:crypto';
import type { Shot } from '../../core/document';
import type { Patch } from '../../core/edit';
import { insetsOf } from '../../core/inset';
import type { Queryable } from './database';
import { keepChanges, readShot } from './shots';

/** Other shots, by their ids. */
export type InnerShots = Readonly<Record<string, Shot>>;

/** The shots that a shot shows, and those that they show. Those that are gone are left out. */
export async function readInnerShots(
  db: Queryable,
  shot: Shot,
  read: (id: string) => Promise<Shot | null> = async (id) => (await readShot(db, id))?.document ?? null,
): Promise<InnerShots> {
  const found: Record<string, Shot> = {};
  const asked = new Set<string>();
  const walk = async (outer: Shot): Promise<void> => {
    for (const id of insetsOf(outer)) {
      if (asked.has(id)) continue;
      asked.add(id);
      const inner = await read(id);
      if (!inner) continue;
      found[id] = inner;
      await walk(inner);
    }
  };
  await walk(shot);
  return found;
}

/** Lets shots that were copied together show the copies of one another. @param copyOf ids of the copies by those copied */
export async function showCopies(db: Queryable, copyOf: ReadonlyMap<string, string>): Promise<void> {
  for (const copy of copyOf.values()) {
    const opened = await readShot(db, copy);
    const patches = Object.entries(opened?.document.parts ?? {}).flatMap(([id, { inset }]): Patch[] => {
      const after = inset && copyOf.get(inset.shot);
      return after ? [{ path: ['parts', id, 'inset', 'shot'], before: inset.shot, after }] : [];
    });
    if (!opened || patches.length === 0) continue;
    const change = {
      revision: opened.revision + 1,
      senderId: randomUUID(),
      label: 'Show the copies of shots',
      patches: JSON.stringify(patches),
    };
    await keepChanges(db, copy, [change], opened.document.setup);
  }
}
