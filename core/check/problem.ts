/** Something about a shot that somebody should know before it is rendered. */
export interface Problem {
  readonly code:
    | 'link.error'
    | 'link.constant'
    | 'link.not-a-number'
    | 'camera.none'
    | 'light.none'
    | 'keys.outside-range'
    | 'keys.same-frame'
    | 'keys.between-frames'
    | 'part.hidden';
  readonly severity: 'error' | 'warning';
  /** Channel, part or setting that it concerns. */
  readonly address: string;
  readonly message: string;
  readonly frame?: number;
  /** Range in the formula, for problems of links. */
  readonly from?: number;
  readonly to?: number;
}
