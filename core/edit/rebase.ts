import type { Shot } from '../document';
import { apply, valueAt, type Change, type Patch } from './change';

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
  let places: (readonly string[])[] = [];
  for (const { path } of change.patches) {
    if (places.some((place) => starts(place, path))) continue;
    places = places.filter((place) => !starts(path, place));
    places.push(path);
  }
  const patches = places.map((path): Patch => ({
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

/** Rebases a row of changes over another row; both rows begin at `shot`. */
export function rebaseAll(
  shot: Shot,
  changes: readonly Change[],
  over: readonly Change[],
  later: boolean,
): Change[] {
  let base = shot;
  let against = [...over];
  return changes.map((change) => {
    let mine = change;
    let at = base;
    const moved: Change[] = [];
    for (const other of against) {
      const next = rebase(at, mine, other, later);
      moved.push(rebase(at, other, mine, !later));
      at = apply(at, other);
      mine = next;
    }
    base = apply(base, change);
    against = moved;
    return mine;
  });
}
