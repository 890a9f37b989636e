import { channelsReachedFrom, linkOf, subtreeOf, trackOf } from '../../../core/document';
import { removeKeys, removeParts } from '../../../core/edit';
import { lanesOf } from './lanes';
import { copyChosen } from './parts-panel';
import type { Session } from './session';
import { bringIntoView } from './view';
import { useFormulaDraft } from './formula-draft';

export interface Command {
  readonly id: string;
  readonly group: 'Play' | 'Keys' | 'View' | 'Edit';
  readonly label: string;
  /** Combinations as react-hotkeys-hook reads them. */
  readonly keys: string;
  /** How the keys are written in the help. */
  readonly shown: string;
  run(session: Session): void;
}

const PLACE = /^(location|rotation|scale)\./;

/** Channels that K keys: the chosen one, or the place of the chosen parts. */
function channelsToKey(session: Session): string[] {
  const { channel, chosen, loose } = session.state;
  const changed = Object.keys(loose);
  if (changed.length > 0) return changed;
  if (channel !== null && chosen.length <= 1) return [channel];
  return chosen.flatMap((id) => placeOf(session, id));
}

function placeOf(session: Session, id: string): string[] {
  return channelsReachedFrom(session.state.shot, id)
    .filter((channel) => channel.owner === id && PLACE.test(channel.path))
    .map((channel) => `${channel.owner}/${channel.path}`);
}

function step(session: Session, by: number): void {
  session.stop();
  session.goTo(Math.round(session.state.frame) + by);
}

/** Goes to the next or previous key of the chosen channel, or of everything when none is chosen. */
function toKey(session: Session, direction: 1 | -1): void {
  const { shot, channel, frame } = session.state;
  const own = channel === null ? null : trackOf(shot, channel);
  const frames = own
    ? Object.values(own.keys).map((key) => key.frame)
    : lanesOf(shot).flatMap((lane) => lane.keys.map((key) => key.frame));
  const ahead = frames.filter((at) => (at - frame) * direction > 1e-6);
  if (ahead.length === 0) return;
  session.stop();
  session.goTo(direction > 0 ? Math.min(...ahead) : Math.max(...ahead));
}

function toggleAxis(session: Session, axis: 'x' | 'y' | 'z'): void {
  const { lockedAxes } = session.state;
  session.store.setState({
    lockedAxes: lockedAxes.includes(axis)
      ? lockedAxes.filter((other) => other !== axis)
      : [...lockedAxes, axis],
  });
}

