import { toast } from 'sonner';
import { keyList, trackOf } from '../../../../core/document';
import { channelName } from '../../../../core/edit';
import type { Loose } from '../../shot/history';
import type { Session } from '../session';
import { drawAhead, stopDrawing } from '../view/view-commands';

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

/** Plays the stretch of the chosen keys over and over; the stretch round this frame where none are chosen. */
export function playStretch(session: Session): void {
  if (session.time.now.playing) {
    stop(session);
    return;
  }
  const { shot } = session;
  const { chosenKeys, channel } = session.choice.now;
  const { frame } = session.time.now;
  let frames = chosenKeys.flatMap(({ address, key }) => trackOf(shot, address)?.keys[key]?.frame ?? []);
  if (frames.length < 2) {
    const track = channel === null ? null : trackOf(shot, channel);
    const keys = track ? keyList(track).map((key) => key.frame) : [];
    const at = frames[0] ?? frame;
    frames = [keys.findLast((key) => key <= at) ?? NaN, keys.find((key) => key > at) ?? NaN];
  }
  const [first, last] = [Math.ceil(Math.min(...frames)), Math.floor(Math.max(...frames))];
  if (!(last > first)) {
    toast(
      'Choose two keys or more: what lies between them is played. Or choose a channel and go between two of its keys.',
    );
    return;
  }
  goTo(session, first);
  session.player.play(first, { first, last });
}

export const stop = (session: Session): void => session.player.stop();

/** Draws the pictures of the whole range, so that play-back only puts them up. Escape stops it. */
export async function drawRangeAhead(session: Session): Promise<void> {
  if (session.time.now.drawing) return;
  stop(session);
  const { first, last } = session.shot.setup;
  const enough = new AbortController();
  addEventListener(
    'keydown',
    (event) => {
      if (event.key !== 'Escape') return;
      event.stopPropagation();
      stopDrawing();
    },
    { signal: enough.signal, capture: true },
  );
  const all = await drawAhead(first, last);
  enough.abort();
  const count = session.time.now.drawn.reduce((sum, { from, to }) => sum + to - from + 1, 0);
  if (!all && count > 0)
    toast(`${count} of ${last - first + 1} frames are drawn ahead. Those play without being drawn again.`);
}
