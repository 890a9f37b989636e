import { useState } from 'react';

/** A number that is typed, or stepped with the arrow keys; what lies outside of its limits says so and is not taken. */
export function NumberBox(props: {
  label: string;
  value: number;
  min: number;
  max: number;
  /** Decimals that are shown. */
  digits?: number;
  step?: number;
  title?: string;
  className?: string;
  onValue(value: number): void;
}) {
  const { label, value, min, max, digits = 0, step = 1, title, className = 'w-16', onValue } = props;
  const [text, setText] = useState<string | null>(null);
  const resting = String(Number(value.toFixed(digits)));
  const typed = text === null || text.trim() === '' ? NaN : Number(text.replace(',', '.'));
  const right =
    Number.isFinite(typed) && typed >= min && typed <= max && (digits > 0 || Number.isInteger(typed));
  const keep = (): void => {
    if (right && typed !== value) onValue(typed);
    setText(null);
  };
  const go = (by: number): void => {
    const next = Number(((right ? typed : value) + by).toFixed(digits));
    onValue(Math.max(min, Math.min(max, next)));
    setText(null);
  };
  return (
    <input
      aria-label={label}
      aria-invalid={text !== null && !right}
      title={text !== null && !right ? `From ${min} to ${max}${digits === 0 ? ', whole' : ''}.` : title}
      inputMode="decimal"
      className={`input-field num h-[22px] text-right ${className} ${text !== null && !right ? 'text-now' : ''}`}
      value={text ?? resting}
      onChange={(event) => setText(event.target.value)}
      onFocus={(event) => event.target.select()}
      onBlur={keep}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === 'Enter') keep();
        if (event.key === 'Escape') setText(null);
        if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
          event.preventDefault();
          go((event.key === 'ArrowUp' ? step : -step) * (event.shiftKey ? 10 : 1));
        }
      }}
    />
  );
}