/** Everything that has keys of its own; the help and the key handling are made from this list. */
export const COMMANDS: readonly Command[] = [
  {
    id: 'play',
    group: 'Play',
    label: 'Play or stop',
    keys: 'space',
    shown: 'Space',
    run: (s) => (s.state.playing ? s.stop() : s.play()),
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
    run: (s) => {
      s.stop();
      s.goTo(s.state.shot.setup.first);
    },
  },
  {
    id: 'last',
    group: 'Play',
    label: 'Last frame',
    keys: 'end',
    shown: 'End',
    run: (s) => {
      s.stop();
      s.goTo(s.state.shot.setup.last);
    },
  },
  {
    id: 'key-before',
    group: 'Keys',
    label: 'Previous key',
    keys: 'bracketleft',
    shown: '[',
    run: (s) => toKey(s, -1),
  },
  {
    id: 'key-after',
    group: 'Keys',
    label: 'Next key',
    keys: 'bracketright',
    shown: ']',
    run: (s) => toKey(s, 1),
  },
  {
    id: 'key',
    group: 'Keys',
    label: 'Key what was changed, the chosen channel, or the place of the part',
    keys: 'k',
    shown: 'K',
    run: (s) => s.keyNow(channelsToKey(s)),
  },
  {
    id: 'pose',
    group: 'Keys',
    label: 'Key the pose of the part and all below it',
    keys: 'j',
    shown: 'J',
    run: (s) => keyPose(s),
  },
  {
    id: 'unkey',
    group: 'Keys',
    label: 'Remove the key here',
    keys: 'shift+k',
    shown: 'Shift+K',
    run: (s) => s.unkeyNow(channelsToKey(s)),
  },
  {
    id: 'auto-key',
    group: 'Keys',
    label: 'Auto-key on or off',
    keys: 'a',
    shown: 'A',
    run: (s) => s.store.setState({ autoKey: !s.state.autoKey }),
  },
  {
    id: 'pick',
    group: 'View',
    label: 'Pick',
    keys: 'q',
    shown: 'Q',
    run: (s) => s.store.setState({ tool: 'pick' }),
  },
  {
    id: 'move',
    group: 'View',
    label: 'Move',
    keys: 'm',
    shown: 'M',
    run: (s) => s.store.setState({ tool: 'move' }),
  },
  {
    id: 'turn',
    group: 'View',
    label: 'Turn',
    keys: 't',
    shown: 'T',
    run: (s) => s.store.setState({ tool: 'turn' }),
  },
  {
    id: 'lock-x',
    group: 'View',
    label: 'Lock or free X',
    keys: 'ctrl+x',
    shown: 'Ctrl+X',
    run: (s) => toggleAxis(s, 'x'),
  },
  {
    id: 'lock-y',
    group: 'View',
    label: 'Lock or free Y',
    keys: 'ctrl+y',
    shown: 'Ctrl+Y',
    run: (s) => toggleAxis(s, 'y'),
  },
  {
    id: 'bring',
    group: 'View',
    label: 'Bring the chosen parts into view',
    keys: 'b',
    shown: 'B',
    run: (s) => bringIntoView(s.state.chosen),
  },
  {
    id: 'swap',
    group: 'View',
    label: 'Look through the camera and back',
    keys: 'v',
    shown: 'V',
    run: (s) => s.store.setState({ side: s.state.side === 'shot' ? 'free' : 'shot' }),
  },
  {
    id: 'formula',
    group: 'Edit',
    label: 'Start a formula for the chosen channel',
    keys: 'equal',
    shown: '=',
    run: () => useFormulaDraft.getState().focusBar(true),
  },
  { id: 'undo', group: 'Edit', label: 'Undo', keys: 'ctrl+z, meta+z', shown: 'Ctrl+Z', run: (s) => s.undo() },
  {
    id: 'redo',
    group: 'Edit',
    label: 'Redo',
    keys: 'ctrl+shift+z, meta+shift+z',
    shown: 'Ctrl+Shift+Z',
    run: (s) => s.redo(),
  },
  {
    id: 'copy',
    group: 'Edit',
    label: 'Linked copy of the chosen parts',
    keys: 'ctrl+d, meta+d',
    shown: 'Ctrl+D',
    run: (s) => copyChosen(s),
  },
  {
    id: 'delete',
    group: 'Edit',
    label: 'Delete the chosen keys, or the chosen parts',
    keys: 'delete, backspace',
    shown: 'Delete',
    run: (s) => deleteChosen(s),
  },
  {
    id: 'nothing',
    group: 'Edit',
    label: 'Choose nothing',
    keys: 'escape',
    shown: 'Esc',
    run: (s) => s.store.setState({ chosen: [], chosenKeys: [] }),
  },
];

/** Keys the place of the chosen part and everything below it, as far as it is not linked. */
export function keyPose(session: Session): void {
  const { shot, chosen } = session.state;
  const ids = [...new Set(chosen.flatMap((id) => subtreeOf(shot, id)))];
  session.keyNow(ids.flatMap((id) => placeOf(session, id)).filter((address) => !linkOf(shot, address)));
}

function deleteChosen(session: Session): void {
  const { chosenKeys, chosen } = session.state;
  if (chosenKeys.length > 0) session.edit((shot) => removeKeys(shot, chosenKeys));
  else if (chosen.length > 0) session.edit((shot) => removeParts(shot, chosen));
}
