import { ContextMenu, DropdownMenu } from 'radix-ui';
import type { ReactElement, ReactNode } from 'react';

/** Something that can be done from a menu. */
export interface MenuAction {
  readonly label: ReactNode;
  run(): void;
  readonly disabled?: boolean;
  /** Takes something away. */
  readonly alarm?: boolean;
  /** A switch that is on or off. */
  readonly checked?: boolean;
  /** One of several of which the one in force is marked. */
  readonly current?: boolean;
  /** The menu stays open, so that several can be set. */
  readonly stays?: boolean;
  /** Runs once the menu has closed and given the keyboard back: for what opens something or takes the keyboard. */
  readonly later?: boolean;
  readonly title?: string;
  /** Keys that do the same. */
  readonly keys?: string;
  readonly className?: string;
}

/** A menu inside a menu. */
export interface MenuMore {
  readonly label: ReactNode;
  readonly entries: readonly MenuEntry[];
  readonly disabled?: boolean;
  readonly current?: boolean;
}

export type MenuEntry =
  | MenuAction
  | MenuMore
  | { readonly heading: string }
  | 'line'
  | false
  | null
  | undefined;

/** What a menu holds, from the top down; empty entries are left out. */
export type MenuEntries = readonly MenuEntry[];

type Kit = typeof ContextMenu | typeof DropdownMenu;

const mark = (on: boolean): ReactElement => (
  <span className="inline-block w-3.5 flex-none">{on ? '✓' : ''}</span>
);

function Entry({ kit, entry }: { kit: Kit; entry: Exclude<MenuEntry, false | null | undefined> }) {
  if (entry === 'line') return <kit.Separator className="my-1 h-px bg-line-soft" />;
  if ('heading' in entry)
    return <kit.Label className="px-2 pb-0.5 pt-1.5 text-xs font-bold text-ink-3">{entry.heading}</kit.Label>;
  if ('entries' in entry)
    return (
      <kit.Sub>
        <kit.SubTrigger className="menu-item" disabled={entry.disabled}>
          {entry.current !== undefined && mark(entry.current)}
          {entry.label}
          <span className="ml-auto pl-3 text-ink-3" aria-hidden="true">
            ›
          </span>
        </kit.SubTrigger>
        <kit.Portal>
          <kit.SubContent className="menu-surface max-h-80 overflow-y-auto">
            <Entries kit={kit} entries={entry.entries} />
          </kit.SubContent>
        </kit.Portal>
      </kit.Sub>
    );
  const { label, disabled, alarm, checked, current, stays, later, title, keys, className = '' } = entry;
  const looks = `menu-item ${alarm ? 'text-now' : ''} ${className}`;
  const run = (): void => void (later ? setTimeout(() => entry.run()) : entry.run());
  if (checked !== undefined)
    return (
      <kit.CheckboxItem
        className={looks}
        disabled={disabled}
        title={title}
        checked={checked}
        onCheckedChange={run}
        onSelect={stays ? (event) => event.preventDefault() : undefined}
      >
        {mark(checked)}
        {label}
      </kit.CheckboxItem>
    );
  return (
    <kit.Item className={looks} disabled={disabled} title={title} aria-current={current} onSelect={run}>
      {current !== undefined && mark(current)}
      {label}
      {keys !== undefined && (
        <span className="num ml-auto pl-4 text-ink-3" aria-hidden="true">
          {keys}
        </span>
      )}
    </kit.Item>
  );
}

function Entries({ kit, entries }: { kit: Kit; entries: MenuEntries }) {
  return entries.map((entry, i) => (entry ? <Entry key={i} kit={kit} entry={entry} /> : null));
}

/** Hands the keyboard on when a menu closes. */
const handing = (onClosed: (() => void) | undefined): ((event: Event) => void) | undefined =>
  onClosed &&
  ((event) => {
    event.preventDefault();
    onClosed();
  });

/**
 * Opens a menu by a right click, a long touch or the menu key on what it is wrapped round.
 * @param props.entries asked for when the menu opens
 */
export function MenuOn(props: {
  entries: () => MenuEntries;
  children: ReactElement;
  /** Takes the keyboard when the menu closes, in place of what had it before. */
  onClosed?: () => void;
}) {
  return (
    <ContextMenu.Root>
      <ContextMenu.Trigger asChild>{props.children}</ContextMenu.Trigger>
      <ContextMenu.Portal>
        <MenuOfContext entries={props.entries} onClosed={props.onClosed} />
      </ContextMenu.Portal>
    </ContextMenu.Root>
  );
}

function MenuOfContext({
  entries,
  onClosed,
}: {
  entries: () => MenuEntries;
  onClosed?: (() => void) | undefined;
}) {
  return (
    <ContextMenu.Content className="menu-surface" onCloseAutoFocus={handing(onClosed)}>
      <Shown kit={ContextMenu} entries={entries} />
    </ContextMenu.Content>
  );
}

/** Asks for the entries only while the menu is open. */
function Shown({ kit, entries }: { kit: Kit; entries: () => MenuEntries }) {
  return <Entries kit={kit} entries={entries()} />;
}

/** A button that opens a menu. */
export function MenuButton(props: {
  label: string;
  title?: string;
  className: string;
  entries: () => MenuEntries;
  side?: 'top' | 'bottom';
  align?: 'start' | 'end';
  wide?: boolean;
  /** Takes the keyboard when the menu closes, in place of the button. */
  onClosed?: () => void;
  children: ReactNode;
}) {
  const { label, title, className, entries, side = 'bottom', align = 'end', wide = false, children } = props;
  const { onClosed } = props;
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger aria-label={label} title={title} className={className}>
        {children}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          className={`menu-surface ${wide ? 'max-w-[560px]' : ''}`}
          side={side}
          align={align}
          sideOffset={4}
          onCloseAutoFocus={handing(onClosed)}
        >
          <Shown kit={DropdownMenu} entries={entries} />
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
