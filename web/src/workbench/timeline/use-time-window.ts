import { useEffect, useLayoutEffect, useMemo, useRef, useState, type RefObject } from 'react';
import { useSession, useShot, useTime } from '../session';
import { keptWindow, timeScale, zoomedWindow, type TimeScale, type TimeWindow } from './time-scale';

/** Share of the window by which a pixel of the wheel zooms. */
const ZOOM_PER_PX = 1.0015;

/** The stretch of time that is shown, and where its frames lie. */
export interface ShownTime {
  readonly first: number;
  readonly last: number;
  readonly window: TimeWindow;
  readonly scale: TimeScale;
}

/** The stretch of time that is shown in a width of pixels; all that is shown over time shares it. */
export function useTimeWindow(width: number): ShownTime {
  const { first, last } = useShot((state) => state.shot.setup);
  const wanted = useTime((state) => state.window);
  const [from, to] = [wanted?.from ?? first, wanted?.to ?? last];
  const window = useMemo(() => ({ from, to }), [from, to]);
  const scale = useMemo(() => timeScale(from, to, width), [from, to, width]);
  return { first, last, window, scale };
}

/** Size of an element in whole pixels, as it is now. */
export function useSizeOf(
  box: RefObject<HTMLElement | null>,
  initial: { readonly width: number; readonly height: number },
): { readonly width: number; readonly height: number } {
  const [size, setSize] = useState(initial);
  useLayoutEffect(() => {
    const watcher = new ResizeObserver(([entry]) =>
      setSize({ width: Math.round(entry!.contentRect.width), height: Math.round(entry!.contentRect.height) }),
    );
    watcher.observe(box.current!);
    return () => watcher.disconnect();
  }, [box]);
  return size;
}

/**
 * Lets the wheel zoom time about the pointer (with Alt), move it (with Shift), or scroll.
 * @param left pixels of the box before time begins
 */
export function useTimeWheel(
  box: RefObject<HTMLElement | null>,
  left: number,
  { first, last, window, scale }: ShownTime,
  scroll: (by: number, event: WheelEvent) => void,
): void {
  const session = useSession();
  const turn = useRef<(event: WheelEvent) => void>(() => undefined);
  useEffect(() => {
    turn.current = (event) => {
      event.preventDefault();
      const area = box.current!.getBoundingClientRect();
      const x = event.clientX - area.left - left;
      const by = event.deltaY || event.deltaX;
      if (event.altKey)
        session.time.show(zoomedWindow(window, scale.frame(Math.max(0, x)), ZOOM_PER_PX ** by, first, last));
      else if (event.shiftKey) {
        const frames = by / scale.perFrame;
        session.time.show(keptWindow({ from: window.from + frames, to: window.to + frames }, first, last));
      } else scroll(by, event);
    };
  });
  useEffect(() => {
    const element = box.current!;
    // Where the wheel turns the page otherwise, it must be refused, which React's own listener cannot.
    const onWheel = (event: WheelEvent): void => {
      // A panel beside time scrolls by itself.
      if (!(event.target as Element).closest('[data-scrolls]')) turn.current(event);
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => element.removeEventListener('wheel', onWheel);
  }, [box]);
}
