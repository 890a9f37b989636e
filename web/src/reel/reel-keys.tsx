import { useEffect, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { DialogFrame, DialogLeave, DialogTitle } from '../ui/dialog-frame';
import { goToCut, moveChosen, removeChosen, splitHere } from './reel-edits';
import { useReelSession, type ReelSession } from './reel-session';

interface ReelKey {
  /** As react-hotkeys-hook takes them. */
  readonly keys: string;
  /** As they are written. */
  readonly shown: string;
  readonly words: string;
  run(session: ReelSession): void;
}

const step =
  (by: number) =>
  (session: ReelSession): void =>
    session.goTo(session.time.now.frame + by);

/** Keys of the page and what they do. */
const KEYS: readonly ReelKey[] = [
  { keys: 'space', shown: 'Space', words: 'Play, stop', run: (session) => session.play() },
  { keys: 'left', shown: 'Left', words: 'One frame back', run: step(-1) },
  { keys: 'right', shown: 'Right', words: 'One frame on', run: step(1) },
  { keys: 'shift+left', shown: 'Shift+Left', words: 'Ten frames back', run: step(-10) },
  { keys: 'shift+right', shown: 'Shift+Right', words: 'Ten frames on', run: step(10) },
  { keys: 'home', shown: 'Home', words: 'First frame', run: (session) => session.goTo(1) },
  { keys: 'end', shown: 'End', words: 'Last frame', run: (session) => session.goTo(session.frames) },
  { keys: 'bracketleft', shown: '[', words: 'Cut before', run: (session) => goToCut(session, -1) },
  { keys: 'bracketright', shown: ']', words: 'Next cut', run: (session) => goToCut(session, 1) },
  { keys: 'c', shown: 'C', words: 'Cut in two at the playhead', run: splitHere },
  {
    keys: 'alt+left',
    shown: 'Alt+Left',
    words: 'One place earlier',
    run: (session) => moveChosen(session, -1),
  },
  {
    keys: 'alt+right',
    shown: 'Alt+Right',
    words: 'One place later',
    run: (session) => moveChosen(session, 1),
  },
  { keys: 'delete', shown: 'Delete', words: 'Take out what is chosen', run: removeChosen },
  { keys: 'escape', shown: 'Escape', words: 'Choose nothing', run: (session) => session.choose(null) },
  { keys: 'mod+z', shown: 'Ctrl+Z', words: 'Undo', run: (session) => session.doc.undo() },
  { keys: 'mod+shift+z', shown: 'Ctrl+Shift+Z', words: 'Redo', run: (session) => session.doc.redo() },
];

const BY_KEYS = new Map(KEYS.map((each) => [each.keys, each]));

/** Listens for the keys of the page, and lists them on "?". */
export function ReelKeys() {
  const session = useReelSession();
  const [listed, setListed] = useState(false);
  const away = (event: KeyboardEvent): boolean =>
    document.querySelector('[role="dialog"], [role="menu"]') !== null ||
    (event.code === 'Space' && event.target instanceof HTMLButtonElement);
  useHotkeys([...BY_KEYS.keys()], (_, { hotkey }) => BY_KEYS.get(hotkey)?.run(session), {
    preventDefault: true,
    ignoreEventWhen: away,
  });
  useHotkeys('shift+slash', () => setListed(true), { ignoreEventWhen: away });
  useEffect(() => {
    // A button that was pressed with the mouse gives the keys back, so that Space plays.
    const letGo = ({ detail, target }: MouseEvent): void => {
      const button = target instanceof Element ? target.closest('button') : null;
      if (detail > 0 && button && !button.closest('[role="dialog"]')) button.blur();
    };
    addEventListener('click', letGo);
    return () => removeEventListener('click', letGo);
  }, []);
  return (
    <DialogFrame open={listed} onClose={() => setListed(false)} className="top-[12%] w-[420px] p-4">
      <div className="mb-2 flex items-center">
        <DialogTitle>Keys of the reel</DialogTitle>
        <DialogLeave className="ml-auto">Close</DialogLeave>
      </div>
      <dl className="grid grid-cols-[110px_1fr] gap-y-1">
        {KEYS.map(({ keys, shown, words }) => (
          <div key={keys} className="contents">
            <dt className="num text-ink-2">{shown}</dt>
            <dd>{words}</dd>
          </div>
        ))}
      </dl>
    </DialogFrame>
  );
}
