import { removeKeys, standingOf } from '../../../../core/edit';
import { choose } from '../actions/choosing';
import { redo, undo } from '../actions/history';
import { copyChosen, pasteCopied, pasteKeysAs } from '../copy-paste';
import { nextPanel } from '../panels';
import { askToRemove } from '../parts/parts-actions';
import type { Session } from '../session';
import type { Command } from './command';
import { canRedo, canUndo, holds, holdsAny, someChosenOrKeys } from './when';

function remove(session: Session): void {
  const { chosenKeys, chosen } = session.choice.now;
  if (chosenKeys.length > 0) session.edit((shot) => removeKeys(shot, chosenKeys));
  else askToRemove(session, chosen);
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

export const EDIT_COMMANDS: readonly Command[] = [
  {
    id: 'checks',
    group: 'Edit',
    label: 'Check the shot: slip, seam of a loop, gears, what is never seen',
    words: 'checks problems errors warnings slips sliding rolling loop validate',
    run: (s) => s.sheets.show('render'),
  },
  {
    id: 'undo',
    group: 'Edit',
    label: 'Undo',
    keys: 'ctrl+z, meta+z',
    shown: 'Ctrl+Z',
    when: canUndo,
    run: (s) => undo(s),
  },
  {
    id: 'redo',
    group: 'Edit',
    label: 'Redo',
    keys: 'ctrl+shift+z, meta+shift+z',
    shown: 'Ctrl+Shift+Z',
    when: canRedo,
    run: (s) => redo(s),
  },
  {
    id: 'copy',
    group: 'Edit',
    label: 'Copy the chosen keys, or the values of the part',
    keys: 'ctrl+c, meta+c',
    shown: 'Ctrl+C',
    when: someChosenOrKeys,
    run: copyChosen,
  },
  {
    id: 'paste',
    group: 'Edit',
    label: 'Paste keys, values or a pose',
    keys: 'ctrl+v, meta+v',
    shown: 'Ctrl+V',
    when: holdsAny,
    run: pasteCopied,
  },
  {
    id: 'paste-reversed',
    group: 'Edit',
    label: 'Paste the copied keys reversed',
    words: 'backwards',
    when: holds('keys'),
    run: (s) => pasteKeysAs(s, 'reversed'),
  },
  {
    id: 'paste-onto',
    group: 'Edit',
    label: 'Paste the copied keys into the chosen channel',
    words: 'other channel onto',
    when: holds('keys'),
    run: (s) => pasteKeysAs(s, 'onto'),
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
      s.strips.choose([]);
    },
  },
  {
    id: 'delete',
    group: 'Edit',
    label: 'Delete the chosen keys, or the chosen parts',
    words: 'remove',
    keys: 'delete, backspace',
    shown: 'Delete',
    when: someChosenOrKeys,
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
