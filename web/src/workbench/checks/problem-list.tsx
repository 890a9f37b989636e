import { Dialog } from 'radix-ui';
import { useEffect, useState, useSyncExternalStore } from 'react';
import type { Problem } from '../../../../core/check';
import { useSession, useShot } from '../session';
import { CheckProgress } from './check-progress';
import { showProblem } from './show-problem';

/**
 * What the checks find in the shot as it is, with the way to each place. They run beside the page; while they do, what
 * was found before stays, and a bar tells how far they have come.
 */
export function ProblemList() {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const [loops, setLoops] = useState(false);
  const { share, problems, failed } = useSyncExternalStore(session.checks.subscribe, session.checks.snapshot);
  const loudness = useShot((state) => state.plan.loudness);
  useEffect(() => session.checks.ask(shot, { loops }, loudness), [session, shot, loops, loudness]);
  const { first, last } = shot.setup;
  const count = last - first + 1;
  return (
    <>
      <label className="mb-2 flex items-center gap-2 text-ink-2">
        <input
          type="checkbox"
          className="accent-teal"
          checked={loops}
          onChange={(event) => setLoops(event.target.checked)}
        />
        It will play as a loop: check its seam
      </label>
      {share !== null && (
        <CheckProgress share={share}>
          Checking frame {Math.min(count, Math.floor(share * (count + 1)) + 1)} of {count}.
        </CheckProgress>
      )}
      {failed !== null && (
        <p role="alert" className="mb-2 text-now">
          The checks broke off: {failed}{' '}
          <button
            type="button"
            className="font-semibold text-teal underline"
            onClick={() => session.checks.ask(shot, { loops }, loudness)}
          >
            Try again
          </button>
        </p>
      )}
      <ul className={`space-y-2 ${share === null ? '' : 'opacity-60'}`}>
        {problems?.map((problem) => (
          <ProblemRow key={`${problem.code} ${problem.address} ${problem.message}`} problem={problem} />
        ))}
        {problems?.length === 0 && share === null && (
          <li className="text-good">The checks found nothing wrong in {count} frames.</li>
        )}
      </ul>
    </>
  );
}

function ProblemRow({ problem }: { problem: Problem }) {
  const session = useSession();
  return (
    <li className={problem.severity === 'error' ? 'text-now' : 'text-ink-2'}>
      {problem.message}
      {problem.address.includes('_') && (
        <Dialog.Close asChild>
          <button
            type="button"
            className="ml-1.5 font-semibold text-teal underline"
            onClick={() => showProblem(session, problem)}
          >
            Show me
          </button>
        </Dialog.Close>
      )}
    </li>
  );
}
