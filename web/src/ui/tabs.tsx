import { Tabs as Radix } from 'radix-ui';
import type { ReactNode } from 'react';

/** Panels of which one is shown, with a row of tabs that arrow keys go through. */
export function Tabs<K extends string>(props: {
  value: K;
  onChange(value: K): void;
  className?: string;
  children: ReactNode;
}) {
  const { value, onChange, className, children } = props;
  return (
    <Radix.Root value={value} onValueChange={(next) => onChange(next as K)} className={className}>
      {children}
    </Radix.Root>
  );
}

/** The row of tabs. */
export function TabRow<K extends string>({
  label,
  tabs,
}: {
  label: string;
  tabs: readonly (readonly [value: K, words: string, keys?: string])[];
}) {
  return (
    <Radix.List aria-label={label} className="flex overflow-hidden rounded-md border border-line">
      {tabs.map(([value, words, keys]) => (
        <Radix.Trigger
          key={value}
          value={value}
          // Chosen with the mouse it gives the keyboard back: arrow keys are for the frames then.
          onPointerUp={(event) => event.currentTarget.blur()}
          title={keys === undefined ? words : `${words} (${keys})`}
          className="h-[26px] bg-raised px-3 font-semibold hover:bg-field data-[state=active]:bg-ink data-[state=active]:text-panel"
        >
          {words}
        </Radix.Trigger>
      ))}
    </Radix.List>
  );
}

/** What a tab shows; it is made when it is first shown. */
export function TabPanel({
  value,
  className,
  children,
}: {
  value: string;
  className?: string;
  children: ReactNode;
}) {
  return (
    <Radix.Content value={value} tabIndex={-1} className={`outline-none ${className ?? ''}`}>
      {children}
    </Radix.Content>
  );
}
