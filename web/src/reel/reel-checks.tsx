import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import { useStore } from 'zustand';
import { shotsOfReel } from '../../../core/reel';
import { BackgroundChecks } from '../workbench/checks/background-checks';
import { CheckProgress } from '../workbench/checks/check-progress';
import { pageOfProblem } from '../workbench/checks/show-problem';
import { useReel, useReelSession, useReelShots, useReelSounds } from './reel-session';
import { ShotsChecks } from './shots-checks';

/** Findings of one shot that are told at once; the rest is a click away. */
const TOLD = 3;

/** What the checks find in the shots of the reel, with the way to each place. */
export function ReelChecks() {
  const session = useReelSession();
  const reel = useReel((state) => state.reel);
  const known = useReelShots();
  const sounds = useReelSounds();
  const [checks, setChecks] = useState<ShotsChecks | null>(null);
  useEffect(() => {
    const made = new ShotsChecks(new BackgroundChecks());
    setChecks(made);
    return () => made.close();
  }, []);
  useEffect(() => {
    checks?.ask(
      shotsOfReel(reel).flatMap((id) => {
        const shot = known[id]?.shot;
        return shot ? [{ id, shot, loudness: session.sounds.tables(shot) }] : [];
      }),
    );
    // The tables follow from the sounds.
  }, [checks, reel, known, sounds, session]);
  return checks && <Findings checks={checks} />;
}

function Findings({ checks }: { checks: ShotsChecks }) {
  const session = useReelSession();
  const reel = useReel((state) => state.reel);
  const { found, failed, at } = useStore(checks.store);
  const [whole, setWhole] = useState<ReadonlySet<string>>(new Set());
  const ids = shotsOfReel(reel);
  const nameOf = (id: string): string => {
    const item = reel.items.find((each) => each.kind === 'shot' && each.shot === id);
    return session.nameOf(id, item?.kind === 'shot' ? item.name : '');
  };
  const clean = ids.filter((id) => found[id]?.length === 0);
  return (
    <section aria-label="Before you start">
      <h3 className="mb-1.5 font-bold">Before you start</h3>
      {at && (
        <CheckProgress share={at.share}>
          Checking "{nameOf(at.id)}", shot {ids.indexOf(at.id) + 1} of {ids.length}.
        </CheckProgress>
      )}
      {ids.map((id) => {
        const problems = found[id] ?? [];
        const reason = failed[id];
        if (problems.length === 0 && reason === undefined) return null;
        const shown = whole.has(id) ? problems : problems.slice(0, TOLD);
        return (
          <div key={id} className="mb-2">
            <h4 className="font-semibold">{nameOf(id)}</h4>
            {reason !== undefined && (
              <p role="alert" className="text-now">
                The checks broke off: {reason}
              </p>
            )}
            <ul className="space-y-1">
              {shown.map((problem) => (
                <li
                  key={`${problem.code} ${problem.address} ${problem.message}`}
                  className={problem.severity === 'error' ? 'text-now' : 'text-ink-2'}
                >
                  {problem.message}{' '}
                  <Link className="font-semibold text-teal underline" to={pageOfProblem(id, problem)}>
                    Show me
                  </Link>
                </li>
              ))}
            </ul>
            {shown.length < problems.length && (
              <button
                type="button"
                className="mt-1 text-teal hover:underline"
                onClick={() => setWhole(new Set([...whole, id]))}
              >
                {problems.length - shown.length} more
              </button>
            )}
          </div>
        );
      })}
      {!at && ids.length > 0 && clean.length === ids.length && (
        <p className="text-good">
          The checks found nothing wrong in {ids.length === 1 ? 'its shot' : `its ${ids.length} shots`}.
        </p>
      )}
      {!at && clean.length > 0 && clean.length < ids.length && (
        <p className="text-good">Nothing wrong in {clean.map(nameOf).join(', ')}.</p>
      )}
    </section>
  );
}
