declare module 'fft.js' {
  /** Fast Fourier transform of one size, a power of 2. */
  export default class FFT {
    constructor(size: number);
    readonly size: number;
    /** Real and imaginary numbers in turn. */
    createComplexArray(): number[];
    /** Writes the first half of the spectrum of real numbers. */
    realTransform(out: number[] | Float64Array, data: ArrayLike<number>): void;
  }
}
