import { useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { isRunning, TURNS, type RenderDeed, type RenderJob, type Turn } from '../../../wire';
import { api } from '../shared/api';

const TURN_WORDS: Record<Turn, string> = {
  first: 'comes first',
  normal: 'takes turns',
  later: 'may come later',
};

/** What can be done with a film that is not over, or that has failed. */
export function FilmDeeds({ job }: { job: RenderJob }) {
  const queries = useQueryClient();
  const told = (promise: Promise<unknown>): void =>
    void promise.then(
      () => queries.invalidateQueries({ queryKey: ['renders'] }),
      (error: Error) => toast.error(error.message),
    );
  const button = (deed: RenderDeed, words: string, title: string, strong = false) => (
    <button
      key={deed}
      type="button"
      className={`btn ${strong ? 'btn-strong' : ''}`}
      title={title}
      onClick={() => told(api.doWithRender(job.id, deed))}
    >
      {words}
    </button>
  );
  const { status, troubled } = job;
  const drawable = status === 'waiting' || status === 'drawing';
  if (!isRunning(job) && status !== 'failed') return null;
  return (
    <span className="ml-auto flex flex-none items-center gap-2">
      {(drawable || status === 'paused') && (
        <select
          className="input-field h-6"
          aria-label="Turn of this film"
          title="Films that wait for machines take turns, stretch by stretch"
          value={job.turn}
          onChange={(event) => told(api.setTurn(job.id, event.target.value as Turn))}
        >
          {TURNS.map((turn) => (
            <option key={turn} value={turn}>
              {TURN_WORDS[turn]}
            </option>
          ))}
        </select>
      )}
      {drawable && button('pause', 'Pause', 'Its machines take other work; what is drawn is kept')}
      {status === 'paused' && button('resume', 'Go on', 'From where it was', true)}
      {(status === 'held' || status === 'failed') &&
        button('retry', 'Try again', 'What is drawn is kept; the rest is drawn')}
      {status === 'held' &&
        job.drawn > 0 &&
        button(
          'skip',
          `Go on without ${troubled === 1 ? 'it' : 'them'}`,
          'The nearest frame before is shown in its place',
          true,
        )}
      {isRunning(job) &&
        button('cancel', 'Cancel', 'The film is not made; what is drawn is kept for a while')}
    </span>
  );
}

/** Says that no machine can go on with a film, since it is drawn with what none of them has. */
export function LibraryGone({ job, here }: { job: RenderJob; here: readonly (string | null)[] }) {
  const { library } = job;
  const waits = job.status === 'waiting' || job.status === 'drawing';
  if (library === null || !waits || here.length === 0 || here.includes(library)) return null;
  return (
    <p className="mt-2 flex items-center gap-2 text-now">
      <span>
        All its frames are to be drawn with one drawing library, {library}, and no machine that is here has
        it.
      </span>
      <button
        type="button"
        className="btn flex-none"
        title="Lets its frames go and draws all with what is here"
        onClick={() =>
          void api.doWithRender(job.id, 'anew').catch((error: Error) => toast.error(error.message))
        }
      >
        Begin anew here
      </button>
    </p>
  );
}
