import { ChevronLeft, ChevronRight } from 'lucide-react';
import { useState } from 'react';
import type { RenderJob } from '../../../wire';

/** A finished film frame by frame, as the frames were drawn: with the slider, its arrow keys or the buttons. */
export function FrameSteps({ job }: { job: RenderJob }) {
  const [frame, setFrame] = useState(job.first);
  const [gone, setGone] = useState(false);
  return (
    <div data-testid="frame-steps">
      <div
        className={`flex aspect-video items-center justify-center overflow-hidden rounded-md ${job.alpha ? 'checkered' : 'bg-film'}`}
      >
        {gone ? (
          <p className="max-w-[60ch] p-4 text-center text-night-ink-2">
            Its single frames have been cleared; the film itself is there. Render it again to step through it.
          </p>
        ) : (
          <img
            src={`/api/renders/${job.id}/frames/${frame}`}
            alt={`Frame ${frame}`}
            className="size-full object-contain"
            onError={() => setGone(true)}
          />
        )}
      </div>
      <FrameChoice first={job.first} last={job.last} frame={frame} onFrame={setFrame} />
    </div>
  );
}

/** Chooses a frame of a film: with the slider, its arrow keys or the buttons. */
export function FrameChoice(props: {
  first: number;
  last: number;
  frame: number;
  onFrame(frame: number): void;
}) {
  const { first, last, frame, onFrame } = props;
  return (
    <div className="mt-2 flex items-center gap-2">
      <button
        type="button"
        className="btn"
        aria-label="One frame back"
        disabled={frame === first}
        onClick={() => onFrame(frame - 1)}
      >
        <ChevronLeft size={14} aria-hidden="true" />
      </button>
      <input
        type="range"
        aria-label="Frame of the film"
        className="min-w-0 flex-1 accent-teal"
        min={first}
        max={last}
        value={frame}
        onChange={(event) => onFrame(Number(event.target.value))}
      />
      <button
        type="button"
        className="btn"
        aria-label="One frame on"
        disabled={frame === last}
        onClick={() => onFrame(frame + 1)}
      >
        <ChevronRight size={14} aria-hidden="true" />
      </button>
      <output className="num w-20 text-right">
        {frame} of {last}
      </output>
    </div>
  );
}
