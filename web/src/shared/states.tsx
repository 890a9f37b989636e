import { useEffect, useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import { ServerProblem } from './api';

const SHOWN_AFTER_MS = 200;

/** Says that something is being fetched, once it takes long enough to notice. */
export function Loading({ what }: { what: string }) {
  const [shown, setShown] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setShown(true), SHOWN_AFTER_MS);
    return () => clearTimeout(timer);
  }, []);
  return (
    <div
      role="status"
      className={`flex flex-1 items-center justify-center p-10 text-ink-2 transition-opacity ${shown ? 'opacity-100' : 'opacity-0'}`}
    >
      Opening {what}...
    </div>
  );
}

/** What failed, what is safe, and trying again. */
export function Failed({
  title,
  error,
  onRetry,
  children,
}: {
  title: string;
  error: unknown;
  onRetry(): void;
  children?: ReactNode;
}) {
  return (
    <div role="alert" className="m-auto max-w-md p-8 text-center">
      <h2 className="mb-2 text-base font-bold">{title}</h2>
      <p className="mb-4 text-ink-2">{error instanceof Error ? error.message : String(error)}</p>
      {children}
      <button type="button" className="btn btn-strong" onClick={onRetry}>
        Try again
      </button>
    </div>
  );
}

/** Says that a shot or a reel cannot be opened, or is not there, and leads back to all projects. */
export function CannotOpen({ what, error, onRetry }: { what: string; error: unknown; onRetry(): void }) {
  const gone = error instanceof ServerProblem && error.status === 404;
  return (
    <div className="flex h-full">
      <Failed
        title={gone ? `This ${what} is not there` : `The ${what} cannot be opened`}
        error={error}
        onRetry={onRetry}
      >
        <p className="mb-4">
          <Link to="/" className="font-semibold text-teal underline">
            All projects
          </Link>
        </p>
      </Failed>
    </div>
  );
}
