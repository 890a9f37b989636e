/** Samples in a bucket of the finest level. */
export const PEAK_SAMPLES = 256;
/** Buckets that become one of the next level. */
const STEP = 4;
/** A level with fewer buckets has none above it. */
const LEAST = 64;
const SCALE = 127;

/** Numbers of buckets of the levels of a pyramid, finest first. */
function levelSizes(samples: number): number[] {
  const sizes = [Math.ceil(samples / PEAK_SAMPLES)];
  while (sizes.at(-1)! > LEAST) sizes.push(Math.ceil(sizes.at(-1)! / STEP));
  return sizes;
}

/**
 * Least and largest sample of each stretch of a sound, at every fineness: pairs of numbers from -127 to 127, finest level
 * first, each following one four times as coarse.
 */
export function peakPyramid(samples: Float32Array): Int8Array<ArrayBuffer> {
  const sizes = levelSizes(samples.length);
  const out = new Int8Array(2 * sizes.reduce((sum, size) => sum + size, 0));
  const fit = (value: number): number => Math.round(Math.max(-1, Math.min(1, value)) * SCALE);
  for (let i = 0; i < sizes[0]!; i++) {
    let [low, high] = [Infinity, -Infinity];
    const end = Math.min(samples.length, (i + 1) * PEAK_SAMPLES);
    for (let k = i * PEAK_SAMPLES; k < end; k++) {
      const value = samples[k]!;
      if (value < low) low = value;
      if (value > high) high = value;
    }
    out[2 * i] = fit(low);
    out[2 * i + 1] = fit(high);
  }
  let from = 0;
  for (let level = 1; level < sizes.length; level++) {
    const [finer, size] = [sizes[level - 1]!, sizes[level]!];
    const to = from + finer;
    for (let i = 0; i < size; i++) {
      let [low, high] = [SCALE, -SCALE];
      for (let k = i * STEP; k < Math.min(finer, (i + 1) * STEP); k++) {
        low = Math.min(low, out[2 * (from + k)]!);
        high = Math.max(high, out[2 * (from + k) + 1]!);
      }
      out[2 * (to + i)] = low;
      out[2 * (to + i) + 1] = high;
    }
    from = to;
  }
  return out;
}

/**
 * Least and largest sample of columns of a picture, -1 to 1 in turn, read from the level that is fine enough.
 * @param samples number of samples that the pyramid was made of
 * @param from sample at the left edge of the first column; those outside the sound are silent
 * @param perColumn samples in a column, above 0
 */
export function peakColumns(
  pyramid: Int8Array,
  samples: number,
  from: number,
  perColumn: number,
  columns: number,
): Float32Array {
  const sizes = levelSizes(samples);
  let level = 0;
  while (level + 1 < sizes.length && PEAK_SAMPLES * STEP ** (level + 1) <= perColumn) level++;
  const start = sizes.slice(0, level).reduce((sum, size) => sum + size, 0);
  const per = PEAK_SAMPLES * STEP ** level;
  const out = new Float32Array(2 * columns);
  for (let x = 0; x < columns; x++) {
    const [a, b] = [from + x * perColumn, from + (x + 1) * perColumn];
    if (b <= 0 || a >= samples) continue;
    let [low, high] = [SCALE, -SCALE];
    const last = Math.min(sizes[level]! - 1, Math.max(Math.floor(a / per), Math.ceil(b / per) - 1));
    for (let k = Math.max(0, Math.floor(a / per)); k <= last; k++) {
      low = Math.min(low, pyramid[2 * (start + k)]!);
      high = Math.max(high, pyramid[2 * (start + k) + 1]!);
    }
    out[2 * x] = low / SCALE;
    out[2 * x + 1] = high / SCALE;
  }
  return out;
}
