import { sizeFor, Spectrum } from './spectrum';

/** Looks per second at how a sound's spectrum rises. */
export const FLUX_RATE = 200;
const WINDOW_SECONDS = 0.0232;
/** A peak is the highest within so many looks on either side. */
const ALONE = 6;
/** The mean before a peak is taken over so many times that. */
const MEAN_BEFORE = 3;
/** How slowly the height that a peak must reach falls behind another one, per look. */
const FALL = 0.92;
/** Deviations above the mean round it that a peak must have, where nothing else is asked for. */
export const ONSET_THRESHOLD = 1.2;

/** A stroke at the very beginning: so much louder, over so long, than the time after it. */
const STROKE = 1.5;
const STROKE_SECONDS = 0.05;

/** Seconds at which the first look at a sound of a rate tells of a beginning. */
export function firstLook(rate: number): number {
  return -(sizeFor(rate * WINDOW_SECONDS) / 4 + rate / FLUX_RATE / 2) / rate;
}

/** How much a sound's spectrum rises from look to look. */
export interface Flux {
  readonly values: Float64Array;
  /** Seconds at which the first look tells of a beginning, and between looks. */
  readonly first: number;
  readonly step: number;
  /** Whether the sound begins with a stroke; else its beginning is no more than where the file was cut. */
  readonly struck: boolean;
}

/** A beginning in a sound: a stroke, a note, a click. */
export interface Onset {
  readonly seconds: number;
  /** Deviations above the mean of its surroundings. */
  readonly strength: number;
}

/**
 * Spectral flux of a sound (Dixon 2006, "Onset detection revisited"): the sum over all frequencies of what the magnitude
 * rises by. A beginning shows most where it stands a quarter of the window behind the middle, at the steepest place of the
 * window; the times say so.
 * @param samples one channel, -1 to 1
 */
export function fluxOf(samples: Float32Array, rate: number): Flux {
  const size = sizeFor(rate * WINDOW_SECONDS);
  const spectrum = new Spectrum(size, 'hamming');
  const hop = rate / FLUX_RATE;
  // From half a window before the beginning: what begins at once counts.
  const count = Math.ceil((samples.length + size / 2) / hop);
  const values = new Float64Array(count);
  const before = new Float64Array(spectrum.power.length);
  for (let n = 0; n < count; n++) {
    const power = spectrum.at(samples, Math.round(n * hop) - size);
    let sum = 0;
    for (let k = 0; k < power.length; k++) {
      const magnitude = Math.sqrt(power[k]!);
      if (magnitude > before[k]!) sum += magnitude - before[k]!;
      before[k] = magnitude;
    }
    values[n] = sum;
  }
  // What rises between two looks began halfway between them.
  return { values, first: firstLook(rate), step: hop / rate, struck: isStruck(samples, rate) };
}

/** Whether what a sound begins with is louder than what follows at once. */
function isStruck(samples: Float32Array, rate: number): boolean {
  const meanSquare = (from: number, to: number): number => {
    let sum = 0;
    const [a, b] = [Math.round(from * rate), Math.min(samples.length, Math.round(to * rate))];
    for (let i = a; i < b; i++) sum += samples[i]! * samples[i]!;
    return b > a ? sum / (b - a) : 0;
  };
  return meanSquare(0, STROKE_SECONDS) > STROKE * meanSquare(STROKE_SECONDS, 3 * STROKE_SECONDS);
}

/** Values with mean 0 and deviation 1; all 0 where they do not differ. */
function normalised(values: Float64Array): Float64Array {
  const mean = values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length);
  const square = values.reduce((sum, value) => sum + (value - mean) ** 2, 0) / Math.max(1, values.length);
  const deviation = Math.sqrt(square);
  return values.map((value) => (deviation > 1e-12 ? (value - mean) / deviation : 0));
}

/**
 * Peaks of a flux by the three conditions of Dixon 2006: none higher near it, well above the mean round it, and not in the
 * shadow of a higher one just before.
 * @param threshold deviations above the mean round it
 * @returns indices and heights, normalised
 */
export function peaksOf(
  values: Float64Array,
  threshold: number,
  { alone = ALONE, meanBefore = MEAN_BEFORE, fall = FALL } = {},
): { index: number; height: number }[] {
  const flux = normalised(values);
  const found: { index: number; height: number }[] = [];
  let shadow = -Infinity;
  for (let n = 0; n < flux.length; n++) {
    const value = flux[n]!;
    const [from, to] = [Math.max(0, n - alone), Math.min(flux.length - 1, n + alone)];
    let highest = true;
    for (let k = from; k <= to && highest; k++) highest = value >= flux[k]! && !(k < n && value === flux[k]!);
    if (highest && value >= shadow) {
      const start = Math.max(0, n - meanBefore * alone);
      let mean = 0;
      for (let k = start; k <= to; k++) mean += flux[k]!;
      mean /= to - start + 1;
      if (value >= mean + threshold) found.push({ index: n, height: value - mean });
    }
    shadow = Math.max(value, fall * shadow + (1 - fall) * value);
  }
  return found;
}

/** Beginnings in a sound, in order. */
export function onsetsOf({ values, first, step, struck }: Flux, threshold = ONSET_THRESHOLD): Onset[] {
  const found = peaksOf(values, threshold).map(({ index, height }) => {
    // Between two looks: the top of the parabola through three of them.
    const [a, b, c] = [values[index - 1] ?? 0, values[index]!, values[index + 1] ?? 0];
    const bend = a - 2 * b + c;
    const shift = bend < 0 ? Math.max(-0.5, Math.min(0.5, (a - c) / (2 * bend))) : 0;
    return { seconds: Math.max(0, first + (index + shift) * step), strength: height };
  });
  return struck ? found : found.filter(({ seconds }) => seconds > STROKE_SECONDS / 2);
}
