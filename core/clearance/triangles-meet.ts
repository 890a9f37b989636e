/** Values that are larger than this share of the numbers that make them have their sign for certain. */
const CERTAIN = 1e-12;

/** What is told of two triangles. */
export const Meet = { no: 0, yes: 1, unsure: 2 } as const;

/** How far the corners of a triangle lie over the plane of another one, times an area; NaN where the side is not sure. */
const sides = new Float64Array(3);

/** Puts the sides on which the corners of `q` lie of the plane of `p` into `sides`. @returns whether all lie on the same one */
function besides(p: Float64Array, q: Float64Array): boolean {
  const ax = p[0]!;
  const ay = p[1]!;
  const az = p[2]!;
  const ux = p[3]! - ax;
  const uy = p[4]! - ay;
  const uz = p[5]! - az;
  const vx = p[6]! - ax;
  const vy = p[7]! - ay;
  const vz = p[8]! - az;
  const nx = uy * vz - uz * vy;
  const ny = uz * vx - ux * vz;
  const nz = ux * vy - uy * vx;
  const large = CERTAIN * (Math.abs(nx) + Math.abs(ny) + Math.abs(nz));
  for (let corner = 0, at = 0; corner < 3; corner++, at += 3) {
    const x = q[at]! - ax;
    const y = q[at + 1]! - ay;
    const z = q[at + 2]! - az;
    const over = x * nx + y * ny + z * nz;
    const sure = Math.abs(over) > large * (Math.abs(x) + Math.abs(y) + Math.abs(z) + 1);
    sides[corner] = sure ? over : NaN;
  }
  const [a, b, c] = [sides[0]!, sides[1]!, sides[2]!];
  return (a > 0 && b > 0 && c > 0) || (a < 0 && b < 0 && c < 0);
}

/** On which side of the plane through three corners a fourth one lies: its sign; NaN where that is not sure. */
function side(
  p: Float64Array,
  a: number,
  q: Float64Array,
  b: number,
  r: Float64Array,
  c: number,
  s: Float64Array,
  d: number,
): number {
  const x = p[a]!;
  const y = p[a + 1]!;
  const z = p[a + 2]!;
  const ux = q[b]! - x;
  const uy = q[b + 1]! - y;
  const uz = q[b + 2]! - z;
  const vx = r[c]! - x;
  const vy = r[c + 1]! - y;
  const vz = r[c + 2]! - z;
  const wx = s[d]! - x;
  const wy = s[d + 1]! - y;
  const wz = s[d + 2]! - z;
  const value = wx * (uy * vz - uz * vy) + wy * (uz * vx - ux * vz) + wz * (ux * vy - uy * vx);
  const large =
    (Math.abs(ux) + Math.abs(uy) + Math.abs(uz)) *
    (Math.abs(vx) + Math.abs(vy) + Math.abs(vz)) *
    (Math.abs(wx) + Math.abs(wy) + Math.abs(wz));
  return Math.abs(value) > CERTAIN * large ? value : NaN;
}

/** The corner that lies alone on its side of a plane, of three that do not all lie on one. */
const alone = (a: number, b: number, c: number): number => (a > 0 === b > 0 ? 6 : a > 0 === c > 0 ? 3 : 0);

/**
 * Whether two triangles meet, by the signs of determinants (Guigue and Devillers, Fast and robust triangle-triangle overlap
 * test using orientation predicates, 2003).
 * @param p,q nine numbers each: the corners
 * @returns `unsure` where a sign is within rounding: where they lie in one plane, or touch at an edge or a corner
 */
export function trianglesMeet(p: Float64Array, q: Float64Array): number {
  if (besides(p, q)) return Meet.no;
  const q0 = sides[0]!;
  const q1 = sides[1]!;
  const q2 = sides[2]!;
  if (besides(q, p)) return Meet.no;
  const p0 = sides[0]!;
  const p1 = sides[1]!;
  const p2 = sides[2]!;
  const sum = q0 + q1 + q2 + p0 + p1 + p2;
  if (sum !== sum) return Meet.unsure;
  // Each triangle begins at the corner that is alone, and turns so that this corner lies above the plane of the other one.
  const a = alone(p0, p1, p2);
  const b = alone(q0, q1, q2);
  const next = (corner: number): number => (corner === 6 ? 0 : corner + 3);
  const last = (corner: number): number => (corner === 0 ? 6 : corner - 3);
  const over = (a === 0 ? p0 : a === 3 ? p1 : p2) > 0;
  const under = (b === 0 ? q0 : b === 3 ? q1 : q2) > 0;
  // Turning one of them over puts the corner of the other one below.
  const [a1, a2] = under ? [next(a), last(a)] : [last(a), next(a)];
  const [b1, b2] = over ? [next(b), last(b)] : [last(b), next(b)];
  // The stretches in which they cut the line of both planes overlap unless one begins after the other one ends.
  const first = side(p, a1, q, b, p, a, q, b1);
  if (first !== first) return Meet.unsure;
  if (first > 0) return Meet.no;
  const second = side(p, a, q, b, p, a2, q, b2);
  if (second !== second) return Meet.unsure;
  return second > 0 ? Meet.no : Meet.yes;
}
