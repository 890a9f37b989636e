import { addMarker, clearBeats, markBeats } from '../../../../core/edit';
import { drawRangeAhead, goTo, play, playStretch, stop } from '../actions/time';
import { focusPanel } from '../panels';
import { saveMix } from '../sound/save-mix';
import type { Session } from '../session';
import type { Command } from './command';

function step(session: Session, by: number): void {
  stop(session);
  goTo(session, Math.round(session.time.now.frame) + by);
}

function leap(session: Session, frame: number): void {
  stop(session);
  goTo(session, frame);
}

export const PLAY_COMMANDS: readonly Command[] = [
  {
    id: 'play',
    group: 'Play',
    label: 'Play or stop',
    words: 'preview watch run start pause',
    keys: 'space',
    shown: 'Space',
    run: (s) => (s.time.now.playing ? stop(s) : play(s)),
  },
  {
    id: 'play-stretch',
    group: 'Play',
    label: 'Play the chosen stretch over and over, or stop',
    words: 'preview loop range selection between keys',
    keys: 'shift+space',
    shown: 'Shift+Space',
    run: playStretch,
  },
  {
    id: 'play-once',
    group: 'Play',
    label: 'Play over and over, or once',
    words: 'loop repeat',
    run: (s) => s.time.toggleLoop(),
  },
  {
    id: 'play-held',
    group: 'Play',
    label: 'Show every frame, on twos or on threes while playing',
    words: 'hold stepped stop motion',
    run: (s) => s.time.holdPictures(({ 1: 2, 2: 3, 3: 1 } as const)[s.time.now.hold]),
  },
  {
    id: 'save-mix',
    group: 'Play',
    label: 'Save the sound of the shot as a WAV file',
    words: 'mix audio export download music',
    when: (s) => Object.keys(s.shot.sounds).length > 0,
    run: (s) => void saveMix(s),
  },
  {
    id: 'tap-beat',
    group: 'Play',
    label: 'Tap a beat at this frame, also while it plays',
    words: 'mark rhythm music tempo sound',
    keys: 'shift+b',
    shown: 'Shift+B',
    run: (s) => s.edit((shot) => markBeats(shot, [Math.round(s.time.now.frame)], false)),
  },
  {
    id: 'clear-beats',
    group: 'Play',
    label: 'Take all beats away',
    words: 'remove rhythm music sound',
    run: (s) => s.edit(clearBeats),
  },
  {
    id: 'draw-ahead',
    group: 'Play',
    label: 'Draw the range ahead, so that it plays at its rate',
    words: 'cache preview slow smooth compute',
    run: (s) => void drawRangeAhead(s),
  },
  {
    id: 'small-film',
    group: 'Play',
    label: 'Small film of the range, with the number of each frame',
    words: 'preview quick draft video burnt timing check try',
    run: (s) => s.sheets.show('small-film'),
  },
  { id: 'back', group: 'Play', label: 'One frame back', keys: 'left', shown: '←', run: (s) => step(s, -1) },
  { id: 'on', group: 'Play', label: 'One frame on', keys: 'right', shown: '→', run: (s) => step(s, 1) },
  {
    id: 'back10',
    group: 'Play',
    label: 'Ten frames back',
    keys: 'shift+left',
    shown: 'Shift+←',
    run: (s) => step(s, -10),
  },
  {
    id: 'on10',
    group: 'Play',
    label: 'Ten frames on',
    keys: 'shift+right',
    shown: 'Shift+→',
    run: (s) => step(s, 10),
  },
  {
    id: 'first',
    group: 'Play',
    label: 'First frame',
    keys: 'home',
    shown: 'Home',
    run: (s) => leap(s, s.shot.setup.first),
  },
  {
    id: 'last',
    group: 'Play',
    label: 'Last frame',
    keys: 'end',
    shown: 'End',
    run: (s) => leap(s, s.shot.setup.last),
  },
  {
    id: 'to-frame',
    group: 'Play',
    label: 'Go to a frame: type it',
    words: 'jump timecode time',
    keys: 'f',
    shown: 'F',
    run: () => focusPanel('frame'),
  },
  {
    id: 'mark',
    group: 'Play',
    label: 'Put a marker at this frame',
    words: 'bookmark beat note sound music',
    keys: 'shift+m',
    shown: 'Shift+M',
    run: (s) =>
      s.edit(
        (shot) => addMarker(shot, s.time.now.frame, `Marker ${Object.keys(shot.markers).length + 1}`).change,
      ),
  },
];
