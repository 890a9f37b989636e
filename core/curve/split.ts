import type { CompiledKey } from './compiled-track';
import { solveShare } from './segment';

/** A handle's end from its key: frames and value units. */
export interface Arm {
  readonly reach: number;
  readonly rise: number;
}

/** A Bezier stretch cut in two at a frame, without any change of its shape. */
export interface Split {
  readonly value: number;
  /** Right handle of the first key, both handles of the new key, left handle of the last one. */
  readonly firstRight: Arm;
  readonly left: Arm;
  readonly right: Arm;
  readonly lastLeft: Arm;
}

/**
 * Cuts the stretch between two keys at a frame inside it by de Casteljau's construction (Farin, "Curves and Surfaces for
 * CAGD", chapter 4): both halves together are the same curve.
 */
export function splitStretch(first: CompiledKey, last: CompiledKey, frame: number): Split {
  const dt = last.frame - first.frame;
  const dv = last.value - first.value;
  const cut = (reach: number): number => Math.max(0, Math.min(dt, reach));
  const x1 = cut(first.rightReach);
  const x2 = dt - cut(last.leftReach);
  const y1 = first.rightRise;
  const y2 = dv + last.leftRise;
  const c = (3 * x1) / dt;
  const b = (3 * x2) / dt - 2 * c;
  const s = solveShare(1 - b - c, b, c, (frame - first.frame) / dt);
  const mix = (p: number, q: number): number => p + (q - p) * s;
  const halves = (p1: number, p2: number, p3: number): [number, number, number, number, number, number] => {
    const a = mix(0, p1);
    const m = mix(p1, p2);
    const d = mix(p2, p3);
    const am = mix(a, m);
    const md = mix(m, d);
    return [a, am, mix(am, md), md, d, p3];
  };
  const [ax, amx, px, mdx, dx] = halves(x1, x2, dt);
  const [ay, amy, py, mdy, dy] = halves(y1, y2, dv);
  return {
    value: first.value + py,
    firstRight: { reach: ax, rise: ay },
    left: { reach: px - amx, rise: amy - py },
    right: { reach: mdx - px, rise: mdy - py },
    lastLeft: { reach: dt - dx, rise: dy - dv },
  };
}
