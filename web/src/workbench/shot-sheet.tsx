import { useState, type ReactNode } from 'react';
import { toast } from 'sonner';
import { LENGTH_UNITS, TONES, type Setup, type Tones } from '../../../core/document';
import { colourFromHex, hexOfColour } from '../../../core/math';
import { COMMON_RATES, rateLabel } from '../../../core/time';
import { api } from '../shared/api';
import { formatLength } from '../shared/format';
import { ColourControl } from './fields/colour-control';
import { SampleSelect } from './render/sample-select';
import { useSession, useSheets } from './session';
import {
  changeBy,
  factsOf,
  formOf,
  keeping,
  rangeTyped,
  type ShotForm,
  type ShotFormFacts,
} from './shot-form';
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

/** What the lines of the form share. */
interface Lines {
  readonly form: ShotForm;
  readonly facts: ShotFormFacts;
  readonly setup: Setup;
  put(some: Partial<ShotForm>): void;
}

const FIELD = 'input-field num h-7';

function Form({ onDone }: { onDone(): void }) {
  const session = useSession();
  const { setup } = session.shot;
  const [form, setForm] = useState(() => formOf(session.doc.now.name, setup));
  const [busy, setBusy] = useState(false);
  const facts = factsOf(form, setup);
  const { wrong, rateOpen } = facts;
  const put = (some: Partial<ShotForm>): void => setForm((now) => ({ ...now, ...some }));

  const run = async (): Promise<void> => {
    if (wrong || rateOpen || busy) return;
    setBusy(true);
    const name = form.name.trim();
    try {
      if (name !== session.doc.now.name) {
        await api.rename('shots', session.id, name);
        session.doc.rename(name);
        document.title = `${name} - Whirl`;
      }
    } catch (error) {
      toast.error(`The shot keeps its name: ${error instanceof Error ? error.message : String(error)}`);
      setBusy(false);
      return;
    }
    session.edit((shot) => changeBy(shot, form));
    onDone();
  };

  const lines: Lines = { form, facts, setup, put };
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
      <Line wrong={facts.nameWrong}>
        <input
          id="shot-name"
          className="input-field h-7 w-full"
          value={form.name}
          onChange={(event) => put({ name: event.target.value })}
        />
      </Line>
      <PictureLines {...lines} />
      <RateLines {...lines} />
      <RangeLines {...lines} />
      <LightLines {...lines} />
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

/** Size of the picture, ready ones and its own. */
function PictureLines({ form, facts, put }: Lines) {
  return (
    <>
      <Label for="shot-size">Picture</Label>
      <Line wrong={facts.sizeWrong}>
        <select
          id="shot-size"
          aria-label="Size of the picture"
          className="input-field h-7 min-w-0 flex-1 px-1"
          value={SIZES.find(([, a, b]) => a === facts.width && b === facts.height)?.[0] ?? ''}
          onChange={(event) => {
            const found = SIZES.find(([words]) => words === event.target.value);
            if (found) put({ width: String(found[1]), height: String(found[2]) });
          }}
        >
          <option value="">own size</option>
          {SIZES.map(([words]) => (
            <option key={words}>{words}</option>
          ))}
        </select>
        <input
          aria-label="Width in pixels"
          className={`${FIELD} w-16`}
          value={form.width}
          onChange={(event) => put({ width: event.target.value })}
        />
        ×
        <input
          aria-label="Height in pixels"
          className={`${FIELD} w-16`}
          value={form.height}
          onChange={(event) => put({ height: event.target.value })}
        />
        px
      </Line>
    </>
  );
}

/** Frames a second, and what stays as they change. */
function RateLines({ form, facts, setup, put }: Lines) {
  const oldRate = rateLabel(setup.rate);
  return (
    <>
      <Label for="shot-rate">Frame rate</Label>
      <Line wrong={null}>
        <select
          id="shot-rate"
          aria-label="Frames a second"
          className="input-field h-7 w-36 px-1"
          value={form.rate}
          onChange={(event) => put({ rate: event.target.value, keep: null })}
        >
          {!COMMON_RATES.some((entry) => entry.label === oldRate) && <option>{oldRate}</option>}
          {COMMON_RATES.map((entry) => (
            <option key={entry.label}>{entry.label}</option>
          ))}
        </select>
        frames a second
      </Line>
      {facts.changesRate && (
        <fieldset className="col-span-2 rounded-md border border-brass bg-brass-wash px-3 py-2">
          <legend className="px-1 font-semibold">
            What stays as the rate changes from {oldRate} to {form.rate}?
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
                checked={form.keep === key}
                onChange={() => put(keeping(form, setup, key))}
              />
              <b className="w-20 flex-none">{words}</b> <span className="text-ink-2">{more}</span>
            </label>
          ))}
        </fieldset>
      )}
    </>
  );
}

/** First and last frame, and how long that is. */
function RangeLines({ form, facts, setup, put }: Lines) {
  return (
    <>
      <Label for="shot-first">Frames</Label>
      <Line wrong={facts.rangeWrong}>
        <input
          id="shot-first"
          aria-label="First frame"
          className={`${FIELD} w-20`}
          value={form.first}
          onChange={(event) => put(rangeTyped(form, setup, event.target.value, form.last))}
        />
        to
        <input
          aria-label="Last frame"
          className={`${FIELD} w-20`}
          value={form.last}
          onChange={(event) => put(rangeTyped(form, setup, form.first, event.target.value))}
        />
        {!facts.rangeWrong && (
          <span className="text-ink-2" data-testid="shot-length">
            {formatLength(facts.last! - facts.first! + 1, facts.rate)}
          </span>
        )}
      </Line>
    </>
  );
}

/** Unit, background, bright light and samples. */
function LightLines({ form, put }: Lines) {
  return (
    <>
      <Label for="shot-unit">Lengths in</Label>
      <Line wrong={null}>
        <select
          id="shot-unit"
          className="input-field h-7 w-52 px-1"
          value={form.unit}
          onChange={(event) => put({ unit: event.target.value as Setup['unit'] })}
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
          value={form.background}
          mixed={false}
          onPreview={(value) => value && put({ background: colourFromHex(hexOfColour(value)) ?? value })}
          onValue={(background) => put({ background })}
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
          value={form.tones}
          onChange={(event) => put({ tones: event.target.value as Tones })}
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
        <SampleSelect
          id="shot-samples"
          value={form.samples}
          onChange={(samples: ShotForm['samples']) => put({ samples })}
          className={FIELD}
        />
        <span className="text-xs text-ink-2">pictures for each frame, for soft light and blur</span>
      </Line>
    </>
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
