import type { Shot } from '../../../../core/document';
import { Slice } from './slice';

/** Which state of the shot is held against the one now: before the last edit, as it was opened, or one kept aside. */
export const OTHER_STATES = ['before', 'opened', 'aside'] as const;
export type OtherState = (typeof OTHER_STATES)[number];
export type CompareManner = 'swipe' | 'beside';

export interface CompareState {
  readonly with: OtherState | null;
  readonly manner: CompareManner;
  /** Where the line between the two lies: share of the width. */
  readonly share: number;
  /** The shot as it was opened. */
  readonly opened: Shot;
  /** The shot as it was when it was kept aside, and when that was. */
  readonly aside: { readonly shot: Shot; readonly at: Date } | null;
}

/** Two states of the shot in one view. */
export class Compare extends Slice<CompareState> {
  constructor(opened: Shot) {
    super({ with: null, manner: 'swipe', share: 0.5, opened, aside: null });
  }

  against(other: OtherState | null): void {
    this.set({ with: other });
  }

  as(manner: CompareManner): void {
    this.set({ manner });
  }

  part(share: number): void {
    this.set({ share: Math.max(0.02, Math.min(0.98, share)) });
  }

  keepAside(shot: Shot): void {
    this.set({ aside: { shot, at: new Date() } });
  }
}
