function sized(
  element: HTMLCanvasElement,
  width: number,
  height: number,
  alpha: boolean,
): CanvasRenderingContext2D {
  const ratio = globalThis.devicePixelRatio;
  const [w, h] = [Math.round(width * ratio), Math.round(height * ratio)];
  if (element.width !== w) element.width = w;
  if (element.height !== h) element.height = h;
  const g = element.getContext('2d', { alpha })!;
  g.setTransform(ratio, 0, 0, ratio, 0, 0);
  return g;
}

/** The drawing context of an opaque canvas, as large as it is shown and sharp on the screen that it is on. */
export const sizedContext = (
  element: HTMLCanvasElement,
  width: number,
  height: number,
): CanvasRenderingContext2D => sized(element, width, height, false);

/** As `sizedContext`, of a canvas that lies over others: nothing is on it. */
export function clearContext(
  element: HTMLCanvasElement,
  width: number,
  height: number,
): CanvasRenderingContext2D {
  const g = sized(element, width, height, true);
  g.clearRect(0, 0, width, height);
  return g;
}
