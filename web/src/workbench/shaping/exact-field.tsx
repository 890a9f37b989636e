import { useRef, useState } from 'react';

/** A number that is typed: what it says is taken on Enter or when the field is left, or refused with the reason. */
export function ExactField(props: {
  label: string;
  /** What is read out, when the label stands for several fields. */
  name?: string;
  text: string;
  unit?: string;
  disabled?: boolean;
  title?: string;
  /** Takes what was typed. @returns why it cannot be taken, `null` when it was */
  onType(text: string): string | null;
  className?: string;
}) {
  const { label, name, text, unit, disabled = false, title, onType, className = '' } = props;
  const [typed, setTyped] = useState<string | null>(null);
  const [reason, setReason] = useState<string | null>(null);
  const [shownText, setShownText] = useState(text);
  /** The field is left by Escape: what was typed does not count. */
  const dropped = useRef(false);
  // What was begun for another key is not taken over.
  if (shownText !== text) {
    setShownText(text);
    setTyped(null);
    setReason(null);
  }
  const keep = (): boolean => {
    const wanted = typed?.trim() ?? '';
    if (wanted === '' || wanted === text) {
      setTyped(null);
      setReason(null);
      return true;
    }
    const refused = onType(wanted);
    setReason(refused);
    if (refused === null) setTyped(null);
    return refused === null;
  };
  return (
    <span className={`relative flex items-center ${className}`}>
      <input
        aria-label={name ?? label}
        aria-invalid={reason !== null}
        disabled={disabled}
        title={reason ?? title}
        className={`input-field num h-[22px] w-full min-w-0 px-1.5 text-right disabled:opacity-50 ${unit ? 'pr-5' : ''} ${reason ? 'border-now text-now' : ''}`}
        value={typed ?? text}
        onChange={(event) => setTyped(event.target.value)}
        onFocus={(event) => event.target.select()}
        onBlur={() => {
          if (!dropped.current && keep()) return;
          dropped.current = false;
          setTyped(null);
          setReason(null);
        }}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === 'Enter' && keep()) event.currentTarget.select();
          if (event.key === 'Escape') {
            dropped.current = true;
            event.currentTarget.blur();
          }
        }}
      />
      {unit && (
        <span className="pointer-events-none absolute right-1.5 text-[10px] text-ink-3" aria-hidden="true">
          {unit}
        </span>
      )}
      {reason && (
        <span
          role="alert"
          className="absolute right-0 top-full z-30 mt-0.5 w-48 rounded-md border border-now bg-now-wash px-1.5 py-1 text-xs text-ink shadow-lg"
        >
          {reason}
        </span>
      )}
    </span>
  );
}
