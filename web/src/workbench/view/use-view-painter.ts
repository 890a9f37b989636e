import { useEffect, useLayoutEffect, useState, type RefObject } from 'react';
import { useChoice, useCompare, usePlot, useSession, useShot, useTime, useViewSettings } from '../session';
import { setViewCommands } from './view-commands';
import { ViewPainter } from './view-painter';
import type { Size } from './view-size';

/**
 * The painter of the view, made once its canvases are there and told of everything that its picture depends on.
 * @param moved what lies over the picture has to be placed anew
 * @returns `failed`: why this browser draws nothing
 */
export function useViewPainter(
  canvas: RefObject<HTMLCanvasElement | null>,
  cover: RefObject<HTMLCanvasElement | null>,
  size: Size,
  moved: () => void,
): { painter: ViewPainter | null; failed: string | null } {
  const session = useSession();
  const [painter, setPainter] = useState<ViewPainter | null>(null);
  const [failed, setFailed] = useState<string | null>(null);
  useEffect(() => {
    let made: ViewPainter | null = null;
    try {
      made = new ViewPainter(canvas.current!, cover.current!, session);
      const open = made;
      open.showMoving();
      setPainter(made);
      setViewCommands({
        show: (ids) => {
          open.show(ids);
          moved();
        },
        freeMatrix: () => open.freeMatrix(),
        drawAhead: (first, last) => open.drawAhead(first, last),
        stopDrawing: () => open.stopDrawing(),
      });
    } catch (error) {
      setFailed(error instanceof Error ? error.message : String(error));
    }
    return () => {
      made?.dispose();
      setViewCommands(null);
    };
  }, [canvas, cover, session, moved]);
  usePictureAsked(painter, size);
  // What lies over the picture is placed by the painter's size, which is known only now.
  useLayoutEffect(() => {
    if (!painter) return;
    painter.size = size;
    moved();
  }, [painter, size, moved]);
  return { painter, failed };
}

/** Asks for a picture whenever it would be another one. */
function usePictureAsked(painter: ViewPainter | null, size: Size): void {
  const session = useSession();
  const side = useViewSettings((state) => state.side);
  const ghosts = useViewSettings((state) => state.ghosts);
  const draft = useViewSettings((state) => state.draft);
  const finder = useViewSettings((state) => state.finder);
  const finderAt = useViewSettings((state) => state.finderAt);
  const finderShare = useViewSettings((state) => state.finderShare);
  const beyond = useViewSettings((state) => state.beyond);
  const compare = useCompare((state) => state);
  const before = usePlot((state) => (compare.with === 'before' ? state.before : null));
  const playing = useTime((state) => state.playing);
  const chosen = useChoice((state) => state.chosen);
  const shot = useShot((state) => state.shot);
  useEffect(() => {
    if (!painter) return;
    painter.size = size;
    painter.ask();
  }, [
    painter,
    size,
    side,
    finder,
    finderAt,
    finderShare,
    beyond,
    ghosts,
    draft,
    chosen,
    shot,
    compare,
    before,
    playing,
  ]);
  useEffect(
    () =>
      painter ? session.doc.state.subscribe((now, was) => now.tick !== was.tick && painter.ask()) : undefined,
    [painter, session],
  );
}
