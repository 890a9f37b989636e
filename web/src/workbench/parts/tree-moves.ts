import type { KeyboardEvent } from 'react';
import { treeOrder, type Shot } from '../../../../core/document';
import { orderAfterLast } from '../../../../core/edit';
import { choose } from '../actions/choosing';
import type { Session } from '../session';
import { hangBelow, reorder } from './parts-actions';

/** Where something dragged over a row would land. */
export type DropPlace = 'before' | 'into' | 'after';

/** Keys that are held while something is chosen. */
export interface HeldKeys {
  readonly ctrlKey: boolean;
  readonly metaKey: boolean;
  readonly shiftKey: boolean;
}

/** Children of one part that a tree unfolds by itself. */
const UNFOLDED = 8;

/**
 * Parts whose children begin folded: those with many, and groups inside others. Of groups of assemblies that hang side by
 * side the last begins open, to show what they are made of.
 */
export function startClosed(shot: Shot): string[] {
  const children = new Map<string, string[]>();
  for (const { id } of treeOrder(shot)) {
    const { parent } = shot.parts[id]!;
    if (parent !== null) children.set(parent, [...(children.get(parent) ?? []), id]);
  }
  const isGroup = (id: string): boolean => {
    const part = shot.parts[id]!;
    return part.kind === 'hub' && part.parent !== null && (children.get(id)?.length ?? 0) > 2;
  };
  const ofAssemblies = (id: string): boolean =>
    isGroup(id) && children.get(id)!.every((child) => children.has(child));
  return [...children].flatMap(([id, below]) => {
    if (below.length > UNFOLDED) return [id];
    if (!isGroup(id)) return [];
    const beside = children.get(shot.parts[id]!.parent!)!;
    return beside.findLast(ofAssemblies) === id ? [] : [id];
  });
}

/** Chooses a row as the mouse does: alone, with Ctrl beside what is chosen, with Shift all up to it. */
export function chooseRow(session: Session, rows: readonly string[], id: string, held: HeldKeys): void {
  const { chosen } = session.choice.now;
  if (held.ctrlKey || held.metaKey)
    choose(session, chosen.includes(id) ? chosen.filter((other) => other !== id) : [...chosen, id]);
  else if (held.shiftKey && chosen.length > 0) {
    const [from, to] = [rows.indexOf(chosen[0]!), rows.indexOf(id)];
    const range = rows.slice(Math.min(from, to), Math.max(from, to) + 1);
    choose(session, from < 0 ? [id] : from <= to ? range : range.reverse());
  } else session.choice.onlyParts([id]);
}

/** What the keys of the tree work on. */
export interface TreeKeyboard {
  /** Parts that are shown, from the top down. */
  readonly rows: readonly string[];
  /** Parts that carry others. */
  readonly children: ReadonlySet<string | null>;
  readonly closed: ReadonlySet<string>;
  toggle(id: string, open?: boolean): void;
}

/** Does what a key means while the tree has the keyboard. @returns whether it meant anything */
export function treeKey(
  session: Session,
  event: Pick<KeyboardEvent, 'key' | 'altKey' | 'shiftKey' | 'preventDefault'>,
  { rows, children, closed, toggle }: TreeKeyboard,
): boolean {
  const { chosen } = session.choice.now;
  const at = rows.indexOf(chosen.at(-1) ?? '');
  const current = rows[at];
  const down = event.key === 'ArrowDown';
  if (event.altKey && (down || event.key === 'ArrowUp')) {
    event.preventDefault();
    reorder(session, down ? 1 : -1);
  } else if (down || event.key === 'ArrowUp' || event.key === 'Home' || event.key === 'End') {
    event.preventDefault();
    const to = event.key === 'Home' ? 0 : event.key === 'End' ? rows.length - 1 : at + (down ? 1 : -1);
    const next = rows[Math.max(0, Math.min(rows.length - 1, to))];
    if (next === undefined) return false;
    choose(session, event.shiftKey ? [...chosen.filter((id) => id !== next), next] : [next]);
  } else if (current && event.key === 'ArrowRight') toggle(current, true);
  else if (current && event.key === 'ArrowLeft') {
    const { parent } = session.shot.parts[current]!;
    if (children.has(current) && !closed.has(current)) toggle(current);
    else if (parent !== null) choose(session, [parent]);
  } else if (current && event.key === 'F2') session.sheets.rename(current);
  else return false;
  return true;
}

/** Hangs dragged parts where they were dropped: into a part, or among its siblings before or after it. */
export function dropParts(
  session: Session,
  ids: readonly string[],
  target: string | null,
  place: DropPlace,
): void {
  if (target === null || place === 'into') {
    hangBelow(session, ids, target);
    return;
  }
  const { shot } = session;
  const { parent } = shot.parts[target]!;
  const siblings = Object.keys(shot.parts)
    .filter((id) => shot.parts[id]!.parent === parent && !ids.includes(id))
    .sort((a, b) => shot.parts[a]!.order - shot.parts[b]!.order || (a < b ? -1 : 1));
  const at = siblings.indexOf(target);
  if (at < 0) return;
  const order = (index: number): number | undefined => {
    const id = siblings[index];
    return id === undefined ? undefined : shot.parts[id]!.order;
  };
  const low = order(place === 'before' ? at - 1 : at);
  const high = order(place === 'before' ? at : at + 1);
  const from = low ?? (high ?? orderAfterLast(shot, parent)) - 1;
  const to = high ?? from + 1;
  hangBelow(session, ids, parent, (_, i) => from + ((to - from) * (i + 1)) / (ids.length + 1));
}
