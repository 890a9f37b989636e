import { toast } from 'sonner';
import { closeLoop, holdUntil, reverseKeys, type StretchManner } from '../../../../core/edit';
import { seeBefore } from '../actions/history';
import { dropLoose, keyNow, unkeyNow } from '../actions/keying';
import { valueOf } from '../actions/values';
import { copyChosenPose, firstToLast, pasteCopiedPose } from '../copy-paste';
import {
  channelsToKey,
  chooseKeysHere,
  deleteAllKeys,
  easeHere,
  keyPose,
  toKey,
  withKeyed,
} from '../key-commands';
import type { Command } from './command';
import { holds, severalKeys, someChosen, someLoose } from './when';

/** Manners that are reached by search: what they are, and the words by which people look for them. */
const EASES: readonly (readonly [StretchManner, string, string])[] = [
  ['hold', 'Hold', 'step constant stop switch'],
  ['linear', 'Straight', 'linear even'],
  ['smooth', 'Smooth', 'auto spline'],
  ['ease-in', 'Ease in', 'slow start accelerate'],
  ['ease-out', 'Ease out', 'slow end decelerate'],
  ['ease-in-out', 'Ease both', 'slow start end in out'],
];

export const KEYS_COMMANDS: readonly Command[] = [
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
    id: 'take-apart',
    group: 'Keys',
    label: 'Take apart: the chosen parts travel out one after another, and back',
    words: 'explode exploded disassemble assembly travel out',
    when: someChosen,
    run: (s) => s.sheets.show('apart'),
  },
  {
    id: 'pose',
    group: 'Keys',
    label: 'Key the pose of the chosen parts and all below them',
    words: 'keyframe record puppet',
    keys: 'j',
    shown: 'J',
    when: someChosen,
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
    when: severalKeys,
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
    when: someChosen,
    run: copyChosenPose,
  },
  {
    id: 'paste-pose',
    group: 'Keys',
    label: 'Paste the pose at this frame',
    keys: 'alt+j',
    shown: 'Alt+J',
    when: holds('pose'),
    run: (s) => pasteCopiedPose(s, false),
  },
  {
    id: 'paste-mirrored',
    group: 'Keys',
    label: 'Paste the pose mirrored, left to right by name',
    keys: 'alt+shift+j',
    shown: 'Alt+Shift+J',
    when: holds('pose'),
    run: (s) => pasteCopiedPose(s, true),
  },
  {
    id: 'poses',
    group: 'Keys',
    label: 'Poses: keep that of the chosen parts with the project, and put one in here',
    words: 'library figure puppet character mirror store stored kept',
    keys: 'ctrl+j, meta+j',
    shown: 'Ctrl+J',
    run: (s) => s.sheets.show('poses'),
  },
  {
    id: 'delete-keys',
    group: 'Keys',
    label: 'Delete all keys of the chosen parts and all below them',
    words: 'remove clear animation',
    when: someChosen,
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
    label: 'Close the loop: what comes after the last frame is the first again',
    words: 'cycle repeat curve',
    run: (s) =>
      withKeyed(s, (addresses) => s.edit((shot) => closeLoop(shot, addresses, shot.setup.last + 1))),
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
    when: someLoose,
    run: (s) => dropLoose(s),
  },
  {
    id: 'see-before',
    group: 'Edit',
    label: 'See the shot as it was before the last edit, while the key is held',
    words: 'compare previous old before after',
    keys: 'o',
    shown: 'O',
    run: seeBefore,
  },
  {
    id: 'foot-keys',
    group: 'Keys',
    label: 'Show the keys in the foot',
    words: 'timeline lanes',
    keys: '1',
    shown: '1',
    run: (s) => s.sheets.footTab('keys'),
  },
  {
    id: 'foot-curves',
    group: 'Keys',
    label: 'Show the curves in the foot',
    words: 'graph curve plot spacing speed handles tangent easing',
    keys: '2',
    shown: '2',
    run: (s) => s.sheets.footTab('curves'),
  },
];
