import type { Flux, Onset } from './onsets';

/** Beats a minute that are looked for. */
const SLOWEST = 40;
const FASTEST = 240;
/** Tempo that people tap most, and how fast others become less likely, in octaves (Ellis 2007). */
const LIKELY_SECONDS = 0.5;
const OCTAVES = 1.4;
/** The period is measured over up to so many of it. */
const LONGEST = 64;
/** A beginning within this share of a period belongs to a beat. */
const NEAR = 0.18;

export interface Tempo {
  /** Beats a minute. */
  readonly perMinute: number;
  /** Seconds of the first beat. */
  readonly first: number;
}

function likely(seconds: number): number {
  const octaves = Math.log2(seconds / LIKELY_SECONDS) / OCTAVES;
  return Math.exp(-0.5 * octaves * octaves);
}

/** Sum of the products of values with those so many looks later. */
function likeness(values: Float64Array, lag: number): number {
  let sum = 0;
  for (let i = lag; i < values.length; i++) sum += values[i]! * values[i - lag]!;
  return sum;
}

/** The lag near a guess at which values are most like themselves, between whole lags by the parabola through three. */
function bestNear(values: Float64Array, guess: number, reach: number): number | null {
  let best = -1;
  let top = 0;
  for (let lag = Math.max(1, Math.floor(guess - reach)); lag <= Math.ceil(guess + reach); lag++) {
    if (lag >= values.length - 1) return null;
    const sum = likeness(values, lag);
    if (sum > top) [best, top] = [lag, sum];
  }
  if (best < 1) return null;
  const [a, c] = [likeness(values, best - 1), likeness(values, best + 1)];
  const bend = a - 2 * top + c;
  return best + (bend < 0 ? Math.max(-0.5, Math.min(0.5, (a - c) / (2 * bend))) : 0);
}

/**
 * Tempo of a sound: the lag at which its flux is most like itself, weighed by how likely people tap it (Ellis 2007, "Beat
 * tracking by dynamic programming"), then measured over more and more periods.
 * @returns `null` where nothing repeats
 */
export function tempoOf({ values, step }: Flux, onsets: readonly Onset[]): Tempo | null {
  const mean = values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length);
  const flux = values.map((value) => Math.max(0, value - mean));
  const [shortest, longest] = [60 / FASTEST / step, 60 / SLOWEST / step];
  let lag = 0;
  let top = 0;
  for (let at = Math.floor(shortest); at <= Math.ceil(longest) && at < flux.length / 2; at++) {
    // A beat that lies between two looks shows in both.
    const sum =
      (likeness(flux, at) + 0.5 * (likeness(flux, at - 1) + likeness(flux, at + 1))) * likely(at * step);
    if (sum > top) [lag, top] = [at, sum];
  }
  if (lag === 0) return null;
  let period = bestNear(flux, lag, 1) ?? lag;
  for (let times = 2; times <= LONGEST; times *= 2) {
    const found = bestNear(flux, period * times, Math.max(1, times * 0.3));
    if (found === null || period * times > flux.length * 0.6) break;
    period = found / times;
  }
  return fitted(period * step, onsets);
}

/** Period and first beat that fit the beginnings near beats best (least squares). */
function fitted(period: number, onsets: readonly Onset[]): Tempo {
  const strongest = onsets.reduce((best, onset) => Math.max(best, onset.strength), 0);
  const strong = onsets.filter(({ strength }) => strength > 0.3 * strongest);
  if (strong.length < 3) return { perMinute: 60 / period, first: onsets[0]?.seconds ?? 0 };
  // The phase in which most strength lies.
  let phase = strong[0]!.seconds % period;
  let most = -1;
  for (const { seconds } of strong) {
    const at = seconds % period;
    const held = strong.reduce((sum, onset) => {
      const off = Math.abs(((onset.seconds - at + period * 1.5) % period) - period / 2);
      return off < NEAR * period ? sum + onset.strength : sum;
    }, 0);
    if (held > most) [phase, most] = [at, held];
  }
  let [n, sx, sy, sxx, sxy] = [0, 0, 0, 0, 0];
  for (const { seconds } of strong) {
    const beat = Math.round((seconds - phase) / period);
    if (Math.abs(seconds - phase - beat * period) > NEAR * period) continue;
    n++;
    sx += beat;
    sy += seconds;
    sxx += beat * beat;
    sxy += beat * seconds;
  }
  const spread = n * sxx - sx * sx;
  if (n < 3 || spread <= 0) return { perMinute: 60 / period, first: phase };
  const slope = (n * sxy - sx * sy) / spread;
  // What fits the beginnings but is another tempo has met the wrong ones.
  const seconds = Math.abs(slope / period - 1) < 0.02 ? slope : period;
  const start = (sy - seconds * sx) / n;
  return { perMinute: 60 / seconds, first: ((start % seconds) + seconds) % seconds };
}

/** Times of even beats up to a time. */
export function beatsOf({ perMinute, first }: Tempo, until: number): number[] {
  const period = 60 / perMinute;
  return Array.from(
    { length: Math.max(0, Math.floor((until - first) / period) + 1) },
    (_, i) => first + i * period,
  );
}
