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
    | 'value.unkeyed'
    | 'keys.outside-range'
    | 'keys.same-frame'
    | 'keys.close'
    | 'keys.between-frames'
    | 'part.hidden'
    | 'part.out-of-picture'
    | 'turn.looks-still'
    | 'turn.looks-backwards'
    | 'gimbal.near-key'
    | 'repeat.coincide'
    | 'repeat.many'
    | 'roll.slips'
    | 'gear.module'
    | 'gear.teeth'
    | 'gear.distance'
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
