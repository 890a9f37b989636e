import { METRES_PER_UNIT } from '../formula';
import type { Shot } from '../document';

/** Something about a shot that somebody should know before it is rendered. */
export interface Problem {
  readonly code:
    | 'link.error'
    | 'link.constant'
    | 'link.not-a-number'
    | 'option.loop'
    | 'camera.none'
    | 'light.none'
    | 'file.missing'
    | 'alpha.format'
    | 'samples.one'
    | 'value.unkeyed'
    | 'keys.outside-range'
    | 'keys.same-frame'
    | 'keys.close'
    | 'keys.between-frames'
    | 'part.hidden'
    | 'part.out-of-picture'
    | 'part.leaves-picture'
    | 'turn.looks-still'
    | 'turn.looks-backwards'
    | 'gimbal.lock'
    | 'joint.beyond'
    | 'repeat.coincide'
    | 'repeat.many'
    | 'budget.moments'
    | 'budget.triangles'
    | 'repeat.step'
    | 'roll.slips'
    | 'recipe.lost-link'
    | 'pin.loose'
    | 'pin.fight'
    | 'pin.out-of-reach'
    | 'pin.still'
    | 'pin.tilted'
    | 'gear.module'
    | 'gear.pressure'
    | 'gear.teeth'
    | 'gear.distance'
    | 'gear.ratio'
    | 'gear.phase'
    | 'loop.value'
    | 'loop.speed';
  readonly severity: 'error' | 'warning';
  /** Channel, part or setting that it concerns. */
  readonly address: string;
  readonly message: string;
  readonly frame?: number;
  /** Range in the formula, for problems of links. */
  readonly from?: number;
  readonly to?: number;
  /** What was measured, in metres, degrees or the channel's own unit. */
  readonly amount?: number;
}

/** What a check may be told beside the shot. */
export interface CheckOptions {
  /** Channels changed at the frame shown and not keyed. */
  readonly unkeyed?: readonly string[];
  /** Hashes of the files that are there; without it, only files that were never given are missed. */
  readonly files?: ReadonlySet<string>;
  /** The film that is asked for. */
  readonly film?: { readonly format: string; readonly alpha: boolean; readonly keepsAlpha: boolean };
  /** The film will be shown over and over: look at the seam. */
  readonly loops?: boolean;
}

/** A length in the unit of the shot, for sentences: "1.25 m", "40 mm". */
export function shownLength(shot: Shot, metres: number): string {
  const { unit } = shot.setup;
  return `${Number((metres / METRES_PER_UNIT[unit]).toPrecision(4))} ${unit}`;
}

/** A number of degrees, frames or turns as sentences show it. */
export function shownNumber(value: number): string {
  return String(Number(value.toPrecision(4)));
}
