import type { RenderJob } from '../../../wire';
import { KIND_WORDS, runsOf, useStory, type FrameKind } from './story';

const FILLS: Record<FrameKind, string> = {
  drawn: 'bg-teal',
  unchanged: 'bg-good',
  skipped: 'bg-brass',
  troubled: 'bg-now',
  waiting: 'bg-line',
};

/** All frames of a film side by side, coloured by what each is. */
export function FrameStrip({ job }: { job: RenderJob }) {
  const story = useStory(job);
  const count = job.last - job.first + 1;
  const runs = story ? runsOf(job, story) : [{ first: job.first, last: job.last, kind: 'waiting' as const }];
  const kinds = (Object.keys(FILLS) as FrameKind[]).filter((kind) => runs.some((run) => run.kind === kind));
  return (
    <div className="mt-2" data-testid="frame-strip">
      <div
        className="flex h-2.5 overflow-hidden rounded"
        role="progressbar"
        aria-label="Frames drawn"
        aria-valuemin={0}
        aria-valuemax={count}
        aria-valuenow={job.drawn}
      >
        {runs.map(({ first, last, kind }) => (
          <span
            key={first}
            data-kind={kind}
            title={`${first === last ? `Frame ${first}` : `Frames ${first} to ${last}`}: ${KIND_WORDS[kind]}`}
            className={FILLS[kind]}
            style={{ width: `${((last - first + 1) / count) * 100}%` }}
          />
        ))}
      </div>
      <ul className="mt-1 flex gap-4 text-xs text-ink-2">
        {kinds.map((kind) => (
          <li key={kind} className="flex items-center gap-1.5">
            <span className={`size-2 rounded-sm ${FILLS[kind]}`} aria-hidden="true" />
            {runs.reduce((sum, run) => sum + (run.kind === kind ? run.last - run.first + 1 : 0), 0)}{' '}
            {KIND_WORDS[kind]}
          </li>
        ))}
      </ul>
    </div>
  );
}
