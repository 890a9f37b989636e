import { freeName, type Part, type Shot } from '../document';
import { apply, type Change, type Patch } from './change';

/**
 * The change with names that are free in `shot` for the parts that it adds: two people may have called what they added
 * alike. Links keep their references by id, so that nothing else changes with a name.
 */
export function withFreeNames(shot: Shot, change: Change): Change {
  let now = shot;
  const patches = change.patches.map((patch): Patch => {
    const added = patch.after as Part | undefined;
    const adds = patch.path[0] === 'parts' && patch.path.length === 2 && patch.before === undefined && added;
    if (!adds || !Object.values(now.parts).some((part) => part.name === added.name)) return patch;
    const renamed: Patch = { ...patch, after: { ...added, name: freeName(now, added.name) } };
    now = apply(now, { label: '', patches: [renamed] });
    return renamed;
  });
  return now === shot ? change : { ...change, patches };
}
