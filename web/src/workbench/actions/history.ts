import { toast } from 'sonner';
import type { Session } from '../session';
import { dropLoose } from './keying';
import { bringBack } from './time';

/** Takes back the latest thing done: values changed and not keyed first, else a change. */
export function undo(session: Session): void {
  if (Object.keys(session.keying.now.loose).length > 0) {
    dropLoose(session);
    return;
  }
  try {
    const step = session.doc.undo();
    if (step?.kind === 'dropped') bringBack(session, step.frame, step.loose);
  } catch (error) {
    refuse(error);
  }
}

/** Does again what was taken back last. */
export function redo(session: Session): void {
  dropLoose(session);
  try {
    session.doc.redo();
  } catch (error) {
    refuse(error);
  }
}

function refuse(error: unknown): void {
  if (!(error instanceof RangeError)) throw error;
  toast.error(error.message);
}
