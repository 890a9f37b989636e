import { toast } from 'sonner';
import { trackOf } from '../../../core/document';
import {
  addMarker,
  closeLoop,
  duplicateKeys,
  holdUntil,
  makeOwn,
  removeKeys,
  reverseKeys,
  setLocked,
  standingOf,
  type StretchManner,
} from '../../../core/edit';
import { copyChosen, copyChosenPose, firstToLast, pasteCopied, pasteCopiedPose } from './copy-paste';
import {
  channelsToKey,
  chooseKeysHere,
  deleteAllKeys,
  easeHere,
  keyPose,
  toKey,
  withKeyed,
} from './key-commands';
import { LINK_COMMANDS } from './links/command-list';
import { focusPanel, nextPanel } from './panels';
import {
  askToRemove,
  copyLinked,
  duplicateChosen,
  groupChosen,
  hangBelowLast,
  mirrorChosen,
  putHubAbove,
  takeOut,
} from './parts/parts-actions';
import type { Session, SessionState } from './session';
import { setDraft } from './view/draft';
import { putCameraAt } from './view/fly';
import { bringIntoView, freeViewMatrix } from './view/view-commands';

export type CommandGroup = 'Play' | 'Keys' | 'Links' | 'View' | 'Parts' | 'Edit';

/** Something that can be done. The keys, the help and the search are all made from the list of these. */
export interface Command {
  readonly id: string;
  readonly group: CommandGroup;
  readonly label: string;
  /** Combinations as react-hotkeys-hook reads them; missing for what is reached by search and menus only. */
  readonly keys?: string;
  /** Works while something is typed, too. */
  readonly inFields?: boolean;
  /** How the keys are written in the help. */
  readonly shown?: string;
  /** Other words by which people look for it. */
  readonly words?: string;
  run(session: Session): void;
}

function step(session: Session, by: number): void {
  session.stop();
  session.goTo(Math.round(session.state.frame) + by);
}

function goTo(session: Session, frame: number): void {
  session.stop();
  session.goTo(frame);
}

function toggleAxis(session: Session, axis: 'x' | 'y' | 'z'): void {
  const { lockedAxes } = session.state;
  session.store.setState({
    lockedAxes: lockedAxes.includes(axis)
      ? lockedAxes.filter((other) => other !== axis)
      : [...lockedAxes, axis],
  });
}

function duplicate(session: Session): void {
  const { chosenKeys, shot, frame } = session.state;
  if (chosenKeys.length === 0) {
    copyLinked(session);
    return;
  }
  const frames = chosenKeys.flatMap(({ address, key }) => trackOf(shot, address)?.keys[key]?.frame ?? []);
  const by = frame - Math.min(...frames);
  if (by === 0) toast('Go to the frame where the copies of the keys are to begin, then press Ctrl+D.');
  else session.edit((now) => duplicateKeys(now, chosenKeys, by));
}

function remove(session: Session): void {
  const { chosenKeys, chosen } = session.state;
  if (chosenKeys.length > 0) session.edit((shot) => removeKeys(shot, chosenKeys));
  else askToRemove(session, chosen);
}

function setLock(session: Session): void {
  const { shot, chosen } = session.state;
  if (chosen.length > 0)
    session.edit((now) => setLocked(now, chosen, !chosen.every((id) => shot.parts[id]?.locked)));
}

/** Chooses all parts that may be chosen. */
function chooseAll(session: Session): void {
  const { shot } = session.state;
  const { locked, away } = standingOf(shot);
  session.choose(Object.keys(shot.parts).filter((id) => !locked.has(id) && !away.has(id)));
}

function ownForm(session: Session, form: 'shape' | 'look'): void {
  const id = session.state.chosen.at(-1);
  if (id !== undefined) session.edit((shot) => makeOwn(shot, id, form));
}

const set = (state: Partial<SessionState>) => (session: Session) => session.store.setState(state);

