import { sortedKeys, type Extend, type Manner, type Track } from '../document';
import {
  endSlope,
  fillRecord,
  MANNER_CURVE,
  MANNER_HOLD,
  MANNER_LINEAR,
  RECORD_SIZE,
  valueOfRecord,
} from './segment';

const MANNER_CODE: Record<Manner, number> = { hold: MANNER_HOLD, linear: MANNER_LINEAR, curve: MANNER_CURVE };

/**
 * Keys of one component of a track as columns, with automatic handles worked out. Component 0 is the number (or
 * red), 1 and 2 are green and blue.
 */
export interface CompiledTrack {
  readonly count: number;
  readonly frames: Float64Array;
  readonly values: Float64Array;
  readonly manners: Uint8Array;
  readonly leftReach: Float64Array;
  readonly leftRise: Float64Array;
  readonly rightReach: Float64Array;
  readonly rightRise: Float64Array;
  readonly before: Extend;
  readonly after: Extend;
  readonly startSlope: number;
  readonly finishSlope: number;
}

/**
 * Slope of an automatic handle: the weighted harmonic mean of the two neighbouring slopes, 0 at peaks and ends,
 * so that the curve never overshoots a key. Source: Fritsch and Butland, "A method for constructing local
 * monotone piecewise cubic interpolants" (1984).
 */
function autoSlope(dtBefore: number, dvBefore: number, dtAfter: number, dvAfter: number): number {
  if (!(dtBefore > 0) || !(dtAfter > 0) || dvBefore * dvAfter <= 0) return 0;
  const before = dvBefore / dtBefore;
  const after = dvAfter / dtAfter;
  const alpha = (1 + dtAfter / (dtBefore + dtAfter)) / 3;
  return (before * after) / (alpha * after + (1 - alpha) * before);
}

/** Columns of one component of a track. */
export function compileTrack(track: Track, component = 0): CompiledTrack {
  const keys = sortedKeys(track);
  const count = keys.length;
  const column = (): Float64Array => new Float64Array(count);
  const out = {
    count,
    frames: column(),
    values: column(),
    manners: new Uint8Array(count),
    leftReach: column(),
    leftRise: column(),
    rightReach: column(),
    rightRise: column(),
  };
  keys.forEach(({ key }, i) => {
    out.frames[i] = key.frame;
    out.values[i] = typeof key.value === 'number' ? key.value : key.value[component]!;
    out.manners[i] = MANNER_CODE[key.manner];
  });
  keys.forEach(({ key }, i) => {
    const dtBefore = i > 0 ? out.frames[i]! - out.frames[i - 1]! : 0;
    const dtAfter = i < count - 1 ? out.frames[i + 1]! - out.frames[i]! : 0;
    const dvBefore = i > 0 ? out.values[i]! - out.values[i - 1]! : 0;
    const dvAfter = i < count - 1 ? out.values[i + 1]! - out.values[i]! : 0;
    const slope = autoSlope(dtBefore, dvBefore, dtAfter, dvAfter);
    out.leftReach[i] = key.left ? key.left.reach : dtBefore / 3;
    out.leftRise[i] = key.left ? key.left.rise : (-slope * dtBefore) / 3;
    out.rightReach[i] = key.right ? key.right.reach : dtAfter / 3;
    out.rightRise[i] = key.right ? key.right.rise : (slope * dtAfter) / 3;
  });
  const slopeOf = (i: number, end: 'start' | 'finish'): number =>
    endSlope(
      out.manners[i]!,
      out.frames[i + 1]! - out.frames[i]!,
      out.values[i]!,
      out.values[i + 1]!,
      out.rightReach[i]!,
      out.rightRise[i]!,
      out.leftReach[i + 1]!,
      out.leftRise[i + 1]!,
      end,
    );
  return {
    ...out,
    before: track.before,
    after: track.after,
    startSlope: count > 1 ? slopeOf(0, 'start') : 0,
    finishSlope: count > 1 ? slopeOf(count - 2, 'finish') : 0,
  };
}

/** Fills the record of the stretch that starts at key `index`; past the last key it holds that key's value. */
export function fillStretch(track: CompiledTrack, index: number, record: Float64Array, at: number): void {
  const i = index;
  if (i >= track.count - 1) {
    const last = track.count - 1;
    fillRecord(
      record,
      at,
      MANNER_HOLD,
      track.frames[last]!,
      track.values[last]!,
      0,
      0,
      Infinity,
      track.values[last]!,
      0,
      0,
    );
    return;
  }
  fillRecord(
    record,
    at,
    track.manners[i]!,
    track.frames[i]!,
    track.values[i]!,
    track.rightReach[i]!,
    track.rightRise[i]!,
    track.frames[i + 1]!,
    track.values[i + 1]!,
    track.leftReach[i + 1]!,
    track.leftRise[i + 1]!,
  );
}

/** Index of the last key at or before `frame`; -1 before the first. Of two keys on one frame the later counts. */
export function stretchIndex(track: CompiledTrack, frame: number): number {
  let low = 0;
  let high = track.count;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (track.frames[middle]! <= frame) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}

/** A frame outside the keys, brought inside by the before/after manner, and what is added to the value there. */
export interface Folded {
  frame: number;
  add: number;
}

/** Writes into `out` where inside the keys the value at `frame` is found. Inside the keys it is `frame` itself. */
export function foldFrame(track: CompiledTrack, frame: number, out: Folded): void {
  const last = track.count - 1;
  const start = track.frames[0]!;
  const finish = track.frames[last]!;
  out.frame = frame;
  out.add = 0;
  if (frame >= start && frame <= finish) return;
  const manner = frame < start ? track.before : track.after;
  const edge = frame < start ? start : finish;
  const period = finish - start;
  if (manner === 'hold' || (period <= 0 && manner !== 'straight')) {
    out.frame = edge;
  } else if (manner === 'straight') {
    out.frame = edge;
    out.add = (frame - edge) * (frame < start ? track.startSlope : track.finishSlope);
  } else {
    const cycles = Math.floor((frame - start) / period);
    const inside = frame - start - cycles * period;
    if (manner === 'mirror') out.frame = cycles % 2 === 0 ? start + inside : finish - inside;
    else out.frame = start + inside;
    if (manner === 'repeat-adding') out.add = cycles * (track.values[last]! - track.values[0]!);
  }
}

const scratch = new Float64Array(RECORD_SIZE);
const folded: Folded = { frame: 0, add: 0 };

/** Value of a compiled track at any frame; the plain way, used wherever speed does not matter. */
export function sampleTrack(track: CompiledTrack, frame: number): number {
  foldFrame(track, frame, folded);
  fillStretch(track, Math.max(0, stretchIndex(track, folded.frame)), scratch, 0);
  return valueOfRecord(scratch, 0, folded.frame) + folded.add;
}
