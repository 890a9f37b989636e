import type { Session } from '../session';

export type CommandGroup = 'Play' | 'Keys' | 'Links' | 'View' | 'Parts' | 'Edit';

/** Something that can be done. The keys, the menus, the help and the search are all made from the list of these. */
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
  /** Whether there is anything now that it could work on; missing where there always is. Its key then says what is missing. */
  when?(session: Session): boolean;
  run(session: Session): void;
}
