import { asin, sinCosDeg } from '../math';

/**
 * Functions as the register machine calls them: arguments and result stay in slots, so that no number is made on the
 * heap on the way in or out. A function that has more than three arguments finds them side by side from `a` on. Only
 * functions that mechanisms use at every frame are here; each must give the same bits as its plain form in the table of
 * functions, which a test compares, and no number where an argument is none.
 */
export type Kernel = (v: Float64Array, dst: number, a: number, b: number, c: number) => void;

const trig = new Float64Array(2);
const DEG = 180 / Math.PI;

const ALL: Readonly<Record<string, Kernel>> = {
  slider: (v, dst, a) => {
    sinCosDeg(trig, 0, v, a);
    const across = v[a + 1]! * trig[0]! - v[a + 3]!;
    v[dst] = v[a + 1]! * trig[1]! + Math.sqrt(v[a + 2]! * v[a + 2]! - across * across);
  },
  rodangle: (v, dst, a) => {
    sinCosDeg(trig, 0, v, a);
    const rod = v[a + 2]!;
    v[dst] = rod - rod === 0 ? asin((v[a + 1]! * trig[0]! - v[a + 3]!) / rod) * DEG : NaN;
  },
  mesh: (v, dst, a, b, c) => {
    const driven = v[c]!;
    v[dst] = driven === 0 || driven - driven !== 0 ? NaN : (-v[a]! * v[b]!) / driven;
  },
  mix: (v, dst, a, b, c) => {
    v[dst] = v[a]! * (1 - v[c]!) + v[b]! * v[c]!;
  },
  smoothstep: (v, dst, a, b, c) => {
    const share = (v[c]! - v[a]!) / (v[b]! - v[a]!);
    const t = Math.max(0, Math.min(1, share));
    // An edge or a place without end is no number, though the share of it would be.
    v[dst] = v[a]! - v[a]! + (v[b]! - v[b]!) + (v[c]! - v[c]!) === 0 ? t * t * (3 - 2 * t) : NaN;
  },
  floor: (v, dst, a) => {
    v[dst] = Math.floor(v[a]!);
  },
  mod: (v, dst, a, b) => {
    v[dst] = v[b]! - v[b]! === 0 ? v[a]! - v[b]! * Math.floor(v[a]! / v[b]!) : NaN;
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
    const radius = v[b]!;
    v[dst] = radius === 0 || radius - radius !== 0 ? NaN : -(v[a]! / radius) * DEG;
  },
  rack: (v, dst, a, b) => {
    v[dst] = (v[a]! / DEG) * v[b]!;
  },
  screw: (v, dst, a, b) => {
    v[dst] = (v[a]! / 360) * v[b]!;
  },
};

export const KERNELS: ReadonlyMap<string, Kernel> = new Map(Object.entries(ALL));
