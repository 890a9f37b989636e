import { useEffect, useLayoutEffect, useRef, type RefObject } from 'react';
import { paintRuler, RULER, type RulerPicture } from '../keys/lanes-painter';
import { sizedContext } from '../timeline/sized-canvas';
import { Crowd } from './crowd';
import { KeptPicture } from './kept-picture';
import { paintPlot, type PlotPicture } from './plot-painter';

interface Shown {
  readonly picture: PlotPicture;
  readonly ruler: RulerPicture;
  readonly width: number;
  readonly height: number;
}

/** Paints the curves and the ruler above them into a canvas. */
class PlotPainting {
  private readonly crowd = new Crowd((rested) => this.paint(rested));
  private readonly kept = { ground: new KeptPicture(), numbers: new KeptPicture(), ruler: new KeptPicture() };
  private shown: Shown | null = null;

  constructor(private readonly canvas: HTMLCanvasElement) {}

  show(shown: Shown): void {
    this.shown = shown;
    this.paint(false);
    // Its numbers are drawn in a font of ours that may come a moment later.
    if (document.fonts.status === 'loading') void document.fonts.ready.then(() => this.fontsCame());
  }

  stop(): void {
    this.shown = null;
    this.crowd.stop();
  }

  private fontsCame(): void {
    Object.values(this.kept).forEach((part) => part.forget());
    this.paint(true);
  }

  private paint(rested: boolean): void {
    if (!this.shown) return;
    const { picture, ruler, width, height } = this.shown;
    const g = sizedContext(this.canvas, width, height);
    paintPlot(g, picture, this.kept, this.crowd.painter(picture, rested));
    this.kept.ruler.draw(g, [ruler], width, RULER, (own) => paintRuler(own, ruler));
  }
}

/** Paints what the plot shows whenever it changes: the element of the canvas is not drawn again for it. */
export function usePlotPainting(
  canvas: RefObject<HTMLCanvasElement | null>,
  picture: PlotPicture,
  ruler: RulerPicture,
  width: number,
  height: number,
): void {
  const painting = useRef<PlotPainting>(null);
  useLayoutEffect(() => {
    painting.current ??= new PlotPainting(canvas.current!);
    painting.current.show({ picture, ruler, width, height });
  }, [canvas, picture, ruler, width, height]);
  useEffect(
    () => () => {
      painting.current?.stop();
      painting.current = null;
    },
    [],
  );
}
