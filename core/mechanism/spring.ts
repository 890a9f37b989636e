import { cos, exp, sin } from '../math';

/** Place and speed of what is drawn along by a spring. */
export interface Sprung {
  readonly place: number;
  readonly speed: number;
}

/** Share of the stiffness up to which a damping counts as the critical one, at which both forms lose their digits. */
const CRITICAL = 1e-9;

/**
 * One step of a mass that a spring with a damper draws after a value that changes evenly over the step:
 * x'' = stiffness (u - x) - damping x'. Solved exactly, so that the steps do not show and nothing ever blows up. Source:
 * the response of a second-order system (Ogata, "Modern Control Engineering"): what is left of the lag behind the
 * steady one dies out by its own.
 * @param from value at the start of the step @param to at its end @param seconds length of the step
 * @param stiffness above 0, 1/s^2 @param damping 0 or above, 1/s
 */
export function springStep(
  { place, speed }: Sprung,
  from: number,
  to: number,
  seconds: number,
  stiffness: number,
  damping: number,
): Sprung {
  const slope = (to - from) / seconds;
  const lag = (damping * slope) / stiffness;
  const [e, f] = [place - (from - lag), speed - slope];
  const half = damping / 2;
  const under = stiffness - half * half;
  const fade = exp(-half * seconds);
  let left: number;
  let leftSpeed: number;
  if (Math.abs(under) <= CRITICAL * stiffness) {
    const pull = f + half * e;
    left = fade * (e + pull * seconds);
    leftSpeed = fade * (f - half * pull * seconds);
  } else if (under > 0) {
    const w = Math.sqrt(under);
    const [c, s] = [cos(w * seconds), sin(w * seconds)];
    left = fade * (e * c + ((f + half * e) / w) * s);
    leftSpeed = fade * (f * c - ((stiffness * e + half * f) / w) * s);
  } else {
    const w = Math.sqrt(-under);
    const [slow, fast] = [exp((w - half) * seconds), exp((-w - half) * seconds)];
    const [c, s] = [(slow + fast) / 2, (slow - fast) / 2];
    left = e * c + ((f + half * e) / w) * s;
    leftSpeed = f * c - ((stiffness * e + half * f) / w) * s;
  }
  return { place: to - lag + left, speed: slope + leftSpeed };
}
