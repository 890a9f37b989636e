import type { Session } from '../session';

const KEY = 'whirl:draft-view';

/** Whether this browser draws the view as a draft: chosen once, for all shots. */
export function draftKept(): boolean {
  try {
    return localStorage.getItem(KEY) === 'yes';
  } catch {
    return false;
  }
}

/** Draws the view coarser and without shadows from now on, or fully. Films are not affected. */
export function setDraft(session: Session, draft: boolean): void {
  session.store.setState({ draft });
  try {
    localStorage.setItem(KEY, draft ? 'yes' : 'no');
  } catch {
    // A browser that keeps nothing only forgets the choice.
  }
}
