import { memo, useLayoutEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { themed, useEvening } from '../../shared/theme';
import { beginDrag } from '../../ui/drag';
import { clearContext } from './sized-canvas';
import { keptWindow, PAD, zoomedWindow, type TimeWindow } from './time-scale';

/** Height of the bar. */
export const ZOOM_BAR = 18;
const GRIP = 9;
const THICK = 9;

type Held = 'all' | 'from' | 'to';

/** What of the thumb lies at a place along the bar. */
function heldAt(x: number, left: number, right: number): Held | null {
  if (x < left || x > right) return null;
  return x <= left + GRIP ? 'from' : x >= right - GRIP ? 'to' : 'all';
}

/**
 * The stretch of time that is shown, as a bar below the lanes: drag it to scroll, its ends to zoom, twice for all. The thumb is
 * painted: moving an element makes the browser lay the layers of the whole page out again.
 */
export const ZoomBar = memo(function ZoomBar({
  window,
  first,
  last,
  width,
  onChange,
}: {
  window: TimeWindow;
  first: number;
  last: number;
  width: number;
  onChange(window: TimeWindow | null): void;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const evening = useEvening();
  const [over, setOver] = useState(false);
  const low = Math.min(first, window.from);
  const high = Math.max(last, window.to);
  const perFrame = (width - 2 * PAD) / Math.max(1e-6, high - low);
  const x = (frame: number): number => PAD + (frame - low) * perFrame;
  const left = x(window.from);
  const right = Math.max(left + 2 * GRIP + 2, x(window.to));
  useLayoutEffect(() => {
    const g = clearContext(canvas.current!, width, ZOOM_BAR);
    const part = (from: number, to: number, colour: string): void => {
      g.fillStyle = themed(colour);
      g.beginPath();
      g.roundRect(from, (ZOOM_BAR - THICK) / 2, to - from, THICK, THICK / 2);
      g.fill();
    };
    part(left, right, over ? 'line-strong' : 'line');
    part(left, left + GRIP, 'ink-3');
    part(right - GRIP, right, 'ink-3');
  }, [left, right, width, over, evening]);

  const placeOf = (event: PointerEvent<HTMLElement>): number =>
    event.clientX - event.currentTarget.getBoundingClientRect().left;
  const begin = (event: PointerEvent<HTMLElement>): void => {
    const held = event.button === 0 ? heldAt(placeOf(event), left, right) : null;
    if (!held) return;
    event.stopPropagation();
    event.preventDefault();
    const start = event.clientX;
    beginDrag(event.currentTarget, event, {
      move: (e) => {
        const by = (e.clientX - start) / perFrame;
        const next = {
          from: window.from + (held === 'to' ? 0 : by),
          to: window.to + (held === 'from' ? 0 : by),
        };
        if (next.to - next.from >= 2) onChange(keptWindow(next, first, last));
      },
      end: (kept) => {
        if (!kept) onChange(window);
      },
    });
  };
  const hover = (event: PointerEvent<HTMLElement>): void => {
    if (event.buttons) return;
    const held = heldAt(placeOf(event), left, right);
    event.currentTarget.style.cursor = held === null ? 'default' : held === 'all' ? 'grab' : 'ew-resize';
    setOver(held !== null);
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const length = window.to - window.from;
    const middle = (window.from + window.to) / 2;
    if (event.key === 'ArrowLeft' || event.key === 'ArrowRight') {
      const by = (event.key === 'ArrowLeft' ? -1 : 1) * length * 0.1;
      onChange(keptWindow({ from: window.from + by, to: window.to + by }, first, last));
    } else if (event.key === '+' || event.key === '-')
      onChange(zoomedWindow(window, middle, event.key === '+' ? 0.8 : 1.25, first, last));
    else if (event.key === 'Home') onChange(null);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
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
      data-from-x={left}
      data-to-x={right}
      tabIndex={0}
      title="Drag to scroll, drag the ends to zoom, click twice for the whole range. Alt and the wheel zoom at the pointer"
      className="relative h-full w-full touch-none"
      onKeyDown={onKeyDown}
      onDoubleClick={() => onChange(null)}
      onPointerDown={begin}
      onPointerMove={hover}
      onPointerLeave={() => setOver(false)}
    >
      <canvas
        ref={canvas}
        className="pointer-events-none absolute left-0 top-0"
        style={{ width, height: ZOOM_BAR }}
        aria-hidden="true"
      />
    </div>
  );
});
