import type { Shot } from '../document';
import { apply, conflictsOf, keyOf, valueAt, type Change, type Patch } from './change';

/**
 * Two people edit one shot at once: each change was made on the same document, and both have to end with the same one
 * whichever order they are taken in. Where patches touch the same place the change that counts as the later one wins;
 * where one lies inside what the other replaces or removes, the outer one does.
 */

const starts = (outer: readonly string[], inner: readonly string[]): boolean =>
  outer.length <= inner.length && outer.every((segment, i) => inner[i] === segment);

/** The same change with patches of which none lies inside another, as seen from the document it was made on. */
export function netChange(shot: Shot, change: Change): Change {
  const after = apply(shot, change);
  const all = new Set(change.patches.map(({ path }) => keyOf(path)));
  const places = new Map<string, readonly string[]>();
  for (const { path } of change.patches)
    if (!path.some((_, i) => i > 0 && all.has(keyOf(path.slice(0, i))))) places.set(keyOf(path), path);
  const patches = [...places.values()].map((path): Patch => ({
    path,
    before: valueAt(shot, path),
    after: valueAt(after, path),
  }));
  return { label: change.label, patches };
}

/**
 * What is left of `change` when it is made after `over`, both made on `shot`.
 * @param later whether `change` counts as the later of the two
 * Law, tested: `apply(apply(s, a), rebase(s, b, a, true))` equals `apply(apply(s, b), rebase(s, a, b, false))`.
 */
export function rebase(shot: Shot, change: Change, over: Change, later: boolean): Change {
  const mine = netChange(shot, change).patches;
  const theirs = netChange(shot, over).patches;
  const base = apply(shot, over);
  const patches: Patch[] = [];
  for (const patch of mine) {
    const outer = theirs.find((other) => starts(other.path, patch.path));
    if (outer) {
      const same = outer.path.length === patch.path.length;
      if (!same || !later) continue;
    }
    patches.push({ ...patch, before: valueAt(base, patch.path) });
  }
  return { label: change.label, patches };
}

/** Two rows of changes that begin at one document, each as it is after all of the other. */
export interface CrossedRows {
  readonly mine: readonly Change[];
  readonly theirs: readonly Change[];
}

/**
 * Rebases two rows of changes over each other; both begin at `shot`.
 * @param later whether `mine` counts as the later row
 * Law, tested: `theirs` then the crossed `mine` lead where `mine` then the crossed `theirs` lead.
 */
export function crossRows(
  shot: Shot,
  mine: readonly Change[],
  theirs: readonly Change[],
  later: boolean,
): CrossedRows {
  if (mine.length === 0 || theirs.length === 0 || apart(mine, theirs)) return { mine, theirs };
  let base = shot;
  let against = theirs;
  const crossed = mine.map((change) => {
    let own = change;
    let at = base;
    const moved: Change[] = [];
    for (const other of against) {
      const next = rebase(at, own, other, later);
      moved.push(rebase(at, other, own, !later));
      at = apply(at, other);
      own = next;
    }
    base = apply(base, change);
    against = moved;
    return own;
  });
  return { mine: crossed, theirs: against };
}

/** Whether no place of one row lies at, above or below a place of the other: nothing has to be rebased then. */
function apart(mine: readonly Change[], theirs: readonly Change[]): boolean {
  return mine.every((own) => theirs.every((other) => conflictsOf(other, own).length === 0));
}

/** Rebases a row of changes over another row; both rows begin at `shot`. */
export const rebaseAll = (
  shot: Shot,
  changes: readonly Change[],
  over: readonly Change[],
  later: boolean,
): readonly Change[] => crossRows(shot, changes, over, later).mine;
