import { Printer } from 'lucide-react';
import { lazy, Suspense, useMemo, useState } from 'react';
import { channelAt } from '../../../../core/document';
import { chainOf, linkMap } from '../../../../core/evaluate';
import { reportCsv, type MotionSubject } from '../../../../core/report';
import { saveFile } from '../../shared/save-file';
import { DialogLeave, DialogTitle } from '../../ui/dialog-frame';
import { choose } from '../actions/choosing';
import { useChoice, useSession, useShot } from '../session';
import { goesRound } from './chart-parts';
import { Progress, ReportRange, SubjectList } from './report-controls';
import { ReportFacts } from './report-facts';
import { lawOf, toldOf } from './subjects';
import { useReport } from './use-report';

const ReportChart = lazy(() => import('./report-chart'));
const RoundChart = lazy(() => import('./round-chart'));

/** How what is chosen moves, in numbers and curves. */
export default function ReportSheet() {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const plan = useShot((state) => state.plan);
  const channel = useChoice((state) => state.channel);
  const [subjects, setSubjects] = useState<readonly MotionSubject[]>(() =>
    channel !== null && channelAt(shot, channel)?.spec.kind === 'number'
      ? [{ kind: 'channel', address: channel }]
      : [],
  );
  const [over, setOver] = useState<string | null>(null);
  /** What is shown round the circle of the driver: a place in the list of measures; `null` for plots along it. */
  const [round, setRound] = useState<number | null>(null);
  const { setup } = shot;
  const [ends, setEnds] = useState({ from: String(setup.first), to: String(setup.last) });
  const [from, to] = [Number(ends.from), Number(ends.to)];
  const wrong = !(ends.from.trim() !== '' && ends.to.trim() !== '' && to > from);
  const known = subjects.filter((subject) =>
    subject.kind === 'channel' ? plan.slots.has(subject.address) : shot.parts[subject.part] !== undefined,
  );
  const drivers = useDrivers(known);
  const driver = over !== null && plan.slots.has(over) ? over : null;
  const working = useReport(plan, wrong || known.length === 0 ? null : { subjects: known, from, to, driver });
  const { report, share, failed, brokenOff } = working;
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
      <ReportHead ready={current} onSave={save} />
      <SubjectList subjects={known} onSubjects={setSubjects} />
      <ReportRange
        drivers={drivers}
        driver={driver}
        round={round}
        ends={ends}
        wrong={wrong}
        onDriver={setOver}
        onRound={setRound}
        onEnds={setEnds}
      >
        <Progress working={working} />
      </ReportRange>
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

/** Channels that what is told of hangs on. */
function useDrivers(subjects: readonly MotionSubject[]): readonly string[] {
  const plan = useShot((state) => state.plan);
  return useMemo(() => {
    const map = linkMap(plan);
    const found = new Set<string>();
    for (const subject of subjects)
      if (subject.kind === 'channel')
        for (const address of chainOf(map, subject.address, 'up'))
          if (address !== subject.address) found.add(address);
    return [...found];
    // The list is made anew each time: what is in it counts.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [plan, JSON.stringify(subjects)]);
}

/** What the report is of, and ways to keep it. */
function ReportHead({ ready, onSave }: { ready: boolean; onSave(): void }) {
  const session = useSession();
  return (
    <div className="flex items-center gap-2">
      <DialogTitle className="mr-auto">Motion report of {session.doc.now.name}</DialogTitle>
      <button type="button" className="btn not-printed" disabled={!ready} onClick={onSave}>
        Save as CSV
      </button>
      <button
        type="button"
        className="btn not-printed"
        disabled={!ready}
        title="On paper, or as PDF by the browser's own dialog"
        onClick={() => window.print()}
      >
        <Printer size={14} aria-hidden="true" />
        Print
      </button>
      <DialogLeave className="not-printed">Close</DialogLeave>
    </div>
  );
}
