import { soundsWithLevel } from './upgrade-4-sounds';
import { topAsShare } from './upgrade-3-top';

type Written = Record<string, unknown>;

/** What turns a document of one version into one of the next. Entries are never changed once released. */
const UPGRADES: ReadonlyMap<unknown, (shot: Written) => Written> = new Map([
  [1, (shot: Written) => ({ ...shot, version: 2, trays: {}, markers: {} })],
  [2, (shot: Written) => ({ ...topAsShare(shot), version: 3 })],
  [3, (shot: Written) => ({ ...soundsWithLevel(shot), version: 4 })],
  [4, (shot: Written) => ({ ...shot, version: 5, pins: {} })],
  [5, (shot: Written) => ({ ...shot, version: 6, contacts: {} })],
]);

/** A document as written by an earlier version, brought up to this one; anything else is given back as it is. */
export function upgraded(json: unknown): unknown {
  let current = json;
  for (let steps = 0; steps < 100; steps++) {
    if (typeof current !== 'object' || current === null) return current;
    const upgrade = UPGRADES.get((current as { version?: unknown }).version);
    if (!upgrade) return current;
    current = upgrade(current as Written);
  }
  return current;
}
