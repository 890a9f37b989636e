import { EditRefused } from '../../../../core/edit';
import type { Session } from '../session';

/** Runs an edit of what was typed. @returns why it was refused */
export function typedEdit(session: Session, make: Parameters<Session['edit']>[0]): string | null {
  try {
    session.commit(make(session.shot));
    return null;
  } catch (error) {
    if (error instanceof EditRefused) return error.message;
    throw error;
  }
}
