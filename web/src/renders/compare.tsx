import { useState, type PointerEvent } from 'react';
import type { RenderJob } from '../../../wire';
import { FrameChoice } from './frame-steps';

/** What tells a film from others of its shot. */
const nameOf = (job: RenderJob): string =>
  [
    new Date(job.createdAt).toLocaleTimeString('en-GB'),
    `${job.width}×${job.height}`,
    ...(job.samples === null ? [] : [`${job.samples} samples`]),
    ...(job.effects ? [] : ['no effects']),
  ].join(', ');

/** A film beside an earlier one of the same shot: one frame of both, swiped from one to the other. */
export function Compare({ job, others }: { job: RenderJob; others: readonly RenderJob[] }) {
  const [otherId, setOtherId] = useState(others[0]!.id);
  const [share, setShare] = useState(0.5);
  const [gone, setGone] = useState<ReadonlySet<string>>(new Set());
  const other = others.find((each) => each.id === otherId) ?? others[0]!;
  const [first, last] = [Math.max(job.first, other.first), Math.min(job.last, other.last)];
  const [asked, setFrame] = useState(first);
  const frame = Math.min(last, Math.max(first, asked));
  const placeOf = (of: RenderJob): string => `${of.id} ${frame}`;
  const swipe = (event: PointerEvent<HTMLDivElement>): void => {
    if (event.buttons === 0) return;
    const { left, width } = event.currentTarget.getBoundingClientRect();
    setShare(Math.min(1, Math.max(0, (event.clientX - left) / width)));
  };
  const picture = (of: RenderJob, clip: string, which: string) => (
    <img
      key={of.id}
      src={`/api/renders/${of.id}/frames/${frame}`}
      alt={`Frame ${frame} of the ${which} film`}
      draggable={false}
      onError={() => setGone((now) => new Set(now).add(placeOf(of)))}
      className="absolute inset-0 size-full object-contain"
      style={{ clipPath: clip }}
    />
  );
  return (
    <div data-testid="compare">
      <div className="mb-2 flex items-center gap-2 text-ink-2">
        <label className="flex items-center gap-2">
          Left, the film of
          <select
            className="input-field h-6"
            aria-label="Film to compare with"
            value={other.id}
            onChange={(event) => setOtherId(event.target.value)}
          >
            {others.map((each) => (
              <option key={each.id} value={each.id}>
                {nameOf(each)}
              </option>
            ))}
          </select>
        </label>
        <span className="ml-auto">Right, this one of {nameOf(job)}</span>
      </div>
      <div
        className="relative aspect-video cursor-ew-resize touch-none overflow-hidden rounded-md bg-film"
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          swipe(event);
        }}
        onPointerMove={swipe}
      >
        {picture(other, `inset(0 ${(1 - share) * 100}% 0 0)`, 'other')}
        {picture(job, `inset(0 0 0 ${share * 100}%)`, 'chosen')}
        <span
          className="pointer-events-none absolute inset-y-0 w-0.5 bg-paper"
          style={{ left: `calc(${share * 100}% - 1px)` }}
          aria-hidden="true"
        />
      </div>
      {[other, job].some((each) => gone.has(placeOf(each))) && (
        <p role="alert" className="mt-2 text-now">
          The single frames of {gone.has(placeOf(job)) ? 'this film' : 'the other film'} have been cleared, or
          this one is not drawn yet. Render it again to compare.
        </p>
      )}
      <label className="mt-2 flex items-center gap-2 text-ink-2">
        Where they meet
        <input
          type="range"
          className="min-w-0 flex-1 accent-teal"
          aria-label="Where the two films meet"
          min={0}
          max={100}
          value={Math.round(share * 100)}
          onChange={(event) => setShare(Number(event.target.value) / 100)}
        />
      </label>
      <FrameChoice first={first} last={last} frame={frame} onFrame={setFrame} />
    </div>
  );
}
