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

/** What was typed, worked out for each of the parts, in the numbers that they take. @returns why not, where one cannot */
function numbersOf(
  { shot, addresses, spec, values }: Pick<Props, 'shot' | 'addresses' | 'spec' | 'values'>,
  typed: string,
): readonly number[] | { readonly reason: string } {
  const numbers: number[] = [];
  for (const [index, address] of addresses.entries()) {
    const taken = typedValue(shot, address, typed, values[index]!, { index, count: addresses.length });
    if (!taken.ok) return { reason: taken.error.message };
    numbers.push(spec.whole ? Math.round(taken.value) : taken.value);
  }
  return numbers;
}

const isReason = (taken: ReturnType<typeof numbersOf>): taken is { readonly reason: string } =>
  'reason' in taken;

/** What is being typed into a field: kept, refused with a reason, or put back. */
function useTyped(props: Props, resting: string) {
  const { addresses, label, linked, onFormula, onValues, onUnlink } = props;
  const [text, setText] = useState<string | null>(null);
  const [reason, setReason] = useState<string | null>(null);
  /** Something was typed, be it what stood there: with auto-key that is meant as a key. */
  const typed = useRef(false);
  const target = addresses.join();
  // What was begun for another part is not taken over.
  const [typedFor, setTypedFor] = useState(target);
  const drop = (): void => {
    setText(null);
    setReason(null);
  };
  if (typedFor !== target) {
    setTypedFor(target);
    drop();
  }
  /** Takes what was typed. @returns whether it could be taken */
  const keep = (): boolean => {
    if (text === null) return true;
    const trimmed = text.trim();
    if (trimmed.startsWith('=')) {
      onFormula(trimmed.slice(1));
      setText(null);
      return true;
    }
    const mixed = resting === '';
    if (trimmed === '' || (trimmed === resting && (!typed.current || mixed))) {
      drop();
      return true;
    }
    const taken = numbersOf(props, trimmed);
    if (isReason(taken) || linked) {
      setReason(isReason(taken) ? taken.reason : linkedReason(label));
      return false;
    }
    drop();
    typed.current = false;
    onValues(taken);
    return true;
  };
  return {
    text,
    reason,
    typed,
    keep,
    drop,
    /** Shows what stands in the field now. */
    write: (next: string | null) => {
      setText(next);
      if (next !== null) setReason(null);
    },
    /** Takes the number that was typed over a formula. @returns whether it is one */
    unlink: (): boolean => {
      const taken = numbersOf(props, text!.trim());
      if (isReason(taken)) return false;
      drop();
      onUnlink(taken);
      return true;
    },
  };
}

/** How far an arrow key moves a number. */
function stepOf({ quantity, whole }: ChannelSpec, unit: Shot['setup']['unit'], finer: boolean): number {
  const step = quantity === 'length' ? stepIn(unit) : quantity === 'angle' || whole ? 1 : 0.1;
  return finer && !whole ? step * FINER : step;
}

/** Lets a number run along with the pointer. */
function beginNumberDrag(
  { spec, values, onPreview, onValues }: Props,
  event: PointerEvent<HTMLInputElement>,
  moves: { run(): void; end(): void },
): void {
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
      moves.run();
      onPreview(to(at, finer));
    },
    end: (kept, at, moved) => {
      if (!moved) return;
      moves.end();
      if (kept && at) onValues(to(at, at.shiftKey));
      else onPreview(null);
      element.blur();
    },
  });
}

/** Gives the next key to the workbench, once a field has been left for what is round it. */
function leaveBox(event: KeyboardEvent<HTMLDivElement>): void {
  if (event.target !== event.currentTarget || STAYS.has(event.key)) return;
  // The Escape right after an Enter leaves the field; it is not meant for what is chosen.
  if (event.key === 'Escape') {
    event.preventDefault();
    event.stopPropagation();
  }
  event.currentTarget.blur();
}

/**
 * A number that can be dragged sideways (finer with Shift) or typed: arithmetic, units, `+=10`, `*2`, and a formula
 * after `=`. For several parts at once what is typed or dragged counts for each of them.
 */
