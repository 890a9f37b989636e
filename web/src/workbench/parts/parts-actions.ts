import { toast } from 'sonner';
import { subtreeOf, type MirrorAxis, type Shot } from '../../../../core/document';
import {
  apply,
  besideOf,
  compose,
  duplicateParts,
  EditRefused,
  groupParts,
  hubAbove,
  linkedCopy,
  mirrorParts,
  orderAfterLast,
  readersOf,
  removeParts,
  reparent,
  topmost,
  type Change,
  type PlaceWarning,
} from '../../../../core/edit';
import { make } from '../actions/choosing';
import type { Session } from '../session';

const WARNINGS: Record<PlaceWarning, (name: string) => string> = {
  animated: (name) =>
    `${name} stays where it is at this frame. It is keyed, so at other frames it may stand elsewhere.`,
  linked: (name) => `${name} is linked: its formula goes on deciding where it is.`,
  sheared: (name) => `${name} cannot keep its shape exactly: its new parent is stretched at an angle to it.`,
};

/** Says what stands in the way of a part staying where it is. */
export function tellWarning(warning: PlaceWarning | null, name: string): void {
  if (warning) toast(WARNINGS[warning](name));
}

const someChosen = (session: Session): readonly string[] => {
  const { chosen } = session.choice.now;
  const { shot } = session;
  const ids = chosen.filter((id) => shot.parts[id]);
  if (ids.length === 0) toast('Choose a part first, in the tree or in the view.');
  return ids;
};

export function copyLinked(session: Session): void {
  const ids = someChosen(session);
  if (ids.length > 0)
    make(session, (shot) => linkedCopy(shot, ids, undefined, besideOf(shot, session.evaluator, ids)));
}

export function duplicateChosen(session: Session): void {
  const ids = someChosen(session);
  if (ids.length > 0)
    make(session, (shot) => duplicateParts(shot, ids, undefined, besideOf(shot, session.evaluator, ids)));
}

export function mirrorChosen(session: Session, axis: MirrorAxis): void {
  const ids = someChosen(session);
  if (ids.length > 0) make(session, (shot) => mirrorParts(shot, ids, axis));
}

export function groupChosen(session: Session): void {
  const ids = someChosen(session);
  if (ids.length === 0) return;
  make(session, (shot) => {
    const { change, id, warning } = groupParts(shot, session.evaluator, ids);
    tellWarning(warning, 'A part of the group');
    return { change, ids: [id] };
  });
}

export function putHubAbove(session: Session): void {
  const ids = someChosen(session);
  if (ids.length === 0) return;
  make(session, (shot) => {
    const made = hubAbove(shot, session.evaluator, ids);
    tellWarning(made.warning, ids.length === 1 ? shot.parts[ids[0]!]!.name : 'A part below the hub');
    return { change: made.change, ids: [made.id] };
  });
}

/** Hangs parts below another one (`null`: at the top), before a given sibling or at the end; they stay where they are. */
export function hangBelow(
  session: Session,
  ids: readonly string[],
  parent: string | null,
  orders: (shot: Shot, index: number) => number = (shot) => orderAfterLast(shot, parent),
): boolean {
  return session.edit((shot) => {
    let now = shot;
    const done: Change[] = [];
    let told: PlaceWarning | null = null;
    topmost(shot, ids).forEach((id, i) => {
      const { change, warning } = reparent(now, session.evaluator, id, parent, orders(now, i));
      done.push(change);
      told ??= warning;
      now = apply(now, change);
    });
    if (done.length === 0) throw new EditRefused('These parts are no longer in the shot.');
    tellWarning(told, shot.parts[ids[0]!]?.name ?? '');
    const label = done.length === 1 ? done[0]!.label : `Move ${done.length} parts in the tree`;
    return { ...done.reduce(compose), label };
  });
}

/** Hangs all chosen parts but the last below the last. */
export function hangBelowLast(session: Session): void {
  const { chosen } = session.choice.now;
  if (chosen.length < 2) {
    toast('Choose the parts to move and, last, the one that they are to hang below.');
    return;
  }
  hangBelow(session, chosen.slice(0, -1), chosen.at(-1)!);
}

export function takeOut(session: Session): void {
  const ids = someChosen(session);
  if (ids.length > 0) hangBelow(session, ids, null);
}

/** Moves the chosen part up or down among its siblings. */
export function reorder(session: Session, by: -1 | 1): void {
  const { shot } = session;
  const { chosen } = session.choice.now;
  const id = chosen.at(-1);
  const part = id === undefined ? undefined : shot.parts[id];
  if (!part || id === undefined) return;
  const siblings = Object.keys(shot.parts)
    .filter((other) => shot.parts[other]!.parent === part.parent)
    .sort((a, b) => shot.parts[a]!.order - shot.parts[b]!.order || (a < b ? -1 : 1));
  const at = siblings.indexOf(id);
  const next = siblings[at + by];
  if (next === undefined) return;
  const beyond = siblings[at + 2 * by];
  const order = shot.parts[next]!.order;
  hangBelow(session, [id], part.parent, () =>
    beyond === undefined ? order + by : (order + shot.parts[beyond]!.order) / 2,
  );
}

/** Deletes parts; when others read them, that is asked first. */
export function askToRemove(session: Session, ids: readonly string[]): void {
  const { shot } = session;
  const roots = topmost(shot, ids);
  if (roots.length === 0) return;
  const readers = readersOf(shot, [...new Set(roots.flatMap((root) => subtreeOf(shot, root)))]);
  if (readers.length === 0) removeNow(session, roots);
  else session.sheets.ask({ ids: roots, readers });
}

export function removeNow(session: Session, ids: readonly string[]): void {
  session.sheets.ask(null);
  session.edit((shot) => removeParts(shot, ids));
}
