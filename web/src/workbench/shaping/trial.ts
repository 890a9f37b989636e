import { linkOf, trackOf, type Value } from '../../../../core/document';
import { apply, curveValue, EditRefused, type Change } from '../../../../core/edit';
import { preview } from '../actions/values';
import type { Session } from '../session';

/** Addresses of the channels whose keys a change touches. */
function channelsTouched(change: Change): Set<string> {
  return new Set(
    change.patches.flatMap(({ path }) =>
      path[2] === 'tracks' && path[1] !== undefined && path[3] !== undefined ? [`${path[1]}/${path[3]}`] : [],
    ),
  );
}

/**
 * Shows a change of keys on the plot and in the view without making it; `null` puts everything back.
 * @param dragged whether the pointer holds what is changed: the plot's axes stay meanwhile
 */
export function tryOut(
  session: Session,
  make: ((shot: Session['shot']) => Change) | null,
  dragged = false,
): void {
  const { plot, time } = session;
  if (!make) {
    if (plot.now.trial === null) return;
    plot.try(null);
    preview(session, null);
    return;
  }
  let change: Change;
  try {
    change = make(session.shot);
  } catch (error) {
    if (!(error instanceof EditRefused)) throw error;
    return;
  }
  const shot = apply(session.shot, change);
  plot.try(shot, dragged);
  if (time.now.playing) return;
  const values: Record<string, Value> = {};
  for (const address of channelsTouched(change)) {
    const track = trackOf(shot, address);
    if (track && !linkOf(shot, address)) values[address] = curveValue(shot, address, track, time.now.frame);
  }
  preview(session, values);
}

/** Makes a change that was tried. @returns whether it was done */
export function keepTrial(session: Session, make: (shot: Session['shot']) => Change): boolean {
  tryOut(session, null);
  return session.edit(make);
}
