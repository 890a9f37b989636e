import { useLayoutEffect, useRef, type ComponentProps, type Ref } from 'react';
import { paintRuler, RULER, type RulerPicture } from '../keys/lanes-painter';
import { paintPlot, type PlotPicture } from './plot-painter';

function sized(element: HTMLCanvasElement, width: number, height: number): CanvasRenderingContext2D {
  const ratio = globalThis.devicePixelRatio;
  const [w, h] = [Math.round(width * ratio), Math.round(height * ratio)];
  if (element.width !== w) element.width = w;
  if (element.height !== h) element.height = h;
  const g = element.getContext('2d', { alpha: false })!;
  g.setTransform(ratio, 0, 0, ratio, 0, 0);
  return g;
}

/** The curves, and the ruler above them. */
export function PlotCanvas({
  picture,
  ruler,
  left,
  width,
  height,
  ref,
  ...handlers
}: {
  picture: PlotPicture;
  ruler: RulerPicture;
  left: number;
  width: number;
  height: number;
  ref: Ref<HTMLCanvasElement>;
} & Omit<ComponentProps<'canvas'>, 'ref'>) {
  const canvas = useRef<HTMLCanvasElement | null>(null);
  useLayoutEffect(() => {
    const paint = (): void => {
      const g = sized(canvas.current!, width, height);
      paintPlot(g, picture);
      paintRuler(g, ruler);
    };
    paint();
    // Its numbers are drawn in a font of ours that may come a moment later.
    if (document.fonts.status === 'loading') void document.fonts.ready.then(() => canvas.current && paint());
  }, [picture, ruler, width, height]);
  return (
    <canvas
      {...handlers}
      ref={(element) => {
        canvas.current = element;
        if (typeof ref === 'function') ref(element);
        else if (ref) ref.current = element;
      }}
      className="absolute top-0 touch-none"
      style={{ left, width, height, minHeight: RULER }}
      data-testid="plot-canvas"
      aria-hidden="true"
    />
  );
}
