import { linkOf, partDefinition } from '../../../../core/document';
import type { Session } from '../session';
import type { Copied } from '../state/clipboard';

/** Parts that are chosen and still there. */
function chosenParts(session: Session): readonly string[] {
  return session.choice.now.chosen.filter((id) => session.shot.parts[id]);
}

export const someChosen = (session: Session): boolean => chosenParts(session).length > 0;

export const severalChosen = (session: Session): boolean => chosenParts(session).length > 1;

export const someChosenOrKeys = (session: Session): boolean =>
  someChosen(session) || session.choice.now.chosenKeys.length > 0;

export const severalKeys = (session: Session): boolean => session.choice.now.chosenKeys.length > 1;

/** Something chosen hangs from another part. */
export const someHang = (session: Session): boolean =>
  chosenParts(session).some((id) => session.shot.parts[id]!.parent !== null);

export const someSolid = (session: Session): boolean =>
  chosenParts(session).some((id) => partDefinition(session.shot.parts[id]!.kind).solid);

/** Something chosen faces another part or is carried along a path. */
export const someCarried = (session: Session): boolean =>
  chosenParts(session).some((id) => Boolean(session.shot.parts[id]!.aim ?? session.shot.parts[id]!.follow));

export const repeatChosen = (session: Session): boolean =>
  session.shot.parts[chosenParts(session).at(-1) ?? '']?.kind === 'repeat';

export const someLoose = (session: Session): boolean => Object.keys(session.keying.now.loose).length > 0;

export const canUndo = (session: Session): boolean => session.doc.now.undo.length > 0;

export const canRedo = (session: Session): boolean => session.doc.now.redo.length > 0;

export const holdsAny = (session: Session): boolean => session.clipboard.now.copied !== null;

/** Something of a kind has been copied. */
export const holds =
  (kind: Copied['kind']) =>
  (session: Session): boolean =>
    session.clipboard.now.copied?.kind === kind;

export const channelChosen = (session: Session): boolean => session.choice.now.channel !== null;

export const channelLinked = (session: Session): boolean => {
  const { channel } = session.choice.now;
  return channel !== null && linkOf(session.shot, channel) !== null;
};
