import { atan2, cosDeg, sinDeg } from '../math';

/**
 * Intermittent wheel with `slots` radial slots, driven by a crank pin from outside. The crank at 0 points straight
 * away from the wheel, in the middle of the rest; the wheel makes one step of 360 / slots each turn of the crank, the
 * other way round, while the pin is within 90 - 180 / slots degrees of the line of centres. Turns are counted.
 * With `side` -1 the slots open inwards and the crank turns within the wheel: at 0 the pin points to the wheel's middle, the
 * wheel makes its step while the pin is within 90 + 180 / slots degrees of the opposite direction, and turns the same way.
 * Source: Bickford, "Mechanisms for Intermittent Motion": beta = atan2(l sin a, 1 - l cos a), l = sin(180 / slots); of inner
 * wheels atan2(l sin a, 1 + l cos a).
 * @param side 1 for slots that open outwards, -1 for slots that open inwards
 */
export function intermittentAngle(angle: number, slots: number, side = 1): number {
  if (intermittentTrouble(slots, side) !== null) return NaN;
  const step = 360 / slots;
  const turns = Math.floor(angle / 360);
  const alpha = angle - 360 * turns - 180;
  const engaged = 90 - (side * 180) / slots;
  const gone = alpha <= -engaged ? 0 : alpha >= engaged ? step : step / 2 + slotAngle(alpha, slots, side);
  return -side * (turns * step + gone);
}

/** Turn of the wheel from the middle of its step, degrees, with the pin `alpha` degrees from there on its circle. */
export function slotAngle(alpha: number, slots: number, side = 1): number {
  const ratio = sinDeg(180 / slots);
  return atan2(ratio * sinDeg(alpha), 1 - side * ratio * cosDeg(alpha)) * (180 / Math.PI);
}

/** Why there is no such wheel, in words; `null` for a whole number of slots from 3 up that open to one side. */
export function intermittentTrouble(slots: number, side = 1): string | null {
  if (side !== 1 && side !== -1)
    return `slots open outwards (1) or inwards (-1), not to ${Math.round(side * 1e6) / 1e6}`;
  return Number.isInteger(slots) && slots >= 3
    ? null
    : `an intermittent wheel has a whole number of slots, 3 or more, not ${Math.round(slots * 1e6) / 1e6}`;
}

/** Crank length and wheel radius of a wheel whose centre lies `distance` from the crank's. */
export function intermittentSizes(distance: number, slots: number): { crank: number; wheel: number } {
  return { crank: distance * sinDeg(180 / slots), wheel: distance * cosDeg(180 / slots) };
}
