import { choose } from '../actions/choosing';
import { goTo } from '../actions/time';
import type { Session } from '../session';

/** Where something was found in a shot. */
export interface ProblemPlace {
  readonly address: string;
  readonly frame?: number;
}

/** Chooses the part and the channel that a finding is about, and goes to its frame. */
export function showProblem(session: Session, { address, frame }: ProblemPlace): void {
  const { shot } = session;
  const owner = address.split('/')[0]!;
  const part = shot.parts[owner]
    ? owner
    : Object.keys(shot.parts).find((id) => shot.parts[id]?.shape === owner || shot.parts[id]?.look === owner);
  if (part) choose(session, [part]);
  if (address.includes('/')) session.choice.showChannel(address);
  if (frame !== undefined) goTo(session, frame);
}

/** Address of the page of a shot that opens at a place in it. */
export function pageOfProblem(shot: string, { address, frame }: ProblemPlace): string {
  const asked = new URLSearchParams({
    at: address,
    ...(frame === undefined ? {} : { frame: String(frame) }),
  });
  return `/shots/${shot}?${asked.toString()}`;
}

/** The place at which a page is to open, or `null`. */
export function askedPlace(search: string): ProblemPlace | null {
  const asked = new URLSearchParams(search);
  const address = asked.get('at');
  if (address === null) return null;
  const frame = Number(asked.get('frame') ?? NaN);
  return { address, ...(Number.isFinite(frame) ? { frame } : {}) };
}
