/** One step of a path of straight lines and Bezier curves. */
export interface PathStep {
  readonly type: 'M' | 'L' | 'C' | 'Q' | 'Z';
  readonly x?: number | undefined;
  readonly y?: number;
  readonly x1?: number;
  readonly y1?: number;
  readonly x2?: number;
  readonly y2?: number;
}

const STEPS = 10;

/** Closed rings of a path, x and y in turn; each curve becomes a few straight lines. */
export function flatten(steps: readonly PathStep[]): number[][] {
  const rings: number[][] = [];
  let ring: number[] = [];
  let [x, y] = [0, 0];
  const close = (): void => {
    if (ring.length >= 6) rings.push(withoutEnd(ring));
    ring = [];
  };
  for (const step of steps) {
    if (step.type === 'Z') {
      close();
      continue;
    }
    const [toX, toY] = [step.x!, step.y!];
    if (step.type === 'M') close();
    if (step.type === 'M' || step.type === 'L') ring.push(toX, toY);
    else
      for (let i = 1; i <= STEPS; i++) {
        const t = i / STEPS;
        const s = 1 - t;
        if (step.type === 'Q')
          ring.push(
            s * s * x + 2 * s * t * step.x1! + t * t * toX,
            s * s * y + 2 * s * t * step.y1! + t * t * toY,
          );
        else
          ring.push(
            s ** 3 * x + 3 * s * s * t * step.x1! + 3 * s * t * t * step.x2! + t ** 3 * toX,
            s ** 3 * y + 3 * s * s * t * step.y1! + 3 * s * t * t * step.y2! + t ** 3 * toY,
          );
      }
    [x, y] = [toX, toY];
  }
  close();
  return rings;
}

/** A ring that ends where it began, without that last point. */
function withoutEnd(ring: readonly number[]): number[] {
  const n = ring.length;
  const same = Math.abs(ring[0]! - ring[n - 2]!) < 1e-9 && Math.abs(ring[1]! - ring[n - 1]!) < 1e-9;
  return same ? ring.slice(0, n - 2) : [...ring];
}
