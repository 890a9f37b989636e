import { memo, useDeferredValue, useMemo } from 'react';
import { compiledComponents, compiledKey, slopeAtEnd } from '../../../../core/curve';
import { channelAt, type HandleKind, type Shot, type Value } from '../../../../core/document';
import {
  channelName,
  keyPlace,
  keysAt,
  moveKeys,
  setHandle,
  setHandleKind,
  setKeyFrame,
  setKeyValues,
  type KeyAddress,
} from '../../../../core/edit';
import { METRES_PER_UNIT, typedValue } from '../../../../core/formula';
import { colourFromHex, hexOfColour } from '../../../../core/math';
import { parseTypedTime } from '../../../../core/time';
import { editableValue } from '../../shared/format';
import { useChoice, useSession, useShot } from '../session';
import { ExactField } from './exact-field';
import { typedEdit } from './typed-edit';

const KINDS: readonly (readonly [HandleKind, string, string])[] = [
  ['auto', 'auto', 'Worked out: never beyond a key'],
  ['smooth', 'through', 'Worked out: straight from the key before to the key after'],
  ['aligned', 'in line', 'Both handles in one line, of any length'],
  ['free', 'free', 'Each handle as it is laid'],
  ['flat', 'flat', 'Both handles level'],
];

const tidy = (value: number): string => String(Number(value.toPrecision(9)));
/** As much of a handle as a narrow field has room for; left alone it stays as it is. */
const short = (value: number): string => String(Math.round(value * 1000) / 1000);

function typedNumber(text: string): number | string {
  const number = Number(text.replace(',', '.').replace(/[°a-z/ ]+$/i, ''));
  return text.trim() !== '' && Number.isFinite(number) ? number : `"${text}" is no number.`;
}

/** Frame, value and handles of the chosen keys, as numbers that are typed. */
export const KeyFields = memo(function KeyFields() {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  // The choice is seen on the plot at once, and here in the picture of the page after it.
  const chosenKeys = useDeferredValue(useChoice((state) => state.chosenKeys));
  const there = useMemo(() => keysAt(shot, chosenKeys), [shot, chosenKeys]);
  const keys = useMemo(() => there.map(({ target }) => target), [there]);
  const lead = keys.at(-1);
  const place = lead && keyPlace(shot, lead);
  if (!lead || !place)
    return (
      <p className="text-ink-2">
        No key is chosen. Click one, or press <span className="num font-semibold">E</span> for those at this
        frame: its frame, value and handles can be typed here.
      </p>
    );
  const { setup } = shot;
  const several = keys.length > 1;
  const typeFrame = (text: string): string | null => {
    const read = parseTypedTime(text, { rate: setup.rate, first: setup.first, current: place.key.frame });
    if (!read.ok) return read.message;
    const frame = Math.round(read.frame * 1e6) / 1e6;
    return typedEdit(session, (now) =>
      several ? moveKeys(now, keys, frame - place.key.frame) : setKeyFrame(now, lead, frame),
    );
  };
  return (
    <div className="flex flex-col gap-1" data-testid="key-fields">
      <h4 className="truncate font-semibold" title={channelName(shot, lead.address)}>
        {several ? `${keys.length} keys` : `Key ${place.index + 1} of ${place.count}`}
        <span className="font-normal text-ink-3"> · {channelName(shot, lead.address)}</span>
      </h4>
      <Row label="Frame">
        <ExactField
          label="Frame of the key"
          text={tidy(place.key.frame)}
          title={
            several ? 'Where the last chosen key goes; the others go along' : 'Frame, +12, 2s or 00:00:02:00'
          }
          onType={typeFrame}
        />
      </Row>
      <ValueField shot={shot} there={there} />
      <Handles shot={shot} there={there} lead={lead} />
    </div>
  );
});

function Row({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <div className="grid grid-cols-[52px_1fr] items-center gap-1">
      <span className="text-ink-2">{label}</span>
      <span className="flex min-w-0 gap-1">{children}</span>
    </div>
  );
}

type KeysThere = ReturnType<typeof keysAt>;

/** Whether two keys have the same value: a number, or the parts of a colour. */
const same = (a: Value, b: Value): boolean =>
  a === b || (typeof a === 'object' && typeof b === 'object' && a.every((part, i) => part === b[i]));

