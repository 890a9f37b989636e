import { useQuery } from '@tanstack/react-query';
import { FileOutput, Redo2, Undo2 } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Link, useParams } from 'react-router';
import type { ShotCard } from '../../../wire';
import { api } from '../shared/api';
import { Mark } from '../shared/mark';
import { CannotOpen, Loading } from '../shared/states';
import { ThemeSwitch } from '../shared/theme-switch';
import { ItemForm } from './item-form';
import type { Keeping } from './open-reel';
import { ReelKeys } from './reel-keys';
import { ReelRender } from './reel-render';
import { ReelSession, ReelSessionProvider, useReel, useReelSession } from './reel-session';
import { Screen } from './screen';
import { Shelf } from './shelf';
import { Strip } from './strip';
import { saveTimeline } from './timeline-file';

const REFRESH_MS = 8000;

/** Shots one after another. */
export function ReelPage() {
  const { id = '' } = useParams();
  const opened = useQuery({
    queryKey: ['reel', id],
    queryFn: () => api.reel(id),
    staleTime: Infinity,
    gcTime: 0,
    refetchOnWindowFocus: false,
    refetchOnReconnect: false,
  });
  const [session, setSession] = useState<ReelSession | null>(null);
  useEffect(() => {
    if (!opened.data) return;
    const made = new ReelSession(opened.data);
    setSession(made);
    document.title = `${made.opened.name} - Whirl`;
    return () => {
      made.close();
      setSession(null);
      document.title = 'Whirl';
    };
  }, [opened.data]);
  if (opened.isError)
    return <CannotOpen what="reel" error={opened.error} onRetry={() => void opened.refetch()} />;
  if (!session)
    return (
      <div className="flex h-full">
        <Loading what="the reel" />
      </div>
    );
  return (
    <ReelSessionProvider value={session}>
      <Bench onReopen={() => void opened.refetch()} />
    </ReelSessionProvider>
  );
}

function Bench({ onReopen }: { onReopen(): void }) {
  const session = useReelSession();
  const projects = useQuery({ queryKey: ['projects'], queryFn: api.projects, refetchInterval: REFRESH_MS });
  const shots = projects.data?.find(({ id }) => id === session.opened.projectId)?.shots ?? [];
  return (
    <div className="flex h-full flex-col">
      <ReelKeys />
      <Top shots={shots} onReopen={onReopen} />
      <main className="flex min-h-0 flex-1 flex-col gap-1.5 p-1.5">
        <div className="grid min-h-0 flex-1 grid-cols-[228px_minmax(0,1fr)_292px] gap-1.5">
          <Shelf shots={shots} />
          <Screen />
          <ItemForm />
        </div>
        <Strip shots={shots} />
      </main>
    </div>
  );
}

const KEPT_WORDS: Record<Keeping['state'], string> = {
  kept: 'Kept',
  keeping: 'Keeping...',
  away: 'Not kept yet: held here',
  clash: 'Changed elsewhere',
};

function Top({ shots, onReopen }: { shots: readonly ShotCard[]; onReopen(): void }) {
  const session = useReelSession();
  const { doc, opened } = session;
  const keeping = useReel((state) => state.keeping);
  const undone = useReel((state) => state.undo.length);
  const redone = useReel((state) => state.redo.length);
  const [rendering, setRendering] = useState(false);
  const alarm = keeping.state === 'away' || keeping.state === 'clash';
  return (
    <header className="flex h-11 flex-none items-center gap-3 bg-strip px-3 text-paper">
      <Mark />
      <nav aria-label="Where you are" className="flex min-w-0 items-center gap-1 text-night-ink-2">
        <Link to="/" className="truncate hover:text-halo" title={opened.projectName}>
          {opened.projectName}
        </Link>
        <span className="opacity-50">/</span>
        <h1 className="min-w-0 truncate font-semibold text-halo" title={opened.name}>
          {opened.name}
        </h1>
        <span className="ml-1 flex-none rounded bg-night px-1.5 text-night-ink">reel</span>
      </nav>
      <span
        role="status"
        data-testid="kept"
        title={
          keeping.state === 'away'
            ? `${keeping.reason} It is sent as soon as the server takes it.`
            : undefined
        }
        className={`ml-auto flex-none font-semibold ${alarm ? 'rounded bg-now px-2 py-0.5 text-on-now' : 'text-night-ink'}`}
      >
        {KEPT_WORDS[keeping.state]}
      </span>
      {keeping.state === 'clash' && (
        <span className="flex flex-none gap-1.5">
          {keeping.revision !== null && (
            <button
              type="button"
              className="btn h-6 text-ink"
              title="The reel as it is here takes the place of the other one"
              onClick={() => doc.keepMine()}
            >
              Keep mine
            </button>
          )}
          <button
            type="button"
            className="btn h-6 text-ink"
            title="What was changed here since then is let go"
            onClick={() => {
              doc.letGo();
              onReopen();
            }}
          >
            Take the other
          </button>
        </span>
      )}
      <button
        type="button"
        className="btn h-[26px] flex-none text-ink"
        title="OpenTimelineIO, for programs that cut films"
        onClick={() => saveTimeline(session.reel, opened.name, shots)}
      >
        <FileOutput size={14} aria-hidden="true" />
        Save timeline
      </button>
      <ThemeSwitch />
      <span className="flex flex-none">
        <button
          type="button"
          aria-label="Undo"
          title={undone > 0 ? 'Undo (Ctrl+Z)' : 'Nothing to undo'}
          disabled={undone === 0}
          className="rounded p-1.5 hover:bg-night"
          onClick={() => doc.undo()}
        >
          <Undo2 size={15} aria-hidden="true" />
        </button>
        <button
          type="button"
          aria-label="Redo"
          title={redone > 0 ? 'Redo (Ctrl+Shift+Z)' : 'Nothing to redo'}
          disabled={redone === 0}
          className="rounded p-1.5 hover:bg-night"
          onClick={() => doc.redo()}
        >
          <Redo2 size={15} aria-hidden="true" />
        </button>
      </span>
      <Link to="/renders" className="flex-none font-semibold text-night-ink hover:text-halo">
        Renders
      </Link>
      <button type="button" className="btn btn-alarm flex-none" onClick={() => setRendering(true)}>
        Render...
      </button>
      <ReelRender open={rendering} onClose={() => setRendering(false)} />
    </header>
  );
}
