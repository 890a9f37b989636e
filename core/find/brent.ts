/** A root in a bracket, or why there is none. */
export type Root =
  | { readonly found: true; readonly x: number; readonly value: number }
  | { readonly found: false; readonly why: 'no-change' | 'jump'; readonly x: number };

const STEPS = 200;

/**
 * A root of a function in a bracket at whose ends its signs differ. Source: R. P. Brent, "Algorithms for Minimization
 * without Derivatives" (1973), chapter 4. Where the sign changes in a jump there is no root: that is told.
 * @param tolerance of x
 */
export function brentRoot(f: (x: number) => number, from: number, to: number, tolerance: number): Root {
  let [a, b] = [from, to];
  let [fa, fb] = [f(a), f(b)];
  const ends = Math.max(...[fa, fb].map(Math.abs).filter(Number.isFinite), 0);
  if (fa === 0) return { found: true, x: a, value: fa };
  if (fb === 0) return { found: true, x: b, value: fb };
  if (!(fa * fb < 0)) return { found: false, why: 'no-change', x: Math.abs(fa) < Math.abs(fb) ? a : b };
  let [c, fc] = [a, fa];
  let d = b - a;
  let e = d;
  for (let i = 0; i < STEPS; i++) {
    if (fb * fc > 0) {
      [c, fc] = [a, fa];
      d = e = b - a;
    }
    if (Math.abs(fc) < Math.abs(fb)) {
      [a, b, c] = [b, c, b];
      [fa, fb, fc] = [fb, fc, fb];
    }
    const near = 2 * Number.EPSILON * Math.abs(b) + tolerance / 2;
    const half = (c - b) / 2;
    if (Math.abs(half) <= near || fb === 0) break;
    if (Math.abs(e) >= near && Math.abs(fa) > Math.abs(fb)) {
      // Through two points, or through three by the inverse parabola.
      const s = fb / fa;
      let p: number;
      let q: number;
      if (a === c) {
        p = 2 * half * s;
        q = 1 - s;
      } else {
        const [r, t] = [fb / fc, fa / fc];
        p = s * (2 * half * t * (t - r) - (b - a) * (r - 1));
        q = (t - 1) * (r - 1) * (s - 1);
      }
      if (p > 0) q = -q;
      else p = -p;
      if (2 * p < Math.min(3 * half * q - Math.abs(near * q), Math.abs(e * q))) {
        e = d;
        d = p / q;
      } else d = e = half;
    } else d = e = half;
    [a, fa] = [b, fb];
    b += Math.abs(d) > near ? d : half > 0 ? near : -near;
    fb = f(b);
  }
  // At a root the values shrink with the bracket; at a pole they grow, at a step they stay.
  return Math.abs(fb) > ends * 1e-3 && Math.abs(fb) > 1e-9
    ? { found: false, why: 'jump', x: b }
    : { found: true, x: b, value: fb };
}

const GOLDEN = (3 - Math.sqrt(5)) / 2;

/**
 * A place in a bracket where a function is least, if it has one valley there. Source: Brent (1973), chapter 5: golden
 * section, and parabolas where they serve.
 * @param tolerance of x
 */
export function brentLeast(
  f: (x: number) => number,
  from: number,
  to: number,
  tolerance: number,
): { readonly x: number; readonly value: number } {
  let [a, b] = [from, to];
  let x = a + GOLDEN * (b - a);
  let [w, v] = [x, x];
  let fx = f(x);
  let [fw, fv] = [fx, fx];
  let [d, e] = [0, 0];
  for (let i = 0; i < STEPS; i++) {
    const middle = (a + b) / 2;
    const near = tolerance + 1e-10 * Math.abs(x);
    if (Math.abs(x - middle) <= 2 * near - (b - a) / 2) break;
    let golden = true;
    if (Math.abs(e) > near) {
      const r = (x - w) * (fx - fv);
      let q = (x - v) * (fx - fw);
      let p = (x - v) * q - (x - w) * r;
      q = 2 * (q - r);
      if (q > 0) p = -p;
      q = Math.abs(q);
      const before = e;
      e = d;
      if (Math.abs(p) < Math.abs((q * before) / 2) && p > q * (a - x) && p < q * (b - x)) {
        d = p / q;
        const u = x + d;
        if (u - a < 2 * near || b - u < 2 * near) d = x < middle ? near : -near;
        golden = false;
      }
    }
    if (golden) {
      e = x < middle ? b - x : a - x;
      d = GOLDEN * e;
    }
    const u = x + (Math.abs(d) >= near ? d : d > 0 ? near : -near);
    const fu = f(u);
    if (fu <= fx) {
      if (u < x) b = x;
      else a = x;
      [v, w, x] = [w, x, u];
      [fv, fw, fx] = [fw, fx, fu];
    } else {
      if (u < x) a = u;
      else b = u;
      if (fu <= fw || w === x) {
        [v, w] = [w, u];
        [fv, fw] = [fw, fu];
      } else if (fu <= fv || v === x || v === w) {
        v = u;
        fv = fu;
      }
    }
  }
  // A least at an end of the bracket is only neared by sections.
  for (const end of [from, to]) {
    const value = f(end);
    if (value < fx) [x, fx] = [end, value];
  }
  return { x, value: fx };
}
