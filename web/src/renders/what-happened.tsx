import { lazy, Suspense } from 'react';
import type { RenderJob } from '../../../wire';
import { FrameStrip } from './frame-strip';
import { useStory } from './story';

const TimeChart = lazy(() => import('./time-chart'));

const clock = (iso: string): string => new Date(iso).toLocaleTimeString('en-GB');

/** How long each frame took, and what happened, in words. */
export function WhatHappened({ job }: { job: RenderJob }) {
  const story = useStory(job);
  if (!story) return <p className="text-ink-2">It is being looked up...</p>;
  const timed = story.took.some((ms) => ms !== null);
  return (
    <div data-testid="what-happened">
      <h3 className="font-bold">Time for each frame</h3>
      {timed ? (
        <Suspense fallback={<div className="h-52" />}>
          <TimeChart job={job} story={story} />
        </Suspense>
      ) : (
        <p className="my-2 text-ink-2">
          No frame of it has been drawn{story.frames.length > 0 && ': all were taken over from earlier films'}
          .
        </p>
      )}
      <FrameStrip job={job} />
      <h3 className="mt-4 mb-1 font-bold">What happened</h3>
      {story.events.length === 0 && <p className="text-ink-2">It was made before this was noted.</p>}
      <ol className="leading-relaxed">
        {story.events.map(({ at, words }, i) => (
          <li key={i} className="flex gap-3 border-b border-line-soft py-1 last:border-0">
            <time dateTime={at} className="num flex-none text-ink-3">
              {clock(at)}
            </time>
            <span className="min-w-0 wrap-break-word">{words}</span>
          </li>
        ))}
      </ol>
    </div>
  );
}
