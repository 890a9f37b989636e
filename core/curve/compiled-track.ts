import { EXTENDS, keyList, MANNERS, type Key, type Track, type Value } from '../document';
import { easingEndSlope, EASING_NAMES, EASINGS } from '../easing';
import { oklabFromLinear } from '../math';
import {
  endSlope,
  fillCurve,
  fillEasing,
  fillLine,
  MANNER_CURVE,
  MANNER_EASING,
  MANNER_HOLD,
  MANNER_LINEAR,
  RANGE_SIZE,
  RECORD_SIZE,
  SOLVE_EASING,
  SOLVE_EASY,
  SOLVE_FOLDED,
  solveOfCurve,
  valueOfRecord,
} from './segment';

/**
 * One component of a track as numbers, with automatic handles worked out: a head, then each key, then the pieces of
 * easings. Component 0 is the number (or red, or OKLab lightness), 1 and 2 are the others of a colour. Being one array,
 * the tracks of a whole shot can stand one after another in memory; functions take the place where a track begins.
 */
export type CompiledTrack = Float64Array;

/** Places in the head. `BEFORE` and `AFTER` are indexes in `EXTENDS`. */
const COUNT = 0;
const BEFORE = 1;
const AFTER = 2;
const START_SLOPE = 3;
const FINISH_SLOPE = 4;
const FIRST_FRAME = 5;
const LAST_FRAME = 6;
/** Where the keys begin: after the head and the frames of all keys, which are looked through side by side. */
const KEYS_AT = 7;
const HEAD_SIZE = 8;
/**
 * Places of a key's numbers. `MANNER` is the index in `MANNERS`. `EXTRA` tells of the stretch after it: for a curve how it
 * is solved, for an easing the place of its piece in the track, or 0.
 */
const FRAME = 0;
const KEY_VALUE = 1;
const MANNER = 2;
const LEFT_REACH = 3;
const LEFT_RISE = 4;
const RIGHT_REACH = 5;
const RIGHT_RISE = 6;
const EXTRA = 7;
const KEY_SIZE = 8;
const PIECE_SIZE = 3;

const MANNER_CODE = new Map(MANNERS.map((manner, i) => [manner, i]));
const HOLD = EXTENDS.indexOf('hold');
const STRAIGHT = EXTENDS.indexOf('straight');
const REPEAT_ADDING = EXTENDS.indexOf('repeat-adding');
const MIRROR = EXTENDS.indexOf('mirror');

/**
 * Slope of an automatic handle: the weighted harmonic mean of the two neighbouring slopes, 0 at peaks and ends,
 * so that the curve never overshoots a key. Source: Fritsch and Butland, "A method for constructing local
 * monotone piecewise cubic interpolants" (1984), after the condition of Fritsch and Carlson (1980).
 */
function autoSlope(dtBefore: number, dvBefore: number, dtAfter: number, dvAfter: number): number {
  if (!(dtBefore > 0) || !(dtAfter > 0) || dvBefore * dvAfter <= 0) return 0;
  const before = dvBefore / dtBefore;
  const after = dvAfter / dtAfter;
  const alpha = (1 + dtAfter / (dtBefore + dtAfter)) / 3;
  return (before * after) / (alpha * after + (1 - alpha) * before);
}

/** Slope through a key from its neighbour before to its neighbour after; at an end along the one stretch. */
function throughSlope(dtBefore: number, dvBefore: number, dtAfter: number, dvAfter: number): number {
  const dt = dtBefore + dtAfter;
  return dt > 0 ? (dvBefore + dvAfter) / dt : 0;
}

function componentOf(value: Value, component: number, oklab: boolean): number {
  if (typeof value === 'number') return value;
  return oklab ? oklabFromLinear(value)[component]! : value[component]!;
}

const CHUNK = 16_384;
let chunk = new Float64Array(0);
let used = 0;

/** Fresh numbers, all 0, out of larger arrays: thousands of small ones would each cost a call to the allocator. */
function roomFor(length: number): Float64Array {
  if (length > CHUNK / 8) return new Float64Array(length);
  if (used + length > chunk.length) {
    chunk = new Float64Array(CHUNK);
    used = 0;
  }
  used += length;
  return chunk.subarray(used - length, used);
}

function riseOf(rise: number | readonly number[], component: number): number {
  return typeof rise === 'number' ? rise : rise[component]!;
}

/** Numbers of one component of a track. */
export function compileTrack(track: Track, component = 0): CompiledTrack {
  return compileKeys(keyList(track), track, component);
}

