import { useMemo, useState } from 'react';
import { trackOf } from '../../../../core/document';
import {
  beatFrames,
  changeSound,
  channelName,
  clearBeats,
  framesOfSound,
  keyChannels,
  keyOnBeats,
  markBeats,
  setValues,
} from '../../../../core/edit';
import { beatsOf, onsetsOf, ONSET_THRESHOLD, tempoOf } from '../../../../core/sound';
import { DialogFrame, DialogLeave, DialogTitle } from '../../ui/dialog-frame';
import { valueOf } from '../actions/values';
import { useChoice, useKnownSound, useSession, useSheets, useShot } from '../session';
import { ExactField } from '../shaping/exact-field';
import { ExactNumber, tidyNumber as tidy } from '../shaping/exact-number';
import { typedEdit } from '../shaping/typed-edit';

const LEAST_THRESHOLD = 0.2;
const MOST_THRESHOLD = 6;

/** The sheet of the sound that is asked for. */
export function SoundSheet() {
  const id = useSheets((state) => state.sound);
  const there = useShot((state) => id !== null && state.shot.sounds[id] !== undefined);
  const session = useSession();
  if (id === null || !there) return null;
  return (
    <DialogFrame onClose={() => session.sheets.showSound(null)} className="top-[12%] w-[460px] p-4">
      <OneSound key={id} id={id} />
    </DialogFrame>
  );
}

function OneSound({ id }: { id: string }) {
  const session = useSession();
  const sound = useShot((state) => state.shot.sounds[id]!);
  useShot((state) => state.tick);
  const known = useKnownSound(sound.asset);
  const level = `${id}/level`;
  const keyed = trackOf(session.shot, level) !== null;
  const linked = sound.links.level !== undefined;
  const number = (
    label: string,
    text: string,
    unit: string,
    title: string,
    take: (value: number) => string | null,
    off = false,
  ) => (
    <ExactNumber
      label={label}
      text={text}
      unit={unit}
      title={title}
      disabled={off}
      className="w-28"
      onNumber={(value) => (value === null ? null : take(value))}
    />
  );
  const change = (options: Parameters<typeof changeSound>[2]): string | null =>
    typedEdit(session, (now) => changeSound(now, id, options));
  return (
    <>
      <DialogTitle className="mb-2">{sound.name}</DialogTitle>
      <div className="grid grid-cols-2 gap-x-5 gap-y-1.5">
        <label className="col-span-2 flex items-center gap-2">
          <span className="text-ink-2">Name</span>
          <ExactField
            label="Name of the sound"
            text={sound.name}
            className="flex-1 [&_input]:text-left"
            title="Formulas read its loudness by this name: level(name, low, high)"
            onType={(name) => change({ name })}
          />
        </label>
        {number('Begins at frame', tidy(sound.start), 'f', 'Frame at which it begins', (start) =>
          change({ start }),
        )}
        {number(
          'Level',
          tidy(valueOf(session, level) as number),
          '×',
          linked
            ? 'Linked: its formula says how loud it is'
            : keyed
              ? 'Keyed: this changes the value at the playhead'
              : '1 is as loud as its file',
          (value) =>
            typedEdit(session, (now) =>
              keyed
                ? keyChannels(now, session.time.now.frame, [[level, value]])
                : setValues(now, [[level, value]]),
            ),
          linked,
        )}
        {number('Leaves out', tidy(sound.from ?? 0), 's', 'Seconds left out at its beginning', (from) =>
          change({ from: from === 0 ? undefined : from }),
        )}
        {number(
          'Plays for',
          sound.length === undefined
            ? known?.facts
              ? tidy(known.facts.seconds - (sound.from ?? 0))
              : ''
            : tidy(sound.length),
          's',
          'Seconds that are played of it',
          (length) => change({ length }),
        )}
        {number('Fades in over', tidy(sound.fadeIn ?? 0), 's', 'Equal power', (fadeIn) =>
          change({ fadeIn: fadeIn === 0 ? undefined : fadeIn }),
        )}
        {number('Fades out over', tidy(sound.fadeOut ?? 0), 's', 'Equal power', (fadeOut) =>
          change({ fadeOut: fadeOut === 0 ? undefined : fadeOut }),
        )}
        <Check
          label="Over and over"
          on={sound.loop === true}
          onChange={(on) => change({ loop: on || undefined })}
        />
        <Check
          label="Muted"
          on={sound.muted === true}
          onChange={(on) => change({ muted: on || undefined })}
        />
      </div>
      <Beats id={id} />
      <div className="mt-3 flex justify-end">
        <DialogLeave>Done</DialogLeave>
      </div>
    </>
  );
}

