import { Slice } from './slice';

export interface TimeWindowShown {
  readonly from: number;
  readonly to: number;
}

/** Frames from one to another, both with. */
export interface FrameStretch {
  readonly from: number;
  readonly to: number;
}

/** For how many frames play-back holds each picture. */
export const PICTURE_HOLDS = [1, 2, 3] as const;
export type PictureHold = (typeof PICTURE_HOLDS)[number];

/** Which lanes are shown. */
export const LANE_KINDS = ['all', 'moving', 'linked', 'chosen', 'sounds', 'clips'] as const;
export type LaneKind = (typeof LANE_KINDS)[number];

export interface TimeState {
  readonly frame: number;
  readonly playing: boolean;
  /** Pictures per second that the view reached lately while playing. */
  readonly reached: number | null;
  /** Frames that the timeline shows, from the left edge to the right; null for the whole range. */
  readonly window: TimeWindowShown | null;
  readonly lanes: LaneKind;
  /** Dragged keys catch on the playhead, other keys, markers and the range. */
  readonly keySnap: boolean;
  /** For how many frames each picture stands while playing: a way of looking, nothing is keyed. */
  readonly hold: PictureHold;
  /** Play-back begins again at the end. */
  readonly loops: boolean;
  /** Frames whose pictures are there already. */
  readonly drawn: readonly FrameStretch[];
  /** How far drawing ahead has come. */
  readonly drawing: { readonly done: number; readonly total: number } | null;
}

/** Where in time the workbench stands, and what of time it shows. */
export class Time extends Slice<TimeState> {
  constructor(frame: number) {
    super({
      frame,
      playing: false,
      reached: null,
      window: null,
      lanes: 'all',
      keySnap: true,
      hold: 1,
      loops: true,
      drawn: [],
      drawing: null,
    });
  }

  at(frame: number): void {
    this.set({ frame });
  }

  runs(playing: boolean): void {
    this.set(playing ? { playing } : { playing, reached: null });
  }

  reach(reached: number): void {
    if (reached !== this.now.reached) this.set({ reached });
  }

  show(window: TimeWindowShown | null): void {
    this.set({ window });
  }

  showLanes(lanes: LaneKind): void {
    this.set({ lanes });
  }

  toggleSnap(): void {
    this.set({ keySnap: !this.now.keySnap });
  }

  holdPictures(hold: PictureHold): void {
    this.set({ hold });
  }

  toggleLoop(): void {
    this.set({ loops: !this.now.loops });
  }

  drew(drawn: readonly FrameStretch[]): void {
    if (drawn.length > 0 || this.now.drawn.length > 0) this.set({ drawn });
  }

  draws(drawing: TimeState['drawing']): void {
    this.set({ drawing });
  }
}
