import { useRef, type PointerEvent } from 'react';
import { writtenName } from '../../../../core/formula';
import { beginDrag } from '../../ui/drag';
import { choose } from '../actions/choosing';
import { formulaDraft } from '../formula/formula-draft';
import { useSession } from '../session';
import { Flight } from './fly';
import { pivotOf } from './part-place';
import type { ViewPainter } from './view-painter';
import type { Size } from './view-size';
import { WordsDrag } from './words-drag';

const CLICK_PX = 4;

/** What is being enclosed, in pixels of the view. */
export interface Box {
  readonly x0: number;
  readonly y0: number;
  readonly x1: number;
  readonly y1: number;
}

/** Chooses parts that were clicked: the nearest first, then what lies behind. */
function usePick(): (hits: readonly string[], more: boolean, spot: { x: number; y: number } | null) => void {
  const session = useSession();
  const lastSpot = useRef<{ x: number; y: number } | null>(null);
  return (hits, more, spot) => {
    const { chosen: before } = session.choice.now;
    const { shot: document } = session;
    const { picking } = session.sheets.now;
    const again =
      lastSpot.current !== null &&
      spot !== null &&
      Math.hypot(spot.x - lastSpot.current.x, spot.y - lastSpot.current.y) <= CLICK_PX;
    lastSpot.current = spot;
    if (formulaDraft.editing) {
      const part = hits[0] ? document.parts[hits[0]] : null;
      if (part) formulaDraft.insert(`${writtenName(part.name)}.`);
      return;
    }
    if (hits.length === 0) {
      if (!more) choose(session, []);
      return;
    }
    if (picking) {
      session.choice.onlyParts(hits.slice(0, 1));
      return;
    }
    // A second click on the same spot goes to what lies behind.
    const at = hits.indexOf(before.at(-1) ?? '');
    const next = hits[again && before.length === 1 && at >= 0 ? (at + 1) % hits.length : 0]!;
    if (!more) choose(session, [next]);
    else choose(session, before.includes(next) ? before.filter((id) => id !== next) : [...before, next]);
  };
}

/**
 * The pointer on the picture: a click chooses, a drag looks round, slides, flies the camera, encloses parts or moves words.
 * @param moved called when what is seen is seen from elsewhere now
 */
export function useViewPointer(
  painter: ViewPainter | null,
  size: Size,
  setBox: (box: Box | null) => void,
  moved: () => void,
) {
  const session = useSession();
  const pick = usePick();
  const onPointerDown = (event: PointerEvent<HTMLCanvasElement>): void => {
    if (!painter) return;
    const element = event.currentTarget;
    const area = element.getBoundingClientRect();
    const from = { x: event.clientX, y: event.clientY };
    let last = from;
    const boxes = event.button === 0 && (event.ctrlKey || event.metaKey);
    const pans = event.button !== 0 || event.shiftKey;
    const { side: now } = session.view.now;
    const { chosen: about } = session.choice.now;
    const said = event.button === 0 && !boxes ? painter.wordsAt(from.x - area.left, from.y - area.top) : null;
    const words = said === null ? null : new WordsDrag(session, said);
    const flight = now === 'shot' && !boxes && !words ? new Flight(session) : null;
    const centre = about.length > 0 ? pivotOf(session.evaluator, about.at(-1)!) : undefined;
    const boxTo = (e: { clientX: number; clientY: number }): Box => ({
      x0: Math.min(from.x, e.clientX) - area.left,
      y0: Math.min(from.y, e.clientY) - area.top,
      x1: Math.max(from.x, e.clientX) - area.left,
      y1: Math.max(from.y, e.clientY) - area.top,
    });
    const onMove = (next: globalThis.PointerEvent): void => {
      if (boxes) {
        setBox(boxTo(next));
        return;
      }
      const [dx, dy] = [next.clientX - last.x, next.clientY - last.y];
      last = { x: next.clientX, y: next.clientY };
      if (words) {
        words.move(dx, dy, painter.area().height, next.shiftKey);
        return;
      }
      if (flight) {
        if (!flight.ready) return;
        if (pans) flight.slide(dx, dy);
        else flight.look(dx, dy);
        flight.show();
        return;
      }
      if (pans || now !== 'free') painter.look.pan(painter.camera(), dx, dy, size.height);
      else painter.look.orbit(dx, dy, centre);
      painter.ask();
      moved();
    };
    beginDrag(element, event, {
      threshold: CLICK_PX,
      move: onMove,
      end: (kept, up, dragged) => {
        setBox(null);
        flight?.end(kept && dragged);
        words?.end(kept && dragged);
        if (!kept || !up) return;
        if (dragged && boxes) {
          const { x0, y0, x1, y1 } = boxTo(up);
          const found = painter.within(x0, y0, x1, y1);
          const { chosen: before } = session.choice.now;
          choose(session, up.shiftKey ? [...new Set([...before, ...found])] : found);
        } else if (!dragged && up.button === 0)
          pick(
            painter.pick(up.clientX - area.left, up.clientY - area.top),
            up.ctrlKey || up.metaKey || up.shiftKey,
            { x: up.clientX, y: up.clientY },
          );
      },
    });
  };
  return { pick, onPointerDown };
}
