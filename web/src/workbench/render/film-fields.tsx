import {
  FILM_FORMATS,
  FILM_QUALITIES,
  filmFormat,
  filmQuality,
  nearestSide,
  transparentFormats,
} from '../../../../core/film';
import { formatLength } from '../../shared/format';
import { useSession, useShot } from '../session';
import { inFormat, type FilmForm } from './film-form';
import { PresetRow } from './preset-row';
import { SampleSelect } from './sample-select';

const SCALES = [1, 0.5, 0.25];

interface Props {
  readonly form: FilmForm;
  set(change: Partial<FilmForm>): void;
}

/** What is filled in for a film. */
export function FilmFields({ form, set }: Props) {
  return (
    <div className="flex flex-col gap-4 overflow-y-auto p-4">
      <PresetRow form={form} set={set} />
      <Frames form={form} set={set} />
      <Size form={form} set={set} />
      <Samples form={form} set={set} />
      <Format form={form} set={set} />
      {filmFormat(form.format).graded && <Quality form={form} set={set} />}
      <Where form={form} set={set} />
      <FileName form={form} set={set} />
    </div>
  );
}

function NumberBox(props: { label: string; value: string; onChange(text: string): void }) {
  return (
    <input
      aria-label={props.label}
      className="input-field num w-20 text-right"
      value={props.value}
      onChange={(event) => props.onChange(event.target.value)}
    />
  );
}

function Frames({ form, set }: Props) {
  const session = useSession();
  const setup = useShot((state) => state.shot.setup);
  const count = Number(form.last) - Number(form.first) + 1;
  return (
    <fieldset>
      <legend className="mb-1.5 font-bold">Frames</legend>
      <div className="flex items-center gap-2">
        <NumberBox label="First frame" value={form.first} onChange={(first) => set({ first })} />
        to
        <NumberBox label="Last frame" value={form.last} onChange={(last) => set({ last })} />
        <button
          type="button"
          className="btn h-6"
          onClick={() => set({ first: String(setup.first), last: String(setup.last) })}
        >
          All
        </button>
        <button
          type="button"
          className="btn h-6"
          onClick={() => {
            const here = String(Math.round(session.time.now.frame));
            set({ first: here, last: here });
          }}
        >
          This one
        </button>
      </div>
      <p className="mt-1.5 text-ink-2">
        {count >= 1 && Number.isFinite(count) ? formatLength(count, setup.rate) : ' '}
      </p>
    </fieldset>
  );
}

function Size({ form, set }: Props) {
  const setup = useShot((state) => state.shot.setup);
  return (
    <fieldset>
      <legend className="mb-1.5 font-bold">Size in pixels</legend>
      <div className="flex items-center gap-2">
        <NumberBox label="Width" value={form.width} onChange={(width) => set({ width })} />
        ×
        <NumberBox label="Height" value={form.height} onChange={(height) => set({ height })} />
        {SCALES.map((scale) => (
          <button
            key={scale}
            type="button"
            className="btn h-6"
            onClick={() =>
              set({
                width: String(nearestSide(setup.width * scale, form.format)),
                height: String(nearestSide(setup.height * scale, form.format)),
              })
            }
          >
            {scale * 100} %
          </button>
        ))}
      </div>
    </fieldset>
  );
}

function Samples({ form, set }: Props) {
  const ofShot = useShot((state) => state.shot.setup.samples ?? 1);
  return (
    <fieldset>
      <legend className="mb-1.5 font-bold">Samples and effects</legend>
      <label className="flex items-center gap-2">
        <SampleSelect
          value={form.samples}
          ofShot={ofShot}
          className="input-field num h-6"
          onChange={(samples: FilmForm['samples']) => set({ samples })}
        />
        <span className="text-ink-2">
          pictures for each frame, as many times as long: soft shadows, blur and depth ask for 8 or more
        </span>
      </label>
      <label className="mt-2 flex items-center gap-2">
        <input
          type="checkbox"
          className="accent-teal"
          checked={form.effects}
          onChange={(event) => set({ effects: event.target.checked })}
        />
        With what lens and film do: blur, glow, dark corners, grain
      </label>
    </fieldset>
  );
}