const compiled = new WeakMap<Track, readonly CompiledTrack[]>();

/** All components of a track, remembered for as long as the track itself is kept; tracks never change in place. */
export function compiledComponents(track: Track, count: 1 | 3): readonly CompiledTrack[] {
  let found = compiled.get(track);
  if (!found) compiled.set(track, (found = compileComponents(track, count)));
  return found;
}

/** As `compiledComponents`, but not remembered: remembering thousands takes longer than working them out. */
export function compileComponents(track: Track, count: 1 | 3): CompiledTrack[] {
  const keys = keyList(track);
  if (count === 1) return [compileKeys(keys, track, 0)];
  return [compileKeys(keys, track, 0), compileKeys(keys, track, 1), compileKeys(keys, track, 2)];
}

function compileKeys(list: readonly Key[], track: Track, component: number): CompiledTrack {
  const count = list.length;
  const oklab = track.blend === 'oklab';
  const pieces = list.reduce((sum, key) => sum + (key.piece ? 1 : 0), 0);
  const keysAt = HEAD_SIZE + count;
  const data = roomFor(keysAt + count * KEY_SIZE + pieces * PIECE_SIZE);
  let piece = keysAt + count * KEY_SIZE;
  for (let i = 0, at = keysAt; i < count; i++, at += KEY_SIZE) {
    const key = list[i]!;
    data[HEAD_SIZE + i] = key.frame;
    data[at + FRAME] = key.frame;
    data[at + KEY_VALUE] = componentOf(key.value, component, oklab);
    data[at + MANNER] = MANNER_CODE.get(key.manner)!;
    if (!key.piece) continue;
    const { from, to, gain } = key.piece;
    data[at + EXTRA] = piece;
    data[piece] = from;
    data[piece + 1] = to;
    data[piece + 2] = typeof gain === 'number' ? gain : gain[component]!;
    piece += PIECE_SIZE;
  }
  for (let i = 0, at = keysAt; i < count; i++, at += KEY_SIZE) {
    const key = list[i]!;
    const before = i > 0 ? at - KEY_SIZE : at;
    const after = i < count - 1 ? at + KEY_SIZE : at;
    const dtBefore = data[at]! - data[before]!;
    const dtAfter = data[after]! - data[at]!;
    let slope = 0;
    if (key.handles !== 'flat' && !(key.left && key.right)) {
      const dvBefore = data[at + KEY_VALUE]! - data[before + KEY_VALUE]!;
      const dvAfter = data[after + KEY_VALUE]! - data[at + KEY_VALUE]!;
      slope = (key.handles === 'smooth' ? throughSlope : autoSlope)(dtBefore, dvBefore, dtAfter, dvAfter);
    }
    data[at + LEFT_REACH] = key.left ? key.left.reach : dtBefore / 3;
    data[at + LEFT_RISE] = key.left ? riseOf(key.left.rise, component) : (-slope * dtBefore) / 3;
    data[at + RIGHT_REACH] = key.right ? key.right.reach : dtAfter / 3;
    data[at + RIGHT_RISE] = key.right ? riseOf(key.right.rise, component) : (slope * dtAfter) / 3;
  }
  for (let i = 0, at = keysAt; i < count - 1; i++, at += KEY_SIZE)
    if (data[at + MANNER] === MANNER_CURVE)
      data[at + EXTRA] = solveOfCurve(data, at, at + RIGHT_REACH, at + KEY_SIZE, at + KEY_SIZE + LEFT_REACH);
  data[COUNT] = count;
  data[KEYS_AT] = keysAt;
  data[FIRST_FRAME] = data[HEAD_SIZE]!;
  data[LAST_FRAME] = data[HEAD_SIZE + count - 1]!;
  data[BEFORE] = EXTENDS.indexOf(track.before);
  data[AFTER] = EXTENDS.indexOf(track.after);
  if (count > 1) {
    data[START_SLOPE] = slopeAtEnd(data, 0, 'start');
    data[FINISH_SLOPE] = slopeAtEnd(data, count - 2, 'finish');
  }
  return data;
}

/** Number of keys of a compiled track. */
export function keyCount(track: CompiledTrack): number {
  return track[COUNT]!;
}

/** Share of an easing over which its slope is measured inside it. */
const EASING_STEP = 1e-6;

