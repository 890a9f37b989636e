import { EditRefused } from '../../../../core/edit';
import type { Session } from '../session';

function refusal(act: () => void): string | null {
  try {
    act();
    return null;
  } catch (error) {
    if (error instanceof EditRefused) return error.message;
    throw error;
  }
}

/** Runs an edit of what was typed. @returns why it was refused */
export const typedEdit = (session: Session, make: Parameters<Session['edit']>[0]): string | null =>
  refusal(() => session.commit(make(session.shot)));

/** As `typedEdit`, of the shot as it is kept, whatever clip is open in it. */
export const typedDocument = (session: Session, make: Parameters<Session['edit']>[0]): string | null =>
  refusal(() => session.doc.commitDocument(make(session.doc.now.document)));
