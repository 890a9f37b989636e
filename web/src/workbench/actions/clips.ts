import { toast } from 'sonner';
import { trackOf, type Shot } from '../../../../core/document';
import {
  keyedBetween,
  makeClip,
  placeClip,
  removeShowings,
  repeatShowings,
  topmost,
  untieShowing,
  type Change,
} from '../../../../core/edit';
import type { Session } from '../session';
import { goTo, stop } from './time';

/** Runs an edit of the shot that says what it made, and chooses that. */
function making(session: Session, make: (shot: Shot) => { change: Change; ids: readonly string[] }): boolean {
  let ids: readonly string[] = [];
  const done = session.editDocument((shot) => {
    const made = make(shot);
    ids = made.ids;
    return made.change;
  });
  if (done) chooseStrips(session, ids);
  return done;
}

/** Chooses showings; keys are no longer chosen then. */
export function chooseStrips(session: Session, ids: readonly string[]): void {
  session.choice.keys([]);
  session.strips.choose(ids);
}

/** Channels and frames that a clip is made of: those of the chosen keys, else all keys of the chosen parts. */
function meantForClip(session: Session): { addresses: string[]; first: number; last: number } | null {
  const { shot } = session;
  const { chosenKeys, chosen } = session.choice.now;
  const frames: number[] = [];
  let addresses: string[];
  if (chosenKeys.length > 1) {
    addresses = [...new Set(chosenKeys.map(({ address }) => address))];
    for (const { address, key } of chosenKeys) {
      const frame = trackOf(shot, address)?.keys[key]?.frame;
      if (frame !== undefined) frames.push(frame);
    }
  } else {
    addresses = keyedBetween(shot, topmost(shot, chosen), -Infinity, Infinity);
    for (const address of addresses)
      for (const key of Object.values(trackOf(shot, address)!.keys)) frames.push(key.frame);
  }
  if (addresses.length === 0) return null;
  return { addresses, first: Math.min(...frames), last: Math.max(...frames) };
}

/** Makes a clip of the chosen keys, or of all keys of the chosen parts and what hangs below them. */
export function makeClipHere(session: Session): void {
  if (session.doc.now.opened !== null) {
    toast('A clip is open: close it to make another one.');
    return;
  }
  const meant = meantForClip(session);
  if (!meant) {
    toast('Choose two keys or more, or a part that is keyed: a clip is made of keys.');
    return;
  }
  const { addresses, first, last } = meant;
  if (
    making(session, (shot) => {
      const made = makeClip(shot, addresses, first, last);
      return { change: made.change, ids: [made.placement] };
    })
  )
    toast(`Frames ${first} to ${last} are a clip now: its strip can be moved, repeated and shown elsewhere.`);
}

/** Shows a clip once more, from the playhead on. */
export function placeClipHere(session: Session, clip: string): void {
  const frame = Math.round(session.time.now.frame);
  making(session, (shot) => {
    const made = placeClip(shot, clip, frame);
    return { change: made.change, ids: [made.id] };
  });
}

/** Shows the chosen showings once more, right after them. */
export function repeatChosen(session: Session): void {
  const { chosen } = session.strips.now;
  if (chosen.length > 0) making(session, (shot) => repeatShowings(shot, chosen));
}

/** Takes the chosen showings away. */
export function removeChosen(session: Session): void {
  const { chosen } = session.strips.now;
  if (chosen.length > 0) session.editDocument((shot) => removeShowings(shot, chosen));
}

/** Gives a showing a clip of its own. */
export function untie(session: Session, id: string): void {
  session.editDocument((shot) => untieShowing(shot, id).change);
}

/** Opens the clip of a showing, so that its keys are edited where it stands. */
export function openClip(session: Session, id: string): void {
  const { placements } = session.doc.now.document;
  if (!placements[id]) return;
  stop(session);
  session.compare.against(null);
  session.choice.keys([]);
  const span = session.doc.openClip(id);
  if (!span) return;
  const { frame } = session.time.now;
  if (frame < span.first || frame > span.last) goTo(session, Math.round(span.first));
}

/** Closes the clip that is open. */
export function closeClip(session: Session): void {
  session.choice.keys([]);
  session.doc.openClip(null);
}