/** Slope of an easing where a piece of it begins or ends: share of the way per share of the time. */
function easingSlope(easing: number, from: number, to: number, end: 'start' | 'finish'): number {
  const at = end === 'start' ? from : to;
  // Some equations jump by a little where they are cut to 0 and 1: there the equation itself tells the slope.
  if (at <= 0) return easingEndSlope(EASING_NAMES[easing]!, 'start');
  if (at >= 1) return easingEndSlope(EASING_NAMES[easing]!, 'finish');
  const ease = EASINGS[easing]!;
  const step = Math.min(EASING_STEP, (to - from) / 2);
  return end === 'start' ? (ease(at + step) - ease(at)) / step : (ease(at) - ease(at - step)) / step;
}

/** Slope in value per frame at an end of the stretch that begins with key `i`. */
export function slopeAtEnd(track: CompiledTrack, i: number, end: 'start' | 'finish'): number {
  const at = track[KEYS_AT]! + i * KEY_SIZE;
  const next = at + KEY_SIZE;
  const dt = track[next]! - track[at]!;
  const v0 = track[at + KEY_VALUE]!;
  const v1 = track[next + KEY_VALUE]!;
  const manner = track[at + MANNER]!;
  if (manner === MANNER_HOLD || !(dt > 0)) return 0;
  if (manner === MANNER_LINEAR) return (v1 - v0) / dt;
  if (manner >= MANNER_EASING) {
    const piece = track[at + EXTRA]!;
    const from = piece ? track[piece]! : 0;
    const to = piece ? track[piece + 1]! : 1;
    const gain = piece ? track[piece + 2]! : v1 - v0;
    const ease = EASINGS[manner - MANNER_EASING]!;
    const extra = v1 - v0 - gain * (ease(to) - ease(from));
    const slope = easingSlope(manner - MANNER_EASING, from, to, end);
    // A curve that ends upright has no slope to go on by: it goes on level.
    return slope - slope === 0 ? (gain * slope * (to - from) + extra) / dt : 0;
  }
  return endSlope(
    dt,
    v0,
    v1,
    track[at + RIGHT_REACH]!,
    track[at + RIGHT_RISE]!,
    track[next + LEFT_REACH]!,
    track[next + LEFT_RISE]!,
    end,
  );
}

/** A record, the frames for which it stands, and how it is worked out: arrays with room for many, filled at a number. */
export interface Records {
  readonly records: Float64Array;
  readonly ranges: Float64Array;
  readonly solves: Uint8Array;
}

export function makeRecords(count: number): Records {
  return {
    records: new Float64Array(count * RECORD_SIZE),
    // NaN is in no range: what was never filled is filled when it is first asked for.
    ranges: new Float64Array(count * RANGE_SIZE).fill(NaN),
    solves: new Uint8Array(count),
  };
}

/**
 * Fills record number `index` so that it stands for a frame of the track that begins at `origin` in `data`.
 *
 * A frame on a key belongs to the stretch that begins there; of two keys on one frame the later counts. Outside the
 * keys, held and straight ways on have records without end; repeating ones are marked as folded.
 */
export function fillAt(
  data: Float64Array,
  origin: number,
  frame: number,
  into: Records,
  index: number,
): void {
  const { records, ranges, solves } = into;
  const at = index * RECORD_SIZE;
  const range = index * RANGE_SIZE;
  const start = data[origin + FIRST_FRAME]!;
  const finish = data[origin + LAST_FRAME]!;
  const keysAt = origin + data[origin + KEYS_AT]!;
  if (frame >= start && frame < finish) {
    const key = keysAt + keyBefore(data, origin, frame) * KEY_SIZE;
    ranges[range] = data[key]!;
    ranges[range + 1] = data[key + KEY_SIZE]!;
    solves[index] = fillStretch(data, origin, key, records, at);
    return;
  }
  const outside = frame < start;
  const edge = outside ? keysAt : keysAt + (data[origin + COUNT]! - 1) * KEY_SIZE;
  const manner = data[origin + (outside ? BEFORE : AFTER)]!;
  ranges[range] = outside ? -Infinity : finish;
  ranges[range + 1] = outside ? start : Infinity;
  const held = manner === HOLD || (finish <= start && manner !== STRAIGHT);
  const folds = !held && manner !== STRAIGHT;
  if (folds && !outside) {
    // The last key's own frame is no part of a repeat, so the record stands for this frame alone.
    ranges[range + 1] = finish;
  }
  const onLast = frame === finish && manner !== STRAIGHT;
  solves[index] = folds && !onLast ? SOLVE_FOLDED : SOLVE_EASY;
  const slope = held || folds ? 0 : data[origin + (outside ? START_SLOPE : FINISH_SLOPE)]!;
  fillLine(records, at, data[edge]!, data[edge + KEY_VALUE]!, held || folds ? 0 : 1, slope);
}

