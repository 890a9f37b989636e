import { splitAddress, type Shot } from '../../../../core/document';
import { apply, EditRefused } from '../../../../core/edit';
import { phaseOf, setPhases } from '../../../../core/recipe';
import type { Session } from '../session';

/** Phases that are dragged together: that of one channel, or of the same channel of all chosen parts. */
export function phaseTargets(
  shot: Shot,
  chosen: readonly string[],
  address: string,
): ReadonlyMap<string, number> {
  const { owner, path } = splitAddress(address);
  const together = chosen.includes(owner) ? chosen.map((id) => `${id}/${path}`) : [address];
  return new Map(
    together.flatMap((entry) => {
      const degrees = phaseOf(shot, entry);
      return degrees === null ? [] : [[entry, degrees] as const];
    }),
  );
}

const moved = (phases: ReadonlyMap<string, number>, by: number): Map<string, number> =>
  new Map([...phases].map(([address, degrees]) => [address, degrees + by]));

/** Shows phases moved on by some degrees without keeping them; 0 shows the shot as it is. */
export function tryPhases(session: Session, phases: ReadonlyMap<string, number>, by: number): void {
  const { shot } = session;
  try {
    session.doc.try(by === 0 ? null : apply(shot, setPhases(shot, moved(phases, by))));
  } catch (error) {
    if (!(error instanceof EditRefused)) throw error;
    session.doc.try(null);
  }
}

/** Keeps phases moved on by some degrees, as one step of undo. */
export function keepPhases(session: Session, phases: ReadonlyMap<string, number>, by: number): void {
  session.doc.try(null);
  if (by !== 0) session.edit((shot) => setPhases(shot, moved(phases, by)));
}
