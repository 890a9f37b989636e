import { Switch as Radix } from 'radix-ui';

/** Something that is on or off, with its words beside it. */
export function Switch(props: {
  label: string;
  title?: string;
  on: boolean;
  onChange(on: boolean): void;
  className?: string;
}) {
  const { label, title, on, onChange, className = '' } = props;
  return (
    <label className={`flex cursor-pointer items-center gap-1.5 font-semibold ${className}`} title={title}>
      <Radix.Root
        checked={on}
        onCheckedChange={onChange}
        className="relative inline-block h-[15px] w-[26px] flex-none rounded-full bg-mark data-[state=checked]:bg-teal"
      >
        <Radix.Thumb className="absolute left-[2px] top-[2px] size-[11px] rounded-full bg-raised data-[state=checked]:left-auto data-[state=checked]:right-[2px]" />
      </Radix.Root>
      {label}
    </label>
  );
}
