import { atan2, cosDeg, sinDeg } from '../math';

/**
 * Intermittent wheel with `slots` radial slots, driven by a crank pin from outside. The crank at 0 points straight
 * away from the wheel, in the middle of the rest; the wheel makes one step of 360 / slots each turn of the crank, the
 * other way round, while the pin is within 90 - 180 / slots degrees of the line of centres. Turns are counted.
 * Source: Bickford, "Mechanisms for Intermittent Motion": beta = atan2(l sin a, 1 - l cos a), l = sin(180 / slots).
 */
export function intermittentAngle(angle: number, slots: number): number {
  if (intermittentTrouble(slots) !== null) return NaN;
  const step = 360 / slots;
  const turns = Math.floor(angle / 360);
  const alpha = angle - 360 * turns - 180;
  const engaged = 90 - 180 / slots;
  const gone = alpha <= -engaged ? 0 : alpha >= engaged ? step : step / 2 + slotAngle(alpha, slots);
  return -(turns * step + gone);
}

/** Turn of the wheel from the middle of its step, degrees, with the pin `alpha` degrees from the line of centres. */
export function slotAngle(alpha: number, slots: number): number {
  const ratio = sinDeg(180 / slots);
  return atan2(ratio * sinDeg(alpha), 1 - ratio * cosDeg(alpha)) * (180 / Math.PI);
}

/** Why there is no such wheel, in words; `null` for a whole number of slots from 3 up. */
export function intermittentTrouble(slots: number): string | null {
  return Number.isInteger(slots) && slots >= 3
    ? null
    : `an intermittent wheel has a whole number of slots, 3 or more, not ${Math.round(slots * 1e6) / 1e6}`;
}

/** Crank length and wheel radius of a wheel whose centre lies `distance` from the crank's. */
export function intermittentSizes(distance: number, slots: number): { crank: number; wheel: number } {
  return { crank: distance * sinDeg(180 / slots), wheel: distance * cosDeg(180 / slots) };
}
