/** Where two stretches come nearest: x, y and z on the first, then on the second. */
const near = new Float64Array(6);

/**
 * Nearest points of two straight stretches (Ericson, Real-Time Collision Detection, 5.1.9), put into `near`.
 * @param p,q corners, at `a` and `b` of the first, at `c` and `d` of the second
 * @returns the square of their distance
 */
function stretches(p: Float64Array, a: number, b: number, q: Float64Array, c: number, d: number): number {
  const px = p[a]!;
  const py = p[a + 1]!;
  const pz = p[a + 2]!;
  const qx = q[c]!;
  const qy = q[c + 1]!;
  const qz = q[c + 2]!;
  const ux = p[b]! - px;
  const uy = p[b + 1]! - py;
  const uz = p[b + 2]! - pz;
  const vx = q[d]! - qx;
  const vy = q[d + 1]! - qy;
  const vz = q[d + 2]! - qz;
  const rx = px - qx;
  const ry = py - qy;
  const rz = pz - qz;
  const uu = ux * ux + uy * uy + uz * uz;
  const vv = vx * vx + vy * vy + vz * vz;
  const uv = ux * vx + uy * vy + uz * vz;
  const ur = ux * rx + uy * ry + uz * rz;
  const vr = vx * rx + vy * ry + vz * rz;
  const even = uu * vv - uv * uv;
  let s = even > 1e-14 * uu * vv ? (uv * vr - ur * vv) / even : 0;
  s = s < 0 ? 0 : s > 1 ? 1 : s;
  let t = vv > 0 ? (uv * s + vr) / vv : 0;
  if (t < 0 || t > 1) {
    t = t < 0 ? 0 : 1;
    s = uu > 0 ? (uv * t - ur) / uu : 0;
    s = s < 0 ? 0 : s > 1 ? 1 : s;
  }
  const mx = px + ux * s;
  const my = py + uy * s;
  const mz = pz + uz * s;
  const nx = qx + vx * t;
  const ny = qy + vy * t;
  const nz = qz + vz * t;
  near[0] = mx;
  near[1] = my;
  near[2] = mz;
  near[3] = nx;
  near[4] = ny;
  near[5] = nz;
  return (nx - mx) ** 2 + (ny - my) ** 2 + (nz - mz) ** 2;
}

/**
 * Whether a corner of `q` that lies nearest over the plane of `p` lies over its face: then it is the nearest point.
 * @returns the square of the distance, put into `out` with the points; -1 where a corner lies over no face but all lie to one
 *   side; -2 where the corners lie to both sides
 */
function overFace(p: Float64Array, q: Float64Array, out: Float64Array, swapped: boolean): number {
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
  const nn = nx * nx + ny * ny + nz * nz;
  if (nn < 1e-30) return -2;
  const over = (at: number): number => (q[at]! - ax) * nx + (q[at + 1]! - ay) * ny + (q[at + 2]! - az) * nz;
  const h0 = over(0);
  const h1 = over(3);
  const h2 = over(6);
  let at: number;
  if (h0 > 0 && h1 > 0 && h2 > 0) at = h0 < h1 ? (h0 < h2 ? 0 : 6) : h1 < h2 ? 3 : 6;
  else if (h0 < 0 && h1 < 0 && h2 < 0) at = h0 > h1 ? (h0 > h2 ? 0 : 6) : h1 > h2 ? 3 : 6;
  else return -2;
  const height = at === 0 ? h0 : at === 3 ? h1 : h2;
  // To each side of the face: the same sign all round.
  for (let k = 0; k < 9; k += 3) {
    const n = k === 6 ? 0 : k + 3;
    const ex = p[n]! - p[k]!;
    const ey = p[n + 1]! - p[k + 1]!;
    const ez = p[n + 2]! - p[k + 2]!;
    const wx = q[at]! - p[k]!;
    const wy = q[at + 1]! - p[k + 1]!;
    const wz = q[at + 2]! - p[k + 2]!;
    const side = (ey * wz - ez * wy) * nx + (ez * wx - ex * wz) * ny + (ex * wy - ey * wx) * nz;
    if (side < 0) return -1;
  }
  const [mine, theirs] = swapped ? [3, 0] : [0, 3];
  const share = height / nn;
  out[mine] = q[at]! - nx * share;
  out[mine + 1] = q[at + 1]! - ny * share;
  out[mine + 2] = q[at + 2]! - nz * share;
  out[theirs] = q[at]!;
  out[theirs + 1] = q[at + 1]!;
  out[theirs + 2] = q[at + 2]!;
  return (height * height) / nn;
}

/**
 * The distance of two triangles, squared: edges against edges, which settles it where the triangles lie to either side of
 * the nearest two of them, then corners against faces (Larsen, Gottschalk, Lin and Manocha, Fast proximity queries with
 * swept sphere volumes, 1999).
 * @param p,q nine numbers each: the corners
 * @param out six numbers: the nearest points on `p` and on `q`; what stands in it means nothing where they cross
 * @returns 0 where they touch or cross
 */
export function triangleDistance(p: Float64Array, q: Float64Array, out: Float64Array): number {
  let least = Infinity;
  let apart = false;
  for (let i = 0; i < 9; i += 3)
    for (let j = 0; j < 9; j += 3) {
      const distance = stretches(p, i, i === 6 ? 0 : i + 3, q, j, j === 6 ? 0 : j + 3);
      if (distance > least) continue;
      least = distance;
      out.set(near);
      if (distance === 0) return 0;
      const wx = near[3]! - near[0]!;
      const wy = near[4]! - near[1]!;
      const wz = near[5]! - near[2]!;
      const mine = i === 0 ? 6 : i - 3;
      const theirs = j === 0 ? 6 : j - 3;
      const a = (p[mine]! - near[0]!) * wx + (p[mine + 1]! - near[1]!) * wy + (p[mine + 2]! - near[2]!) * wz;
      const b =
        (q[theirs]! - near[3]!) * wx + (q[theirs + 1]! - near[4]!) * wy + (q[theirs + 2]! - near[5]!) * wz;
      if (a <= 0 && b >= 0) return distance;
      // Whether a plane across the way between the two parts the triangles.
      if (distance - Math.max(a, 0) + Math.min(b, 0) > 0) apart = true;
    }
  const over = overFace(p, q, face, false);
  if (over >= 0 && over < least) {
    out.set(face);
    return over;
  }
  const under = overFace(q, p, face, true);
  if (under >= 0 && under < least) {
    out.set(face);
    return under;
  }
  return apart || over >= -1 || under >= -1 ? least : 0;
}

const face = new Float64Array(6);
