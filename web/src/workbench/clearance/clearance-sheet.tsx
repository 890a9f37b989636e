import { useMemo, useState } from 'react';
import { CLEARANCE_FRAMES, meantToTouch, meetingsOf } from '../../../../core/clearance';
import { DialogLeave, DialogTitle } from '../../ui/dialog-frame';
import { useChoice, useClearance, useSession, useShot } from '../session';
import { fileMeshes } from './file-meshes';
import { Told } from './told';
import { Watching } from './watching';

/** Asks what touches or runs into what, and tells it. */
export default function ClearanceSheet() {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const plan = useShot((state) => state.plan);
  const chosen = useChoice((state) => state.chosen);
  const { watched, share, findings, found, of, failed } = useClearance((state) => state);
  const { setup } = shot;
  const [ends, setEnds] = useState({
    from: String(of?.asked.from ?? setup.first),
    to: String(of?.asked.to ?? setup.last),
  });
  const [onlyChosen, setOnlyChosen] = useState(false);
  const [from, to] = [Number(ends.from), Number(ends.to)];
  const wrong = wrongRange(ends, from, to);
  const parts = onlyChosen && chosen.length > 0 ? chosen : null;
  const meant = useMemo(() => meantToTouch(shot), [shot]);
  const meetings = useMemo(
    () =>
      meetingsOf(
        findings.filter(({ a, b }) => shot.parts[a.part] && shot.parts[b.part]),
        meant,
      ),
    [findings, meant, shot],
  );
  const running = share !== null;
  const start = (): void => {
    if (wrong === '')
      session.clearance.look(plan, { from, to, parts, watched }, fileMeshes(shot, session.assets));
  };
  const end = (label: string, which: 'from' | 'to') => (
    <input
      aria-label={label}
      aria-invalid={wrong !== ''}
      className="input-field num h-[24px] w-16 px-1.5 text-right"
      value={ends[which]}
      onChange={(event) => setEnds({ ...ends, [which]: event.target.value })}
    />
  );
  return (
    <form
      className="flex min-h-0 flex-1 flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (!running) start();
      }}
    >
      <div className="flex items-center">
        <DialogTitle>Clearance check</DialogTitle>
        <DialogLeave className="ml-auto">Close</DialogLeave>
      </div>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <span className="flex items-center gap-1.5">
          Frames {end('First frame', 'from')} to {end('Last frame', 'to')}
        </span>
        <label
          className={`flex items-center gap-1.5 ${chosen.length === 0 ? 'text-ink-3' : ''}`}
          title="Pairs of which at least one hangs from a chosen part"
        >
          <input
            type="checkbox"
            className="accent-teal"
            disabled={chosen.length === 0}
            checked={onlyChosen && chosen.length > 0}
            onChange={(event) => setOnlyChosen(event.target.checked)}
          />
          {chosen.length === 0
            ? 'Only chosen parts against all others (none is chosen)'
            : `Only the ${chosen.length} chosen ${chosen.length === 1 ? 'part' : 'parts'} against all others`}
        </label>
        <span className="ml-auto flex items-center gap-2">
          {running ? (
            <>
              <Progress share={share} />
              <button type="button" className="btn" onClick={() => session.clearance.cancel()}>
                Cancel
              </button>
            </>
          ) : (
            <button type="submit" className="btn btn-strong" disabled={wrong !== ''}>
              Check
            </button>
          )}
        </span>
      </div>
      <Watching watched={watched} near={found?.nearness ?? []} from={of?.asked.from ?? from} />
      {(wrong !== '' || failed !== null) && (
        <p role="alert" className="text-now">
          {wrong || `The check broke off: ${failed}`}
        </p>
      )}
      {of && (
        <div className="min-h-0 flex-1 overflow-y-auto border-t border-line-soft pt-2">
          <Told meetings={meetings} shot={shot} />
        </div>
      )}
      {!of && (
        <p className="max-w-[640px] text-ink-2">
          It looks at every solid part of the shot, copies too, and tells which ones touch or run into one
          another: from which frame to which, where, and how deep. What is pinned, what a recipe lets work on
          one another, and what is said to be meant to touch is left out.
        </p>
      )}
    </form>
  );
}

function wrongRange(ends: { from: string; to: string }, from: number, to: number): string {
  if (ends.from.trim() === '' || ends.to.trim() === '' || !Number.isInteger(from) || !Number.isInteger(to))
    return `Frames ${ends.from} to ${ends.to}: write whole numbers.`;
  if (to < from) return `Frame ${to} is before frame ${from}: the last frame must not be smaller.`;
  if (to - from + 1 > CLEARANCE_FRAMES)
    return `${to - from + 1} frames are too many: at most ${CLEARANCE_FRAMES}.`;
  return '';
}

function Progress({ share }: { share: number }) {
  const percent = Math.round(share * 100);
  return (
    <>
      <span
        role="progressbar"
        aria-label="Clearance check"
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={percent}
        className="h-1 w-32 overflow-hidden rounded bg-line-soft"
      >
        <span className="block h-full bg-teal" style={{ width: `${percent}%` }} />
      </span>
      <span className="num w-9 text-right text-ink-2">{percent} %</span>
    </>
  );
}
