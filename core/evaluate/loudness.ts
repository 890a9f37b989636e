import type { Sound } from '../document';

/**
 * How loud a sound is over time, band by band, worked out from its samples beforehand and handed to evaluation. Row h
 * holds, for each band, the mean square of the sound around the time h / rate, so that bands add up.
 */
export interface Loudness {
  /** Rows per second. */
  readonly rate: number;
  /** Edges of the bands in Hz, rising: one more than there are bands. */
  readonly edges: readonly number[];
  /** Length of the sound; where it is missing, that of the table. */
  readonly seconds?: number;
  /** Mean squares, row by row. */
  readonly power: Float32Array;
}

/** Which piece of its file a sound plays, and when: see the schema of sounds. */
export interface SoundPiece {
  /** Frame. */
  readonly start: number;
  /** Seconds. */
  readonly from: number;
  readonly length: number | null;
  readonly loop: boolean;
}

/** The piece that a sound plays; one that is gone plays all of its file from frame 0 on. */
export function pieceOf(sound: Sound | undefined): SoundPiece {
  return {
    start: sound?.start ?? 0,
    from: sound?.from ?? 0,
    length: sound?.length ?? null,
    loop: sound?.loop === true,
  };
}

/** Seconds of the file that a table is of. */
export function secondsOfTable({ power, edges, rate, seconds }: Loudness): number {
  return seconds ?? (power.length / (edges.length - 1) - 1) / rate;
}

/**
 * Where in its file a sound is so many seconds after its start; below 0 where it is not heard. A sound of unknown length
 * goes on for ever.
 */
export function secondsInFile(
  { from, length, loop }: SoundPiece,
  seconds: number,
  table: Loudness | undefined,
): number {
  if (seconds < 0) return -1;
  const whole = table ? secondsOfTable(table) - from : Infinity;
  const plays = Math.min(length ?? whole, whole);
  if (seconds < plays) return from + seconds;
  if (!loop || !(plays > 0)) return -1;
  return from + (seconds % plays);
}

/** Loudness tables by sound id. */
export type LoudnessTables = Readonly<Record<string, Loudness>>;

/**
 * Level between two frequencies at a time since the sound's beginning: 0 is silence, 1 a full-scale sine (whose mean
 * square is 1/2). Bands that are cut by a limit count by the share of their width. 0 before the beginning and after the
 * end; NaN where no table was handed in.
 */
export function levelAt(table: Loudness | undefined, seconds: number, low: number, high: number): number {
  if (!table) return NaN;
  const bands = table.edges.length - 1;
  const rows = Math.floor(table.power.length / bands);
  const at = seconds * table.rate;
  if (!(at >= 0) || at > rows - 1) return 0;
  const row = Math.min(Math.floor(at), rows - 1);
  const next = Math.min(row + 1, rows - 1);
  const share = at - row;
  let sum = 0;
  for (let band = 0; band < bands; band++) {
    const from = table.edges[band]!;
    const to = table.edges[band + 1]!;
    const overlap = Math.min(to, high) - Math.max(from, low);
    if (!(overlap > 0)) continue;
    const power = table.power[row * bands + band]! * (1 - share) + table.power[next * bands + band]! * share;
    sum += power * (overlap / (to - from));
  }
  return Math.sqrt(2 * sum);
}
