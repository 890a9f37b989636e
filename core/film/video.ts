import { framesPerSecond, type Rate } from '../time';

/** What is shown of a video past its last picture: that one, all of it again, or back and forth. */
export const VIDEO_AFTER = ['hold', 'loop', 'back'] as const;
export type VideoAfter = (typeof VIDEO_AFTER)[number];

/** How a video plays in a shot. */
export interface Playing {
  /** Pictures per second of the file. */
  readonly rate: Rate;
  /** Frame of the shot at which it begins to play; before it, its first picture is shown. */
  readonly start: number;
  /** 1 plays as it was taken, a negative one backwards, 0 stands still. */
  readonly speed: number;
  /** The pictures that are shown, counted from 0: `[from, to)`. */
  readonly from: number;
  readonly to: number;
  readonly after: VideoAfter;
}

/** Half a thousandth of a picture: what a whole number may be off after multiplying. */
const ROUNDING = 5e-4;

/** The picture that follows `n` pictures after the first one shown, where `count` are shown. */
function wrapped(n: number, count: number, after: VideoAfter): number {
  if (count === 1) return 0;
  if (after === 'loop') return ((n % count) + count) % count;
  if (after === 'hold') return Math.min(count - 1, Math.max(0, n));
  const round = 2 * (count - 1);
  const at = ((n % round) + round) % round;
  return at < count ? at : round - at;
}

/**
 * The picture of a video that is shown at a frame: the last one that has begun by then.
 * @param frame of the shot, also between two
 * @param rate of the shot
 * @param shift pictures that it is further on, in the direction in which it plays
 * @returns its number in the file, `[video.from, video.to)`
 */
export function videoPicture(video: Playing, frame: number, rate: Rate, shift = 0): number {
  const { start, speed, from, to, after } = video;
  const run = Math.max(0, frame - start) * Math.abs(speed);
  const advance = (run * video.rate.num * rate.den) / (video.rate.den * rate.num);
  const n = wrapped(Math.floor(advance + shift + ROUNDING), to - from, after);
  return speed < 0 ? to - 1 - n : from + n;
}

/** Frames of the shot that a video takes to play once; endless at speed 0. */
export function videoLength(video: Playing, rate: Rate): number {
  const seconds = (video.to - video.from) / framesPerSecond(video.rate) / Math.abs(video.speed);
  return seconds * framesPerSecond(rate);
}
