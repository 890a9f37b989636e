import { toast } from 'sonner';
import { channelName } from '../../../../core/edit';
import type { Loose } from '../../shot/history';
import type { Session } from '../session';

/** Goes to a frame. Values changed and not keyed are lost by it: that is said, and undo brings them back. */
export function goTo(session: Session, frame: number): void {
  const { frame: from } = session.time.now;
  const { loose } = session.keying.now;
  if (frame === from) return;
  const dropped = Object.keys(loose);
  if (dropped.length > 0) {
    session.keying.letGo();
    session.doc.recordDropped(from, loose);
    toast(
      `${dropped.length === 1 ? channelName(session.shot, dropped[0]!) : `${dropped.length} values`} changed at frame ${from} and not keyed: dropped.`,
      {
        action: {
          label: 'Bring back',
          onClick: () => {
            session.doc.forgetDropped(loose);
            bringBack(session, from, loose);
          },
        },
      },
    );
  }
  session.time.at(frame);
  session.evaluate();
}

/** Goes back to a frame with the values that were changed there. */
export function bringBack(session: Session, frame: number, loose: Loose): void {
  session.time.at(frame);
  session.keying.hold(loose);
  session.evaluate();
}

/** Plays from here at the shot's rate, from the first frame when the last is reached. */
export function play(session: Session): void {
  const { frame, playing } = session.time.now;
  if (playing) return;
  const { first, last } = session.shot.setup;
  const from = frame >= last ? first : Math.max(first, Math.floor(frame));
  goTo(session, from);
  session.player.play(from);
}

export const stop = (session: Session): void => session.player.stop();
