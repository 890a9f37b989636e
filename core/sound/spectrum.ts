import FFT from 'fft.js';

export type WindowShape = 'hann' | 'hamming';

/** A periodic window of `size` numbers (Harris 1978). */
export function windowOf(shape: WindowShape, size: number): Float64Array {
  const [a, b] = shape === 'hann' ? [0.5, 0.5] : [0.54, 0.46];
  return Float64Array.from({ length: size }, (_, i) => a - b * Math.cos((2 * Math.PI * i) / size));
}

/** Short-time spectra of one size: what lies before the beginning and behind the end of a sound is silence. */
export class Spectrum {
  private readonly fft: FFT;
  private readonly window: Float64Array;
  private readonly windowed: Float64Array;
  private readonly complex: Float64Array;
  /** Squared magnitudes from 0 Hz to half the sample rate; filled anew by `at`. */
  readonly power: Float64Array;
  /** Mean of the squared window: what squares of magnitudes are divided by to give mean squares. */
  readonly meanSquare: number;

  /** @param size a power of 2 */
  constructor(
    readonly size: number,
    shape: WindowShape,
  ) {
    this.fft = new FFT(size);
    this.window = windowOf(shape, size);
    this.windowed = new Float64Array(size);
    this.complex = new Float64Array(size * 2);
    this.power = new Float64Array(size / 2 + 1);
    this.meanSquare = this.window.reduce((sum, w) => sum + w * w, 0) / size;
  }

  /** Works out the spectrum of `size` samples from one on. */
  at(samples: Float32Array, from: number): Float64Array {
    const { size, window, windowed, complex, power } = this;
    for (let i = 0; i < size; i++) windowed[i] = (samples[from + i] ?? 0) * window[i]!;
    this.fft.realTransform(complex, windowed);
    for (let k = 0; k < power.length; k++) {
      const [re, im] = [complex[2 * k]!, complex[2 * k + 1]!];
      power[k] = re * re + im * im;
    }
    return power;
  }
}

/** The power of 2 next to a number of samples. */
export const sizeFor = (samples: number): number => 2 ** Math.round(Math.log2(samples));
