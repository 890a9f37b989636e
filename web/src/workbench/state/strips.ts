import type { Shot } from '../../../../core/document';
import { Slice } from './slice';

export interface StripsState {
  /** Showings of clips that are chosen; the last one leads. */
  readonly chosen: readonly string[];
}

/** Which showings of clips are chosen. */
export class Strips extends Slice<StripsState> {
  constructor() {
    super({ chosen: [] });
  }

  choose(chosen: readonly string[]): void {
    if (chosen.length > 0 || this.now.chosen.length > 0) this.set({ chosen });
  }

  /** Lets go of those that a document has no longer. */
  keepTo(shot: Shot): void {
    const chosen = this.now.chosen.filter((id) => shot.placements[id]);
    if (chosen.length < this.now.chosen.length) this.set({ chosen });
  }
}
