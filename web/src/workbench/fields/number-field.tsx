import { useEffect, useLayoutEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import type { ChannelSpec, Shot } from '../../../../core/document';
import { typedValue } from '../../../../core/formula';
import { describeValue, editableValue, formatValue } from '../../shared/format';
import { stepIn } from '../../shared/steps';
import { beginDrag } from '../../ui/drag';
import { FieldReason, linkedReason, UnlinkAndSet } from './field-reason';
import { RING_WORDS, type RingState } from './ring';

interface Props {
  readonly shot: Shot;
  /** The same channel of each chosen part. */
  readonly addresses: readonly string[];
  readonly spec: ChannelSpec;
  readonly values: readonly number[];
  readonly label: string;
  readonly linked: boolean;
  /** What is true of this field at the current frame. */
  readonly state: RingState;
  readonly loose: boolean;
  readonly active: boolean;
  onPreview(values: readonly number[] | null): void;
  onValues(values: readonly number[]): void;
  onFormula(text: string): void;
  /** Unlinks the channels and gives them numbers. */
  onUnlink(values: readonly number[]): void;
  /** Keys or unkeys at this frame; missing where the value cannot be keyed or the row's own ring does it. */
  onPeg?(): void;
  onFocus(): void;
  /** The caret is wanted here. */
  readonly wanted: boolean;
  onArrived(): void;
}

const DRAG_START_PX = 3;
const FINER = 0.1;
/** Keys after which Tab still goes on from a field that has given the keys back. */
const STAYS: ReadonlySet<string> = new Set(['Tab', 'Shift', 'Control', 'Alt', 'Meta']);
/** Characters of a number for which a field of three has room beside the mark of its axis. */
const ROOM = 7;
export const MIXED = 'mixed';

/**
 * A number that can be dragged sideways (finer with Shift) or typed: arithmetic, units, `+=10`, `*2`, and a formula
 * after `=`. For several parts at once what is typed or dragged counts for each of them.
 */
export function NumberField({
  shot,
  addresses,
  spec,
  values,
  label,
  linked,
  state,
  loose,
  active,
  onPreview,
  onValues,
  onFormula,
  onUnlink,
  onPeg,
  onFocus,
  wanted,
  onArrived,
}: Props) {
  const [text, setText] = useState<string | null>(null);
  const [reason, setReason] = useState<string | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const box = useRef<HTMLDivElement>(null);
  /** Something was typed, be it what stood there: with auto-key that is meant as a key. */
  const typed = useRef(false);
  /** All of the text is to be chosen once it is there. */
  const selects = useRef(false);
  const pressed = useRef(false);
  useLayoutEffect(() => {
    if (!selects.current || document.activeElement !== input.current) return;
    selects.current = false;
    input.current?.select();
  });
  const { unit } = shot.setup;
  const target = addresses.join();
  // What was begun for another part is not taken over.
  const [typedFor, setTypedFor] = useState(target);
  if (typedFor !== target) {
    setTypedFor(target);
    setText(null);
    setReason(null);
  }
  useEffect(() => {
    if (!wanted) return;
    input.current?.focus();
    onArrived();
    // Once it is here, it is no longer wanted: only the wish counts.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [wanted]);
  const value = values[0]!;
  const mixed = values.some((other) => other !== value);
  const resting = mixed ? '' : editableValue(spec, value, unit);

  /** Takes what was typed. @returns whether it could be taken */
  const keep = (): boolean => {
    if (text === null) return true;
    const trimmed = text.trim();
    if (trimmed.startsWith('=')) {
      onFormula(trimmed.slice(1));
      setText(null);
      return true;
    }
    if (trimmed === '' || (trimmed === resting && (!typed.current || mixed))) {
      setText(null);
      setReason(null);
      return true;
    }
    const taken = addresses.map((address, i) =>
      typedValue(shot, address, trimmed, values[i]!, { index: i, count: addresses.length }),
    );
    const wrong = taken.find((entry) => !entry.ok);
    if (wrong && !wrong.ok) {
      setReason(wrong.error.message);
      return false;
    }
    if (linked) {
      setReason(linkedReason(label));
      return false;
    }
    setReason(null);
    setText(null);
    typed.current = false;
    const numbers = taken.map((entry) => (entry.ok ? entry.value : 0));
    onValues(spec.whole ? numbers.map(Math.round) : numbers);
    return true;
  };

  /** Takes the number that was typed over a formula. */
  const unlink = (): void => {
    const taken = addresses.map((address, i) =>
      typedValue(shot, address, text!.trim(), values[i]!, { index: i, count: addresses.length }),
    );
    if (!taken.every((entry) => entry.ok)) return;
    setReason(null);
    setText(null);
    onUnlink(taken.map((entry) => entry.value));
    box.current?.focus({ preventScroll: true });
  };

  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>): void => {
    event.stopPropagation();
    if (event.key === 'Enter') {
      // What is kept gives the keys back to the workbench; Tab goes on from here.
      if (keep()) box.current?.focus({ preventScroll: true });
      else input.current?.select();
    } else if (event.key === 'Escape') {
      setText(null);
      setReason(null);
      box.current?.focus({ preventScroll: true });
    } else if ((event.key === 'ArrowUp' || event.key === 'ArrowDown') && !linked) {
      event.preventDefault();
      const step =
        (spec.quantity === 'length' ? stepIn(unit) : spec.quantity === 'angle' || spec.whole ? 1 : 0.1) *
        (event.shiftKey && !spec.whole ? FINER : 1);
      setText(null);
      onValues(values.map((now) => clampTo(spec, now + (event.key === 'ArrowUp' ? step : -step))));
    }
  };

  const onPointerDown = (event: PointerEvent<HTMLInputElement>): void => {
    pressed.current = document.activeElement !== event.currentTarget;
    if (text !== null || linked || event.button !== 0) return;
    const element = event.currentTarget;
    const { clientX: x } = event;
    const to = (at: { clientX: number }, finer: boolean): number[] =>
      values.map((from) => {
        const next = from + (at.clientX - x) * spec.step * (finer ? FINER : 1);
        return clampTo(spec, spec.whole ? Math.round(next) : Number(next.toFixed(6)));
      });
    beginDrag(element, event, {
      threshold: DRAG_START_PX,
      move: (at, finer) => {
        // The number runs along; nothing is typed.
        setText(null);
        onPreview(to(at, finer));
      },
      end: (kept, at, moved) => {
        if (!moved) return;
        pressed.current = false;
        if (kept && at) onValues(to(at, at.shiftKey));
        else onPreview(null);
        element.blur();
      },
    });
  };

  const axis = spec.axis;
  const shown = text ?? (mixed ? '' : formatValue(spec, value, unit));
  return (
    <div
      ref={box}
      tabIndex={-1}
      className="relative min-w-0 outline-none"
      onKeyDown={(event) => {
        if (event.target !== event.currentTarget || STAYS.has(event.key)) return;
        // The Escape right after an Enter leaves the field; it is not meant for what is chosen.
        if (event.key === 'Escape') {
          event.preventDefault();
          event.stopPropagation();
        }
        event.currentTarget.blur();
      }}
    >
      <input
        ref={input}
        aria-label={label}
        aria-invalid={reason !== null}
        title={
          reason ??
          (mixed
            ? `${label}: ${values.length} different values; typing sets all, += and * change each`
            : `${label}: ${describeValue(spec, value, unit)}`)
        }
        placeholder={mixed ? MIXED : undefined}
        className={`input-field num h-[22px] w-full text-right placeholder:text-ink-3 ${axis && shown.length > ROOM ? 'pr-0.5 pl-1 tracking-tighter' : 'px-1'} ${linked && text === null ? 'linked-value' : ''} ${loose ? 'border-now text-now' : ''} ${active ? 'outline-2 -outline-offset-1 outline-teal' : ''} ${text === null && !linked ? 'cursor-ew-resize' : ''}`}
        value={shown}
        spellCheck={false}
        autoComplete="off"
        onFocus={() => {
          onFocus();
          typed.current = false;
          // A linked field may not be drawn anew by this: what is chosen later must not be what has been typed by then.
          if (linked) input.current?.select();
          else {
            setText(resting);
            selects.current = true;
          }
        }}
        onBlur={() => {
          if (reason === null) keep();
          setText(null);
          setReason(null);
        }}
        onChange={(event) => {
          selects.current = false;
          setText(event.target.value);
          setReason(null);
        }}
        // Typing what stood there is no change, but an input all the same.
        onInput={() => (typed.current = true)}
        onKeyDown={onKeyDown}
        onPointerDown={onPointerDown}
        onPointerUp={(event) => pressed.current && event.currentTarget.select()}
      />
      {axis && (
        <i
          className="pointer-events-none absolute inset-y-0 left-0 w-[3px] rounded-l-[5px]"
          style={{ background: `var(--color-${axis})` }}
        />
      )}
      {onPeg && <FieldPeg label={label} state={state} onClick={onPeg} />}
      {reason !== null && (
        <FieldReason field={input.current}>
          {reason}
          {linked && text !== null && !text.startsWith('=') && (
            <UnlinkAndSet typed={text.trim()} onUnlink={unlink} />
          )}
        </FieldReason>
      )}
    </div>
  );
}

/** The state of one field of several in a row, as an upright peg at its left edge: full, hollow, or dashed. */
function FieldPeg({ label, state, onClick }: { label: string; state: RingState; onClick(): void }) {
  const look: Record<RingState, string> = {
    still: 'border-transparent group-hover:border-line group-hover:bg-field',
    moves: 'border-key bg-field',
    key: 'border-key bg-key',
    loose: 'border-now border-dashed bg-field',
    link: 'border-link border-dotted bg-field',
    'link-over-keys': 'border-link bg-key',
  };
  return (
    <button
      type="button"
      tabIndex={-1}
      aria-label={`${label}: ${RING_WORDS[state]}`}
      title={`${label}: ${RING_WORDS[state]}. Click to ${state === 'key' ? 'take the key away' : state.startsWith('link') ? 'see the formula' : 'key it here'}.`}
      className="group absolute inset-y-0 left-0 flex w-[7px] items-center justify-center"
      onClick={onClick}
    >
      <i className={`block h-[12px] w-[5px] rounded-full border ${look[state]}`} />
    </button>
  );
}

function clampTo(spec: ChannelSpec, value: number): number {
  return Math.min(spec.max, Math.max(spec.min, value));
}
