import { Command as Palette } from 'cmdk';
import { useDeferredValue, useMemo, useState } from 'react';
import { channelsReachedFrom, type Shot } from '../../../core/document';
import { channelLabel } from '../../../core/edit';
import { canRun, COMMANDS } from './commands';
import { choose, typeInto } from './actions/choosing';
import { useSession, useSheets, useShot } from './session';
import { bestFirst, matches, wantedWords } from './search-words';
import { bringIntoView } from './view/view-commands';
import { DialogFrame, DialogTitle } from '../ui/dialog-frame';

const SHOWN = 12;

interface Found {
  readonly id: string;
  readonly label: string;
  readonly note: string;
  /** There is nothing now that it could work on: choosing it says what is missing. */
  readonly idle?: boolean;
  run(): void;
}

/** Channels whose part and name hold all words; looked for only among parts whose name holds one of them, or by their own name. */
function channelsFound(
  shot: Shot,
  wanted: readonly string[],
): { id: string; address: string; label: string; part: string }[] {
  const out: { id: string; address: string; label: string; part: string }[] = [];
  if (wanted.join('').length < 2) return out;
  for (const [id, part] of Object.entries(shot.parts))
    for (const channel of channelsReachedFrom(shot, id)) {
      const label = `${part.name} · ${channelLabel(channel.spec)}`;
      if (!matches(label, wanted)) continue;
      const address = `${channel.owner}/${channel.path}`;
      out.push({ id: `${id} ${address}`, address, label, part: id });
      if (out.length >= SHOWN * 2) return out;
    }
  return out;
}

/** Finds any command, part or channel by its words. */
export function CommandSearch() {
  const session = useSession();
  const open = useSheets((state) => state.open === 'search');
  const close = (): void => session.sheets.show(null);
  return (
    <DialogFrame open={open} onClose={close} className="top-[14%] w-[560px]" keepsFocus={false}>
      <DialogTitle className="sr-only">Find a command, a part or a channel</DialogTitle>
      <Search onDone={close} />
    </DialogFrame>
  );
}

function Search({ onDone }: { onDone(): void }) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const [find, setFind] = useState('');
  // What fits is there at once, the rest a moment later, or never where somebody types at once.
  const most = useDeferredValue(COMMANDS.length, SHOWN * 2);
  const groups = useMemo((): readonly (readonly [string, readonly Found[]])[] => {
    const wanted = wantedWords(find);
    const commands = bestFirst(
      COMMANDS.filter(
        (command) =>
          command.id !== 'search' &&
          matches(`${command.label} ${command.group} ${command.words ?? ''}`, wanted),
      ),
      (command) => [command.label, command.words ?? ''],
      wanted,
    ).map((command): Found => ({
      id: `command ${command.id}`,
      label: command.label,
      note: command.shown ?? '',
      idle: !canRun(session, command),
      run: () => command.run(session),
    }));
    const parts =
      wanted.length === 0
        ? []
        : bestFirst(
            Object.entries(shot.parts).filter(([, part]) => matches(part.name, wanted)),
            ([, part]) => [part.name],
            wanted,
          )
            .slice(0, SHOWN)
            .map(([id, part]): Found => ({
              id: `part ${id}`,
              label: part.name,
              note: 'choose',
              run: () => {
                choose(session, [id]);
                bringIntoView([id]);
              },
            }));
    const channels = channelsFound(shot, wanted)
      .slice(0, SHOWN)
      .map((entry): Found => ({
        id: `channel ${entry.id}`,
        label: entry.label,
        note: 'channel',
        run: () => {
          choose(session, [entry.part]);
          typeInto(session, entry.address);
        },
      }));
    return [
      ['Parts', parts],
      ['Commands', commands.slice(0, wanted.length === 0 ? most : SHOWN)],
      ['Channels', channels],
    ];
  }, [find, shot, session, most]);
  const none = groups.every(([, found]) => found.length === 0);
  return (
    <Palette shouldFilter={false} label="Find" loop onKeyDown={(event) => event.stopPropagation()}>
      <Palette.Input
        autoFocus
        value={find}
        onValueChange={setFind}
        placeholder="A command, a part or a channel..."
        className="h-11 w-full border-b border-line-soft bg-transparent px-4 text-sm outline-none placeholder:text-ink-3"
      />
      <Palette.List className="max-h-[380px] overflow-y-auto p-1.5">
        {none && <p className="p-4 text-ink-2">Nothing is called "{find}".</p>}
        {groups.map(([title, found]) =>
          found.length === 0 ? null : (
            <Palette.Group
              key={title}
              heading={title}
              className="[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:py-1 [&_[cmdk-group-heading]]:text-xs [&_[cmdk-group-heading]]:font-bold [&_[cmdk-group-heading]]:text-ink-3"
            >
              {found.map((entry) => (
                <Palette.Item
                  key={entry.id}
                  value={entry.id}
                  className="menu-item data-[selected=true]:bg-teal-wash"
                  onSelect={() => {
                    onDone();
                    // A command may open a sheet of its own, once this one is gone.
                    setTimeout(entry.run);
                  }}
                >
                  <span className={`truncate ${entry.idle ? 'text-ink-3' : ''}`}>{entry.label}</span>
                  <span className="num ml-auto flex-none text-ink-3">{entry.note}</span>
                </Palette.Item>
              ))}
            </Palette.Group>
          ),
        )}
      </Palette.List>
    </Palette>
  );
}
