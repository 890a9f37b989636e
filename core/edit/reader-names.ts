import { type Link, type Shot, OWNER_TABLES } from '../document';
import { linkFromText, NameTable, textOfLink } from '../formula';
import type { Draft } from './change';

/**
 * Writes formulas that read what is about to go with the names that it has now, so that they go on saying what is
 * missing under the name by which it was known last.
 */
export function writeLastNames(draft: Draft, shot: Shot, gone: ReadonlySet<string>): void {
  const names = new NameTable(shot);
  for (const table of OWNER_TABLES)
    for (const [id, owner] of Object.entries<{ readonly links: Readonly<Record<string, Link>> }>(
      shot[table],
    )) {
      if (gone.has(id)) continue;
      for (const [path, link] of Object.entries(owner.links)) {
        if (!Object.values(link.refs).some((ref) => gone.has(ref))) continue;
        const text = textOfLink(names, link);
        if (text !== link.formula) draft.set([table, id, 'links', path], linkFromText(names, text));
      }
    }
}
