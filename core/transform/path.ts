/**
 * A smooth path through points, travelled at even speed. Between two points it is the Catmull-Rom spline (E. Catmull
 * and R. Rom, "A class of local interpolating splines", 1974) with even knots; an open path ends along its first and
 * last chord. Lengths are integrals of the speed over `STEPS` even steps of each span, by Gauss-Legendre quadrature with
 * five points (Abramowitz and Stegun, table 25.4).
 */
const STEPS = 8;
const NODES = [0, 0.538469310105683, -0.538469310105683, 0.906179845938664, -0.906179845938664] as const;
const WEIGHTS = [
  0.568888888888889, 0.478628670499366, 0.478628670499366, 0.236926885056189, 0.236926885056189,
] as const;
const NEWTON_STEPS = 3;

/** What is worked out of the points of a path; grows when there are more, so that frames allocate nothing. */
export class PathMeasure {
  private points: Float64Array = new Float64Array(0);
  private lengths: Float64Array = new Float64Array(1);
  private count = 0;
  private closed = false;
  /** Metres from the first point to the last, and back to the first on a closed path. */
  total = 0;

  /** @param points x, y, z of each of `count` points, from the start of the array */
  measure(points: Float64Array, count: number, closed: boolean): void {
    this.points = points;
    this.count = count;
    this.closed = closed && count > 2;
    const spans = this.spans();
    if (this.lengths.length < spans * STEPS + 1) this.lengths = new Float64Array(spans * STEPS + 1);
    let total = 0;
    this.lengths[0] = 0;
    for (let span = 0; span < spans; span++)
      for (let step = 1; step <= STEPS; step++) {
        total += this.length(span, (step - 1) / STEPS, step / STEPS);
        this.lengths[span * STEPS + step] = total;
      }
    this.total = total;
  }

  private spans(): number {
    return this.count < 2 ? 0 : this.closed ? this.count : this.count - 1;
  }

  private point(i: number, axis: number): number {
    const { count, points } = this;
    if (this.closed) return points[(((i % count) + count) % count) * 3 + axis]!;
    if (i < 0) return 2 * points[axis]! - points[3 + axis]!;
    if (i >= count) return 2 * points[(count - 1) * 3 + axis]! - points[(count - 2) * 3 + axis]!;
    return points[i * 3 + axis]!;
  }

  private at(span: number, t: number, axis: number): number {
    const p0 = this.point(span - 1, axis);
    const p1 = this.point(span, axis);
    const p2 = this.point(span + 1, axis);
    const p3 = this.point(span + 2, axis);
    return p1 + 0.5 * t * (p2 - p0 + t * (2 * p0 - 5 * p1 + 4 * p2 - p3 + t * (3 * (p1 - p2) + p3 - p0)));
  }

  private speed(span: number, t: number): number {
    const x = this.slope(span, t, 0);
    const y = this.slope(span, t, 1);
    const z = this.slope(span, t, 2);
    return Math.sqrt(x * x + y * y + z * z);
  }

  private length(span: number, from: number, to: number): number {
    const half = (to - from) / 2;
    const middle = (from + to) / 2;
    let sum = 0;
    for (let i = 0; i < 5; i++) sum += WEIGHTS[i]! * this.speed(span, middle + half * NODES[i]!);
    return sum * half;
  }

  private slope(span: number, t: number, axis: number): number {
    const p0 = this.point(span - 1, axis);
    const p1 = this.point(span, axis);
    const p2 = this.point(span + 1, axis);
    const p3 = this.point(span + 2, axis);
    return 0.5 * (p2 - p0 + t * (2 * (2 * p0 - 5 * p1 + 4 * p2 - p3) + t * 3 * (3 * (p1 - p2) + p3 - p0)));
  }

  /**
   * Writes the place (3 numbers) and the direction (3 numbers, not of unit length) at a share of the path. On a closed
   * path the share goes round; on an open one it is cut to 0..1. A path of one point is that point; one of none is
   * the origin.
   */
  place(share: number, out: Float64Array): void {
    out.fill(0, 0, 6);
    const spans = this.spans();
    if (spans === 0) {
      if (this.count > 0) for (let axis = 0; axis < 3; axis++) out[axis] = this.points[axis]!;
      return;
    }
    const kept = this.closed ? share - Math.floor(share) : Math.max(0, Math.min(1, share));
    const wanted = kept * this.total;
    let low = 0;
    let high = spans * STEPS - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (this.lengths[middle]! <= wanted) low = middle;
      else high = middle - 1;
    }
    const from = this.lengths[low]!;
    const span = Math.floor(low / STEPS);
    const start = (low - span * STEPS) / STEPS;
    const length = this.lengths[low + 1]! - from;
    let t = start + (length > 0 ? (wanted - from) / length : 0) / STEPS;
    for (let i = 0; i < NEWTON_STEPS; i++) {
      const speed = this.speed(span, t);
      if (!(speed > 0)) break;
      t -= (this.length(span, start, t) - (wanted - from)) / speed;
    }
    t = Math.max(start, Math.min(start + 1 / STEPS, t));
    for (let axis = 0; axis < 3; axis++) {
      out[axis] = this.at(span, t, axis);
      out[axis + 3] = this.slope(span, t, axis);
    }
  }
}