export function NumberField(props: Props) {
  const { shot, spec, values, label, linked, state, loose, active, onValues, onPeg, onFocus } = props;
  const { wanted, onArrived } = props;
  const input = useRef<HTMLInputElement>(null);
  const box = useRef<HTMLDivElement>(null);
  /** All of the text is to be chosen once it is there. */
  const selects = useRef(false);
  const pressed = useRef(false);
  useLayoutEffect(() => {
    if (!selects.current || document.activeElement !== input.current) return;
    selects.current = false;
    input.current?.select();
  });
  useEffect(() => {
    if (!wanted) return;
    input.current?.focus();
    onArrived();
    // Once it is here, it is no longer wanted: only the wish counts.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [wanted]);
  const { unit } = shot.setup;
  const value = values[0]!;
  const mixed = values.some((other) => other !== value);
  const resting = mixed ? '' : editableValue(spec, value, unit);
  const { text, reason, typed, keep, drop, write, unlink } = useTyped(props, resting);
  const leave = (): void => box.current?.focus({ preventScroll: true });

  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>): void => {
    event.stopPropagation();
    if (event.key === 'Enter') {
      // What is kept gives the keys back to the workbench; Tab goes on from here.
      if (keep()) leave();
      else input.current?.select();
    } else if (event.key === 'Escape') {
      drop();
      leave();
    } else if ((event.key === 'ArrowUp' || event.key === 'ArrowDown') && !linked) {
      event.preventDefault();
      const step = stepOf(spec, unit, event.shiftKey) * (event.key === 'ArrowUp' ? 1 : -1);
      write(null);
      onValues(values.map((now) => clampTo(spec, now + step)));
    }
  };

  const onPointerDown = (event: PointerEvent<HTMLInputElement>): void => {
    pressed.current = document.activeElement !== event.currentTarget;
    if (text !== null || linked || event.button !== 0) return;
    beginNumberDrag(props, event, {
      // The number runs along; nothing is typed.
      run: () => write(null),
      end: () => (pressed.current = false),
    });
  };

  const axis = spec.axis;
  const tip = mixed
    ? `${label}: ${values.length} different values; typing sets all, += and * change each`
    : `${label}: ${describeValue(spec, value, unit)}`;
  const shown = text ?? (mixed ? '' : formatValue(spec, value, unit));
  return (
    <div ref={box} tabIndex={-1} className="relative min-w-0 outline-none" onKeyDown={leaveBox}>
      <input
        ref={input}
        aria-label={label}
        aria-invalid={reason !== null}
        title={reason ?? tip}
        placeholder={mixed ? MIXED : undefined}
        className={`input-field num h-[22px] w-full text-right placeholder:text-ink-3 ${axis && shown.length > ROOM ? 'pr-px pl-[3px] text-[10.5px] tracking-tighter' : 'px-1'} ${linked && text === null ? 'linked-value' : ''} ${loose ? 'border-now text-now' : ''} ${active ? 'outline-2 -outline-offset-1 outline-teal' : ''} ${text === null && !linked ? 'cursor-ew-resize' : ''}`}
        value={shown}
        spellCheck={false}
        autoComplete="off"
        onFocus={() => {
          onFocus();
          typed.current = false;
          // A linked field may not be drawn anew by this: what is chosen later must not be what has been typed by then.
          if (linked) input.current?.select();
          else {
            write(resting);
            selects.current = true;
          }
        }}
        onBlur={() => {
          if (reason === null) keep();
          drop();
        }}
        onChange={(event) => {
          selects.current = false;
          write(event.target.value);
        }}
        // Typing what stood there is no change, but an input all the same.
        onInput={() => (typed.current = true)}
        onKeyDown={onKeyDown}
        onPointerDown={onPointerDown}
        onPointerUp={(event) => pressed.current && event.currentTarget.select()}
      />
      {axis && <AxisMark axis={axis} />}
      {onPeg && <FieldPeg label={label} state={state} onClick={onPeg} />}
      {reason !== null && (
        <FieldReason field={input.current}>
          {reason}
          {text !== null && reason === linkedReason(label) && (
            <UnlinkAndSet typed={text.trim()} onUnlink={() => unlink() && leave()} />
          )}
        </FieldReason>
      )}
    </div>
  );
}

/** The colour of an axis at the left edge of its field. */
function AxisMark({ axis }: { axis: 'x' | 'y' | 'z' }) {
  return (
    <i
      className="pointer-events-none absolute inset-y-0 left-0 w-[3px] rounded-l-[5px]"
      style={{ background: `var(--color-${axis})` }}
    />
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
