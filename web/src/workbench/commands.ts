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
import { choose } from './actions/choosing';
import { redo, undo } from './actions/history';
import { dropLoose, keyNow, unkeyNow } from './actions/keying';
import { goTo, play, stop } from './actions/time';
import { valueOf } from './actions/values';
import { chooseTheme } from '../shared/theme';
import type { Session } from './session';
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
  stop(session);
  goTo(session, Math.round(session.time.now.frame) + by);
}

function leap(session: Session, frame: number): void {
  stop(session);
  goTo(session, frame);
}

function duplicate(session: Session): void {
  const { chosenKeys } = session.choice.now;
  const { shot } = session;
  const { frame } = session.time.now;
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
  const { chosenKeys, chosen } = session.choice.now;
  if (chosenKeys.length > 0) session.edit((shot) => removeKeys(shot, chosenKeys));
  else askToRemove(session, chosen);
}

function setLock(session: Session): void {
  const { shot } = session;
  const { chosen } = session.choice.now;
  if (chosen.length > 0)
    session.edit((now) => setLocked(now, chosen, !chosen.every((id) => shot.parts[id]?.locked)));
}

/** Chooses all parts that may be chosen. */
function chooseAll(session: Session): void {
  const { shot } = session;
  const { locked, away } = standingOf(shot);
  choose(
    session,
    Object.keys(shot.parts).filter((id) => !locked.has(id) && !away.has(id)),
  );
}

