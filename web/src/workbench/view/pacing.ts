import { FINENESSES, Pace, type Fineness } from './pace';

/** After so long without a change everything has come to rest. */
export const RESTS_MS = 220;
/** While it plays, pictures may be further apart. */
const STALLED_MS = 900;

/** How finely the next picture of the view is drawn, and when it is drawn once more because everything rests. */
export class Pacing {
  private readonly pace = new Pace();
  private resting: ReturnType<typeof setTimeout> | undefined;
  private played = false;
  /** The next picture is that of what has come to rest. */
  private settles = false;
  fineness: Fineness = FINENESSES[0]!;

  /** @param again draws the view once more */
  constructor(private readonly again: () => void) {}

  get finest(): boolean {
    return this.fineness === FINENESSES[0];
  }

  /** Pictures are as fine as can be from here on, until the next choice. */
  whole(): void {
    this.fineness = FINENESSES[0]!;
  }

  /** Chooses for a picture that is about to be drawn. */
  choose(playing: boolean): void {
    const now = performance.now();
    clearTimeout(this.resting);
    if (this.settles) {
      this.settles = false;
      this.pace.rest();
      this.whole();
      return;
    }
    if (playing && !this.played) this.pace.resume(now);
    this.played = playing;
    this.fineness = this.pace.begin(now);
    this.resting = setTimeout(() => this.rest(), playing ? STALLED_MS : RESTS_MS);
  }

  private rest(): void {
    if (this.finest) this.pace.rest();
    else {
      this.settles = true;
      this.again();
    }
  }

  stop(): void {
    clearTimeout(this.resting);
  }
}
