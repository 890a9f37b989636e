/**
 * Random numbers that are the same for ever: a whole number is mixed into 32 bits (the finaliser of A. Appleby's
 * MurmurHash3, public domain), by 32-bit integer arithmetic that every engine does alike.
 */
function mixed(n: number): number {
  let h = n | 0;
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return (h ^ (h >>> 16)) >>> 0;
}

/** A value from -1 to 1 for a seed and a whole number. */
function valueAt(seed: number, n: number): number {
  // The seed may be a fraction: its bits in thousandths, and the step's high bits, take part.
  const s = mixed(Math.floor(seed * 1000) % 4294967296);
  const high = Math.floor(n / 4294967296);
  return (mixed(s ^ mixed((n % 4294967296) + Math.imul(high, 0x9e3779b1))) / 4294967295) * 2 - 1;
}

/**
 * Smooth noise from -1 to 1: random slopes at whole x, joined by the fade curve 6t^5 - 15t^4 + 10t^3. It is 0 at whole x.
 * Source: K. Perlin, "Improving noise" (2002), in one dimension, scaled to fill the range.
 */
export function smoothNoise(seed: number, x: number): number {
  const n = Math.floor(x);
  const t = x - n;
  const fade = t * t * t * (t * (t * 6 - 15) + 10);
  const a = valueAt(seed, n) * t;
  const b = valueAt(seed, n + 1) * (t - 1);
  return 2 * (a + fade * (b - a));
}

/** A value from -1 to 1 that jumps `rate` times per unit of x and holds in between. */
export function jitter(seed: number, x: number, rate: number): number {
  const n = Math.floor(x * rate);
  return n - n === 0 ? valueAt(seed, n) : NaN;
}
