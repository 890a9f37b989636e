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

/** Shows the shot as it was before the last edit for as long as the key is held. */
export function seeBefore(session: Session): void {
  const { before } = session.plot.now;
  if (!before) {
    toast('Nothing has been changed yet since the shot was opened.');
    return;
  }
  if (session.doc.now.trying) return;
  session.doc.try(before);
  const stop = new AbortController();
  const end = (): void => {
    stop.abort();
    session.doc.try(null);
    session.evaluate();
  };
  addEventListener('keyup', end, { signal: stop.signal });
  addEventListener('blur', end, { signal: stop.signal });
}

function refuse(error: unknown): void {
  if (!(error instanceof RangeError)) throw error;
  toast.error(error.message);
}
