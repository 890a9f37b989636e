import { asin, sinCosDeg } from '../math';

/**
 * Functions as the register machine calls them: arguments and result stay in slots, so that no number is made on the
 * heap on the way in or out. A function that has more than three arguments finds them side by side from `a` on. Only
 * functions that mechanisms use at every frame are here; each must give the same bits as its plain form in the table of
 * functions, which a test compares.
 */
export type Kernel = (v: Float64Array, dst: number, a: number, b: number, c: number) => void;

const trig = new Float64Array(2);
const DEG = 180 / Math.PI;

export const KERNELS: Readonly<Record<string, Kernel>> = {
  slider: (v, dst, a) => {
    sinCosDeg(trig, 0, v, a);
    const across = v[a + 1]! * trig[0]! - v[a + 3]!;
    v[dst] = v[a + 1]! * trig[1]! + Math.sqrt(v[a + 2]! * v[a + 2]! - across * across);
  },
  rodangle: (v, dst, a) => {
    sinCosDeg(trig, 0, v, a);
    v[dst] = asin((v[a + 1]! * trig[0]! - v[a + 3]!) / v[a + 2]!) * DEG;
  },
  mesh: (v, dst, a, b, c) => {
    v[dst] = v[c] === 0 ? NaN : (-v[a]! * v[b]!) / v[c]!;
  },
  mix: (v, dst, a, b, c) => {
    v[dst] = v[a]! * (1 - v[c]!) + v[b]! * v[c]!;
  },
  smoothstep: (v, dst, a, b, c) => {
    const t = Math.max(0, Math.min(1, (v[c]! - v[a]!) / (v[b]! - v[a]!)));
    v[dst] = t * t * (3 - 2 * t);
  },
  floor: (v, dst, a) => {
    v[dst] = Math.floor(v[a]!);
  },
  mod: (v, dst, a, b) => {
    v[dst] = v[a]! - v[b]! * Math.floor(v[a]! / v[b]!);
  },
  rad: (v, dst, a) => {
    v[dst] = v[a]! * DEG;
  },
  deg: (v, dst, a) => {
    v[dst] = v[a]!;
  },
  turns: (v, dst, a) => {
    v[dst] = v[a]! * 360;
  },
  roll: (v, dst, a, b) => {
    v[dst] = v[b] === 0 ? NaN : -(v[a]! / v[b]!) * DEG;
  },
  rack: (v, dst, a, b) => {
    v[dst] = (v[a]! / DEG) * v[b]!;
  },
  screw: (v, dst, a, b) => {
    v[dst] = (v[a]! / 360) * v[b]!;
  },
};
