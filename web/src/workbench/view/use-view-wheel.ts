import { useEffect, type RefObject } from 'react';
import { useSession } from '../session';
import { Flight } from './fly';
import type { ViewPainter } from './view-painter';

const FLIGHT_END_MS = 350;

/**
 * The wheel goes nearer and farther; through the shot's camera it flies it, as one edit once it has come to rest.
 * @param moved called when what is seen is seen from elsewhere now
 */
export function useViewWheel(
  frame: RefObject<HTMLElement | null>,
  painter: ViewPainter | null,
  moved: () => void,
): void {
  const session = useSession();
  // Where the wheel turns the page otherwise, it must be refused, which React's own listener cannot.
  useEffect(() => {
    const element = frame.current!;
    let flight: Flight | null = null;
    let landing: ReturnType<typeof setTimeout> | undefined;
    const onWheel = (event: WheelEvent): void => {
      event.preventDefault();
      if (!painter) return;
      const by = event.deltaY * (event.shiftKey ? 0.2 : 1);
      if (session.view.now.side === 'shot') {
        flight ??= new Flight(session);
        if (!flight.ready) {
          flight = null;
          return;
        }
        flight.ahead(by);
        flight.show();
        clearTimeout(landing);
        landing = setTimeout(() => {
          flight?.end(true);
          flight = null;
        }, FLIGHT_END_MS);
        return;
      }
      painter.look.zoom(by);
      painter.ask();
      moved();
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => {
      element.removeEventListener('wheel', onWheel);
      clearTimeout(landing);
      flight?.end(true);
    };
  }, [frame, painter, session, moved]);
}
