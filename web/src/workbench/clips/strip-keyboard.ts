import type { KeyboardEvent } from 'react';
import { moveShowings, stretchShowing, trimShowing } from '../../../../core/edit';
import { spanOfPlacement } from '../../../../core/evaluate';
import { closeClip, openClip, removeChosen, repeatChosen } from '../actions/clips';
import type { Session } from '../session';

const FAR = 10;

/**
 * What a key does to the strip that has the focus: arrows move the chosen ones, with Alt they move its end, with Ctrl and
 * Alt they stretch it; Enter opens it, Delete takes it away.
 * @returns whether the key was taken
 */
export function stripKey(session: Session, id: string, event: KeyboardEvent): boolean {
  const { document: shot, opened } = session.doc.now;
  const placement = shot.placements[id];
  const clip = placement && shot.clips[placement.clip];
  if (!clip) return false;
  const { key, altKey, shiftKey } = event;
  const ctrl = event.ctrlKey || event.metaKey;
  if (key === 'ArrowLeft' || key === 'ArrowRight') {
    const by = (key === 'ArrowLeft' ? -1 : 1) * (shiftKey ? FAR : 1);
    const { to } = spanOfPlacement(placement, clip);
    if (!altKey)
      return session.editDocument((now) => moveShowings(now, session.strips.now.chosen, by)) || true;
    if (!Number.isFinite(to)) return true;
    const end = Math.round(to) + by;
    session.editDocument((now) => (ctrl ? stretchShowing(now, id, end) : trimShowing(now, id, 'to', end)));
    return true;
  }
  if (key === 'Enter') {
    if (opened === id) closeClip(session);
    else openClip(session, id);
    return true;
  }
  if (key === 'Delete' || key === 'Backspace') {
    removeChosen(session);
    return true;
  }
  if (ctrl && key.toLowerCase() === 'd' && !shiftKey) {
    repeatChosen(session);
    focusSoon(session);
    return true;
  }
  return false;
}

/** Gives the keyboard to the strip that was made. */
function focusSoon(session: Session): void {
  requestAnimationFrame(() => document.getElementById(`strip-${session.strips.now.chosen.at(-1)}`)?.focus());
}