/** Manners that are reached by search: what they are, and the words by which people look for them. */
const EASES: readonly (readonly [StretchManner, string, string])[] = [
  ['hold', 'Hold', 'step constant stop switch'],
  ['linear', 'Straight', 'linear even'],
  ['smooth', 'Smooth', 'auto spline'],
  ['ease-in', 'Ease in', 'slow start accelerate'],
  ['ease-out', 'Ease out', 'slow end decelerate'],
  ['ease-in-out', 'Ease both', 'slow start end in out'],
];

export const COMMANDS: readonly Command[] = [
  {
    id: 'play',
    group: 'Play',
    label: 'Play or stop',
    words: 'preview watch run start pause',
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
    run: (s) => goTo(s, s.state.shot.setup.first),
  },
  {
    id: 'last',
    group: 'Play',
    label: 'Last frame',
    keys: 'end',
    shown: 'End',
    run: (s) => goTo(s, s.state.shot.setup.last),
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
        (shot) => addMarker(shot, s.state.frame, `Marker ${Object.keys(shot.markers).length + 1}`).change,
      ),
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
    label: 'Key what was changed, the chosen channel, or the key set of the chosen parts',
    words: 'keyframe record set animate',
    keys: 'k',
    shown: 'K',
    run: (s) => s.keyNow(channelsToKey(s)),
  },
  {
    id: 'pose',
    group: 'Keys',
    label: 'Key the pose of the chosen parts and all below them',
    words: 'keyframe record puppet',
    keys: 'j',
    shown: 'J',
    run: keyPose,
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
    words: 'record',
    keys: 'a',
    shown: 'A',
    run: (s) => s.store.setState({ autoKey: !s.state.autoKey }),
  },
  {
    id: 'hold',
    group: 'Keys',
    label: 'Hold until here',
    words: 'step freeze stop pause',
    keys: 'h',
    shown: 'H',
    run: (s) =>
      withKeyed(s, (addresses) =>
        s.edit((shot) => holdUntil(shot, addresses, s.state.frame, (address) => s.valueOf(address))),
      ),
  },
  {
    id: 'keys-here',
    group: 'Keys',
    label: 'Choose the keys at this frame',
    keys: 'e',
    shown: 'E',
    run: chooseKeysHere,
  },
  {
    id: 'reverse',
    group: 'Keys',
    label: 'Reverse the chosen keys',
    keys: 'shift+r',
    shown: 'Shift+R',
    run: (s) => {
      if (s.state.chosenKeys.length > 1) s.edit((shot) => reverseKeys(shot, s.state.chosenKeys));
      else toast('Choose two keys or more: drag a box round them.');
    },
  },
  {
    id: 'copy-pose',
    group: 'Keys',
    label: 'Copy the pose',
    words: 'puppet',
    keys: 'shift+j',
    shown: 'Shift+J',
    run: copyChosenPose,
  },
  {
    id: 'paste-pose',
    group: 'Keys',
    label: 'Paste the pose at this frame',
    keys: 'alt+j',
    shown: 'Alt+J',
    run: (s) => pasteCopiedPose(s, false),
  },
  {
    id: 'paste-mirrored',
    group: 'Keys',
    label: 'Paste the pose mirrored, left to right by name',
    keys: 'alt+shift+j',
    shown: 'Alt+Shift+J',
    run: (s) => pasteCopiedPose(s, true),
  },
  {
    id: 'delete-keys',
    group: 'Keys',
    label: 'Delete all keys of the chosen parts and all below them',
    words: 'remove clear animation',
    run: (s) => deleteAllKeys(s, 'chosen'),
  },
  {
    id: 'delete-keys-shot',
    group: 'Keys',
    label: 'Delete all keys of the shot',
    words: 'remove clear animation everything',
    run: (s) => deleteAllKeys(s, 'shot'),
  },
  {
    id: 'first-to-last',
    group: 'Keys',
    label: 'Copy the first pose to the last frame',
    words: 'loop cycle',
    run: firstToLast,
  },
  {
    id: 'close-loop',
    group: 'Keys',
    label: 'Close the loop: first value and slope to the last frame',
    words: 'cycle repeat curve',
    run: (s) => withKeyed(s, (addresses) => s.edit((shot) => closeLoop(shot, addresses, shot.setup.last))),
  },
  ...EASES.map(([manner, label, words]): Command => ({
    id: `stretch-${manner}`,
    group: 'Keys',
    label: `${label}: how the chosen channel moves round this frame`,
    words: `manner interpolation curve tangent ${words}`,
    run: (s) => easeHere(s, manner),
  })),
  {
    id: 'snap-keys',
    group: 'Keys',
    label: 'Snap dragged keys, or not',
    words: 'catch magnet whole frames grid',
    run: (s) => s.store.setState({ keySnap: !s.state.keySnap }),
  },
  {
    id: 'drop',
    group: 'Keys',
    label: 'Drop changes that were not keyed',
    run: (s) => s.dropLoose(),
  },

  {
    id: 'foot-keys',
    group: 'Keys',
    label: 'Show the keys in the foot',
    words: 'timeline lanes curve curves',
    keys: '1',
    shown: '1',
    run: set({ foot: 'keys' }),
  },
  ...LINK_COMMANDS,

  { id: 'pick', group: 'View', label: 'Pick', keys: 'q', shown: 'Q', run: set({ tool: 'pick' }) },
  { id: 'move', group: 'View', label: 'Move', keys: 'm', shown: 'M', run: set({ tool: 'move' }) },
  { id: 'turn', group: 'View', label: 'Turn', keys: 't', shown: 'T', run: set({ tool: 'turn' }) },
  { id: 'size', group: 'View', label: 'Size', keys: 'z', shown: 'Z', run: set({ tool: 'size' }) },
  { id: 'pivot', group: 'View', label: 'Pivot', keys: 'p', shown: 'P', run: set({ tool: 'pivot' }) },
  {
    id: 'measure',
    group: 'View',
    label: 'Measure',
    words: 'distance ruler angle',
    keys: 'd',
    shown: 'D',
    run: set({ tool: 'measure' }),
  },
  {
    id: 'lock-x',
    group: 'View',
    label: 'Lock or free X',
    keys: 'alt+x',
    shown: 'Alt+X',
    run: (s) => toggleAxis(s, 'x'),
  },
  {
    id: 'lock-y',
    group: 'View',
    label: 'Lock or free Y',
    keys: 'alt+y',
    shown: 'Alt+Y',
    run: (s) => toggleAxis(s, 'y'),
  },
  {
    id: 'lock-z',
    group: 'View',
    label: 'Lock or free Z',
    keys: 'alt+z',
    shown: 'Alt+Z',
    run: (s) => toggleAxis(s, 'z'),
  },
  {
    id: 'bring',
    group: 'View',
    label: 'Bring the chosen parts into view',
    words: 'zoom focus frame find',
    keys: 'b',
    shown: 'B',
    run: (s) => bringIntoView(s.state.chosen),
  },
  {
    id: 'swap',
    group: 'View',
    label: 'Swap the viewfinder and the view',
    words: 'camera',
    keys: 'v',
    shown: 'V',
    run: (s) => s.store.setState({ side: s.state.side === 'shot' ? 'free' : 'shot' }),
  },
  {
    id: 'camera-here',
    group: 'View',
    label: 'Put the camera here, where the free view looks from',
    words: 'match',
    keys: 'shift+v',
    shown: 'Shift+V',
    run: (s) => {
      const matrix = freeViewMatrix();
      if (matrix) putCameraAt(s, matrix);
    },
  },
  {
    id: 'trail',
    group: 'View',
    label: 'Trail on or off',
    words: 'motion path spacing arc curve',
    run: (s) => s.store.setState({ trail: !s.state.trail }),
  },
  {
    id: 'ghosts',
    group: 'View',
    label: 'Ghosts on or off',
    words: 'before after',
    run: (s) => s.store.setState({ ghosts: !s.state.ghosts }),
  },
  {
    id: 'draft-view',
    group: 'View',
    label: 'Draft view on or off',
    words: 'shadow shadows quality fast slow coarse',
    run: (s) => setDraft(s, !s.state.draft),
  },
  {
    id: 'safe-area',
    group: 'View',
    label: 'Safe area on or off',
    words: 'title margin',
    run: (s) => s.store.setState({ safeArea: !s.state.safeArea }),
  },
  {
    id: 'beyond',
    group: 'View',
    label: 'Show what lies beyond the frame, or not',
    words: 'outside',
    run: (s) => s.store.setState({ beyond: !s.state.beyond }),
  },
  {
    id: 'finder',
    group: 'View',
    label: 'Viewfinder: put away, small, large',
    words: 'camera preview',
    run: (s) =>
      s.store.setState({
        finder: { off: 'small', small: 'large', large: 'off' }[s.state.finder] as 'off' | 'small' | 'large',
      }),
  },
  { id: 'side-free', group: 'View', label: 'Look freely', run: set({ side: 'free' }) },
  {
    id: 'side-front',
    group: 'View',
    label: 'Look from the front',
    words: 'view',
    run: set({ side: 'front' }),
  },
  { id: 'side-side', group: 'View', label: 'Look from the side', words: 'view', run: set({ side: 'side' }) },
  { id: 'side-top', group: 'View', label: 'Look from the top', words: 'view', run: set({ side: 'top' }) },

  {
    id: 'add',
    group: 'Parts',
    label: 'Add something, or bring files in',
    words: 'new insert import bring picture image mesh svg solid shape light camera',
    keys: 'n',
    shown: 'N',
    run: set({ open: 'add' }),
  },
  {
    id: 'copy-linked',
    group: 'Parts',
    label: 'Linked copy of the chosen parts (or copies of the chosen keys)',
    words: 'instance clone again',
    keys: 'ctrl+d, meta+d',
    shown: 'Ctrl+D',
    run: duplicate,
  },
  {
    id: 'duplicate',
    group: 'Parts',
    label: 'Duplicate with shape and look of its own',
    words: 'clone again',
    keys: 'ctrl+shift+d, meta+shift+d',
    shown: 'Ctrl+Shift+D',
    run: duplicateChosen,
  },
  { id: 'mirror-x', group: 'Parts', label: 'Mirrored copy across X', run: (s) => mirrorChosen(s, 'x') },
  { id: 'mirror-y', group: 'Parts', label: 'Mirrored copy across Y', run: (s) => mirrorChosen(s, 'y') },
  { id: 'mirror-z', group: 'Parts', label: 'Mirrored copy across Z', run: (s) => mirrorChosen(s, 'z') },
  {
    id: 'group',
    group: 'Parts',
    label: 'Group the chosen parts',
    words: 'parent hub',
    keys: 'ctrl+g, meta+g',
    shown: 'Ctrl+G',
    run: groupChosen,
  },
  {
    id: 'hub-above',
    group: 'Parts',
    label: 'Put a hub above',
    words: 'parent pivot helper',
    keys: 'shift+h',
    shown: 'Shift+H',
    run: putHubAbove,
  },
  {
    id: 'hang',
    group: 'Parts',
    label: 'Hang the chosen parts below the last chosen one',
    words: 'parent child attach',
    keys: 'shift+p',
    shown: 'Shift+P',
    run: hangBelowLast,
  },
  {
    id: 'take-out',
    group: 'Parts',
    label: 'Take out of what it hangs from',
    words: 'unparent detach',
    keys: 'shift+o',
    shown: 'Shift+O',
    run: takeOut,
  },
  {
    id: 'own-shape',
    group: 'Parts',
    label: 'Make its own shape: the chosen part shares it no longer',
    words: 'unlink',
    run: (s) => ownForm(s, 'shape'),
  },
  {
    id: 'own-look',
    group: 'Parts',
    label: 'Make its own look: the chosen part shares it no longer',
    words: 'material colour unlink',
    run: (s) => ownForm(s, 'look'),
  },
  {
    id: 'lock',
    group: 'Parts',
    label: 'Lock or unlock the chosen parts',
    words: 'protect',
    keys: 'shift+l',
    shown: 'Shift+L',
    run: setLock,
  },
  {
    id: 'rename',
    group: 'Parts',
    label: 'Rename the chosen part',
    keys: 'f2',
    shown: 'F2',
    run: (s) => s.store.setState({ renaming: s.state.chosen.at(-1) ?? null }),
  },

  {
    id: 'catch-steps',
    group: 'View',
    label: 'Catch on steps while dragging, or not',
    words: 'snap grid increments',
    run: (s) => s.store.setState({ snap: { ...s.state.snap, grid: !s.state.snap.grid } }),
  },
  {
    id: 'catch-points',
    group: 'View',
    label: 'Catch on points of other parts while dragging, or not',
    words: 'snap corner vertex pivot middle magnet',
    run: (s) => s.store.setState({ snap: { ...s.state.snap, points: !s.state.snap.points } }),
  },
  {
    id: 'checks',
    group: 'Edit',
    label: 'Check the shot: slip, seam of a loop, gears, what is never seen',
    words: 'checks problems errors warnings slips sliding rolling loop validate',
    run: set({ open: 'render' }),
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
    label: 'Copy the chosen keys, or the values of the part',
    keys: 'ctrl+c, meta+c',
    shown: 'Ctrl+C',
    run: copyChosen,
  },
  {
    id: 'paste',
    group: 'Edit',
    label: 'Paste keys, values or a pose',
    keys: 'ctrl+v, meta+v',
    shown: 'Ctrl+V',
    run: pasteCopied,
  },
  {
    id: 'all',
    group: 'Edit',
    label: 'Choose all parts',
    keys: 'ctrl+a, meta+a',
    shown: 'Ctrl+A',
    run: chooseAll,
  },
  {
    id: 'nothing',
    group: 'Edit',
    label: 'Choose nothing',
    keys: 'escape',
    shown: 'Esc',
    run: (s) => {
      s.choose([]);
      s.store.setState({ chosenKeys: [] });
    },
  },
  {
    id: 'delete',
    group: 'Edit',
    label: 'Delete the chosen keys, or the chosen parts',
    words: 'remove',
    keys: 'delete, backspace',
    shown: 'Delete',
    run: remove,
  },
  {
    id: 'panel-on',
    group: 'Edit',
    label: 'On to the next panel: parts, values, lanes',
    keys: 'f6',
    inFields: true,
    shown: 'F6',
    run: () => nextPanel(1),
  },
  {
    id: 'panel-back',
    group: 'Edit',
    label: 'Back to the panel before',
    keys: 'shift+f6',
    inFields: true,
    shown: 'Shift+F6',
    run: () => nextPanel(-1),
  },
  {
    id: 'shot',
    group: 'Edit',
    label: 'Set up the shot: name, size, rate, range, unit',
    words: 'fps resolution frame rate setup settings background',
    keys: 'shift+s',
    shown: 'Shift+S',
    run: set({ open: 'shot' }),
  },
  {
    id: 'render',
    group: 'Edit',
    label: 'Render',
    words: 'export save film video movie output picture image still mp4 webm png download',
    run: set({ open: 'render' }),
  },
  {
    id: 'search',
    group: 'Edit',
    label: 'Find a command, a part or a channel',
    keys: 'ctrl+k, meta+k',
    inFields: true,
    shown: 'Ctrl+K',
    run: set({ open: 'search' }),
  },
  {
    id: 'help',
    group: 'Edit',
    label: 'Show all keys',
    words: 'shortcuts manual',
    keys: 'shift+slash',
    shown: '?',
    run: set({ open: 'keys' }),
  },
];
