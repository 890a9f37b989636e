import type { HintBox } from './pointer-hints';

interface Point {
  readonly x: number;
  readonly y: number;
}

/** Pixels within which a press and its release are a click. */
const CLICK_PX = 4;

/**
 * A drag that draws a box from where it began.
 * @param top the box goes no higher, pixels
 */
export function boxDrag(
  start: Point,
  top: number,
  does: {
    rubber(box: HintBox | null): void;
    /** It ended where it began. */
    click(at: Point): void;
    chosen(at: Point): void;
  },
) {
  const near = (at: Point): boolean => Math.hypot(at.x - start.x, at.y - start.y) < CLICK_PX;
  return {
    onMove: (at: Point): void => {
      if (near(at)) return;
      does.rubber({
        x0: Math.min(start.x, at.x),
        y0: Math.max(top, Math.min(start.y, at.y)),
        x1: Math.max(start.x, at.x),
        y1: Math.max(start.y, at.y),
      });
    },
    finish: (kept: boolean, at: Point | null): void => {
      does.rubber(null);
      if (!kept || !at) return;
      if (near(at)) does.click(at);
      else does.chosen(at);
    },
  };
}
