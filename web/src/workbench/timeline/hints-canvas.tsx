import { useEffect, useLayoutEffect, useRef, useState, type ComponentProps } from 'react';
import { useEvening } from '../../shared/theme';
import { paintHints, type PointerHints } from './pointer-hints';
import { clearContext } from './sized-canvas';

/**
 * What follows the pointer over time, on a canvas that lies over the others: elements that move or change their words make
 * the browser lay out, paint and layer the whole page again for every step of a drag.
 */
export function HintsCanvas({
  hints,
  left,
  width,
  height,
  below,
  ...rest
}: {
  hints: PointerHints;
  left: number;
  width: number;
  height: number;
  /** Draws what lies below box and words. */
  below?: (g: CanvasRenderingContext2D) => void;
} & ComponentProps<'canvas'>) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const evening = useEvening();
  const latest = useRef({ width, height, below });
  const [painting] = useState(() => {
    let asked = 0;
    return {
      /** Once for the next picture of the page, whatever changes until then. */
      ask: (): void => {
        asked ||= requestAnimationFrame(() => {
          asked = 0;
          const now = latest.current;
          const g = clearContext(canvas.current!, now.width, now.height);
          now.below?.(g);
          paintHints(g, hints.now, now.width);
          // For whoever reads the page by program.
          canvas.current!.dataset.tip = hints.now.tip?.text ?? '';
        });
      },
      stop: (): void => cancelAnimationFrame(asked),
    };
  });
  useLayoutEffect(() => {
    latest.current = { width, height, below };
    painting.ask();
  }, [painting, width, height, below, evening]);
  useEffect(() => {
    const unfollow = hints.store.subscribe(painting.ask);
    return () => {
      unfollow();
      painting.stop();
    };
  }, [hints, painting]);
  return (
    <canvas
      {...rest}
      ref={canvas}
      className="pointer-events-none absolute top-0"
      style={{ left, width, height }}
      aria-hidden="true"
      data-testid="pointer-hints"
    />
  );
}
