import { nominalRate, type Rate } from './rate';

/**
 * Timecode labels after SMPTE ST 12-1. Drop-frame is defined for 30000/1001 and 60000/1001 only: the first
 * 2 (29.97) or 4 (59.94) labels of every minute are skipped except in minutes divisible by ten.
 */
export function dropsFrames(rate: Rate): boolean {
  return rate.den === 1001 && (rate.num === 30000 || rate.num === 60000);
}

function droppedPerMinute(rate: Rate): number {
  return rate.num === 60000 ? 4 : 2;
}

/**
 * Label of the frame `count` frames after 00:00:00:00.
 * @param count whole number of frames, negative gives a leading minus sign
 * @param drop use drop-frame labels (`;` before the frames); ignored where the standard defines none
 * @returns `hh:mm:ss:ff`, or `hh:mm:ss;ff` in drop-frame
 */
export function timecodeOf(count: number, rate: Rate, drop = dropsFrames(rate)): string {
  const sign = count < 0 ? '-' : '';
  let label = Math.abs(Math.floor(count));
  const nominal = nominalRate(rate);
  const useDrop = drop && dropsFrames(rate);
  if (useDrop) {
    const skipped = droppedPerMinute(rate);
    const perMinute = nominal * 60 - skipped;
    const perTen = nominal * 600 - skipped * 9;
    const tens = Math.floor(label / perTen);
    const rest = label % perTen;
    const minutes = rest < nominal * 60 ? 0 : 1 + Math.floor((rest - nominal * 60) / perMinute);
    label += skipped * (tens * 9 + minutes);
  }
  const two = (value: number): string => String(value).padStart(2, '0');
  const frames = label % nominal;
  const seconds = Math.floor(label / nominal);
  const separator = useDrop ? ';' : ':';
  return `${sign}${two(Math.floor(seconds / 3600))}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}${separator}${two(frames)}`;
}

/**
 * Frames since 00:00:00:00 of a label, or `null` for text that is no label of this rate. Labels that
 * drop-frame skips (00:01:00;00) are refused when `drop` holds.
 */
export function framesOfTimecode(text: string, rate: Rate, drop = dropsFrames(rate)): number | null {
  const match = /^(\d{1,2}):([0-5]\d):([0-5]\d)([:;])(\d{2})$/.exec(text.trim());
  if (!match) return null;
  const nominal = nominalRate(rate);
  const minutes = Number(match[1]) * 60 + Number(match[2]);
  const seconds = Number(match[3]);
  const frames = Number(match[5]);
  if (frames >= nominal) return null;
  let count = (minutes * 60 + seconds) * nominal + frames;
  if (drop && dropsFrames(rate)) {
    const skipped = droppedPerMinute(rate);
    if (seconds === 0 && frames < skipped && minutes % 10 !== 0) return null;
    count -= skipped * (minutes - Math.floor(minutes / 10));
  }
  return count;
}

/** What a typed time was understood as. */
export interface TypedTime {
  readonly frame: number;
  readonly read: 'frame' | 'offset' | 'seconds' | 'timecode';
}

/**
 * Reads what somebody types for a moment: `48` a frame, `+12` / `-12` frames from the current one, `2s`
 * seconds since the first frame, `00:00:02:00` a timecode since the first frame.
 * @returns `null` when the text is none of these (`1:12` is refused: it could be minutes or seconds)
 */
export function parseTypedTime(
  text: string,
  context: { rate: Rate; first: number; current: number },
): TypedTime | null {
  const trimmed = text.trim();
  if (/^[+-]\d+(\.\d+)?$/.test(trimmed)) return { frame: context.current + Number(trimmed), read: 'offset' };
  if (/^\d+(\.\d+)?$/.test(trimmed)) return { frame: Number(trimmed), read: 'frame' };
  const seconds = /^([+-]?\d+(?:\.\d+)?)\s*s$/.exec(trimmed);
  if (seconds) {
    const frame = context.first + (Number(seconds[1]) * context.rate.num) / context.rate.den;
    return { frame, read: 'seconds' };
  }
  const count = framesOfTimecode(trimmed, context.rate);
  return count === null ? null : { frame: context.first + count, read: 'timecode' };
}
