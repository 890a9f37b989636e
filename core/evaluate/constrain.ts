import type { ChannelSpec } from '../document';
import { roundHalfAway } from '../formula';

/** How a worked-out number is fitted to its channel. */
export const FIT_PLAIN = 0;
export const FIT_WHOLE = 1;
export const FIT_SWITCH = 2;

export function fitOf(spec: ChannelSpec): number {
  return spec.kind === 'switch' ? FIT_SWITCH : spec.whole ? FIT_WHOLE : FIT_PLAIN;
}

/** Fits a number from a curve or a formula to its channel: rounded where it must be whole, kept inside [min, max]. */
export function constrain(value: number, fit: number, min: number, max: number): number {
  if (fit === FIT_SWITCH) return value !== 0 ? 1 : 0;
  const whole = fit === FIT_WHOLE ? roundHalfAway(value) : value;
  return whole < min ? min : whole > max ? max : whole;
}
