import { ProblemList } from '../checks/problem-list';
import { useKeying, useShot } from '../session';
import type { FilmForm } from './film-form';
import { GuessLine } from './guess-line';
import { FirstPicture } from './first-picture';

/** What is to be known before a render, why it cannot start, and the button that starts it. */
export function BeforeStart({
  form,
  trouble,
  refused,
  starting,
}: {
  form: FilmForm;
  trouble: string | null;
  refused: boolean;
  starting: boolean;
}) {
  const kept = useShot((state) => state.kept);
  const loose = useKeying((state) => Object.keys(state.loose).length);
  return (
    <div className="flex flex-col overflow-hidden border-l border-line-soft bg-raised p-4">
      <h3 className="mb-1.5 font-bold">Before you start</h3>
      <div className="min-h-0 flex-1 overflow-y-auto">
        <FirstPicture form={form} />
        {!form.here && <GuessLine form={form} />}
        {kept.state === 'held' && (
          <p className="mb-2 text-now">
            The server does not answer: edits made since are not in the film yet.
          </p>
        )}
        {loose > 0 && (
          <p className="mb-2 text-now">
            {loose} {loose === 1 ? 'value is' : 'values are'} changed and not keyed: the film will not show{' '}
            {loose === 1 ? 'it' : 'them'}.
          </p>
        )}
        <ProblemList />
      </div>
      {trouble !== null && (
        <p role="alert" className="mt-2 text-now">
          {trouble}
        </p>
      )}
      <button type="submit" className="btn btn-alarm mt-3 h-9" disabled={refused || starting}>
        {starting ? 'Starting...' : 'Render'}
      </button>
    </div>
  );
}
