import type { Axis, Sizes } from './definition';

/** How often something looks the same in one turn; `ROUND` looks the same at every angle. */
export const ROUND = 0;

/** From so many sides on nobody sees them pass. */
const MANY_SIDES = 48;

export const whole = (sides: number, sweep = 360): number =>
  sweep < 360 ? 1 : sides >= MANY_SIDES ? ROUND : sides;
export const upright =
  (alongY: (size: Sizes) => number, across: (size: Sizes) => number = () => 1) =>
  (size: Sizes, axis: Axis): number =>
    axis === 'y' ? alongY(size) : across(size);
