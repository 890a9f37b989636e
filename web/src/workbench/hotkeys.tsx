import { useEffect } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { COMMANDS, type Command, type CommandGroup } from './commands';
import { useSession, useSheets } from './session';
import { DialogFrame, DialogLeave, DialogTitle } from '../ui/dialog-frame';

const MOUSE: readonly (readonly [string, string])[] = [
  ['Drag', 'Turn the view about what is chosen; in the Shot view look about with the camera'],
  ['Shift+drag', 'Slide the view; while dragging a handle go a tenth of the way'],
  ['Ctrl+drag', 'Choose with a box; on a handle steps of the grid'],
  ['Alt', 'While dragging a handle: catch on nothing. On a peg: double it'],
  ['Wheel', 'Nearer and further; with Alt over the lanes zoom time, with Shift scroll it'],
  [
    'In the lanes',
    'Ctrl+A chooses all keys, Ctrl+Shift+A those of the lane; Alt with Left or Right moves them',
  ],
  [
    'In the curves',
    'As in the lanes, and Alt with Up or Down raises and lowers keys, I puts one in, Page keys and Ctrl+wheel zoom values',
  ],
  ['Digits', 'While dragging a handle: type the exact number, Enter keeps, Esc puts back'],
];

const keyed = (inFields: boolean): Map<string, Command> =>
  new Map(
    COMMANDS.filter((command) => (command.inFields ?? false) === inFields).flatMap(
      (command) => command.keys?.split(',').map((keys) => [keys.trim(), command] as const) ?? [],
    ),
  );
const KEYED = keyed(false);
const KEYED_IN_FIELDS = keyed(true);

const overlaid = (): boolean => document.querySelector('[role="dialog"], [role="menu"]') !== null;

/**
 * A list, a box or a slider that was set with the mouse, or with Enter, gives the keys back to the workbench; one that is
 * gone through with the arrow keys keeps them.
 * @returns how to stop that
 */
function giveKeysBack(): () => void {
  let browsing = false;
  const onKey = (event: KeyboardEvent): void => {
    browsing = event.key !== 'Enter';
  };
  const onPointer = (): void => {
    browsing = false;
  };
  const onChange = (event: Event): void => {
    const { target } = event;
    const set =
      target instanceof HTMLSelectElement ||
      (target instanceof HTMLInputElement && ['checkbox', 'radio', 'range'].includes(target.type));
    if (set && !browsing && !target.closest('[role="dialog"]')) target.blur();
  };
  window.addEventListener('keydown', onKey, true);
  window.addEventListener('pointerdown', onPointer, true);
  window.addEventListener('change', onChange);
  return () => {
    window.removeEventListener('keydown', onKey, true);
    window.removeEventListener('pointerdown', onPointer, true);
    window.removeEventListener('change', onChange);
  };
}

/** Listens for the keys of all commands, with one listener for all of them. */
export function Hotkeys() {
  const session = useSession();
  useEffect(giveKeysBack, []);
  useHotkeys([...KEYED.keys()], (_, { hotkey }) => KEYED.get(hotkey)?.run(session), {
    preventDefault: true,
    // A button that has the focus is pressed by Space and Enter; it keeps them. Escape that closes something does no more.
    ignoreEventWhen: (event) =>
      event.defaultPrevented ||
      (event.code === 'Space' && event.target instanceof HTMLButtonElement) ||
      overlaid(),
  });
  useHotkeys([...KEYED_IN_FIELDS.keys()], (_, { hotkey }) => KEYED_IN_FIELDS.get(hotkey)?.run(session), {
    preventDefault: true,
    enableOnFormTags: true,
    enableOnContentEditable: true,
    ignoreEventWhen: overlaid,
    // Fields keep what is typed into them to themselves: these come first.
    eventListenerOptions: { capture: true },
  });
  return null;
}

/** All keys, from the list of commands. */
export function KeysHelp() {
  const session = useSession();
  const open = useSheets((state) => state.open === 'keys');
  const columns: readonly (readonly CommandGroup[])[] = [
    ['Play', 'Keys', 'Links'],
    ['View', 'Parts', 'Edit'],
  ];
  const section = (title: string, entries: readonly (readonly [string, string])[]) => (
    <section key={title} className="mb-4">
      <h3 className="mb-1 font-bold text-ink-2">{title}</h3>
      <dl className="grid grid-cols-[96px_1fr] gap-y-1">
        {entries.map(([keys, words]) => (
          <div key={`${keys} ${words}`} className="contents">
            <dt className="num font-semibold">{keys}</dt>
            <dd>{words}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
  const of = (group: CommandGroup): [string, string][] =>
    COMMANDS.flatMap((command): [string, string][] =>
      command.group === group && command.shown ? [[command.shown, command.label]] : [],
    );
  return (
    <DialogFrame
      open={open}
      onClose={() => session.sheets.show(null)}
      className="top-1/2 flex max-h-[92vh] w-[860px] -translate-y-1/2 flex-col"
    >
      <div className="flex flex-none items-center border-b border-line-soft px-5 py-3">
        <DialogTitle>Keys</DialogTitle>
        <DialogLeave className="ml-auto">Close</DialogLeave>
      </div>
      <div className="grid min-h-0 flex-1 grid-cols-2 gap-x-8 overflow-y-auto px-5 pt-4" tabIndex={0}>
        {columns.map((groups, i) => (
          <div key={groups.join()}>
            {groups.map((group) => section(group, of(group)))}
            {i === 0 && section('Mouse', MOUSE)}
          </div>
        ))}
      </div>
    </DialogFrame>
  );
}
