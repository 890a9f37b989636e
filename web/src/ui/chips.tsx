import type { ReactNode } from 'react';

/** Chips side by side in one frame. */
export function Chips({
  label,
  className,
  right,
  children,
}: {
  label: string;
  /** Where it stands over something; without it, it stands in the row it is put into. */
  className?: string;
  /** How far its right end is from that of what it stands over. */
  right?: string | undefined;
  children: ReactNode;
}) {
  return (
    <div
      role="group"
      aria-label={label}
      style={right === undefined ? undefined : { right }}
      className={`flex flex-wrap overflow-hidden rounded-[7px] border border-line bg-raised/95 ${className ? `absolute ${className}` : ''}`}
    >
      {children}
    </div>
  );
}

/** A small button that is pressed or not. */
export function Chip(props: {
  on: boolean;
  title?: string;
  disabled?: boolean;
  onClick(): void;
  children: ReactNode;
}) {
  const { on, title, disabled, onClick, children } = props;
  return (
    <button
      type="button"
      aria-pressed={on}
      title={title}
      disabled={disabled}
      onClick={onClick}
      className={`h-[26px] border-r border-line-soft px-2 text-[11.5px] font-semibold last:border-0 disabled:text-ink-3 ${on ? 'bg-teal text-on-teal' : 'hover:bg-field'}`}
    >
      {children}
    </button>
  );
}
