import type { Machine } from '../../../wire';
import { formatAgo } from '../shared/format';

/** Render machines that are there: what each draws with, what it is at, how fast it is. */
export function Machines({ machines }: { machines: readonly Machine[] }) {
  return (
    <section
      aria-label="Render machines"
      className="max-h-[40%] flex-none overflow-y-auto border-t border-line"
    >
      {machines.length === 0 && (
        <p className="p-3 text-ink-2">
          Start one with <code className="num">./whirl render-machine</code>; work that waits is taken up at
          once.
        </p>
      )}
      <ul>
        {machines.map((machine) => (
          <li key={machine.name} className="border-b border-line-soft px-3 py-2 last:border-0">
            <span className="flex items-baseline gap-2">
              <b className="min-w-0 truncate">{machine.name}</b>
              <span className="ml-auto flex-none text-xs text-ink-2" title={`Here since ${machine.since}`}>
                {machine.frames === 0
                  ? 'nothing drawn yet'
                  : `${Math.round(machine.drawnMs / machine.frames)} ms a frame, ${machine.frames} drawn`}
              </span>
            </span>
            <span className="block truncate text-xs text-ink-2" title={machine.drawingLibrary ?? undefined}>
              {machine.doing ?? 'waits for work'} · heard of {formatAgo(machine.seenAt)}
            </span>
            <span className="block truncate text-xs text-ink-3">
              {machine.drawingLibrary === null
                ? 'draws with nothing yet'
                : `draws with ${machine.drawingLibrary}`}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
