import { Slice } from './slice';

export interface TimeWindowShown {
  readonly from: number;
  readonly to: number;
}

export interface TimeState {
  readonly frame: number;
  readonly playing: boolean;
  /** Pictures per second that the view reached lately while playing. */
  readonly reached: number | null;
  /** Frames that the timeline shows, from the left edge to the right; null for the whole range. */
  readonly window: TimeWindowShown | null;
  /** Dragged keys catch on the playhead, other keys, markers and the range. */
  readonly keySnap: boolean;
}

/** Where in time the workbench stands, and what of time it shows. */
export class Time extends Slice<TimeState> {
  constructor(frame: number) {
    super({ frame, playing: false, reached: null, window: null, keySnap: true });
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

  toggleSnap(): void {
    this.set({ keySnap: !this.now.keySnap });
  }
}