function ownForm(session: Session, form: 'shape' | 'look'): void {
  const id = session.choice.now.chosen.at(-1);
  if (id !== undefined) session.edit((shot) => makeOwn(shot, id, form));
}

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
    run: (s) => (s.time.now.playing ? stop(s) : play(s)),
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
    run: (s) => keyNow(s, channelsToKey(s)),
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
    run: (s) => unkeyNow(s, channelsToKey(s)),
  },
  {
    id: 'auto-key',
    group: 'Keys',
    label: 'Auto-key on or off',
    words: 'record',
    keys: 'a',
    shown: 'A',
    run: (s) => s.keying.toggleAutoKey(),
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
        s.edit((shot) => holdUntil(shot, addresses, s.time.now.frame, (address) => valueOf(s, address))),
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
      if (s.choice.now.chosenKeys.length > 1) s.edit((shot) => reverseKeys(shot, s.choice.now.chosenKeys));
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
    run: (s) => s.time.toggleSnap(),
  },
  {
    id: 'drop',
    group: 'Keys',
    label: 'Drop changes that were not keyed',
    run: (s) => dropLoose(s),
  },

  {
    id: 'foot-keys',
    group: 'Keys',
    label: 'Show the keys in the foot',
    words: 'timeline lanes curve curves',
    keys: '1',
    shown: '1',
    run: (s) => s.sheets.footTab('keys'),
  },
  ...LINK_COMMANDS,

  { id: 'pick', group: 'View', label: 'Pick', keys: 'q', shown: 'Q', run: (s) => s.view.take('pick') },
  { id: 'move', group: 'View', label: 'Move', keys: 'm', shown: 'M', run: (s) => s.view.take('move') },
  { id: 'turn', group: 'View', label: 'Turn', keys: 't', shown: 'T', run: (s) => s.view.take('turn') },
  { id: 'size', group: 'View', label: 'Size', keys: 'z', shown: 'Z', run: (s) => s.view.take('size') },
  { id: 'pivot', group: 'View', label: 'Pivot', keys: 'p', shown: 'P', run: (s) => s.view.take('pivot') },
  {
    id: 'measure',
    group: 'View',
    label: 'Measure',
    words: 'distance ruler angle',
    keys: 'd',
    shown: 'D',
    run: (s) => s.view.take('measure'),
  },
  {
    id: 'lock-x',
    group: 'View',
    label: 'Lock or free X',
    keys: 'alt+x',
    shown: 'Alt+X',
    run: (s) => s.view.toggleLock('x'),
  },
  {
    id: 'lock-y',
    group: 'View',
    label: 'Lock or free Y',
    keys: 'alt+y',
    shown: 'Alt+Y',
    run: (s) => s.view.toggleLock('y'),
  },
  {
    id: 'lock-z',
    group: 'View',
    label: 'Lock or free Z',
    keys: 'alt+z',
    shown: 'Alt+Z',
    run: (s) => s.view.toggleLock('z'),
  },
  {
    id: 'bring',
    group: 'View',
    label: 'Bring the chosen parts into view',
    words: 'zoom focus frame find',
    keys: 'b',
    shown: 'B',
    run: (s) => bringIntoView(s.choice.now.chosen),
  },
  {
    id: 'swap',
    group: 'View',
    label: 'Swap the viewfinder and the view',
    words: 'camera',
    keys: 'v',
    shown: 'V',
    run: (s) => s.view.swapShot(),
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
    run: (s) => s.view.toggle('trail'),
  },
  {
    id: 'ghosts',
    group: 'View',
    label: 'Ghosts on or off',
    words: 'before after',
    run: (s) => s.view.toggle('ghosts'),
  },
  {
    id: 'theme-day',
    group: 'View',
    label: 'Day colours',
    words: 'theme light bright colour',
    run: () => chooseTheme('day'),
  },
  {
    id: 'theme-evening',
    group: 'View',
    label: 'Evening colours',
    words: 'theme dark night colour',
    run: () => chooseTheme('evening'),
  },
  {
    id: 'theme-system',
    group: 'View',
    label: 'Colours as the system has them',
    words: 'theme dark light',
    run: () => chooseTheme('system'),
  },
  {
    id: 'draft-view',
    group: 'View',
    label: 'Draft view on or off',
    words: 'shadow shadows quality fast slow coarse',
    run: (s) => s.view.toggle('draft'),
  },
  {
    id: 'safe-area',
    group: 'View',
    label: 'Safe area on or off',
    words: 'title margin',
    run: (s) => s.view.toggle('safeArea'),
  },
  {
    id: 'beyond',
    group: 'View',
    label: 'Show what lies beyond the frame, or not',
    words: 'outside',
    run: (s) => s.view.toggle('beyond'),
  },
  {
    id: 'finder',
    group: 'View',
    label: 'Viewfinder: put away, small, large',
    words: 'camera preview',
    run: (s) =>
      s.view.find(
        { off: 'small', small: 'large', large: 'off' }[s.view.now.finder] as 'off' | 'small' | 'large',
      ),
  },
  { id: 'side-free', group: 'View', label: 'Look freely', run: (s) => s.view.look('free') },
  {
    id: 'side-front',
    group: 'View',
    label: 'Look from the front',
    words: 'view',
    run: (s) => s.view.look('front'),
  },
  {
    id: 'side-side',
    group: 'View',
    label: 'Look from the side',
    words: 'view',
    run: (s) => s.view.look('side'),
  },
  {
    id: 'side-top',
    group: 'View',
    label: 'Look from the top',
    words: 'view',
    run: (s) => s.view.look('top'),
  },

  {
    id: 'add',
    group: 'Parts',
    label: 'Add something, or bring files in',
    words: 'new insert import bring picture image mesh svg solid shape light camera',
    keys: 'n',
    shown: 'N',
    run: (s) => s.sheets.show('add'),
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
    run: (s) => s.sheets.rename(s.choice.now.chosen.at(-1) ?? null),
  },

  {
    id: 'catch-steps',
    group: 'View',
    label: 'Catch on steps while dragging, or not',
    words: 'snap grid increments',
    run: (s) => s.view.toggleSnap('grid'),
  },
  {
    id: 'catch-points',
    group: 'View',
    label: 'Catch on points of other parts while dragging, or not',
    words: 'snap corner vertex pivot middle magnet',
    run: (s) => s.view.toggleSnap('points'),
  },
  {
    id: 'checks',
    group: 'Edit',
    label: 'Check the shot: slip, seam of a loop, gears, what is never seen',
    words: 'checks problems errors warnings slips sliding rolling loop validate',
    run: (s) => s.sheets.show('render'),
  },
  { id: 'undo', group: 'Edit', label: 'Undo', keys: 'ctrl+z, meta+z', shown: 'Ctrl+Z', run: (s) => undo(s) },
  {
    id: 'redo',
    group: 'Edit',
    label: 'Redo',
    keys: 'ctrl+shift+z, meta+shift+z',
    shown: 'Ctrl+Shift+Z',
    run: (s) => redo(s),
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
      choose(s, []);
      s.choice.keys([]);
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
    run: (s) => s.sheets.show('shot'),
  },
  {
    id: 'render',
    group: 'Edit',
    label: 'Render',
    words: 'export save film video movie output picture image still mp4 webm png download',
    run: (s) => s.sheets.show('render'),
  },
  {
    id: 'search',
    group: 'Edit',
    label: 'Find a command, a part or a channel',
    keys: 'ctrl+k, meta+k',
    inFields: true,
    shown: 'Ctrl+K',
    run: (s) => s.sheets.show('search'),
  },
  {
    id: 'help',
    group: 'Edit',
    label: 'Show all keys',
    words: 'shortcuts manual',
    keys: 'shift+slash',
    shown: '?',
    run: (s) => s.sheets.show('keys'),
  },
];
