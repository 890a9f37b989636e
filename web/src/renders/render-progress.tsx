import { useQueryClient } from '@tanstack/react-query';
import { Download } from 'lucide-react';
import { useEffect, useState } from 'react';
import { filmFormat } from '../../../core/film';
import { isRunning, type RenderJob } from '../../../wire';
import { formatBytes, formatLength } from '../shared/format';
import { FilmDeeds } from './film-deeds';
import { FrameStrip } from './frame-strip';
import { PutInReel } from './put-in-reel';

export const STATUS_WORDS: Record<RenderJob['status'], string> = {
  waiting: 'Waiting for a render machine',
  drawing: 'Drawing',
  assembling: 'Putting the film together',
  paused: 'Paused',
  held: 'Waits for you',
  done: 'Done',
  failed: 'Failed',
  cancelled: 'Cancelled',
};

/** A job as it is now: news come from the server as it happens. */
export function useLiveJob(initial: RenderJob): RenderJob {
  const [live, setLive] = useState<RenderJob | null>(null);
  const queries = useQueryClient();
  const running = isRunning(initial);
  useEffect(() => {
    if (!running) return;
    const events = new EventSource(`/api/renders/${initial.id}/events`);
    events.onmessage = (event: MessageEvent<string>) => {
      const next = JSON.parse(event.data) as RenderJob;
      setLive(next);
      if (isRunning(next)) return;
      events.close();
      void queries.invalidateQueries({ queryKey: ['renders'] });
    };
    return () => events.close();
  }, [initial.id, running, queries]);
  return live?.id === initial.id && running ? live : initial;
}

/** Progress of a render with the pictures as they come in; the finished film to play and to download. */
export function RenderProgress({ job: initial }: { job: RenderJob }) {
  const job = useLiveJob(initial);
  const total = job.last - job.first + 1;
  const elapsed = job.startedAt ? (Date.now() - Date.parse(job.startedAt)) / 1000 : 0;
  const left =
    job.status === 'drawing' && job.drawn > 1 ? Math.ceil((elapsed / job.drawn) * (total - job.drawn)) : null;
  const film = `/api/renders/${job.id}/film`;
  const { seen } = filmFormat(job.format);
  return (
    <div data-testid="render-progress" data-status={job.status}>
      <div className="flex aspect-video items-center justify-center overflow-hidden rounded-md bg-film text-paper">
        {job.status === 'done' && seen === 'plays' ? (
          <video
            src={film}
            controls
            loop
            autoPlay
            muted
            className="size-full object-contain"
            aria-label={`Film of ${job.shotName}`}
          />
        ) : job.status === 'done' && seen === 'picture' ? (
          <img src={film} alt={`Film of ${job.shotName}`} className="size-full object-contain" />
        ) : job.latest !== null ? (
          <img
            src={`/api/renders/${job.id}/frames/${job.latest}`}
            alt={`Frame ${job.latest}`}
            className="size-full object-contain"
          />
        ) : (
          <span className="text-night-ink-2">The first picture comes in here</span>
        )}
      </div>
      <div className="mt-3 flex items-center gap-3">
        <b>{STATUS_WORDS[job.status]}</b>
        <span className="text-ink-2">
          {job.drawn} of {total} frames
          {job.taken > 0 && (
            <span title="They show the same as frames that were drawn before">
              , {job.taken === job.drawn ? 'all' : job.taken} unchanged
            </span>
          )}
          {left !== null && `, about ${left < 90 ? `${left} s` : `${Math.round(left / 60)} min`} left`}
        </span>
        <FilmDeeds job={job} />
        {job.status === 'done' && (
          <span
            className="min-w-0 truncate text-ink-2"
            title="Kept on the Renders page until it is deleted there"
          >
            {job.fileName ?? job.shotName}, kept on the Renders page
          </span>
        )}
        {job.status === 'done' && job.shotId !== null && (
          <span className="ml-auto flex-none">
            <PutInReel job={job} />
          </span>
        )}
        {job.status === 'done' && (
          <a
            className={`btn btn-strong ${job.shotId === null ? 'ml-auto' : ''}`}
            href={`${film}?download`}
            download
          >
            <Download size={14} aria-hidden="true" />
            Download{job.filmSize !== null && ` (${formatBytes(job.filmSize)})`}
          </a>
        )}
      </div>
      <FrameStrip job={job} />
      <p className="mt-2 text-ink-2">
        {job.width}×{job.height}, {filmFormat(job.format).name}
        {job.alpha ? ' with transparency' : ''}, frames {job.first} to {job.last},{' '}
        {formatLength(total, job.rate)}
        {job.samples !== null && `, ${job.samples} ${job.samples === 1 ? 'sample' : 'samples'}`}
        {!job.effects && ', without effects of lens and film'}
      </p>
      {job.error && (
        <p role="alert" className="mt-2 wrap-break-word whitespace-pre-wrap text-now">
          {job.error}
        </p>
      )}
    </div>
  );
}
