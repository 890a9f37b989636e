import { useState } from 'react';
import { TEXT_LIMIT, type Callout } from '../../../../core/document';
import { FONTS, letteringOutline } from '../add/lettering';

/** What is written, in which font. */
export function TextForm({
  label,
  text,
  onWrite,
}: {
  label: string;
  text: { text: string; font: string };
  onWrite(made: { text: Callout['text']; outline: Callout['outline'] }): void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const [reason, setReason] = useState<string | null>(null);
  const write = async (next: { text: string; font: string }): Promise<void> => {
    if (next.text.trim() === text.text && next.font === text.font) {
      setTyped(null);
      return;
    }
    const made = await letteringOutline(next.text, next.font);
    if (!made.ok) {
      setReason(made.reason);
      return;
    }
    setReason(null);
    setTyped(null);
    onWrite(made);
  };
  return (
    <div className="grid gap-1 px-2.5 pb-1">
      <input
        aria-label={label}
        className="input-field h-[22px]"
        value={typed ?? text.text}
        maxLength={TEXT_LIMIT + 100}
        aria-invalid={reason !== null}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={() => typed !== null && void write({ ...text, text: typed })}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === 'Enter' && typed !== null) void write({ ...text, text: typed });
          if (event.key === 'Escape') {
            setTyped(null);
            setReason(null);
          }
        }}
      />
      <p className="text-xs text-ink-2">
        # shows the number below, | parts texts that a choice shows in turn.
      </p>
      {reason && (
        <p role="alert" className="text-now">
          {reason}
        </p>
      )}
      <select
        aria-label="Font"
        className="input-field h-[22px]"
        value={text.font}
        onChange={(event) => void write({ ...text, font: event.target.value })}
      >
        {FONTS.map((font) => (
          <option key={font.id} value={font.id}>
            {font.name}
          </option>
        ))}
      </select>
    </div>
  );
}
