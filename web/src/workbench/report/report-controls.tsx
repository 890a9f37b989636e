import { Plus, X } from 'lucide-react';
import type { ReactNode } from 'react';
import { AXES, MEASURES, SUBJECTS, type MotionSubject } from '../../../../core/report';
import { useChoice, useShot } from '../session';
import { ValuePick } from '../values/value-pick';
import { goesRound } from './chart-parts';
import { sameSubject, toldOf } from './subjects';
import type { useReport } from './use-report';

const TIME = '';

/** What is told of: each can be left out, and others added. */
export function SubjectList({
  subjects,
  onSubjects,
}: {
  subjects: readonly MotionSubject[];
  onSubjects(subjects: readonly MotionSubject[]): void;
}) {
  const shot = useShot((state) => state.shot);
  const chosen = useChoice((state) => state.chosen);
  return (
    <ul className="mt-2 flex flex-wrap gap-1.5" aria-label="What is told of">
      {subjects.map((subject) => (
        <li
          key={JSON.stringify(subject)}
          className="flex h-6 items-center gap-1 rounded-full border border-line bg-raised pl-2.5 pr-1 font-semibold"
        >
          {toldOf(shot, subject).name}
          <button
            type="button"
            aria-label={`Leave out ${toldOf(shot, subject).name}`}
            className="not-printed rounded-full p-0.5 text-ink-3 hover:bg-line-soft hover:text-now"
            onClick={() => onSubjects(subjects.filter((other) => !sameSubject(other, subject)))}
          >
            <X size={12} aria-hidden="true" />
          </button>
        </li>
      ))}
      <AddSubject
        part={chosen.at(-1) ?? null}
        full={subjects.length >= SUBJECTS}
        onAdd={(subject) =>
          !subjects.some((other) => sameSubject(other, subject)) && onSubjects([...subjects, subject])
        }
      />
    </ul>
  );
}

/** First and last frame, as they are typed. */
export interface Ends {
  readonly from: string;
  readonly to: string;
}

/** Over what the report is, and over which frames. */
export function ReportRange({
  drivers,
  driver,
  round,
  ends,
  wrong,
  onDriver,
  onRound,
  onEnds,
  children,
}: {
  /** Channels that what is told of hangs on. */
  drivers: readonly string[];
  /** The one that it is told over; `null` for time. */
  driver: string | null;
  /** What is shown round the circle of the driver: a place in the list of measures; `null` for plots along it. */
  round: number | null;
  ends: Ends;
  /** The ends are no range. */
  wrong: boolean;
  onDriver(address: string | null): void;
  onRound(measure: number | null): void;
  onEnds(ends: Ends): void;
  children: ReactNode;
}) {
  const shot = useShot((state) => state.shot);
  const toldDriver = driver === null ? null : toldOf(shot, { kind: 'channel', address: driver });
  return (
    <div className="mt-2 flex items-center gap-3 text-ink-2">
      <label className="flex items-center gap-1.5">
        Over
        <select
          aria-label="Over"
          className="input-field h-[24px] max-w-[240px] px-1"
          value={driver ?? TIME}
          onChange={(event) => onDriver(event.target.value === TIME ? null : event.target.value)}
        >
          <option value={TIME}>time</option>
          {drivers.map((address) => (
            <option key={address} value={address}>
              {toldOf(shot, { kind: 'channel', address }).name}
            </option>
          ))}
        </select>
      </label>
      {goesRound(toldDriver) && (
        <label className="flex items-center gap-1.5">
          Plotted
          <select
            aria-label="Plotted"
            className="input-field h-[24px] px-1"
            value={round === null ? '' : String(round)}
            onChange={(event) => onRound(event.target.value === '' ? null : Number(event.target.value))}
          >
            <option value="">along it</option>
            {MEASURES.map((measure, i) => (
              <option key={measure} value={i}>
                round the circle: {measure}
              </option>
            ))}
          </select>
        </label>
      )}
      {(['from', 'to'] as const).map((end) => (
        <label key={end} className="flex items-center gap-1.5">
          {end === 'from' ? 'Frames' : 'to'}
          <input
            aria-label={end === 'from' ? 'First frame' : 'Last frame'}
            aria-invalid={wrong}
            className="input-field num h-[24px] w-16 px-1 text-right"
            value={ends[end]}
            onChange={(event) => onEnds({ ...ends, [end]: event.target.value })}
          />
        </label>
      ))}
      {children}
    </div>
  );
}

/** How far the report is, with a way to break it off and to go on. */
export function Progress({ working }: { working: ReturnType<typeof useReport> }) {
  const { report, share, brokenOff, cancel, again } = working;
  return (
    <>
      <span role="status" className="ml-auto">
        {share !== null && share < 1 && `Working it out: ${Math.round(share * 100)} %`}
        {brokenOff && (report ? 'Broken off: this is what was told before.' : 'Broken off.')}
      </span>
      {share !== null && (
        <button type="button" className="btn not-printed h-[24px]" onClick={cancel}>
          Cancel
        </button>
      )}
      {brokenOff && (
        <button type="button" className="btn not-printed h-[24px]" onClick={again}>
          Work it out
        </button>
      )}
    </>
  );
}

/** Chooses a part and what of it is told. */
function AddSubject(props: { part: string | null; full: boolean; onAdd(subject: MotionSubject): void }) {
  const { part, full, onAdd } = props;
  if (full) return <li className="self-center text-ink-3">{SUBJECTS} at most</li>;
  return (
    <li className="not-printed flex items-center gap-1.5">
      <Plus size={14} className="text-ink-3" aria-hidden="true" />
      <ValuePick
        part={part}
        fits={() => true}
        others={(of) => [
          ...AXES.map((axis) => ({
            label: `in the world along ${axis.toUpperCase()}`,
            value: `place ${axis} ${of}`,
          })),
          { label: 'the way that it goes', value: `way - ${of}` },
        ]}
        onPick={(value) => onAdd(subjectOf(value))}
      />
    </li>
  );
}

function subjectOf(value: string): MotionSubject {
  const [kind, axis, part] = value.split(' ');
  if (kind === 'place') return { kind, part: part!, axis: axis as (typeof AXES)[number] };
  return kind === 'way' ? { kind, part: part! } : { kind: 'channel', address: value };
}
