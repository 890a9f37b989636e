import { memo, useEffect, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { keptWindow, PAD, zoomedWindow, type TimeWindow } from './time-scale';
import { beginDrag } from '../../ui/drag';

const GRIP = 9;

/** How long a value must stand before it is shown. */
const REST_MS = 160;

/** A value once it has come to rest: moving an element makes the browser lay the layers of the whole page out again. */
function useRested<T>(value: T): T {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    const waiting = setTimeout(() => setRested(value), REST_MS);
    return () => clearTimeout(waiting);
  }, [value]);
  return rested;
}

/** The stretch of time that is shown, as a bar below the lanes: drag it to scroll, its ends to zoom, twice for all. */
export const ZoomBar = memo(function ZoomBar(props: {
  window: TimeWindow;
  first: number;
  last: number;
  width: number;
  onChange(window: TimeWindow | null): void;
}) {
  const { first, last, width } = props;
  const [dragged, setDragged] = useState(false);
  const rested = useRested(props.window);
  const window = dragged ? props.window : rested;
  const low = Math.min(first, window.from);
  const high = Math.max(last, window.to);
  const perFrame = (width - 2 * PAD) / Math.max(1e-6, high - low);
  const x = (frame: number): number => PAD + (frame - low) * perFrame;
  const begin = (event: PointerEvent<HTMLElement>, what: 'all' | 'from' | 'to'): void => {
    event.stopPropagation();
    event.preventDefault();
    const element = event.currentTarget;
    const { window: begun } = props;
    setDragged(true);
    const start = event.clientX;
    beginDrag(element, event, {
      move: (e) => {
        const by = (e.clientX - start) / perFrame;
        const next = {
          from: begun.from + (what === 'to' ? 0 : by),
          to: begun.to + (what === 'from' ? 0 : by),
        };
        if (next.to - next.from >= 2) props.onChange(keptWindow(next, first, last));
      },
      end: (kept) => {
        setDragged(false);
        if (!kept) props.onChange(begun);
      },
    });
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const { window: now } = props;
    const length = now.to - now.from;
    const middle = (now.from + now.to) / 2;
    if (event.key === 'ArrowLeft' || event.key === 'ArrowRight') {
      const by = (event.key === 'ArrowLeft' ? -1 : 1) * length * 0.1;
      props.onChange(keptWindow({ from: now.from + by, to: now.to + by }, first, last));
    } else if (event.key === '+' || event.key === '-')
      props.onChange(zoomedWindow(now, middle, event.key === '+' ? 0.8 : 1.25, first, last));
    else if (event.key === 'Home') props.onChange(null);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const [left, right] = [x(window.from), x(window.to)];
  return (
    <div
      role="scrollbar"
      aria-label="Frames shown"
      aria-controls="lanes"
      aria-orientation="horizontal"
      aria-valuemin={Math.round(low)}
      aria-valuemax={Math.round(high)}
      aria-valuenow={Math.round(window.from)}
      aria-valuetext={`frames ${Math.round(window.from)} to ${Math.round(window.to)}`}
      tabIndex={0}
      title="Drag to scroll, drag the ends to zoom, click twice for the whole range. Alt and the wheel zoom at the pointer"
      className="relative h-full w-full"
      onKeyDown={onKeyDown}
      onDoubleClick={() => props.onChange(null)}
    >
      <div
        className="absolute top-1/2 h-[9px] -translate-y-1/2 cursor-grab rounded-full bg-line hover:bg-line-strong"
        style={{ left, width: Math.max(2 * GRIP + 2, right - left) }}
        data-testid="zoom-thumb"
        onPointerDown={(event) => begin(event, 'all')}
      >
        {(['from', 'to'] as const).map((end) => (
          <i
            key={end}
            className={`absolute inset-y-0 cursor-ew-resize rounded-full bg-ink-3 ${end === 'from' ? 'left-0' : 'right-0'}`}
            style={{ width: GRIP }}
            data-testid={`zoom-${end}`}
            onPointerDown={(event) => begin(event, end)}
          />
        ))}
      </div>
    </div>
  );
});
