import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import type { ChannelSpec, Shot } from '../../../core/document';
import { METRES_PER_UNIT, typedValue } from '../../../core/formula';
import { describeValue, editableValue, formatValue } from '../shared/format';

interface Props {
  readonly shot: Shot;
  readonly address: string;
  readonly spec: ChannelSpec;
  readonly value: number;
  readonly label: string;
  readonly linked: boolean;
  readonly loose: boolean;
  readonly active: boolean;
  onPreview(value: number | null): void;
  onValue(value: number): void;
  onFormula(text: string): void;
  onFocus(): void;
}

const DRAG_START_PX = 3;
const FINER = 0.1;

/**
 * A number that can be dragged sideways (finer with Shift) or typed: arithmetic, units, `+=10`, `*2`, and a formula
 * after `=`.
 */
export function NumberField({
  shot,
  address,
  spec,
  value,
  label,
  linked,
  loose,
  active,
  onPreview,
  onValue,
  onFormula,
  onFocus,
}: Props) {
  const [text, setText] = useState<string | null>(null);
  const [reason, setReason] = useState<string | null>(null);
  const drag = useRef<{ x: number; value: number; moved: boolean } | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const { unit } = shot.setup;

  const keep = (): void => {
    if (text === null) return;
    const trimmed = text.trim();
    if (trimmed.startsWith('=')) {
      onFormula(trimmed.slice(1));
      setText(null);
      return;
    }
    if (trimmed === editableValue(spec, value, unit) || trimmed === '') {
      setText(null);
      setReason(null);
      return;
    }
    const typed = typedValue(shot, address, trimmed, value);
    if (!typed.ok) {
      setReason(typed.error.message);
      return;
    }
    setReason(null);
    setText(null);
    onValue(spec.whole ? Math.round(typed.value) : typed.value);
  };

  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>): void => {
    event.stopPropagation();
    if (event.key === 'Enter') {
      keep();
      input.current?.select();
    } else if (event.key === 'Escape') {
      setText(null);
      setReason(null);
      input.current?.blur();
    } else if ((event.key === 'ArrowUp' || event.key === 'ArrowDown') && !linked) {
      event.preventDefault();
      const step =
        (spec.quantity === 'length'
          ? METRES_PER_UNIT[unit] * 0.1
          : spec.quantity === 'angle' || spec.whole
            ? 1
            : 0.1) * (event.shiftKey && !spec.whole ? FINER : 1);
      setText(null);
      onValue(clampTo(spec, value + (event.key === 'ArrowUp' ? step : -step)));
    }
  };

  const onPointerDown = (event: PointerEvent<HTMLInputElement>): void => {
    if (text !== null || linked || event.button !== 0) return;
    drag.current = { x: event.clientX, value, moved: false };
    event.currentTarget.setPointerCapture(event.pointerId);
  };

  const onPointerMove = (event: PointerEvent<HTMLInputElement>): void => {
    const from = drag.current;
    if (!from) return;
    const dx = event.clientX - from.x;
    if (!from.moved && Math.abs(dx) < DRAG_START_PX) return;
    from.moved = true;
    onPreview(dragged(from.value, dx, event.shiftKey));
  };

  const dragged = (start: number, dx: number, finer: boolean): number => {
    const next = start + dx * spec.step * (finer ? FINER : 1);
    return clampTo(spec, spec.whole ? Math.round(next) : Number(next.toFixed(6)));
  };

  const onPointerUp = (event: PointerEvent<HTMLInputElement>): void => {
    const from = drag.current;
    drag.current = null;
    if (from?.moved) {
      onValue(dragged(from.value, event.clientX - from.x, event.shiftKey));
      event.currentTarget.blur();
    }
  };

  const axis = spec.axis;
  return (
    <div className="relative min-w-0">
      <input
        ref={input}
        aria-label={label}
        aria-invalid={reason !== null}
        title={reason ?? `${label}: ${describeValue(spec, value, unit)}`}
        className={`input-field num h-[22px] w-full px-1 text-right ${linked ? 'border-[#c9b3e6] bg-link-wash text-link' : ''} ${loose ? 'border-now text-now' : ''} ${active ? 'outline-2 -outline-offset-1 outline-teal' : ''} ${text === null && !linked ? 'cursor-ew-resize' : ''}`}
        value={text ?? formatValue(spec, value, unit)}
        spellCheck={false}
        autoComplete="off"
        onFocus={(event) => {
          onFocus();
          if (!linked) setText(editableValue(spec, value, unit));
          const { currentTarget } = event;
          requestAnimationFrame(() => currentTarget.select());
        }}
        onBlur={() => {
          if (reason === null) keep();
          setText(null);
          setReason(null);
        }}
        onChange={(event) => {
          if (linked && !event.target.value.startsWith('=')) return;
          setText(event.target.value);
          setReason(null);
        }}
        onKeyDown={onKeyDown}
        onPointerDown={onPointerDown}
        onPointerMove={onPointerMove}
        onPointerUp={onPointerUp}
        onPointerCancel={() => {
          drag.current = null;
          onPreview(null);
        }}
      />
      {axis && (
        <i
          className="pointer-events-none absolute inset-y-0 left-0 w-[3px] rounded-l-[5px]"
          style={{ background: `var(--color-${axis})` }}
        />
      )}
      {reason !== null && (
        <p
          role="alert"
          className="absolute right-0 top-full z-30 mt-1 w-52 rounded-md bg-ink px-2 py-1.5 text-left text-xs text-paper shadow-lg"
        >
          {reason}
        </p>
      )}
    </div>
  );
}

function clampTo(spec: ChannelSpec, value: number): number {
  return Math.min(spec.max, Math.max(spec.min, value));
}
