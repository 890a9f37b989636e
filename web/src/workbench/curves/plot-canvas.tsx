import { useEffect, useLayoutEffect, useRef, type ComponentProps, type Ref } from 'react';
import { paintRuler, RULER, type RulerPicture } from '../keys/lanes-painter';
import { Crowd } from './crowd';
import { paintPlot, type PlotPicture } from './plot-painter';
import { sizedContext } from '../timeline/sized-canvas';

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
  const latest = useRef({ picture, ruler, width, height });
  const crowd = useRef<Crowd | null>(null);
  const paint = (rested: boolean): void => {
    const now = latest.current;
    crowd.current ??= new Crowd(paint);
    const g = sizedContext(canvas.current!, now.width, now.height);
    paintPlot(g, now.picture, crowd.current.painter(now.picture, rested));
    paintRuler(g, now.ruler);
  };
  useLayoutEffect(() => {
    latest.current = { picture, ruler, width, height };
    paint(false);
    // Its numbers are drawn in a font of ours that may come a moment later.
    if (document.fonts.status === 'loading')
      void document.fonts.ready.then(() => canvas.current && paint(true));
    // What is painted is in the latest picture.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [picture, ruler, width, height]);
  useEffect(() => () => crowd.current?.stop(), []);
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
