import type { FormulaError } from '../../../../core/formula';
import { takeBarRoom } from './bar-room';

/** What is wrong with what stands in the bar, and what would mend it; without a problem, that nothing of it ever changes. */
export function BarMessage(props: {
  problem: FormulaError | null;
  typing: boolean;
  onMend(from: number, to: number, insert: string): void;
}) {
  const { problem, typing, onMend } = props;
  return (
    <div
      ref={takeBarRoom}
      role={problem ? 'alert' : 'status'}
      className="flex flex-wrap items-center gap-2 rounded-[7px] border border-line bg-raised px-3 py-2 text-ink shadow-lg"
    >
      <span className={problem ? 'text-now' : 'text-ink-2'}>
        {problem ? problem.message : 'Nothing that this link reads ever changes.'}
      </span>
      {problem?.fixes.map((fix) => (
        <button
          key={fix.label + fix.insert}
          type="button"
          className="btn num h-[22px]"
          onMouseDown={(event) => event.preventDefault()}
          onClick={() => onMend(fix.from, fix.to, fix.insert)}
        >
          {fix.label}
        </button>
      ))}
      {typing && <span className="ml-auto text-ink-3">Enter keeps, Esc leaves</span>}
    </div>
  );
}
