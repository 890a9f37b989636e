import { ExactField } from './exact-field';

/** A number with what it is called: typed, it is taken or refused with the reason. */
export function ExactNumber(props: {
  label: string;
  text: string;
  unit: string;
  title: string;
  disabled?: boolean;
  /** Words for no number at all, as "never". */
  none?: string;
  /** Takes a number, `null` for the words that stand for none. @returns why it cannot be taken */
  onNumber(value: number | null): string | null;
  /** How the label stands to the field. */
  lies?: 'above' | 'beside';
  className?: string;
}) {
  const {
    label,
    text,
    unit,
    title,
    disabled = false,
    none,
    onNumber,
    lies = 'beside',
    className = '',
  } = props;
  const field = (
    <ExactField
      label={label}
      text={text}
      unit={unit}
      title={title}
      disabled={disabled}
      className={className}
      onType={(typed) => {
        if (none !== undefined && typed === none) return onNumber(null);
        const value = Number(typed.replace(',', '.'));
        return Number.isFinite(value) ? onNumber(value) : `"${typed}" is no number.`;
      }}
    />
  );
  return lies === 'above' ? (
    <label className="flex min-w-0 flex-col gap-0.5">
      <span className="text-xs text-ink-2">{label}</span>
      {field}
    </label>
  ) : (
    <label className="flex items-center justify-between gap-2">
      <span className="text-ink-2">{label}</span>
      {field}
    </label>
  );
}

/** A number as short as its thousandths allow. */
export const tidyNumber = (value: number): string => String(Math.round(value * 1000) / 1000);
