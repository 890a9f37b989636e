import { Dialog } from 'radix-ui';
import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { COMMANDS, type Command } from './commands';
import { useSession } from './session';

function Hotkey({ command }: { command: Command }) {
  const session = useSession();
  useHotkeys(command.keys, () => command.run(session), {
    preventDefault: true,
    // A button that has the focus is pressed by Space and Enter; it keeps them.
    ignoreEventWhen: (event) =>
      (event.code === 'Space' && event.target instanceof HTMLButtonElement) ||
      document.querySelector('[role="dialog"], [role="menu"]') !== null,
  });
  return null;
}

/** Listens for the keys of all commands; "?" shows them. */
export function Hotkeys() {
  const [open, setOpen] = useState(false);
  useHotkeys('shift+slash', () => setOpen(true));
  const groups = [...new Set(COMMANDS.map((command) => command.group))];
  return (
    <>
      {COMMANDS.map((command) => (
        <Hotkey key={command.id} command={command} />
      ))}
      <Dialog.Root open={open} onOpenChange={setOpen}>
        <Dialog.Portal>
          <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/40" />
          <Dialog.Content
            className="panel fixed left-1/2 top-1/2 z-50 w-[720px] max-w-[94vw] -translate-x-1/2 -translate-y-1/2 p-5 shadow-2xl"
            aria-describedby={undefined}
          >
            <Dialog.Title className="mb-3 text-base font-bold">Keys</Dialog.Title>
            <div className="grid grid-cols-2 gap-x-8 gap-y-4">
              {groups.map((group) => (
                <section key={group}>
                  <h3 className="mb-1 font-bold text-ink-2">{group}</h3>
                  <dl className="grid grid-cols-[92px_1fr] gap-y-1">
                    {COMMANDS.filter((command) => command.group === group).map((command) => (
                      <div key={command.id} className="contents">
                        <dt className="num font-semibold">{command.shown}</dt>
                        <dd>{command.label}</dd>
                      </div>
                    ))}
                  </dl>
                </section>
              ))}
            </div>
            <Dialog.Close className="btn absolute right-4 top-4">Close</Dialog.Close>
          </Dialog.Content>
        </Dialog.Portal>
      </Dialog.Root>
    </>
  );
}