function ValueField({ shot, there }: { shot: Shot; there: KeysThere }) {
  const session = useSession();
  const last = there.at(-1)!;
  const spec = channelAt(shot, last.target.address)!.spec;
  const kinds = new Set(
    [...new Set(there.map(({ target }) => target.address))].map(
      (address) => channelAt(shot, address)?.spec.kind,
    ),
  );
  const { value } = last.key;
  const mixed = there.some(({ key }) => !same(key.value, value));
  const { unit } = shot.setup;
  if (kinds.size > 1)
    return (
      <Row label="Value">
        <span className="text-ink-3">numbers and colours</span>
      </Row>
    );
  const set = (read: (target: KeyAddress, i: number) => Value | string): string | null => {
    const entries: [KeyAddress, Value][] = [];
    for (const [i, { target }] of there.entries()) {
      const next = read(target, i);
      if (typeof next === 'string') return next;
      entries.push([target, next]);
    }
    return typedEdit(session, (now) => setKeyValues(now, entries));
  };
  if (spec.kind === 'switch')
    return (
      <Row label="Value">
        <select
          aria-label="Value of the key"
          className="input-field h-[22px] w-full px-1"
          value={mixed ? '' : String(value)}
          onChange={(event) => set(() => Number(event.target.value))}
        >
          {mixed && <option value="">both</option>}
          <option value="1">on</option>
          <option value="0">off</option>
        </select>
      </Row>
    );
  if (typeof value !== 'number')
    return (
      <Row label="Colour">
        <span
          className="size-[22px] flex-none rounded border border-line"
          style={{ background: hexOfColour(value) }}
          aria-hidden="true"
        />
        <ExactField
          label="Colour of the key"
          text={mixed ? '' : hexOfColour(value)}
          title="A colour as #rrggbb"
          className="flex-1"
          onType={(text) => set(() => colourFromHex(text) ?? `"${text}" is no colour: #c8362b would be one.`)}
        />
      </Row>
    );
  return (
    <Row label="Value">
      <ExactField
        label="Value of the key"
        text={mixed ? '' : editableValue(spec, value, unit)}
        unit={spec.quantity === 'length' ? unit : spec.quantity === 'angle' ? '°' : ''}
        title={
          mixed
            ? 'Different values: what is typed counts for each; +=1 or *2 changes them'
            : 'A number, 12mm, 1turn, +=1, *2'
        }
        className="flex-1"
        onType={(text) =>
          set((target, i) => {
            const read = typedValue(shot, target.address, text, there[i]!.key.value as number, {
              index: i,
              count: there.length,
            });
            return read.ok ? read.value : read.error.message;
          })
        }
      />
    </Row>
  );
}

/** Handles of the chosen keys: how they lie, and of one key how far they reach and how steep they are. */
function Handles({ shot, there, lead }: { shot: Shot; there: KeysThere; lead: KeyAddress }) {
  const session = useSession();
  const place = keyPlace(shot, lead)!;
  const spec = channelAt(shot, lead.address)!.spec;
  if (spec.kind === 'switch') return null;
  const kinds = new Set(there.map(({ key }) => key.handles ?? 'auto'));
  const kind = kinds.size === 1 ? [...kinds][0]! : null;
  const per = spec.quantity === 'length' ? METRES_PER_UNIT[shot.setup.unit] : 1;
  const side = (which: 'left' | 'right') => {
    const component = compiledComponents(place.track, 1)[0]!;
    const key = compiledKey(component, place.index);
    const other = which === 'left' ? place.before : place.after;
    const none = !other;
    const dt = other ? Math.abs(other.frame - place.key.frame) : 0;
    const owner = which === 'left' ? place.before : place.key;
    // Handles shape curves only; what moves otherwise has a slope, and gets handles when one is typed.
    const shaped = owner?.manner === 'curve';
    const reach = which === 'left' ? key.leftReach : key.rightReach;
    const rise = which === 'left' ? -key.leftRise : key.rightRise;
    const measured = (): number =>
      which === 'left'
        ? slopeAtEnd(component, place.index - 1, 'finish')
        : slopeAtEnd(component, place.index, 'start');
    const slope = none || dt === 0 ? 0 : (shaped ? (reach > 0 ? rise / reach : 0) : measured()) / per;
    const word = which === 'left' ? 'Arrives' : 'Leaves';
    const lay = (nextReach: number, nextSlope: number): string | null => {
      const sign = which === 'left' ? -1 : 1;
      return typedEdit(session, (now) =>
        setHandle(now, lead, which, { reach: nextReach, rise: sign * nextSlope * per * nextReach }),
      );
    };
    return (
      <Row label={word}>
        <ExactField
          label={`${word}: slope`}
          text={none ? '' : short(slope)}
          unit="/f"
          disabled={none}
          title="Slope: value per frame"
          className="flex-1"
          onType={(text) => {
            const number = typedNumber(text);
            return typeof number === 'string' ? number : lay(shaped && reach > 0 ? reach : dt / 3, number);
          }}
        />
        <ExactField
          label={`${word}: reach`}
          text={none || !shaped ? '' : short(reach)}
          unit="f"
          disabled={none}
          title="How far the handle reaches, frames; at most to the next key"
          className="flex-1"
          onType={(text) => {
            const number = typedNumber(text);
            if (typeof number === 'string') return number;
            if (number < 0) return 'A handle reaches 0 frames or more.';
            if (number > dt) return `A handle reaches to the next key at most: ${tidy(dt)} frames.`;
            return lay(number, slope);
          }}
        />
      </Row>
    );
  };
  return (
    <>
      {there.length === 1 && spec.kind === 'number' && (
        <>
          {side('left')}
          {side('right')}
        </>
      )}
      <div
        role="group"
        aria-label="Handles"
        className="grid grid-cols-5 overflow-hidden rounded-md border border-line"
      >
        {KINDS.map(([name, words, title]) => (
          <button
            key={name}
            type="button"
            aria-pressed={kind === name}
            title={title}
            className={`h-[22px] truncate text-[10.5px] ${kind === name ? 'bg-ink text-panel' : 'bg-raised hover:bg-field'}`}
            onClick={() =>
              session.edit((now) =>
                setHandleKind(
                  now,
                  there.map(({ target }) => target),
                  name,
                ),
              )
            }
          >
            {words}
          </button>
        ))}
      </div>
    </>
  );
}
