import { LANE } from './lanes-painter';

/** Rows that come and go together while the lanes are scrolled. */
const CHUNK = 12;

/** How far the lanes are scrolled, in whole pixels. It is no state of a component: scrolling by a few pixels redraws the canvas and moves the names, and makes nothing anew. */
export class LaneScroll {
  private at = 0;
  private most = 0;
  private readonly listeners = new Set<() => void>();

  get top(): number {
    return this.at;
  }

  /** Calls back whenever it has scrolled. @returns how to stop that */
  readonly listen = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  to(top: number): void {
    const next = Math.round(Math.max(0, Math.min(this.most, top)));
    if (next === this.at) return;
    this.at = next;
    for (const listener of this.listeners) listener();
  }

  /** Takes the farthest it can go, after rows or the room for them have changed. */
  limit(most: number): void {
    this.most = Math.max(0, most);
    this.to(this.at);
  }

  /** Number of the first chunk in sight. */
  readonly chunk = (): number => Math.floor(this.at / (LANE * CHUNK));

  /** Rows to have ready for a chunk, the last not included. */
  static rows(chunk: number, room: number, count: number): { from: number; to: number } {
    return {
      from: Math.max(0, (chunk - 1) * CHUNK),
      to: Math.min(count, (chunk + 2) * CHUNK + Math.ceil(room / LANE)),
    };
  }
}
