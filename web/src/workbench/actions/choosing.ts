import type { Shot } from '../../../../core/document';
import type { Change } from '../../../../core/edit';
import type { Session } from '../session';

/** Chooses parts; a channel that belongs to none of them is no longer the chosen one. */
export function choose(session: Session, ids: readonly string[]): void {
  session.choice.parts(session.shot, ids);
}

/** Puts the caret into the field of a channel. */
export function typeInto(session: Session, address: string): void {
  session.choice.showChannel(address);
  session.sheets.typeInto(address);
}

/** Runs an edit that makes parts, and chooses what it made. @returns whether it was done */
export function make(
  session: Session,
  work: (shot: Shot) => { readonly change: Change; readonly ids: readonly string[] },
): boolean {
  let made: readonly string[] = [];
  const done = session.edit((shot) => {
    const result = work(shot);
    made = result.ids;
    return result.change;
  });
  if (done) choose(session, made);
  return done;
}
