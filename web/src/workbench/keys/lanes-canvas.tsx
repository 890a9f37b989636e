import { useEffect, useLayoutEffect, useRef, type ComponentProps, type Ref } from 'react';
import type { LaneScroll } from './lane-scroll';
import { paintLanes, paintRuler, RULER, type Picture, type RulerPicture } from './lanes-painter';
import { sizedContext } from '../timeline/sized-canvas';

type Content = Omit<Picture, 'scroll'>;

/** Draws what is there again at another height, and only what has come into sight anew. */
function shift(g: CanvasRenderingContext2D, content: Content, from: number, to: number): void {
  const ratio = globalThis.devicePixelRatio;
  const by = to - from;
  const room = content.height - RULER;
  const picture = { ...content, scroll: to };
  if (Math.abs(by) >= room || !Number.isInteger(by * ratio) || !Number.isInteger(RULER * ratio)) {
    paintLanes(g, picture, RULER, content.height);
    return;
  }
  const top = by > 0 ? RULER + by : RULER;
  const tall = room - Math.abs(by);
  const [x, y, w, h] = [0, top * ratio, g.canvas.width, tall * ratio];
  g.setTransform(1, 0, 0, 1, 0, 0);
  g.drawImage(g.canvas, x, y, w, h, x, (top - by) * ratio, w, h);
  g.setTransform(ratio, 0, 0, ratio, 0, 0);
  if (by > 0) paintLanes(g, picture, content.height - by, content.height);
  else paintLanes(g, picture, RULER, RULER - by);
}

/** The pegs and small curves of the lanes. A new `content` draws them anew; scrolling moves what is drawn. */
export function LanesCanvas({
  content,
  scroll,
  ruler,
  left,
  ref,
  ...handlers
}: {
  content: Content;
  scroll: LaneScroll;
  ruler: RulerPicture;
  left: number;
  ref: Ref<HTMLCanvasElement>;
} & Omit<ComponentProps<'canvas'>, 'content' | 'ref'>) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const above = useRef<HTMLCanvasElement>(null);
  const drawnAt = useRef(0);
  const latest = useRef(content);
  const { width, height } = content;
  useLayoutEffect(() => {
    latest.current = content;
    drawnAt.current = scroll.top;
    paintLanes(
      sizedContext(canvas.current!, width, height),
      { ...content, scroll: scroll.top },
      RULER,
      height,
    );
  }, [content, scroll, width, height]);
  useLayoutEffect(() => {
    const paint = (): void => paintRuler(sizedContext(above.current!, width, RULER), ruler);
    paint();
    // Its numbers are drawn in a font of ours that may come a moment later.
    if (document.fonts.status === 'loading') void document.fonts.ready.then(() => above.current && paint());
  }, [ruler, width]);
  useEffect(
    () =>
      scroll.listen(() => {
        const g = canvas.current!.getContext('2d', { alpha: false })!;
        shift(g, latest.current, drawnAt.current, scroll.top);
        drawnAt.current = scroll.top;
      }),
    [scroll],
  );
  return (
    <>
      <canvas
        {...handlers}
        ref={(element) => {
          canvas.current = element;
          if (typeof ref === 'function') ref(element);
          else if (ref) ref.current = element;
        }}
        className="absolute top-0 touch-none"
        style={{ left, width, height }}
        data-testid="lanes-canvas"
        aria-hidden="true"
      />
      <canvas
        ref={above}
        className="pointer-events-none absolute top-0"
        style={{ left, width, height: RULER }}
        aria-hidden="true"
      />
    </>
  );
}