function fillStretch(
  data: Float64Array,
  origin: number,
  key: number,
  records: Float64Array,
  at: number,
): number {
  const next = key + KEY_SIZE;
  const manner = data[key + MANNER]!;
  if (manner === MANNER_CURVE) {
    fillCurve(records, at, data, key, key + RIGHT_REACH, next, next + LEFT_REACH);
    return data[key + EXTRA]!;
  }
  const t0 = data[key]!;
  const t1 = data[next]!;
  const v0 = data[key + KEY_VALUE]!;
  const v1 = data[next + KEY_VALUE]!;
  if (manner === MANNER_HOLD || manner === MANNER_LINEAR) {
    const moves = manner === MANNER_LINEAR;
    fillLine(records, at, t0, v0, moves ? 1 / (t1 - t0) : 0, moves ? v1 - v0 : 0);
    return SOLVE_EASY;
  }
  const piece = data[key + EXTRA]! === 0 ? 0 : origin + data[key + EXTRA]!;
  const from = piece ? data[piece]! : 0;
  const to = piece ? data[piece + 1]! : 1;
  const gain = piece ? data[piece + 2]! : v1 - v0;
  fillEasing(records, at, manner - MANNER_EASING, t0, v0, t1, v1, from, to, gain);
  return SOLVE_EASING;
}

/** Number of the last key at or before a frame that is not before the first. Of two keys on one frame the later. */
function keyBefore(data: Float64Array, origin: number, frame: number): number {
  const frames = origin + HEAD_SIZE;
  let low = 0;
  let high = data[origin + COUNT]!;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (data[frames + middle]! <= frame) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}

const scratch = makeRecords(1);

/** Value of a compiled track at any frame; the plain way, used wherever speed does not matter. */
export function sampleTrack(track: CompiledTrack, frame: number): number {
  return sampleAt(track, 0, frame);
}

/** As `sampleTrack`, of the track that begins at `origin` in `data`. */
export function sampleAt(data: Float64Array, origin: number, frame: number): number {
  fillAt(data, origin, frame, scratch, 0);
  const solve = scratch.solves[0]!;
  return solve === SOLVE_FOLDED
    ? foldedValue(data, origin, frame)
    : valueOfRecord(scratch.records, 0, solve, frame);
}

/** Value of a repeating or mirrored track outside its keys: that of the frame inside which it repeats. */
export function foldedValue(data: Float64Array, origin: number, frame: number): number {
  const firstKey = origin + data[origin + KEYS_AT]!;
  const lastKey = firstKey + (data[origin + COUNT]! - 1) * KEY_SIZE;
  const start = data[firstKey]!;
  const finish = data[lastKey]!;
  const manner = data[origin + (frame < start ? BEFORE : AFTER)]!;
  const period = finish - start;
  const cycles = Math.floor((frame - start) / period);
  const gone = frame - start - cycles * period;
  const backwards = manner === MIRROR && cycles % 2 !== 0;
  // Rounding must not lead outside the keys again, or past the last one of a cycle.
  const inside = backwards
    ? Math.max(start, Math.min(finish, finish - gone))
    : Math.max(start, Math.min(finish, start + gone));
  const add =
    manner === REPEAT_ADDING ? cycles * (data[lastKey + KEY_VALUE]! - data[firstKey + KEY_VALUE]!) : 0;
  if (inside >= finish) return data[lastKey + KEY_VALUE]! + add;
  const key = firstKey + keyBefore(data, origin, inside) * KEY_SIZE;
  const solve = fillStretch(data, origin, key, folded, 0);
  return valueOfRecord(folded, 0, solve, inside) + add;
}

const folded = new Float64Array(RECORD_SIZE);

/** One key of a compiled track, with its handles as they are worked out. */
export interface CompiledKey {
  readonly frame: number;
  readonly value: number;
  readonly leftReach: number;
  readonly leftRise: number;
  readonly rightReach: number;
  readonly rightRise: number;
}

/** Key number `i` of a compiled track. */
export function compiledKey(track: CompiledTrack, i: number): CompiledKey {
  const at = track[KEYS_AT]! + i * KEY_SIZE;
  return {
    frame: track[at + FRAME]!,
    value: track[at + KEY_VALUE]!,
    leftReach: track[at + LEFT_REACH]!,
    leftRise: track[at + LEFT_RISE]!,
    rightReach: track[at + RIGHT_REACH]!,
    rightRise: track[at + RIGHT_RISE]!,
  };
}
