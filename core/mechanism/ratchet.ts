import { cosDeg, sinDeg } from '../math';

type Rings = { readonly letter: number; readonly outer: number[]; readonly holes: number[][] }[];

const STEPS = 4;
/** Where a tooth rises at once: as much of its span short of the next one. */
const RISE = 0.999;
/** The pawl from its pivot to the tip on its left, arched over the teeth between them, in shares of its length. */
const PAWL = [
  [-1, 0],
  [-0.83, 0.21],
  [-0.43, 0.21],
  [-0.11, -0.13],
  [0.14, -0.11],
  [0.17, 0.14],
  [-0.14, 0.29],
  [-0.43, 0.41],
  [-0.86, 0.4],
] as const;

/**
 * A wheel of saw teeth in the xy plane, metres: along each of them it falls from its radius, against the clock, and rises at
 * once. It turns freely against the clock; a pawl that stands in its teeth keeps it from turning back.
 */
export function ratchetOutline(teeth: number, radius: number, depth: number): Rings {
  const outer: number[] = [];
  const put = (away: number, turn: number): void => {
    outer.push(away * cosDeg(360 * turn), away * sinDeg(360 * turn));
  };
  for (let tooth = 0; tooth < teeth; tooth++)
    for (let i = 0; i <= STEPS; i++)
      put(radius - (depth * i) / STEPS, (tooth + (i === STEPS ? RISE : i / STEPS)) / teeth);
  return [{ letter: 0, outer, holes: [] }];
}

/** A pawl in the xy plane: its pivot at the origin, its tip on its left. */
export function pawlOutline(length: number): Rings {
  return [{ letter: 0, outer: PAWL.flatMap(([x, y]) => [x * length, y * length]), holes: [] }];
}

/** A ratchet wheel that a lever turns: its turn in degrees, and the teeth by which the pawl on the lever has fallen back. */
export interface RatchetState {
  readonly turn: number;
  readonly behind: number;
}

/** Share of a tooth by which rounding may keep a pawl from falling. */
const FALLS = 1e-9;

/**
 * Where a ratchet wheel is when its lever has gone to an angle, without turning round on the way. Going back the pawl falls behind
 * each tooth that it passes; going forward it turns the wheel from the tooth on behind which it fell last. So of each stroke the
 * whole teeth count: floor(swing / pitch) pitch (Chironis, "Mechanisms and Mechanical Devices Sourcebook").
 * @param lever degrees @param pitch from tooth to tooth, degrees, above 0
 */
export function ratchetStep({ turn, behind }: RatchetState, lever: number, pitch: number): RatchetState {
  const fallen = Math.max(behind, Math.floor((turn - lever) / pitch + FALLS));
  return { turn: Math.max(turn, lever + fallen * pitch), behind: fallen };
}
