/** Limits of an unknown, both with. */
export interface Limits {
  readonly least: number;
  readonly most: number;
}

export interface Valley {
  readonly at: readonly number[];
  readonly value: number;
}

const ROUNDS = 400;

/**
 * A place near a start where a function of several unknowns is least, within limits: a simplex of points that is turned
 * over, stretched and drawn in, points beyond a limit put onto it. Source: J. A. Nelder and R. Mead, "A Simplex Method
 * for Function Minimization" (1965), begun anew where it ends until that no longer helps (M. J. Box, 1965, for limits).
 * @param size of the first simplex, as a share of the limits @param tolerance of the function's value
 */
export function simplexLeast(
  f: (at: readonly number[]) => number,
  start: readonly number[],
  limits: readonly Limits[],
  size = 0.1,
  tolerance = 1e-14,
): Valley {
  let best = run(f, start, limits, size, tolerance);
  for (let again = 0; again < 6; again++) {
    const next = run(f, best.at, limits, size / 2 ** (again + 1), tolerance);
    const better = best.value - next.value;
    if (next.value < best.value) best = next;
    if (!(better > tolerance * Math.max(1, Math.abs(best.value)))) break;
  }
  return best;
}

function run(
  f: (at: readonly number[]) => number,
  start: readonly number[],
  limits: readonly Limits[],
  size: number,
  tolerance: number,
): Valley {
  const within = (at: readonly number[]): number[] =>
    at.map((x, i) => Math.max(limits[i]!.least, Math.min(limits[i]!.most, x)));
  const made = (at: readonly number[]): Valley => {
    const kept = within(at);
    const value = f(kept);
    return { at: kept, value: Number.isFinite(value) ? value : Infinity };
  };
  const points = [
    made(start),
    ...start.map((x, i) => {
      const step = size * (limits[i]!.most - limits[i]!.least);
      const moved = [...start];
      moved[i] = x + step <= limits[i]!.most ? x + step : x - step;
      return made(moved);
    }),
  ];
  for (let round = 0; round < ROUNDS * start.length; round++) {
    points.sort((a, b) => a.value - b.value);
    const [least, worst] = [points[0]!, points.at(-1)!];
    const wide = limits.every(
      ({ least: low, most }, i) =>
        Math.max(...points.map(({ at }) => Math.abs(at[i]! - least.at[i]!))) <= 1e-12 * (most - low),
    );
    if (wide || worst.value - least.value <= tolerance * Math.abs(least.value)) break;
    const others = points.slice(0, -1);
    const middle = start.map((_, i) => others.reduce((sum, { at }) => sum + at[i]!, 0) / others.length);
    const along = (share: number): Valley => made(middle.map((x, i) => x + share * (x - worst.at[i]!)));
    const turned = along(1);
    if (turned.value < least.value) {
      const stretched = along(2);
      points[points.length - 1] = stretched.value < turned.value ? stretched : turned;
    } else if (turned.value < others.at(-1)!.value) points[points.length - 1] = turned;
    else {
      const drawn = along(turned.value < worst.value ? 0.5 : -0.5);
      if (drawn.value < Math.min(turned.value, worst.value)) points[points.length - 1] = drawn;
      else
        for (let i = 1; i < points.length; i++)
          points[i] = made(points[i]!.at.map((x, k) => least.at[k]! + (x - least.at[k]!) / 2));
    }
  }
  return points.reduce((best, point) => (point.value < best.value ? point : best));
}

/** Points spread evenly over limits (J. H. Halton, 1960), the same each time. */
export function spread(limits: readonly Limits[], count: number): number[][] {
  const radical = (index: number, base: number): number => {
    let [share, found] = [1, 0];
    for (let i = index; i > 0; i = Math.floor(i / base)) {
      share /= base;
      found += share * (i % base);
    }
    return found;
  };
  return Array.from({ length: count }, (_, k) =>
    limits.map(({ least, most }, i) => least + (most - least) * radical(k + 1, [2, 3, 5, 7][i % 4]!)),
  );
}
