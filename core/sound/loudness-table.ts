import type { Loudness } from '../evaluate';
import { sizeFor, Spectrum } from './spectrum';

/** Rows of a table per second. */
export const LOUDNESS_RATE = 100;
/** Bands of a third of an octave from 25 Hz (10^1.4) to 20 kHz (10^4.3): IEC 61260-1:2014, base 10. */
const FIRST_BAND = 14;
const LAST_BAND = 43;
/** Up to here a long window tells neighbouring bands apart; above, a short one follows the beat. */
const LONG_UP_TO_HZ = 283;
const LONG_SECONDS = 0.186;
const SHORT_SECONDS = 0.0464;

/** Edges of the bands in Hz. */
export const BAND_EDGES: readonly number[] = Array.from(
  { length: LAST_BAND - FIRST_BAND + 2 },
  (_, i) => 10 ** ((FIRST_BAND + i - 0.5) / 10),
);

/** How much of each line of a spectrum belongs to a band: first line, then shares. */
function linesOf(low: number, high: number, hz: number, lines: number): { from: number; shares: number[] } {
  const from = Math.max(0, Math.floor(low / hz + 0.5));
  const to = Math.min(lines - 1, Math.floor(high / hz + 0.5));
  const shares: number[] = [];
  for (let k = from; k <= to; k++)
    shares.push(Math.max(0, (Math.min(high, (k + 0.5) * hz) - Math.max(low, (k - 0.5) * hz)) / hz));
  return { from, shares };
}

/**
 * How loud a sound is over time: mean squares in bands of a third of an octave, 100 times a second, each in the middle of
 * its window (Hann; power of a line 2|X|²/(N²·mean w²)).
 * @param samples one channel, -1 to 1
 * @param rate samples per second, 8,000 or more
 */
export function loudnessOf(samples: Float32Array, rate: number): Loudness {
  const long = new Spectrum(sizeFor(rate * LONG_SECONDS), 'hann');
  const short = new Spectrum(sizeFor(rate * SHORT_SECONDS), 'hann');
  const bands = BAND_EDGES.slice(1).map((high, i) => {
    const spectrum = high <= LONG_UP_TO_HZ ? long : short;
    const lines = linesOf(BAND_EDGES[i]!, high, rate / spectrum.size, spectrum.power.length);
    return { spectrum, ...lines };
  });
  const rows = Math.floor((samples.length / rate) * LOUDNESS_RATE) + 1;
  const power = new Float32Array(rows * bands.length);
  for (let row = 0; row < rows; row++) {
    const middle = Math.round((row * rate) / LOUDNESS_RATE);
    for (const spectrum of [long, short]) spectrum.at(samples, middle - spectrum.size / 2);
    bands.forEach(({ spectrum, from, shares }, band) => {
      let sum = 0;
      for (let i = 0; i < shares.length; i++) sum += spectrum.power[from + i]! * shares[i]!;
      power[row * bands.length + band] = (2 * sum) / (spectrum.size ** 2 * spectrum.meanSquare);
    });
  }
  return { rate: LOUDNESS_RATE, edges: BAND_EDGES, seconds: samples.length / rate, power };
}
