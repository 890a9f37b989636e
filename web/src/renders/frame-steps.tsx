import { ChevronLeft, ChevronRight } from 'lucide-react';
import { useState } from 'react';
import type { RenderJob } from '../../../wire';

/** A finished film frame by frame, as the frames were drawn: with the slider, its arrow keys or the buttons. */
export function FrameSteps({ job }: { job: RenderJob }) {
  const [frame, setFrame] = useState(job.first);
  const [gone, setGone] = useState(false);
  const step = (by: number): void => setFrame((now) => Math.min(job.last, Math.max(job.first, now + by)));
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
      <div className="mt-2 flex items-center gap-2">
        <button
          type="button"
          className="btn"
          aria-label="One frame back"
          disabled={frame === job.first}
          onClick={() => step(-1)}
        >
          <ChevronLeft size={14} aria-hidden="true" />
        </button>
        <input
          type="range"
          aria-label="Frame of the film"
          className="min-w-0 flex-1 accent-teal"
          min={job.first}
          max={job.last}
          value={frame}
          onChange={(event) => setFrame(Number(event.target.value))}
        />
        <button
          type="button"
          className="btn"
          aria-label="One frame on"
          disabled={frame === job.last}
          onClick={() => step(1)}
        >
          <ChevronRight size={14} aria-hidden="true" />
        </button>
        <output className="num w-20 text-right">
          {frame} of {job.last}
        </output>
      </div>
    </div>
  );
}
