import { toast } from 'sonner';
import { trackOf } from '../../../../core/document';
import { bakePlaces, duplicateKeys, makeOwn, setLocked, unpackCopies } from '../../../../core/edit';
import { choose } from '../actions/choosing';
import {
  copyLinked,
  duplicateChosen,
  groupChosen,
  hangBelowLast,
  mirrorChosen,
  putHubAbove,
  takeOut,
} from '../parts/parts-actions';
import type { Session } from '../session';
import type { Command } from './command';
import {
  repeatChosen,
  severalChosen,
  someCarried,
  someChosen,
  someChosenOrKeys,
  someHang,
  someSolid,
} from './when';

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

function setLock(session: Session): void {
  const { shot } = session;
  const { chosen } = session.choice.now;
  if (chosen.length > 0)
    session.edit((now) => setLocked(now, chosen, !chosen.every((id) => shot.parts[id]?.locked)));
}

function ownForm(session: Session, form: 'shape' | 'look'): void {
  const id = session.choice.now.chosen.at(-1);
  if (id !== undefined) session.edit((shot) => makeOwn(shot, id, form));
}

/** Writes where the chosen parts are carried into keys of their own. */
function bakeWay(session: Session): void {
  const { first, last } = session.shot.setup;
  const { chosen } = session.choice.now;
  session.edit((shot) => bakePlaces(shot, session.doc.now.plan, chosen, first, last).change);
}

/** Turns the copies of the chosen repeat into parts. */
function unpackChosen(session: Session): void {
  const { first, last } = session.shot.setup;
  const id = session.choice.now.chosen.at(-1)!;
  let hubs: readonly string[] = [];
  const done = session.edit((shot) => {
    const made = unpackCopies(shot, id, first, last);
    hubs = made.ids;
    return made.change;
  });
  if (done) choose(session, hubs);
}

export const PARTS_COMMANDS: readonly Command[] = [
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
    id: 'bake-way',
    group: 'Parts',
    label: 'Bake the way of the chosen parts into keys: they face and follow nothing any more',
    words: 'aim faces path constraint keyframes',
    when: someCarried,
    run: bakeWay,
  },
  {
    id: 'unpack-copies',
    group: 'Parts',
    label: 'Turn the copies of the chosen repeat into parts of their own',
    words: 'bake repeat array unpack instances keys',
    when: repeatChosen,
    run: unpackChosen,
  },
  {
    id: 'copy-linked',
    group: 'Parts',
    label: 'Linked copy of the chosen parts',
    words: 'instance clone',
    when: someChosen,
    run: copyLinked,
  },
  {
    id: 'again',
    group: 'Parts',
    label: 'Linked copy of the chosen parts (or copies of the chosen keys)',
    words: 'instance clone again',
    keys: 'ctrl+d, meta+d',
    shown: 'Ctrl+D',
    when: someChosenOrKeys,
    run: duplicate,
  },
  {
    id: 'duplicate',
    group: 'Parts',
    label: 'Duplicate with shape and look of its own',
    words: 'clone again',
    keys: 'ctrl+shift+d, meta+shift+d',
    shown: 'Ctrl+Shift+D',
    when: someChosen,
    run: duplicateChosen,
  },
  {
    id: 'mirror-x',
    group: 'Parts',
    label: 'Mirrored copy across X',
    when: someChosen,
    run: (s) => mirrorChosen(s, 'x'),
  },
  {
    id: 'mirror-y',
    group: 'Parts',
    label: 'Mirrored copy across Y',
    when: someChosen,
    run: (s) => mirrorChosen(s, 'y'),
  },
  {
    id: 'mirror-z',
    group: 'Parts',
    label: 'Mirrored copy across Z',
    when: someChosen,
    run: (s) => mirrorChosen(s, 'z'),
  },
  {
    id: 'group',
    group: 'Parts',
    label: 'Group the chosen parts',
    words: 'parent hub',
    keys: 'ctrl+g, meta+g',
    shown: 'Ctrl+G',
    when: someChosen,
    run: groupChosen,
  },
  {
    id: 'hub-above',
    group: 'Parts',
    label: 'Put a hub above',
    words: 'parent pivot helper',
    keys: 'shift+h',
    shown: 'Shift+H',
    when: someChosen,
    run: putHubAbove,
  },
  {
    id: 'hang',
    group: 'Parts',
    label: 'Hang the chosen parts below the last chosen one',
    words: 'parent child attach',
    keys: 'shift+p',
    shown: 'Shift+P',
    when: severalChosen,
    run: hangBelowLast,
  },
  {
    id: 'take-out',
    group: 'Parts',
    label: 'Take out of what it hangs from',
    words: 'unparent detach',
    keys: 'shift+o',
    shown: 'Shift+O',
    when: someHang,
    run: takeOut,
  },
  {
    id: 'own-shape',
    group: 'Parts',
    label: 'Make its own shape: the chosen part shares it no longer',
    words: 'unlink',
    when: someSolid,
    run: (s) => ownForm(s, 'shape'),
  },
  {
    id: 'own-look',
    group: 'Parts',
    label: 'Make its own look: the chosen part shares it no longer',
    words: 'material colour unlink',
    when: someSolid,
    run: (s) => ownForm(s, 'look'),
  },
  {
    id: 'lock',
    group: 'Parts',
    label: 'Lock or unlock the chosen parts',
    words: 'protect',
    keys: 'shift+l',
    shown: 'Shift+L',
    when: someChosen,
    run: setLock,
  },
  {
    id: 'rename',
    group: 'Parts',
    label: 'Rename the chosen part',
    keys: 'f2',
    shown: 'F2',
    when: someChosen,
    run: (s) => s.sheets.rename(s.choice.now.chosen.at(-1) ?? null),
  },
];
