import { closeClip, makeClipHere, openClip, removeChosen, repeatChosen, untie } from '../actions/clips';
import { mirrorShowing } from '../../../../core/edit';
import { unpack } from '../clips/strip-menu';
import type { Session } from '../session';
import type { Command } from './command';

const someStrip = (session: Session): boolean => session.strips.now.chosen.length > 0;
const someOpen = (session: Session): boolean => session.doc.now.opened !== null;

/** Does something with the showing that was chosen last. */
const withLead = (act: (session: Session, id: string) => void) => (session: Session) => {
  const id = session.strips.now.chosen.at(-1);
  if (id !== undefined) act(session, id);
};

export const CLIP_COMMANDS: readonly Command[] = [
  {
    id: 'make-clip',
    group: 'Keys',
    label: 'Make a clip of the chosen keys, or of all keys of the chosen parts',
    words: 'strip reuse repeat cycle library action',
    keys: 'shift+c',
    shown: 'Shift+C',
    run: makeClipHere,
  },
  {
    id: 'open-clip',
    group: 'Keys',
    label: 'Open the chosen clip: change its keys where it stands',
    words: 'edit strip enter',
    when: (session) => someStrip(session) && !someOpen(session),
    run: withLead(openClip),
  },
  {
    id: 'close-clip',
    group: 'Keys',
    label: 'Close the clip that is open',
    words: 'leave strip done',
    when: someOpen,
    run: closeClip,
  },
  {
    id: 'repeat-clip',
    group: 'Keys',
    label: 'Show the chosen clip once more, right after it',
    words: 'duplicate copy strip again',
    when: someStrip,
    run: repeatChosen,
  },
  {
    id: 'mirror-clip',
    group: 'Keys',
    label: 'Mirror the chosen clip, left to right by name, or turn it back',
    words: 'flip strip other side',
    when: someStrip,
    run: withLead((session, id) => session.editDocument((shot) => mirrorShowing(shot, id))),
  },
  {
    id: 'untie-clip',
    group: 'Keys',
    label: 'Make the chosen clip one of its own',
    words: 'independent unlink separate strip',
    when: someStrip,
    run: withLead(untie),
  },
  {
    id: 'unpack-clip',
    group: 'Keys',
    label: 'Unpack the chosen clip into keys',
    words: 'bake strip keyframes',
    when: someStrip,
    run: withLead(unpack),
  },
  {
    id: 'remove-clip',
    group: 'Keys',
    label: 'Take the chosen clip away',
    words: 'delete strip',
    when: someStrip,
    run: removeChosen,
  },
];
