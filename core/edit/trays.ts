import { subtreeOf, type Part, type Shot, type Tray } from '../document';
import { Draft, type Change } from './change';
import { makeId } from './make-id';
import { demandName } from './demand-name';
import { type Added } from './parts';
import { EditRefused } from './values';

function demandTray(shot: Shot, id: string): Tray {
  const tray = shot.trays[id];
  if (!tray) throw new EditRefused('This tray is no longer in the shot.');
  return tray;
}

function demandFree(shot: Shot, name: string, except?: string): string {
  const trimmed = demandName(name);
  if (Object.entries(shot.trays).some(([id, tray]) => id !== except && tray.name === trimmed))
    throw new EditRefused(`"${trimmed}" is already the name of another tray.`);
  return trimmed;
}

/** Trays in their order. */
export function traysOf(shot: Shot): string[] {
  return Object.keys(shot.trays).sort(
    (a, b) => shot.trays[a]!.order - shot.trays[b]!.order || (a < b ? -1 : 1),
  );
}

/** A new tray holding the given parts. @throws EditRefused for a name that is not allowed or taken */
export function addTray(shot: Shot, name: string, parts: readonly string[], random?: () => number): Added {
  const draft = new Draft(shot);
  const id = makeId('try', random);
  const tray: Tray = {
    name: demandFree(shot, name),
    order: Math.max(-1, ...Object.values(shot.trays).map((entry) => entry.order)) + 1,
    away: false,
    locked: false,
    out: false,
  };
  draft.set(['trays', id], tray);
  for (const part of parts) if (shot.parts[part]) draft.set(['parts', part, 'tray'], id);
  return { id, change: draft.change(`Make the tray ${tray.name}`) };
}

/** Changes a tray's name or what holds for its parts. */
export function changeTray(
  shot: Shot,
  id: string,
  options: Partial<Pick<Tray, 'name' | 'away' | 'locked' | 'out'>>,
): Change {
  const tray = demandTray(shot, id);
  const draft = new Draft(shot);
  const name = options.name === undefined ? tray.name : demandFree(shot, options.name, id);
  draft.set(['trays', id], { ...tray, ...options, name });
  return draft.change(`Change the tray ${tray.name}`);
}

/** Takes a tray away; its parts stay in the shot. */
export function removeTray(shot: Shot, id: string): Change {
  const { name } = demandTray(shot, id);
  const draft = new Draft(shot);
  for (const [part, entry] of Object.entries(shot.parts))
    if (entry.tray === id) draft.set(['parts', part, 'tray'], undefined);
  draft.set(['trays', id], undefined);
  return draft.change(`Take the tray ${name} away`);
}

/** Puts parts into a tray, or takes them out of theirs (`null`). */
export function putIntoTray(shot: Shot, parts: readonly string[], tray: string | null): Change {
  if (tray !== null) demandTray(shot, tray);
  const draft = new Draft(shot);
  for (const part of parts)
    if (shot.parts[part] && shot.parts[part].tray !== tray)
      draft.set(['parts', part, 'tray'], tray ?? undefined);
  const what = parts.length === 1 ? (shot.parts[parts[0]!]?.name ?? '') : `${parts.length} parts`;
  return draft.change(
    tray === null ? `Take ${what} out of the tray` : `Put ${what} into ${shot.trays[tray]!.name}`,
  );
}

/** Locks parts against being chosen and changed in the view, or unlocks them. */
export function setLocked(shot: Shot, parts: readonly string[], locked: boolean): Change {
  const draft = new Draft(shot);
  for (const part of parts)
    if (shot.parts[part]) draft.set(['parts', part, 'locked'], locked ? true : undefined);
  return draft.change(locked ? 'Lock' : 'Unlock');
}

/** What holds for parts by the trays and locks that they and what they hang from have. */
export interface Standing {
  /** Not seen in the view. */
  readonly away: ReadonlySet<string>;
  /** Not to be chosen or changed in the view. */
  readonly locked: ReadonlySet<string>;
  /** Not in the picture. */
  readonly out: ReadonlySet<string>;
}

const standings = new WeakMap<Shot['parts'], { trays: Shot['trays']; standing: Standing }>();

/** Standing of all parts; a tray and a lock hold for everything below a part too. */
export function standingOf(shot: Shot): Standing {
  const known = standings.get(shot.parts);
  if (known && known.trays === shot.trays) return known.standing;
  const [away, locked, out] = [new Set<string>(), new Set<string>(), new Set<string>()];
  const below = (id: string, into: Set<string>): void => {
    if (!into.has(id)) for (const part of subtreeOf(shot, id)) into.add(part);
  };
  for (const [id, part] of Object.entries<Part>(shot.parts)) {
    if (part.locked) below(id, locked);
    const tray = part.tray === undefined ? undefined : shot.trays[part.tray];
    if (tray?.away) below(id, away);
    if (tray?.locked) below(id, locked);
    if (tray?.out) below(id, out);
  }
  const standing = { away, locked, out };
  standings.set(shot.parts, { trays: shot.trays, standing });
  return standing;
}
