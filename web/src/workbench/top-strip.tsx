import { Redo2, Search, Undo2, CircleHelp } from 'lucide-react';
import { Link } from 'react-router';
import { Mark } from '../shared/mark';
import { FormulaBar } from './formula/formula-bar';
import { RenderSheet } from './render-sheet';
import { useSession, useSessionState } from './session';

const KEPT_WORDS = {
  kept: ['Kept', 'Every change is stored on the server.'],
  keeping: ['Keeping...', 'Changes are on their way to the server.'],
  offline: [
    'Not reached: edits held here',
    'The server or its database does not answer. Edits are held in this browser and sent as soon as it is back.',
  ],
} as const;

/** Mark, where we are, the formula bar, kept-state, undo and redo, render. */
export function TopStrip() {
  const session = useSession();
  const kept = useSessionState((state) => state.kept);
  const undo = useSessionState((state) => state.undo.at(-1));
  const redo = useSessionState((state) => state.redo.at(-1));
  const loose = useSessionState((state) => Object.keys(state.loose).length > 0);
  const name = useSessionState((state) => state.name);
  const rendering = useSessionState((state) => state.open === 'render');
  const words = (step: typeof undo): string =>
    !step ? '' : step.kind === 'change' ? step.change.label : 'dropped changes';
  return (
    <header className="flex h-11 flex-none items-center gap-3 bg-ink px-3 text-paper">
      <Mark />
      <nav
        aria-label="Where you are"
        className="flex min-w-0 max-w-[220px] items-center gap-1 text-[#b9b6ad]"
      >
        <Link to="/" className="truncate hover:text-white" title={session.projectName}>
          {session.projectName}
        </Link>
        <span className="opacity-50">/</span>
        <button
          type="button"
          className="min-w-0 truncate font-semibold text-white hover:underline"
          title={`${name}: set up the shot (Shift+S)`}
          onClick={() => session.store.setState({ open: 'shot' })}
        >
          {name}
        </button>
      </nav>
      <FormulaBar />
      <span
        role="status"
        title={KEPT_WORDS[kept][1]}
        className={`flex-none font-semibold ${kept === 'offline' ? 'rounded bg-now px-2 py-0.5 text-white' : 'text-[#cfcabd]'}`}
        data-testid="kept"
      >
        {KEPT_WORDS[kept][0]}
      </span>
      <button
        type="button"
        aria-label="Find a command, a part or a channel"
        title="Find a command, a part or a channel (Ctrl+K)"
        className="flex-none rounded p-1.5 hover:bg-night"
        onClick={() => session.store.setState({ open: 'search' })}
      >
        <Search size={15} aria-hidden="true" />
      </button>
      <button
        type="button"
        aria-label="Keys and help"
        title="Keys and help (?)"
        className="flex-none rounded p-1.5 hover:bg-night"
        onClick={() => session.store.setState({ open: 'keys' })}
      >
        <CircleHelp size={15} aria-hidden="true" />
      </button>
      <span className="flex flex-none">
        <button
          type="button"
          aria-label="Undo"
          title={
            loose
              ? 'Undo: drop the unkeyed changes (Ctrl+Z)'
              : undo
                ? `Undo: ${words(undo)} (Ctrl+Z)`
                : 'Nothing to undo'
          }
          disabled={!undo && !loose}
          className="rounded p-1.5 hover:bg-night"
          onClick={() => session.undo()}
        >
          <Undo2 size={15} aria-hidden="true" />
        </button>
        <button
          type="button"
          aria-label="Redo"
          title={redo ? `Redo: ${words(redo)} (Ctrl+Shift+Z)` : 'Nothing to redo'}
          disabled={!redo}
          className="rounded p-1.5 hover:bg-night"
          onClick={() => session.redo()}
        >
          <Redo2 size={15} aria-hidden="true" />
        </button>
      </span>
      <Link to="/renders" className="flex-none font-semibold text-[#cfcabd] hover:text-white">
        Renders
      </Link>
      <button
        type="button"
        className="btn btn-alarm flex-none"
        onClick={() => session.store.setState({ open: 'render' })}
      >
        Render...
      </button>
      <RenderSheet
        open={rendering}
        onOpenChange={(open) => session.store.setState({ open: open ? 'render' : null })}
      />
    </header>
  );
}
