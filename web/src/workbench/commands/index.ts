import type { MenuAction } from '../../ui/menu';
import type { Session } from '../session';
import type { Command } from './command';
import { CLIP_COMMANDS } from './clips';
import { EDIT_COMMANDS } from './edit';
import { KEYS_COMMANDS } from './keys';
import { LINK_COMMANDS } from './links';
import { PARTS_COMMANDS } from './parts';
import { PLAY_COMMANDS } from './play';
import { VIEW_COMMANDS } from './view';

export type { Command, CommandGroup } from './command';

/** Everything that can be done in the workbench. */
export const COMMANDS: readonly Command[] = [
  ...PLAY_COMMANDS,
  ...KEYS_COMMANDS,
  ...CLIP_COMMANDS,
  ...LINK_COMMANDS,
  ...VIEW_COMMANDS,
  ...PARTS_COMMANDS,
  ...EDIT_COMMANDS,
];

const BY_ID: ReadonlyMap<string, Command> = new Map(COMMANDS.map((command) => [command.id, command]));

/** Whether there is anything that a command could work on. */
export function canRun(session: Session, command: Command): boolean {
  return command.when?.(session) ?? true;
}

/**
 * The entry of a menu for a command.
 * @param as words of the entry where the menu says the rest, and whether it runs once the menu has gone
 * @throws when there is no command of this id
 */
export function entryOf(
  session: Session,
  id: string,
  as: { label?: string; later?: boolean } = {},
): MenuAction {
  const command = BY_ID.get(id);
  if (!command) throw new Error(`There is no command "${id}".`);
  return {
    label: as.label ?? command.label,
    later: as.later ?? false,
    keys: command.shown,
    disabled: !canRun(session, command),
    run: () => command.run(session),
  };
}
