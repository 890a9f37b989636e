import { Redo2, Search, Undo2, CircleHelp } from 'lucide-react';
import { Link } from 'react-router';
import { Mark } from '../shared/mark';
import { ThemeSwitch } from '../shared/theme-switch';
import type { KeptState } from '../shot/outbox';
import { FormulaBar } from './formula/formula-bar';
import { RenderSheet } from './render/render-sheet';
import { redo, undo } from './actions/history';
import { useSession, useKeying, useSheets, useShot } from './session';

/** What is told of the changes on their way: in a word or two, and whole. */
function keptWords({ state, waiting, stored, reason }: KeptState): {
  readonly short: string;
  readonly whole: string;
  readonly alarm: boolean;
} {
  const edits = waiting === 1 ? '1 edit' : `${waiting} edits`;
  if (state === 'kept')
    return { short: 'Kept', whole: 'Every change is stored on the server.', alarm: false };
  if (state === 'keeping')
    return { short: 'Keeping...', whole: 'Changes are on their way to the server.', alarm: false };
  return stored
    ? {
        short: 'Not kept yet: edits held here',
        whole: `${reason ?? ''} ${edits} held in this browser, also when the page is closed, and sent as soon as the server takes them.`,
        alarm: true,
      }
    : {
        short: `${edits} not kept: leave this page open`,
        whole: `${reason ?? ''} This browser has no room to keep ${edits} either: they are in this page only, and lost when it is closed.`,
        alarm: true,
      };
}

/** Mark, where we are, the formula bar, kept-state, undo and redo, render. */
export function TopStrip() {
  const session = useSession();
  const kept = keptWords(useShot((state) => state.kept));
  const last = useShot((state) => state.undo.at(-1));
  const next = useShot((state) => state.redo.at(-1));
  const loose = useKeying((state) => Object.keys(state.loose).length > 0);
  const name = useShot((state) => state.name);
  const rendering = useSheets((state) => state.open === 'render');
  const words = (step: typeof last): string =>
    !step ? '' : step.kind === 'change' ? step.change.label : 'dropped changes';
  return (
    <header className="flex h-11 flex-none items-center gap-3 bg-strip px-3 text-paper">
      <Mark />
      <nav
        aria-label="Where you are"
        className="flex min-w-0 max-w-[220px] items-center gap-1 text-night-ink-2"
      >
        <Link to="/" className="truncate hover:text-halo" title={session.project.name}>
          {session.project.name}
        </Link>
        <span className="opacity-50">/</span>
        <button
          type="button"
          className="min-w-0 truncate font-semibold text-halo hover:underline"
          title={`${name}: set up the shot (Shift+S)`}
          onClick={() => session.sheets.show('shot')}
        >
          {name}
        </button>
      </nav>
      <FormulaBar />
      <span
        role="status"
        title={kept.whole}
        className={`flex-none font-semibold ${kept.alarm ? 'rounded bg-now px-2 py-0.5 text-on-now' : 'text-night-ink'}`}
        data-testid="kept"
      >
        {kept.short}
      </span>
      <button
        type="button"
        aria-label="Find a command, a part or a channel"
        title="Find a command, a part or a channel (Ctrl+K)"
        className="flex-none rounded p-1.5 hover:bg-night"
        onClick={() => session.sheets.show('search')}
      >
        <Search size={15} aria-hidden="true" />
      </button>
      <button
        type="button"
        aria-label="Keys and help"
        title="Keys and help (?)"
        className="flex-none rounded p-1.5 hover:bg-night"
        onClick={() => session.sheets.show('keys')}
      >
        <CircleHelp size={15} aria-hidden="true" />
      </button>
      <ThemeSwitch />
      <span className="flex flex-none">
        <button
          type="button"
          aria-label="Undo"
          title={
            loose
              ? 'Undo: drop the unkeyed changes (Ctrl+Z)'
              : last
                ? `Undo: ${words(last)} (Ctrl+Z)`
                : 'Nothing to undo'
          }
          disabled={!last && !loose}
          className="rounded p-1.5 hover:bg-night"
          onClick={() => undo(session)}
        >
          <Undo2 size={15} aria-hidden="true" />
        </button>
        <button
          type="button"
          aria-label="Redo"
          title={next ? `Redo: ${words(next)} (Ctrl+Shift+Z)` : 'Nothing to redo'}
          disabled={!next}
          className="rounded p-1.5 hover:bg-night"
          onClick={() => redo(session)}
        >
          <Redo2 size={15} aria-hidden="true" />
        </button>
      </span>
      <Link to="/renders" className="flex-none font-semibold text-night-ink hover:text-halo">
        Renders
      </Link>
      <button type="button" className="btn btn-alarm flex-none" onClick={() => session.sheets.show('render')}>
        Render...
      </button>
      <RenderSheet open={rendering} onOpenChange={(open) => session.sheets.show(open ? 'render' : null)} />
    </header>
  );
}
