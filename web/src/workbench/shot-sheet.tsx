import { useState, type ReactNode } from 'react';
import { toast } from 'sonner';
import {
  FRAME_LIMIT,
  LENGTH_UNITS,
  RANGE_LIMIT,
  TONES,
  type Setup,
  type Tones,
} from '../../../core/document';
import { changeRate, changeSetup, compose } from '../../../core/edit';
import { apply } from '../../../core/edit';
import { colourFromHex, hexOfColour } from '../../../core/math';
import { COMMON_RATES, framesPerSecond, rateLabel } from '../../../core/time';
import { api } from '../shared/api';
import { formatLength } from '../shared/format';
import { ColourControl } from './fields/colour-control';
import { SampleSelect } from './render/sample-select';
import { useSession, useSheets } from './session';
import { DialogFrame, DialogLeave, DialogTitle } from '../ui/dialog-frame';

/** Frame sizes in use (common practice): name, width, height. */
const SIZES: readonly (readonly [string, number, number])[] = [
  ['HD 1280 × 720', 1280, 720],
  ['Full HD 1920 × 1080', 1920, 1080],
  ['UHD 3840 × 2160', 3840, 2160],
  ['Upright 1080 × 1920', 1080, 1920],
  ['Square 1080 × 1080', 1080, 1080],
  ['PAL 720 × 576', 720, 576],
  ['Cinema 2048 × 858', 2048, 858],
];
const UNIT_WORDS: Record<Setup['unit'], string> = {
  m: 'metres',
  cm: 'centimetres',
  mm: 'millimetres',
  px: 'pixels, 100 to the metre',
};
const SIDE_LIMITS = { least: 16, most: 8192 };

const TONE_WORDS: Record<Tones, string> = {
  neutral: 'neutral: colours stay as they are chosen',
  aces: 'film: strong contrast (ACES)',
  agx: 'soft: colours fade to white (AgX)',
  none: 'cut off at white',
};

/** Name, frame size, rate, range, unit, background, tones and samples of the shot. */
export function ShotSheet() {
  const session = useSession();
  const open = useSheets((state) => state.open === 'shot');
  const close = (): void => session.sheets.show(null);
  return (
    <DialogFrame open={open} onClose={close} className="top-[10%] w-[500px] p-5">
      <DialogTitle className="mb-4">The shot</DialogTitle>
      <Form onDone={close} />
    </DialogFrame>
  );
}

function whole(text: string): number | null {
  return /^\s*[-−]?\d+\s*$/.test(text) ? Number(text.replace('−', '-')) : null;
}

