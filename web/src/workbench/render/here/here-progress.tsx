import { Download } from 'lucide-react';
import { useSyncExternalStore } from 'react';
import { formatBytes } from '../../../shared/format';
import type { FilmHere } from './film-here';

/** A film that is drawn in this browser: how far it is, then the film itself, to be looked at and saved. */
export function HereProgress({
  film,
  name,
  stays = false,
  onLeave,
}: {
  film: FilmHere;
  name: string;
  /** It goes on while nobody looks. */
  stays?: boolean;
  /** Lets it go, also when it is whole. */
  onLeave(): void;
}) {
  const now = useSyncExternalStore(film.subscribe, film.snapshot);
  const [drawn, total] = now.state === 'drawing' ? [now.drawn, now.total] : [0, 1];
  return (
    <div data-testid="film-here" data-state={now.state}>
      <div className="flex aspect-video items-center justify-center overflow-hidden rounded-md bg-film text-night-ink-2">
        {now.state === 'done' ? (
          <video
            src={now.url}
            controls
            loop
            autoPlay
            muted
            className="size-full object-contain"
            aria-label={`Film of ${name}`}
          />
        ) : now.state === 'failed' ? (
          <p role="alert" className="max-w-[60ch] p-4 text-center text-night-fault">
            {now.reason}
          </p>
        ) : now.state === 'preparing' ? (
          'Getting ready...'
        ) : (
          `It is drawn beside the page${stays ? ', also while this sheet is closed,' : ''} and shown here once it is whole`
        )}
      </div>
      <div className="mt-3 flex items-center gap-3">
        {now.state === 'drawing' && (
          <>
            <b>Drawing</b>
            <span className="text-ink-2">
              {drawn} of {total} frames
            </span>
          </>
        )}
        {now.state === 'done' && (
          <span className="min-w-0 text-ink-2">
            {now.note ?? 'It is in this page only: save it to keep it.'}
          </span>
        )}
        <span className="ml-auto flex gap-2">
          {now.state === 'done' && (
            <a className="btn btn-strong" href={now.url} download={`${name}.${now.ending}`}>
              <Download size={14} aria-hidden="true" />
              Save ({formatBytes(now.size)})
            </a>
          )}
          <button type="button" className="btn" onClick={onLeave}>
            {now.state === 'done' || now.state === 'failed' ? 'Back' : 'Cancel'}
          </button>
        </span>
      </div>
      {now.state === 'drawing' && (
        <div
          className="mt-2 h-2 overflow-hidden rounded-full bg-line"
          role="progressbar"
          aria-label="Frames drawn"
          aria-valuemin={0}
          aria-valuemax={total}
          aria-valuenow={drawn}
        >
          <div className="h-full bg-teal" style={{ width: `${(drawn / total) * 100}%` }} />
        </div>
      )}
    </div>
  );
}
