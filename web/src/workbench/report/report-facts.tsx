import type { MotionReport, MotionSubject, SubjectMotion } from '../../../../core/report';
import { MEASURES } from '../../../../core/report';
import { digits, unitsOf, type Told } from './subjects';

/** Stretches that are listed; what stands still more often than `MANY` times is moved in steps. */
const SHOWN = 6;
const MANY = 60;

interface Props {
  readonly report: MotionReport;
  readonly told: readonly Told[];
  readonly driver: Told | null;
  onFrame(frame: number): void;
  /** Law of the cam that lifts a subject, in words. */
  lawOf(subject: MotionSubject): string | null;
  /** Shows the path of a part in the view. */
  onPath(part: string): void;
}

/** The least and most of everything and where, the stroke, and where it stands still; each place can be gone to. */
export function ReportFacts({ report, told, driver, onFrame, lawOf, onPath }: Props) {
  return (
    <div className="flex flex-col gap-3" data-testid="report-facts">
      {report.subjects.map((motion, i) => (
        <OneSubject
          key={i}
          motion={motion}
          told={told[i]!}
          driver={report.driver ? driver : null}
          first={i === 0 ? null : { motion: report.subjects[0]!, name: told[0]!.name }}
          onFrame={onFrame}
          law={lawOf(motion.subject)}
          onPath={onPath}
        />
      ))}
    </div>
  );
}

function OneSubject(props: {
  motion: SubjectMotion;
  told: Told;
  driver: Told | null;
  first: { readonly motion: SubjectMotion; readonly name: string } | null;
  onFrame(frame: number): void;
  law: string | null;
  onPath(part: string): void;
}) {
  const { motion, told, driver, first, onFrame, law, onPath } = props;
  const { subject } = motion;
  const units = unitsOf(told.unit, driver);
  const place = (frame: number) => (
    <button
      type="button"
      className="num text-teal hover:underline"
      title="Go to this frame"
      onClick={() => onFrame(frame)}
    >
      {digits(frame)}
    </button>
  );
  const [value] = motion.curves;
  const later = first && value.most.frame - first.motion.curves[0].most.frame;
  return (
    <section aria-label={told.name}>
      <h3 className="mb-1 truncate font-bold" title={told.name}>
        {told.name}
      </h3>
      {law !== null && <p className="mb-1 leading-snug text-ink-2">{law}</p>}
      <table className="w-full">
        <thead>
          <tr className="text-left text-xs text-ink-3">
            <th className="font-medium" />
            <th className="text-right font-medium">least</th>
            <th className="pl-2 text-right font-medium">at</th>
            <th className="text-right font-medium">most</th>
            <th className="pl-2 text-right font-medium">at</th>
          </tr>
        </thead>
        <tbody>
          {motion.curves.map(({ least, most }, i) => (
            <tr key={MEASURES[i]} className="border-t border-line-soft">
              <td className="py-0.5 text-ink-2">
                {MEASURES[i]} <span className="text-xs text-ink-3">{units[i]}</span>
              </td>
              <td className="num text-right">{digits(least.value * told.per)}</td>
              <td className="pl-2 text-right">{place(least.frame)}</td>
              <td className="num pl-2 text-right">{digits(most.value * told.per)}</td>
              <td className="pl-2 text-right">{place(most.frame)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-1 leading-snug text-ink-2">
        Stroke{' '}
        <b className="num text-ink">
          {digits((value.most.value - value.least.value) * told.per)} {told.unit}
        </b>
        {later !== null && (
          <>
            {' '}
            · its most comes{' '}
            {Math.abs(later) < 0.01
              ? 'together with'
              : `${digits(Math.abs(later))} frames ${later < 0 ? 'before' : 'after'}`}{' '}
            that of {first!.name}
          </>
        )}
      </p>
      {subject.kind !== 'channel' && (
        <button
          type="button"
          className="not-printed mt-1 font-semibold text-teal hover:underline"
          title="Chooses the part and shows where its pivot goes, with the length of its way"
          onClick={() => onPath(subject.part)}
        >
          Show its path in the view
        </button>
      )}
      {motion.dwells.length > 0 && motion.dwells.length < MANY && (
        <>
          <p className="text-ink-2">Stands still</p>
          <ul>
            {motion.dwells.slice(0, SHOWN).map(({ from, to, level }) => (
              <li key={from} className="flex gap-1.5">
                <span className="num w-24 truncate">
                  {digits(level * told.per)} {told.unit}
                </span>
                {place(from)} to {place(to)}
                <span className="ml-auto text-ink-3">{digits(to - from)} frames</span>
              </li>
            ))}
          </ul>
          {motion.dwells.length > SHOWN && (
            <p className="text-ink-3">and {motion.dwells.length - SHOWN} times more</p>
          )}
        </>
      )}
    </section>
  );
}
