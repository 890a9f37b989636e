import { createStore, type StoreApi } from 'zustand/vanilla';

/** What is told calmly is told once nothing has changed for so long, */
const REST_MS = 80;
/** and at least so often while it goes on changing. */
const AT_LEAST_MS = 300;

/**
 * Follows something that changes with every picture of a drag or of play-back, and tells of it a moment later: all that
 * listens is drawn again together, in a picture of the page of its own.
 */
export class Calm {
  /** Counts how often it was told. */
  readonly state: StoreApi<number> = createStore(() => 0);
  private coming: ReturnType<typeof setTimeout> | undefined;
  private since = 0;

  /** Something has changed. */
  readonly changed = (): void => {
    const now = performance.now();
    if (this.coming === undefined) this.since = now;
    clearTimeout(this.coming);
    this.coming = setTimeout(
      () => {
        this.coming = undefined;
        this.state.setState((count) => count + 1);
      },
      Math.max(0, Math.min(REST_MS, this.since + AT_LEAST_MS - now)),
    );
  };

  stop(): void {
    clearTimeout(this.coming);
    this.coming = undefined;
  }
}
