import { Plus, Printer, X } from 'lucide-react';
import { lazy, Suspense, useMemo, useState } from 'react';
import { channelAt } from '../../../../core/document';
import { chainOf, linkMap } from '../../../../core/evaluate';
import { AXES, MEASURES, reportCsv, SUBJECTS, type MotionSubject } from '../../../../core/report';
import { saveFile } from '../../shared/save-file';
import { DialogLeave, DialogTitle } from '../../ui/dialog-frame';
import { choose } from '../actions/choosing';
import { useChoice, useSession, useShot } from '../session';
import { ValuePick } from '../values/value-pick';
import { goesRound } from './chart-parts';
import { ReportFacts } from './report-facts';
import { lawOf, sameSubject, toldOf } from './subjects';
import { useReport } from './use-report';

const ReportChart = lazy(() => import('./report-chart'));
const RoundChart = lazy(() => import('./round-chart'));

const TIME = '';

/** How what is chosen moves, in numbers and curves. */
export default function ReportSheet() {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const plan = useShot((state) => state.plan);
  const channel = useChoice((state) => state.channel);
  const chosen = useChoice((state) => state.chosen);
  const [subjects, setSubjects] = useState<readonly MotionSubject[]>(() =>
    channel !== null && channelAt(shot, channel)?.spec.kind === 'number'
      ? [{ kind: 'channel', address: channel }]
      : [],
  );
  const [over, setOver] = useState(TIME);
  /** What is shown round the circle of the driver: a place in the list of measures; `null` for plots along it. */
  const [round, setRound] = useState<number | null>(null);
  const { setup } = shot;
  const [ends, setEnds] = useState({ from: String(setup.first), to: String(setup.last) });
  const [from, to] = [Number(ends.from), Number(ends.to)];
  const wrong = !(ends.from.trim() !== '' && ends.to.trim() !== '' && to > from);
  const known = subjects.filter((subject) =>
    subject.kind === 'channel' ? plan.slots.has(subject.address) : shot.parts[subject.part] !== undefined,
  );
  const drivers = useMemo(() => {
    const map = linkMap(plan);
    const found = new Set<string>();
    for (const subject of known)
      if (subject.kind === 'channel')
        for (const address of chainOf(map, subject.address, 'up'))
          if (address !== subject.address) found.add(address);
    return [...found];
    // What is told of and the plan tell all.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [plan, subjects]);
  const driver = over !== TIME && plan.slots.has(over) ? over : null;
  const { report, share, failed, brokenOff, cancel, again } = useReport(
    plan,
    wrong || known.length === 0 ? null : { subjects: known, from, to, driver },
  );
  // While another one is worked out, or was broken off, the one that is shown is not the one that is asked for.
  const current = report !== null && share === null && !brokenOff;
  const told = useMemo(
    () => (report?.subjects ?? []).map(({ subject }) => toldOf(shot, subject)),
    [report, shot],
  );
  const toldDriver = useMemo(
    () => (driver === null ? null : toldOf(shot, { kind: 'channel', address: driver })),
    [driver, shot],
  );
  const save = (): void => {
    if (!report) return;
    const text = reportCsv(
      report,
      (subject) => {
        const { name, unit } = toldOf(shot, subject);
        return unit ? `${name} (${unit})` : name;
      },
      (subject) => toldOf(shot, subject).per,
      toldDriver && `${toldDriver.name} (${toldDriver.unit})`,
    );
    saveFile(text, 'text/csv', `${session.doc.now.name}, motion.csv`);
  };
  return (
    <div className="flex min-h-0 flex-1 flex-col print-this">
      <div className="flex items-center gap-2">
        <DialogTitle className="mr-auto">Motion report of {session.doc.now.name}</DialogTitle>
        <button type="button" className="btn not-printed" disabled={!current} onClick={save}>
          Save as CSV
        </button>
        <button
          type="button"
          className="btn not-printed"
          disabled={!current}
          title="On paper, or as PDF by the browser's own dialog"
          onClick={() => window.print()}
        >
          <Printer size={14} aria-hidden="true" />
          Print
        </button>
        <DialogLeave className="not-printed">Close</DialogLeave>
      </div>
      <ul className="mt-2 flex flex-wrap gap-1.5" aria-label="What is told of">
        {known.map((subject) => (
          <li
            key={JSON.stringify(subject)}
            className="flex h-6 items-center gap-1 rounded-full border border-line bg-raised pl-2.5 pr-1 font-semibold"
          >
            {toldOf(shot, subject).name}
            <button
              type="button"
              aria-label={`Leave out ${toldOf(shot, subject).name}`}
              className="not-printed rounded-full p-0.5 text-ink-3 hover:bg-line-soft hover:text-now"
              onClick={() => setSubjects(known.filter((other) => !sameSubject(other, subject)))}
            >
              <X size={12} aria-hidden="true" />
            </button>
          </li>
        ))}
        <AddSubject
          part={chosen.at(-1) ?? null}
          full={known.length >= SUBJECTS}
          onAdd={(subject) =>
            !known.some((other) => sameSubject(other, subject)) && setSubjects([...known, subject])
          }
        />
      </ul>
      <div className="mt-2 flex items-center gap-3 text-ink-2">
        <label className="flex items-center gap-1.5">
          Over
          <select
            aria-label="Over"
            className="input-field h-[24px] max-w-[240px] px-1"
            value={driver ?? TIME}
            onChange={(event) => setOver(event.target.value)}
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
              onChange={(event) => setRound(event.target.value === '' ? null : Number(event.target.value))}
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
              onChange={(event) => setEnds({ ...ends, [end]: event.target.value })}
            />
          </label>
        ))}
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
      </div>
      {wrong && (
        <p role="alert" className="mt-1 text-now">
          The last frame comes after the first: {ends.from} to {ends.to} is no range.
        </p>
      )}
      {(failed ?? report?.trouble) && (
        <p role="alert" className="mt-1 text-now">
          {failed ?? report!.trouble}
        </p>
      )}
      {known.length === 0 ? (
        <p className="m-auto max-w-sm text-center leading-relaxed text-ink-2">
          Add what is to be told of above: a value of a part, where its pivot stands in the world, or the way
          that it goes.
        </p>
      ) : (
        report && (
          <div className="mt-2 grid min-h-0 flex-1 grid-cols-[1fr_330px] gap-3">
            <Suspense fallback={<p className="text-ink-2">Opening the plots...</p>}>
              {round !== null && toldDriver && goesRound(toldDriver) && report.driver ? (
                <RoundChart report={report} told={told} driver={toldDriver} measure={round} />
              ) : (
                <ReportChart report={report} told={told} driver={toldDriver} />
              )}
            </Suspense>
            <div className="min-h-0 overflow-y-auto pr-1">
              <ReportFacts
                report={report}
                told={told}
                driver={toldDriver}
                lawOf={(subject) => (subject.kind === 'channel' ? lawOf(shot, subject.address) : null)}
                onPath={(part) => {
                  if (!session.view.now.trail) session.view.toggle('trail');
                  choose(session, [part]);
                  session.sheets.show(null);
                }}
                onFrame={(frame) => {
                  session.player.stop();
                  session.time.at(frame);
                  session.doc.evaluate(frame, session.keying.now.loose);
                }}
              />
            </div>
          </div>
        )
      )}
    </div>
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
