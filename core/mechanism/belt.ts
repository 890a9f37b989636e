import { asin } from '../math';

/**
 * Belt round two pulleys of diameters d and D with centres C apart, lengths in one unit. Source: Shigley, "Mechanical
 * Engineering Design", chapter 17, exact forms.
 */
export interface Belt {
  readonly length: number;
  /** Angle over which the belt lies on the pulley of diameter d, and on the other, degrees. */
  readonly wrap1: number;
  readonly wrap2: number;
  /** Turn of pulley 2 for one of pulley 1; negative where the belt is crossed. */
  readonly ratio: number;
}

/** NaN where the pulleys overlap. */
export function belt(d1: number, d2: number, distance: number, crossed: boolean): Belt {
  const small = Math.min(d1, d2);
  const large = Math.max(d1, d2);
  const reach = crossed ? (large + small) / 2 : (large - small) / 2;
  const gap = (large + small) / 2 <= distance ? distance : NaN;
  const lean = asin(reach / gap);
  const straight = 2 * Math.sqrt(gap * gap - reach * reach);
  const wrapSmall = crossed ? Math.PI + 2 * lean : Math.PI - 2 * lean;
  const wrapLarge = Math.PI + 2 * lean;
  const deg = 180 / Math.PI;
  const [wrap1, wrap2] = d1 <= d2 ? [wrapSmall, wrapLarge] : [wrapLarge, wrapSmall];
  return {
    length: straight + (large * wrapLarge + small * wrapSmall) / 2,
    wrap1: wrap1 * deg,
    wrap2: wrap2 * deg,
    ratio: (crossed ? -1 : 1) * (d1 / d2),
  };
}
