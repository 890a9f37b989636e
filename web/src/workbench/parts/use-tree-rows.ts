import { useMemo, useState } from 'react';
import { treeOrder, type Shot } from '../../../../core/document';
import { startClosed } from './tree-moves';

/**
 * The tree of parts as rows.
 * @param find words that a part's name has to hold; with them all parts are looked through, folded or not
 */
export function useTreeRows(shot: Shot, find: string) {
  const [closed, setClosed] = useState<ReadonlySet<string>>(() => new Set(startClosed(shot)));
  const tree = useMemo(() => treeOrder(shot), [shot]);
  const children = useMemo(() => new Set(Object.values(shot.parts).map((part) => part.parent)), [shot]);
  const wanted = find.trim().toLowerCase();
  const rows = useMemo(
    () =>
      tree.filter(({ id }) => {
        const part = shot.parts[id]!;
        if (wanted) return part.name.toLowerCase().includes(wanted);
        for (let above = part.parent; above !== null; above = shot.parts[above]?.parent ?? null)
          if (closed.has(above)) return false;
        return true;
      }),
    [tree, shot, wanted, closed],
  );
  /** Opens or folds a part; where it is not said which, the other of what it is. */
  const toggle = (id: string, open?: boolean): void =>
    setClosed((now) => {
      const next = new Set(now);
      if (open ?? next.has(id)) next.delete(id);
      else next.add(id);
      return next;
    });
  /** Opens whatever a part is folded away in. */
  const unfold = (id: string): void => {
    const above: string[] = [];
    for (let at = shot.parts[id]?.parent ?? null; at !== null; at = shot.parts[at]?.parent ?? null)
      above.push(at);
    if (above.some((one) => closed.has(one)))
      setClosed((now) => new Set([...now].filter((one) => !above.includes(one))));
  };
  return { tree, rows, children, wanted, closed, toggle, unfold };
}
