import { channelAt, storedValue, type Shot, type Sound } from '../document';
import { Evaluator, pieceOf, type Plan, type SoundPiece } from '../evaluate';
import { framesPerSecond } from '../time';

/** A file that has been read: its channels, -1 to 1, all at one rate. */
export interface Heard {
  readonly channels: readonly Float32Array[];
  /** Samples per second. */
  readonly rate: number;
}

/** Seconds of a file that a sound plays, once. */
export function secondsPlayed({ from, length }: SoundPiece, fileSeconds: number): number {
  return Math.max(0, Math.min(length ?? Infinity, fileSeconds - from));
}

/**
 * Share by which fades let a sound be heard, so many seconds after its start: equal power, the sine of a quarter turn.
 * @param ends seconds after its start at which it ends
 */
export function fadeAt({ fadeIn = 0, fadeOut = 0 }: Sound, seconds: number, ends: number): number {
  const rise = fadeIn > 0 ? Math.min(1, Math.max(0, seconds / fadeIn)) : 1;
  const fall = fadeOut > 0 ? Math.min(1, Math.max(0, (ends - seconds) / fadeOut)) : 1;
  return Math.sin((rise * Math.PI) / 2) * Math.sin((fall * Math.PI) / 2);
}

/** Seconds after its start at which a sound ends in a shot: a loop with the shot's last frame. */
export function endOf(shot: Shot, sound: Sound, fileSeconds: number): number {
  const plays = secondsPlayed(pieceOf(sound), fileSeconds);
  if (!sound.loop) return plays;
  return Math.max(0, (shot.setup.last + 1 - sound.start) / framesPerSecond(shot.setup.rate));
}

/** Level of a sound as it is stored. */
function levelOf(shot: Shot, id: string): number {
  const stored = storedValue(shot, channelAt(shot, `${id}/level`)!);
  return typeof stored === 'number' ? stored : 1;
}

/** Levels of all sounds at whole frames of a range, one row of numbers for each. */
export function levelsOver(plan: Plan, first: number, last: number): Readonly<Record<string, Float64Array>> {
  const ids = Object.keys(plan.shot.sounds);
  const rows = Object.fromEntries(ids.map((id) => [id, new Float64Array(last - first + 2)]));
  const stands = (id: string): boolean => {
    const { tracks, links } = plan.shot.sounds[id]!;
    return !tracks.level && !links.level && !plan.layers.some((layer) => layer.address === `${id}/level`);
  };
  if (ids.every(stands)) {
    for (const id of ids) rows[id]!.fill(levelOf(plan.shot, id));
    return rows;
  }
  const evaluator = new Evaluator(plan);
  for (let frame = first; frame <= last + 1; frame++) {
    evaluator.evaluate(frame);
    for (const id of ids) rows[id]![frame - first] = evaluator.number(`${id}/level`);
  }
  return rows;
}

/** A value between those of whole frames. */
export function between(row: Float64Array, at: number): number {
  const low = Math.max(0, Math.min(row.length - 1, Math.floor(at)));
  const high = Math.min(row.length - 1, low + 1);
  return row[low]! + (row[high]! - row[low]!) * Math.max(0, Math.min(1, at - low));
}

/**
 * What is heard of a shot from one frame to another, in two channels: each sound from its start on, with its piece, level,
 * fades and loop; a file of one channel is heard in both.
 * @param files by the sounds' ids, all at `rate` samples per second; sounds without one are silent
 */
export function mix(
  plan: Plan,
  files: Readonly<Record<string, Heard>>,
  first: number,
  last: number,
  rate: number,
): [Float32Array<ArrayBuffer>, Float32Array<ArrayBuffer>] {
  const { shot } = plan;
  const fps = framesPerSecond(shot.setup.rate);
  const count = Math.round(((last - first + 1) / fps) * rate);
  const out: [Float32Array<ArrayBuffer>, Float32Array<ArrayBuffer>] = [
    new Float32Array(count),
    new Float32Array(count),
  ];
  const levels = levelsOver(plan, first, last);
  for (const [id, sound] of Object.entries(shot.sounds)) {
    const file = files[id];
    if (!file || sound.muted || file.channels.length === 0) continue;
    const piece = pieceOf(sound);
    const fileSeconds = file.channels[0]!.length / file.rate;
    const plays = secondsPlayed(piece, fileSeconds);
    const ends = endOf(shot, sound, fileSeconds);
    if (!(plays > 0)) continue;
    const starts = ((sound.start - first) / fps) * rate;
    const to = Math.min(count, Math.ceil(starts + ends * rate));
    for (let i = Math.max(0, Math.ceil(starts)); i < to; i++) {
      const seconds = (i - starts) / rate;
      const gain = between(levels[id]!, (i / rate) * fps) * fadeAt(sound, seconds, ends);
      if (gain === 0) continue;
      const within = piece.loop ? seconds % plays : seconds;
      const at = (piece.from + within) * rate;
      const low = Math.floor(at);
      const share = at - low;
      for (const side of [0, 1] as const) {
        const samples = file.channels[Math.min(side, file.channels.length - 1)]!;
        const value = samples[low] ?? 0;
        out[side][i]! += gain * (share === 0 ? value : value + ((samples[low + 1] ?? 0) - value) * share);
      }
    }
  }
  return out;
}