function Format({ form, set }: Props) {
  const session = useSession();
  const setup = useShot((state) => state.shot.setup);
  const sounds = useShot((state) => Object.values(state.shot.sounds).some((sound) => !sound.muted));
  const { format, alpha } = form;
  const transparent = filmFormat(format).alpha;
  return (
    <fieldset>
      <legend className="mb-1.5 font-bold">Format</legend>
      <div className="grid grid-cols-5 gap-1.5">
        {FILM_FORMATS.map((entry) => (
          <label
            key={entry}
            title={filmFormat(entry).words}
            className={`flex cursor-pointer items-center justify-center rounded-md border px-1 py-1.5 text-center leading-tight ${format === entry ? 'border-teal bg-teal-wash' : 'border-line bg-raised'}`}
          >
            <input
              type="radio"
              name="format"
              className="sr-only"
              checked={format === entry}
              onChange={() => set(inFormat(form, entry, setup, session.time.now.frame))}
            />
            <b>{filmFormat(entry).name}</b>
          </label>
        ))}
      </div>
      <p className="mt-1.5 text-ink-2">
        {filmFormat(format).name}: {filmFormat(format).words}.
      </p>
      <label
        className={`mt-1.5 flex items-center gap-2 ${transparent ? '' : 'text-ink-3'}`}
        title={`${transparentFormats()} can be transparent`}
      >
        <input
          type="checkbox"
          className="accent-teal"
          checked={alpha && transparent}
          disabled={!transparent}
          onChange={(event) => set({ alpha: event.target.checked })}
        />
        Transparent background
        {!transparent && `: not in ${filmFormat(format).name}`}
      </label>
      {sounds && !filmFormat(format).sound && (
        <p className="mt-1.5 text-ink-2">
          {filmFormat(format).name} has no sound: what is heard is left out.
        </p>
      )}
    </fieldset>
  );
}

function Quality({ form, set }: Props) {
  return (
    <fieldset>
      <legend className="mb-1.5 font-bold">Quality</legend>
      <div className="flex gap-4">
        {FILM_QUALITIES.map((entry) => (
          <label key={entry} className="flex items-center gap-1.5">
            <input
              type="radio"
              name="quality"
              className="accent-teal"
              checked={form.quality === entry}
              onChange={() => set({ quality: entry })}
            />
            <b>{filmQuality(entry).name}</b>
            <span className="text-ink-2">{filmQuality(entry).words}</span>
          </label>
        ))}
      </div>
    </fieldset>
  );
}

function Where({ form, set }: Props) {
  const place = (here: boolean, words: string) => (
    <label className="flex items-center gap-1.5">
      <input
        type="radio"
        name="where"
        className="accent-teal"
        checked={form.here === here}
        onChange={() => set({ here })}
      />
      <b>{words}</b>
    </label>
  );
  return (
    <fieldset>
      <legend className="mb-1.5 font-bold">Where it is drawn</legend>
      <div className="flex gap-4">
        {place(false, 'By the render machines')}
        {place(true, 'In this browser')}
      </div>
    </fieldset>
  );
}

function FileName({ form, set }: Props) {
  return (
    <fieldset>
      <legend className="mb-1.5 font-bold">File name</legend>
      <div className="flex items-center gap-1.5">
        <input
          aria-label="File name"
          className="input-field w-64"
          value={form.name}
          onChange={(event) => set({ name: event.target.value })}
        />
        <span className="num text-ink-2">.{filmFormat(form.format).ending}</span>
      </div>
      <p className="mt-1.5 text-ink-2">
        {form.here
          ? 'It is drawn while this page is open, shown here and saved from here; the Renders page does not have it.'
          : 'The film is kept on the Renders page, plays there and is downloaded from there.'}
      </p>
    </fieldset>
  );
}
