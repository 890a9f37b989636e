const HEAD = 44;

/**
 * A WAV file (RIFF WAVE, "Multimedia Programming Interface and Data Specifications 1.0", 1991) of two channels with
 * 16 bits; what is beyond -1 to 1 is cut.
 * @param rate samples per second
 */
export function wavOf(
  [left, right]: readonly [Float32Array, Float32Array],
  rate: number,
): Uint8Array<ArrayBuffer> {
  const bytes = new Uint8Array(HEAD + left.length * 4);
  const view = new DataView(bytes.buffer);
  const word = (text: string, at: number): void => {
    for (let i = 0; i < 4; i++) bytes[at + i] = text.charCodeAt(i);
  };
  word('RIFF', 0);
  view.setUint32(4, bytes.length - 8, true);
  word('WAVE', 8);
  word('fmt ', 12);
  view.setUint32(16, 16, true);
  view.setUint16(20, 1, true);
  view.setUint16(22, 2, true);
  view.setUint32(24, rate, true);
  view.setUint32(28, rate * 4, true);
  view.setUint16(32, 4, true);
  view.setUint16(34, 16, true);
  word('data', 36);
  view.setUint32(40, left.length * 4, true);
  const fit = (value: number): number => Math.round(Math.max(-1, Math.min(1, value)) * 32_767);
  for (let i = 0; i < left.length; i++) {
    view.setInt16(HEAD + i * 4, fit(left[i]!), true);
    view.setInt16(HEAD + i * 4 + 2, fit(right[i]!), true);
  }
  return bytes;
}
