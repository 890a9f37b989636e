import { COLOUR_FUNCTIONS } from './colours';
import { MECHANISM_FUNCTIONS } from './mechanisms';
import { SHOT_FUNCTIONS } from './of-the-shot';
import { PLAIN_FUNCTIONS } from './plain';
import { SHAPER_FUNCTIONS } from './shapers';
import type { FunctionSpec } from './spec';
import { WAVE_FUNCTIONS } from './waves';

export { HSL_COMPONENT } from './colours';
export { floorMod, roundHalfAway, type ArgumentRule, type FunctionSpec, type ResultRule } from './spec';

/** Every function of the formula language by its name, in the order of the help. */
export const FUNCTIONS: ReadonlyMap<string, FunctionSpec> = new Map(
  [
    ...PLAIN_FUNCTIONS,
    ...WAVE_FUNCTIONS,
    ...MECHANISM_FUNCTIONS,
    ...SHAPER_FUNCTIONS,
    ...SHOT_FUNCTIONS,
    ...COLOUR_FUNCTIONS,
  ].map((spec) => [spec.name, spec]),
);

/** Radians of an angle in degrees; for callers that leave the house unit. */
export function radians(degrees: number): number {
  return degrees * (Math.PI / 180);
}
