import { ArrowDown, ArrowUp, GripVertical, X } from 'lucide-react';
import { useRef, type PointerEvent } from 'react';
import type { Journey } from '../../../../core/edit';
import { beginDrag } from '../../ui/drag';

const ROW_PX = 28;
const DRAG_START_PX = 3;

/** Parts in the order in which they leave: dragged, moved by buttons, left out. */
export function TakeApartOrder(props: {
  journeys: readonly Journey[];
  nameOf(part: string): string;
  /** Where a part goes, in words, where that is not the same for all. */
  wayOf(part: string): string | null;
  onOrder(parts: readonly string[]): void;
}) {
  const { journeys, nameOf, wayOf, onOrder } = props;
  const parts = journeys.map(({ part }) => part);
  const now = useRef(parts);
  now.current = parts;
  const put = (part: string, at: number): void => {
    const rest = now.current.filter((id) => id !== part);
    const to = Math.max(0, Math.min(rest.length, at));
    if (now.current[to] !== part) onOrder([...rest.slice(0, to), part, ...rest.slice(to)]);
  };
  const drag = (event: PointerEvent<HTMLElement>, part: string): void => {
    if (event.button !== 0) return;
    event.preventDefault();
    const before = parts;
    const [start, from] = [event.clientY, parts.indexOf(part)];
    // Its row is moved while it is dragged: the list follows the pointer.
    beginDrag(event.currentTarget.closest('ol')!, event, {
      threshold: DRAG_START_PX,
      move: (to) => put(part, from + Math.round((to.clientY - start) / ROW_PX)),
      end: (kept) => {
        if (!kept) onOrder(before);
      },
    });
  };
  return (
    <ol
      className="min-h-0 flex-1 overflow-y-auto rounded border border-line-soft"
      aria-label="Parts in order"
    >
      {parts.length === 0 && (
        <li className="p-3 text-ink-2">Choose parts first, in the tree or in the view.</li>
      )}
      {journeys.map(({ part, out, back }, i) => (
        <li key={part} className="flex h-7 items-center gap-2 border-b border-line-soft px-1 last:border-0">
          <span
            className="flex cursor-grab touch-none items-center text-ink-3 active:cursor-grabbing"
            title="Drag it to another place in the order"
            data-testid="order-grip"
            onPointerDown={(event) => drag(event, part)}
          >
            <GripVertical size={14} aria-hidden="true" />
          </span>
          <span className="num w-5 flex-none text-right text-ink-3">{i + 1}</span>
          <span className="truncate font-semibold">{nameOf(part)}</span>
          <span className="min-w-0 flex-1 truncate text-ink-2">{wayOf(part)}</span>
          <span className="num whitespace-nowrap text-ink-3">
            {out[0]}–{out[1]}
            {back && `, back ${back[0]}–${back[1]}`}
          </span>
          {(
            [
              [-1, 'earlier', ArrowUp, i === 0],
              [1, 'later', ArrowDown, i === parts.length - 1],
            ] as const
          ).map(([by, word, Arrow, end]) => (
            <button
              key={word}
              type="button"
              className="rounded p-0.5 hover:bg-line-soft disabled:opacity-30"
              aria-label={`${nameOf(part)} leaves ${word}`}
              disabled={end}
              onClick={() => put(part, i + by)}
            >
              <Arrow size={13} aria-hidden="true" />
            </button>
          ))}
          <button
            type="button"
            className="rounded p-0.5 hover:bg-line-soft"
            aria-label={`${nameOf(part)} stays`}
            title="Leave it out"
            onClick={() => onOrder(parts.filter((id) => id !== part))}
          >
            <X size={13} aria-hidden="true" />
          </button>
        </li>
      ))}
    </ol>
  );
}
