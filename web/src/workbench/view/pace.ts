/** How finely the view is drawn. */
export interface Fineness {
  /** Share of the screen's pixels across. */
  readonly scale: number;
  readonly shadows: boolean;
  /** How far edges of round shapes may be off, pixels; missing for what nobody sees. */
  readonly tolerance?: number;
}

/** From the finest to what moves on any machine. */
export const FINENESSES: readonly Fineness[] = [
  { scale: 1, shadows: true },
  { scale: 0.7, shadows: true, tolerance: 0.5 },
  { scale: 0.7, shadows: false, tolerance: 0.5 },
  { scale: 0.5, shadows: false, tolerance: 0.7 },
  { scale: 0.35, shadows: false, tolerance: 1 },
  { scale: 0.25, shadows: false, tolerance: 1.2 },
];

/** A picture that takes longer is too slow for what moves: twelve a second are wanted. */
const SLOW_MS = 1000 / 13;
/** One that takes so long is so much too slow that two steps are taken. */
const VERY_SLOW_MS = 170;
/** One that takes less leaves room for a finer one. */
const QUICK_MS = 1000 / 16;
/** Quick pictures in a row after which a finer one is tried. */
const TRIES_AFTER = 14;
/** Pictures for which a step that was too slow is not tried again. */
const SPARED = 120;
/** Pictures at a step before what they take says anything. */
const SETTLES = 2;
/** Pictures further apart than this are no movement. */
const APART_MS = 900;

/**
 * Chooses how finely the view is drawn while something moves, by what the last pictures took: coarser at once where they are
 * slow, finer again after a while of quick ones. What stands still is drawn as finely as can be.
 */
export class Pace {
  private level = 0;
  private quick = 0;
  /** When the last picture was begun, at which step, and how many there were at that step before it. */
  private last: { at: number; level: number; age: number } | null = null;
  /** Finest step that was not too slow lately, and for how many pictures that counts. */
  private least = { level: 0, left: 0 };

  /** Fineness of a picture that is about to be drawn because something has changed. @param now moment, milliseconds */
  begin(now: number): Fineness {
    const { last } = this;
    const moves = last !== null && now - last.at < APART_MS;
    // The first pictures at another step wait for its programs, and for the slow ones before them: they say nothing.
    if (moves && (last.level === 0 || last.age >= SETTLES)) this.took(now - last.at, last.level);
    const level = moves ? this.level : 0;
    this.last = { at: now, level, age: last?.level === level ? last.age + 1 : 0 };
    return FINENESSES[level]!;
  }

  /** Everything has come to rest: the next change begins a new movement, drawn as finely as was found right before. */
  rest(): void {
    this.last = null;
    this.quick = 0;
  }

  /** Another movement is about to begin: its first picture is not the finest where that is known to be slow. */
  resume(now: number): void {
    this.last ??= { at: now, level: this.level, age: 0 };
  }

  private took(ms: number, level: number): void {
    if (this.least.left > 0) this.least = { ...this.least, left: this.least.left - 1 };
    if (ms > SLOW_MS) {
      this.quick = 0;
      const step = ms > VERY_SLOW_MS ? 2 : 1;
      this.level = Math.min(FINENESSES.length - 1, Math.max(this.level, level + step));
      this.least = { level: Math.max(this.least.left > 0 ? this.least.level : 0, level + 1), left: SPARED };
      return;
    }
    this.quick = ms < QUICK_MS ? this.quick + 1 : 0;
    const finest = this.least.left > 0 ? this.least.level : 0;
    if (this.quick < TRIES_AFTER || this.level <= finest) return;
    this.quick = 0;
    this.level--;
  }
}
