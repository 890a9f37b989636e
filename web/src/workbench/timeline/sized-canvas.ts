/** The drawing context of an opaque canvas, as large as it is shown and sharp on the screen that it is on. */
export function sizedContext(
  element: HTMLCanvasElement,
  width: number,
  height: number,
): CanvasRenderingContext2D {
  const ratio = globalThis.devicePixelRatio;
  const [w, h] = [Math.round(width * ratio), Math.round(height * ratio)];
  if (element.width !== w) element.width = w;
  if (element.height !== h) element.height = h;
  const g = element.getContext('2d', { alpha: false })!;
  g.setTransform(ratio, 0, 0, ratio, 0, 0);
  return g;
}
