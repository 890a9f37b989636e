import { Popover } from 'radix-ui';
import { useRef, useState } from 'react';
import { HexColorPicker } from 'react-colorful';
import { colourFromHex, hexOfColour, noColour } from '../../../../core/math';
import { FieldReason, linkedReason, UnlinkAndSet } from './field-reason';

type Linear = [number, number, number];

const RECENT_KEY = 'whirl:recent-colours';
const RECENT_COUNT = 14;

function recentColours(): string[] {
  try {
    const stored: unknown = JSON.parse(localStorage.getItem(RECENT_KEY) ?? '[]');
    return Array.isArray(stored)
      ? stored.filter((entry): entry is string => typeof entry === 'string' && /^#[0-9a-f]{6}$/.test(entry))
      : [];
  } catch {
    return [];
  }
}

function remember(hex: string): void {
  const list = [hex, ...recentColours().filter((other) => other !== hex)].slice(0, RECENT_COUNT);
  try {
    localStorage.setItem(RECENT_KEY, JSON.stringify(list));
  } catch {
    // A browser that keeps nothing only loses the row of recent colours.
  }
}

const channels = (hex: string): [number, number, number] =>
  [1, 3, 5].map((at) => parseInt(hex.slice(at, at + 2), 16)) as [number, number, number];
const hexFrom = (rgb: readonly number[]): string =>
  `#${rgb
    .map((part) =>
      Math.max(0, Math.min(255, Math.round(part)))
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;

/** How the formula of a colour is written and taken away. */
export interface ColourLink {
  readonly linked: boolean;
  onFormula(text: string): void;
  /** Takes the link away and sets a colour. */
  onUnlink(value: Linear): void;
  onFocus(): void;
}

/** A colour: a swatch that opens the picker with numbers and recent colours, and its hex beside it. */
export function ColourControl({
  name,
  value,
  mixed,
  link = null,
  onPreview,
  onValue,
}: {
  name: string;
  value: readonly [number, number, number];
  mixed: boolean;
  /** Where a formula can give the colour; `null` for one that cannot be linked. */
  link?: ColourLink | null;
  onPreview(value: Linear | null): void;
  onValue(value: Linear): void;
}) {
  const hex = hexOfColour(value);
  const [picking, setPicking] = useState<string | null>(null);
  const [open, setOpen] = useState(false);
  const linked = link?.linked ?? false;
  const take = (entry: string): void => {
    const colour = colourFromHex(entry);
    if (!colour || !(mixed || hexOfColour(colour) !== hex)) return;
    onValue(colour);
    remember(hexOfColour(colour));
  };
  const close = (keep: boolean): void => {
    if (picking !== null) {
      if (keep) take(picking);
      else onPreview(null);
    }
    setPicking(null);
    setOpen(false);
  };
  const show = (next: string): void => {
    setPicking(next);
    onPreview(colourFromHex(next));
  };
  const shown = picking ?? hex;
  return (
    <>
      <Popover.Root open={open} onOpenChange={(next) => (next ? setOpen(true) : close(true))}>
        <Popover.Trigger
          disabled={linked}
          title={linked ? 'A formula gives this colour: it stands in the bar above the view.' : undefined}
          aria-label={`${name}: ${mixed ? 'mixed colours' : hex}`}
          className="h-[22px] rounded-[5px] border border-ink/30"
          style={{
            // A swatch that cannot be opened shows its colour all the same.
            opacity: 1,
            background: mixed
              ? 'repeating-linear-gradient(45deg, var(--color-line) 0 4px, var(--color-field) 4px 8px)'
              : shown,
          }}
        />
        <Popover.Portal>
          <Popover.Content
            className="menu-surface w-[212px] p-2.5"
            sideOffset={4}
            align="start"
            onEscapeKeyDown={(event) => {
              event.preventDefault();
              close(false);
            }}
            onKeyDown={(event) => {
              event.stopPropagation();
              if (event.key === 'Enter') close(true);
            }}
          >
            <Picker name={name} shown={shown} onShow={show} />
            <div className="mt-2.5 flex justify-end gap-1.5">
              <button type="button" className="btn" onClick={() => close(false)}>
                Leave
              </button>
              <button type="button" className="btn btn-strong" onClick={() => close(true)}>
                Take
              </button>
            </div>
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
      <HexField
        name={name}
        hex={hex}
        shown={mixed && picking === null ? '' : shown}
        mixed={mixed}
        link={link}
        onTake={take}
      />
    </>
  );
}

/** A colour as hex, or the formula that gives it. */
function HexField({
  name,
  hex,
  shown,
  mixed,
  link,
  onTake,
}: {
  name: string;
  /** The colour itself. */
  hex: string;
  /** What stands here while nothing is typed. */
  shown: string;
  mixed: boolean;
  link: ColourLink | null;
  onTake(hex: string): void;
}) {
  const [text, setText] = useState<string | null>(null);
  const [refused, setRefused] = useState<Linear | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const entered = useRef(false);
  const linked = link?.linked ?? false;
  const formula = link !== null && text !== null && text.trimStart().startsWith('=');
  const wrong = text !== null && !formula && colourFromHex(text) === null;
  const take = (entry: string): void => {
    if (link && entry.trimStart().startsWith('=')) {
      link.onFormula(entry.trim().slice(1));
      setText(null);
      return;
    }
    if (linked) {
      const colour = colourFromHex(entry);
      if (colour && hexOfColour(colour) !== hex) setRefused(colour);
      else setText(null);
      return;
    }
    onTake(entry);
    setText(null);
  };
  return (
    <>
      <input
        ref={input}
        aria-label={`${name} as hex`}
        className={`input-field num col-span-2 h-[22px] ${linked && text === null ? 'linked-value' : ''}`}
        value={text ?? shown}
        placeholder={mixed ? 'mixed' : undefined}
        aria-invalid={wrong}
        title={wrong ? `${noColour(text)}.` : undefined}
        onFocus={(event) => {
          link?.onFocus();
          event.currentTarget.select();
          entered.current = true;
        }}
        onPointerUp={(event) => {
          // The press that entered the field would leave the caret where it was.
          if (entered.current) event.currentTarget.select();
          entered.current = false;
        }}
        onChange={(event) => {
          setText(event.target.value);
          setRefused(null);
        }}
        onBlur={(event) => {
          if (!linked) take(event.target.value);
          setText(null);
          setRefused(null);
        }}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === 'Enter') take(event.currentTarget.value);
          if (event.key === 'Escape') {
            setText(null);
            setRefused(null);
          }
        }}
      />
      {refused !== null && (
        <FieldReason field={input.current}>
          {linkedReason(name)}
          <UnlinkAndSet
            typed={hexOfColour(refused)}
            onUnlink={() => {
              link?.onUnlink(refused);
              setText(null);
              setRefused(null);
            }}
          />
        </FieldReason>
      )}
    </>
  );
}

/** Field of colours, its numbers, and the colours that were taken last. */
function Picker({
  name,
  shown,
  onShow,
}: {
  name: string;
  /** As hex. */
  shown: string;
  onShow(hex: string): void;
}) {
  return (
    <>
      <HexColorPicker color={shown} onChange={onShow} style={{ width: '100%', height: 140 }} />
      <div className="mt-2 grid grid-cols-3 gap-1">
        {(['Red', 'Green', 'Blue'] as const).map((label, i) => (
          <label key={label} className="text-xs text-ink-2">
            {label}
            <input
              type="number"
              min={0}
              max={255}
              aria-label={`${name} ${label.toLowerCase()}`}
              className="input-field num mt-0.5 w-full px-1"
              value={channels(shown)[i]}
              onChange={(event) => {
                const rgb = channels(shown);
                rgb[i] = Number(event.target.value) || 0;
                onShow(hexFrom(rgb));
              }}
            />
          </label>
        ))}
      </div>
      {recentColours().length > 0 && (
        <div className="mt-2 flex flex-wrap gap-1" role="group" aria-label="Recent colours">
          {recentColours().map((entry) => (
            <button
              key={entry}
              type="button"
              title={entry}
              aria-label={`Recent colour ${entry}`}
              className="size-[18px] rounded border border-ink/30"
              style={{ background: entry }}
              onClick={() => onShow(entry)}
            />
          ))}
        </div>
      )}
    </>
  );
}