function Form({ onDone }: { onDone(): void }) {
  const session = useSession();
  const { setup } = session.shot;
  const [name, setName] = useState(session.doc.now.name);
  const [width, setWidth] = useState(String(setup.width));
  const [height, setHeight] = useState(String(setup.height));
  const [first, setFirst] = useState(String(setup.first));
  const [last, setLast] = useState(String(setup.last));
  /** Length in frames of the rate that the shot has. */
  const [oldLength, setOldLength] = useState(setup.last - setup.first + 1);
  const [rate, setRate] = useState(rateLabel(setup.rate));
  const [keep, setKeep] = useState<'frames' | 'seconds' | null>(null);
  const [unit, setUnit] = useState(setup.unit);
  const [background, setBackground] = useState<[number, number, number]>([...setup.background]);
  const [tones, setTones] = useState(setup.tones ?? 'neutral');
  const [samples, setSamples] = useState(setup.samples ?? 1);
  const [busy, setBusy] = useState(false);

  const oldRate = rateLabel(setup.rate);
  const chosenRate = COMMON_RATES.find((entry) => entry.label === rate)?.rate ?? setup.rate;
  const changesRate = rate !== oldRate;
  const share = framesPerSecond(chosenRate) / framesPerSecond(setup.rate);
  const [w, h, from, to] = [whole(width), whole(height), whole(first), whole(last)];
  const sideWrong = (side: number | null): boolean =>
    side === null || side < SIDE_LIMITS.least || side > SIDE_LIMITS.most;
  const nameWrong =
    name.trim() === ''
      ? 'The shot needs a name.'
      : name.trim().length > 80
        ? `A name may have 80 characters, this one has ${name.trim().length}.`
        : null;
  const sizeWrong = sideWrong(w)
    ? `Width "${width}" is not allowed: ${SIDE_LIMITS.least} to ${SIDE_LIMITS.most} pixels.`
    : sideWrong(h)
      ? `Height "${height}" is not allowed: ${SIDE_LIMITS.least} to ${SIDE_LIMITS.most} pixels.`
      : null;
  const rangeWrong =
    from === null || to === null
      ? `"${from === null ? first : last}" is no frame: whole numbers are.`
      : to < from
        ? `The last frame, ${to}, is before the first, ${from}.`
        : to - from + 1 > RANGE_LIMIT
          ? `${to - from + 1} frames are too many: at most ${RANGE_LIMIT}.`
          : Math.abs(from) > FRAME_LIMIT || Math.abs(to) > FRAME_LIMIT
            ? `Frames go from -${FRAME_LIMIT} to ${FRAME_LIMIT}.`
            : null;
  const rateOpen = changesRate && keep === null;
  const wrong = nameWrong ?? sizeWrong ?? rangeWrong;
  const preset = SIZES.find(([, a, b]) => a === w && b === h)?.[0] ?? '';

  const chooseKeep = (next: 'frames' | 'seconds'): void => {
    setKeep(next);
    if (from === null) return;
    setLast(String(from + (next === 'seconds' ? Math.round(oldLength * share) : oldLength) - 1));
  };
  const typeRange = (newFirst: string, newLast: string): void => {
    setFirst(newFirst);
    setLast(newLast);
    const [a, b] = [whole(newFirst), whole(newLast)];
    if (a !== null && b !== null && b >= a)
      setOldLength(keep === 'seconds' ? Math.round((b - a + 1) / share) : b - a + 1);
  };

  const run = async (): Promise<void> => {
    if (wrong || rateOpen || busy) return;
    setBusy(true);
    try {
      if (name.trim() !== session.doc.now.name) {
        await api.rename('shots', session.id, name.trim());
        session.doc.rename(name.trim());
        document.title = `${name.trim()} - Whirl`;
      }
    } catch (error) {
      toast.error(`The shot keeps its name: ${error instanceof Error ? error.message : String(error)}`);
      setBusy(false);
      return;
    }
    session.edit((shot) => {
      const retimed = changesRate ? changeRate(shot, chosenRate, keep ?? 'frames') : null;
      const now = retimed ? apply(shot, retimed) : shot;
      const next = {
        width: w!,
        height: h!,
        first: from!,
        last: to!,
        unit,
        background,
        ...(tones === (now.setup.tones ?? 'neutral') ? {} : { tones }),
        ...(samples === (now.setup.samples ?? 1) ? {} : { samples }),
      };
      const different = Object.fromEntries(
        Object.entries(next).filter(
          ([key, value]) => JSON.stringify(value) !== JSON.stringify(now.setup[key as keyof Setup]),
        ),
      );
      const change = changeSetup(now, different);
      return retimed ? { ...compose(retimed, change), label: 'Change the shot' } : change;
    });
    onDone();
  };

  const field = 'input-field num h-7';
  return (
    <form
      className="grid grid-cols-[96px_1fr] items-center gap-x-3 gap-y-2.5"
      onSubmit={(event) => {
        event.preventDefault();
        void run();
      }}
      onKeyDown={(event) => event.stopPropagation()}
    >
      <Label for="shot-name">Name</Label>
      <Line wrong={nameWrong}>
        <input
          id="shot-name"
          className="input-field h-7 w-full"
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
      </Line>
      <Label for="shot-size">Picture</Label>
      <Line wrong={sizeWrong}>
        <select
          id="shot-size"
          aria-label="Size of the picture"
          className="input-field h-7 min-w-0 flex-1 px-1"
          value={preset}
          onChange={(event) => {
            const found = SIZES.find(([words]) => words === event.target.value);
            if (!found) return;
            setWidth(String(found[1]));
            setHeight(String(found[2]));
          }}
        >
          <option value="">own size</option>
          {SIZES.map(([words]) => (
            <option key={words}>{words}</option>
          ))}
        </select>
        <input
          aria-label="Width in pixels"
          className={`${field} w-16`}
          value={width}
          onChange={(event) => setWidth(event.target.value)}
        />
        ×
        <input
          aria-label="Height in pixels"
          className={`${field} w-16`}
          value={height}
          onChange={(event) => setHeight(event.target.value)}
        />
        px
      </Line>
      <Label for="shot-rate">Frame rate</Label>
      <Line wrong={null}>
        <select
          id="shot-rate"
          aria-label="Frames a second"
          className="input-field h-7 w-36 px-1"
          value={rate}
          onChange={(event) => {
            setRate(event.target.value);
            setKeep(null);
          }}
        >
          {!COMMON_RATES.some((entry) => entry.label === oldRate) && <option>{oldRate}</option>}
          {COMMON_RATES.map((entry) => (
            <option key={entry.label}>{entry.label}</option>
          ))}
        </select>
        frames a second
      </Line>
      {changesRate && (
        <fieldset className="col-span-2 rounded-md border border-brass bg-brass-wash px-3 py-2">
          <legend className="px-1 font-semibold">
            What stays as the rate changes from {oldRate} to {rate}?
          </legend>
          {(
            [
              ['frames', 'The frames', 'keys stay put; everything runs faster or slower'],
              ['seconds', 'The seconds', 'keys and range move; everything lasts as long as before'],
            ] as const
          ).map(([key, words, more]) => (
            <label key={key} className="flex items-center gap-2 py-0.5">
              <input
                type="radio"
                name="keep"
                className="accent-teal"
                checked={keep === key}
                onChange={() => chooseKeep(key)}
              />
              <b className="w-20 flex-none">{words}</b> <span className="text-ink-2">{more}</span>
            </label>
          ))}
        </fieldset>
      )}
      <Label for="shot-first">Frames</Label>
      <Line wrong={rangeWrong}>
        <input
          id="shot-first"
          aria-label="First frame"
          className={`${field} w-20`}
          value={first}
          onChange={(event) => typeRange(event.target.value, last)}
        />
        to
        <input
          aria-label="Last frame"
          className={`${field} w-20`}
          value={last}
          onChange={(event) => typeRange(first, event.target.value)}
        />
        {!rangeWrong && (
          <span className="text-ink-2" data-testid="shot-length">
            {formatLength(to! - from! + 1, chosenRate)}
          </span>
        )}
      </Line>
      <Label for="shot-unit">Lengths in</Label>
      <Line wrong={null}>
        <select
          id="shot-unit"
          className="input-field h-7 w-52 px-1"
          value={unit}
          onChange={(event) => setUnit(event.target.value as Setup['unit'])}
        >
          {LENGTH_UNITS.map((entry) => (
            <option key={entry} value={entry}>
              {UNIT_WORDS[entry]}
            </option>
          ))}
        </select>
      </Line>
      <Label for="shot-background">Background</Label>
      <div className="grid grid-cols-[44px_90px_1fr] gap-2">
        <ColourControl
          name="Background"
          value={background}
          mixed={false}
          onPreview={(value) => value && setBackground(colourFromHex(hexOfColour(value)) ?? value)}
          onValue={setBackground}
        />
      </div>
      <p className="col-start-2 -mt-1.5 text-xs text-ink-2">
        A backdrop, added as a part, shows gradients, pictures and surroundings.
      </p>
      <Label for="shot-tones">Bright light</Label>
      <Line wrong={null}>
        <select
          id="shot-tones"
          className="input-field h-7 flex-1"
          title="How light brighter than white comes into the picture (tone mapping)"
          value={tones}
          onChange={(event) => setTones(event.target.value as Tones)}
        >
          {TONES.map((entry) => (
            <option key={entry} value={entry}>
              {TONE_WORDS[entry]}
            </option>
          ))}
        </select>
      </Line>
      <Label for="shot-samples">Samples</Label>
      <Line wrong={null}>
        <SampleSelect id="shot-samples" value={samples} onChange={setSamples} className={field} />
        <span className="text-xs text-ink-2">pictures for each frame, for soft light and blur</span>
      </Line>
      <div className="col-span-2 mt-2 flex items-center justify-end gap-2">
        {rateOpen && <span className="mr-auto text-now">Say what stays: frames or seconds.</span>}
        <DialogLeave />
        <button type="submit" className="btn btn-strong" disabled={wrong !== null || rateOpen || busy}>
          Set
        </button>
      </div>
    </form>
  );
}

function Label(props: { for: string; children: ReactNode }) {
  return (
    <label htmlFor={props.for} className="text-ink-2">
      {props.children}
    </label>
  );
}

function Line({ wrong, children }: { wrong: string | null; children: ReactNode }) {
  return (
    <div>
      <div className="flex items-center gap-2">{children}</div>
      {wrong && (
        <p role="alert" className="mt-1 text-now">
          {wrong}
        </p>
      )}
    </div>
  );
}
