import { ChevronFirst, ChevronLast, Pause, Play, Scissors, StepBack, StepForward } from 'lucide-react';
import { useEffect, useRef, type ReactNode } from 'react';
import { REEL_FIRST, reelFrames } from '../../../core/reel';
import { timecodeOf } from '../../../core/time';
import { themed, useEvening } from '../shared/theme';
import { NumberBox } from '../ui/number-box';
import { goToCut, splitHere } from './reel-edits';
import { paintSeen } from './reel-pictures';
import { useDrawn, useReel, useReelSession, useReelShots, useReelTime } from './reel-session';

/** The picture of the reel at the playhead, and what plays it. */
export function Screen() {
  return (
    <section className="panel flex min-w-0 flex-col" aria-label="Picture of the reel">
      <Picture />
      <Transport />
    </section>
  );
}

function Picture() {
  const session = useReelSession();
  const canvas = useRef<HTMLCanvasElement>(null);
  const frame = useReelTime((state) => state.frame);
  const came = useDrawn((state) => state.came);
  const { width, height } = useReel((state) => state.reel);
  const empty = useReel((state) => state.reel.items.length === 0);
  const failed = useDrawn((state) => state.failed);
  const evening = useEvening();
  const shots = useReelShots();
  const here = session.pictures.seen(frame);
  // A shot that is gone is black in the reel.
  const gone = [here?.picture.below, here?.picture.shown].flatMap((layer) => {
    const item = layer?.item;
    const reason = item?.kind === 'shot' ? shots[item.shot]?.failed : null;
    return item?.kind === 'shot' && reason && !shots[item.shot]!.shot ? [`${item.name}: ${reason}`] : [];
  })[0];
  useEffect(() => {
    const to = canvas.current?.getContext('2d', { alpha: false });
    const seen = session.pictures.seen(frame);
    if (!to) return;
    if (!seen || gone !== undefined) {
      to.fillStyle = themed('film');
      to.fillRect(0, 0, to.canvas.width, to.canvas.height);
      to.canvas.dataset.frame = gone === undefined ? '' : String(frame);
    } else if (paintSeen(to, seen, 'black')) to.canvas.dataset.frame = String(frame);
  }, [session, frame, came, width, height, evening, gone]);
  const why = gone ?? [...failed.values()][0];
  const scale = Math.min(1, 960 / Math.max(width, height));
  return (
    <div className="relative flex min-h-0 flex-1 items-center justify-center overflow-hidden bg-view p-2">
      <canvas
        ref={canvas}
        width={Math.round(width * scale)}
        height={Math.round(height * scale)}
        data-testid="reel-picture"
        aria-label={`Frame ${frame} of the reel`}
        role="img"
        className="max-h-full max-w-full rounded-sm bg-film object-contain"
      />
      {empty && (
        <p className="absolute rounded-md bg-panel px-4 py-3 text-center leading-relaxed text-ink-2">
          The reel is empty. Click a shot on the left to put it in.
        </p>
      )}
      {!empty && here && !here.whole && (
        <span role="status" className="absolute bottom-3 left-3 rounded bg-strip px-2 py-1 text-paper">
          {why === undefined ? `Drawing frame ${frame}...` : `Frame ${frame} cannot be drawn: ${why}`}
        </span>
      )}
    </div>
  );
}

function Transport() {
  const session = useReelSession();
  const frame = useReelTime((state) => state.frame);
  const playing = useReelTime((state) => state.playing);
  const reel = useReel((state) => state.reel);
  const frames = reelFrames(reel);
  const drawn = useDrawn((state) => state.drawn);
  const count = drawn.filter(Boolean).length;
  const button = (label: string, keys: string, run: () => void, icon: ReactNode) => (
    <button
      type="button"
      aria-label={label}
      title={`${label} (${keys})`}
      disabled={frames === 0}
      className="flex size-7 items-center justify-center rounded hover:bg-line-soft"
      onClick={run}
    >
      {icon}
    </button>
  );
  return (
    <div className="flex h-10 flex-none items-center gap-1 border-t border-line-soft px-2">
      {button('Cut before', '[', () => goToCut(session, -1), <ChevronFirst size={16} aria-hidden="true" />)}
      {button(
        'One frame back',
        'Left',
        () => session.goTo(frame - 1),
        <StepBack size={15} aria-hidden="true" />,
      )}
      {button(
        playing ? 'Stop' : 'Play',
        'Space',
        () => session.play(),
        playing ? <Pause size={16} aria-hidden="true" /> : <Play size={16} aria-hidden="true" />,
      )}
      {button(
        'One frame on',
        'Right',
        () => session.goTo(frame + 1),
        <StepForward size={15} aria-hidden="true" />,
      )}
      {button('Next cut', ']', () => goToCut(session, 1), <ChevronLast size={16} aria-hidden="true" />)}
      <span className="ml-2 font-semibold text-now">Frame</span>
      <NumberBox
        label="Frame of the reel"
        value={frame}
        min={REEL_FIRST}
        max={Math.max(1, frames)}
        onValue={(next) => session.goTo(next)}
      />
      <span className="num text-ink-2">
        of {frames} · {timecodeOf(frame - REEL_FIRST, reel.rate)}
      </span>
      <span className="ml-auto text-ink-2" role="status">
        {frames > 0 && count < frames && `${Math.floor((100 * count) / frames)} % drawn ahead`}
      </span>
      {button('Cut in two here', 'C', () => splitHere(session), <Scissors size={15} aria-hidden="true" />)}
    </div>
  );
}