function Check(props: { label: string; on: boolean; onChange(on: true | false): void }) {
  return (
    <label className="flex items-center gap-1.5">
      <input
        type="checkbox"
        className="accent-teal"
        checked={props.on}
        onChange={(event) => props.onChange(event.target.checked)}
      />
      {props.label}
    </label>
  );
}

/** Beats: found in a sound, marked, and keyed on. */
function Beats({ id }: { id: string }) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const sound = shot.sounds[id]!;
  const known = useKnownSound(sound.asset);
  const channel = useChoice((state) => state.channel);
  const [threshold, setThreshold] = useState(ONSET_THRESHOLD);
  const [every, setEvery] = useState(1);
  const flux = known?.flux ?? null;
  const onsets = useMemo(() => (flux ? onsetsOf(flux, threshold) : []), [flux, threshold]);
  const tempo = useMemo(() => (flux ? tempoOf(flux, onsetsOf(flux)) : null), [flux]);
  const marked = useMemo(() => beatFrames(shot), [shot]);
  if (!flux)
    return (
      <p className="mt-3 border-t border-line-soft pt-2 text-ink-2">
        {known?.failed ?? 'Its beats can be found once it has been read.'}
      </p>
    );
  const seconds = onsets.map((onset) => onset.seconds);
  const even = tempo ? beatsOf(tempo, known!.facts!.seconds) : [];
  const name = channel ? channelName(shot, channel) : null;
  const { frame } = session.time.now;
  return (
    <section aria-label="Beats" className="mt-3 flex flex-col gap-1.5 border-t border-line-soft pt-2">
      <h3 className="font-semibold">
        Beats
        <span className="ml-2 font-normal text-ink-3">
          {tempo ? `${Math.round(tempo.perMinute * 10) / 10} a minute` : 'nothing in it repeats'};{' '}
          {marked.length} marked in the shot
        </span>
      </h3>
      <label className="flex items-center gap-2">
        <span className="w-24 flex-none text-ink-2">Strokes above</span>
        <input
          type="range"
          aria-label="Threshold of strokes"
          className="flex-1 accent-teal"
          min={LEAST_THRESHOLD}
          max={MOST_THRESHOLD}
          step={0.1}
          value={threshold}
          onChange={(event) => setThreshold(Number(event.target.value))}
        />
        <span className="num w-20 text-right" data-testid="strokes-found">
          {onsets.length} found
        </span>
      </label>
      <div className="flex flex-wrap gap-1.5">
        <button
          type="button"
          className="btn"
          disabled={onsets.length === 0}
          onClick={() => session.edit((now) => markBeats(now, framesOfSound(now, id, seconds), true))}
        >
          Mark the strokes
        </button>
        <button
          type="button"
          className="btn"
          disabled={!tempo}
          onClick={() => session.edit((now) => markBeats(now, framesOfSound(now, id, even), true))}
        >
          Mark even beats
        </button>
        <button
          type="button"
          className="btn"
          disabled={marked.length === 0}
          onClick={() => session.edit(clearBeats)}
        >
          Take the beats away
        </button>
      </div>
      <p className="text-xs text-ink-3">
        Or tap them with Shift+B while it plays. Dragged keys catch on beats.
      </p>
      <div className="flex items-center gap-1.5">
        <button
          type="button"
          className="btn min-w-0 truncate"
          disabled={!channel || marked.length === 0}
          title={
            !channel
              ? 'Choose a value in Values or a lane first'
              : marked.length === 0
                ? 'Mark beats first'
                : `A key of ${name} on each of the beats from frame ${Math.round(frame)} on, with the value it has there`
          }
          onClick={() => session.edit((now) => keyOnBeats(now, [channel!], every, frame))}
        >
          Key {name ?? 'a value'}
        </button>
        <span className="flex-none text-ink-2">on every</span>
        <select
          aria-label="On every"
          className="input-field h-[24px] px-1"
          value={every}
          onChange={(event) => setEvery(Number(event.target.value))}
        >
          {[1, 2, 3, 4, 8].map((n) => (
            <option key={n} value={n}>
              {n === 1 ? 'beat' : `${n}${n === 2 ? 'nd' : n === 3 ? 'rd' : 'th'} beat`}
            </option>
          ))}
        </select>
        <span className="flex-none text-ink-2">from here on</span>
      </div>
    </section>
  );
}
