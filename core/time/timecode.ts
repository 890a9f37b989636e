import { nominalRate, rateLabel, type Rate } from './rate';

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

/** What a typed time was understood as, or why it was not. */
export type TypedTime =
  | {
      readonly ok: true;
      readonly frame: number;
      readonly read: 'frame' | 'offset' | 'seconds' | 'timecode' | 'seconds-frames';
      /** What was read, in words, where the text could have meant something else. */
      readonly said?: string;
    }
  | { readonly ok: false; readonly message: string };

const FORMS = 'Write a frame (48), a step (+12), seconds (2s) or a timecode (00:00:02:00).';

/**
 * Reads what somebody types for a moment: `48` or `48f` a frame, `+12` / `-12` frames from the current one, `+2s` seconds
 * from it, `2s` seconds since the first frame, `00:00:02:00` a timecode since the first frame. `1:12` could be minutes and
 * seconds as well as seconds and frames: it is read as the latter, and `said` tells so.
 */
export function parseTypedTime(
  text: string,
  context: { rate: Rate; first: number; current: number },
): TypedTime {
  const { rate, first, current } = context;
  const trimmed = text.trim();
  const refuse = (why: string): TypedTime => ({ ok: false, message: `${why} ${FORMS}` });
  const perSecond = rate.num / rate.den;
  const step = /^([+-]\d+(?:\.\d+)?)\s*f?$/.exec(trimmed);
  if (step) return { ok: true, frame: current + Number(step[1]), read: 'offset' };
  const frame = /^(\d+(?:\.\d+)?)\s*f?$/.exec(trimmed);
  if (frame) return { ok: true, frame: Number(frame[1]), read: 'frame' };
  const seconds = /^([+-]?)(\d+(?:\.\d+)?)\s*s$/.exec(trimmed);
  if (seconds) {
    const frames = Number(seconds[2]) * perSecond;
    if (seconds[1] === '') return { ok: true, frame: first + frames, read: 'seconds' };
    return { ok: true, frame: current + (seconds[1] === '-' ? -frames : frames), read: 'offset' };
  }
  const pair = /^(\d{1,5}):(\d{1,3})$/.exec(trimmed);
  if (pair) {
    const [whole, rest] = [Number(pair[1]), Number(pair[2])];
    const nominal = nominalRate(rate);
    if (rest >= nominal)
      return refuse(
        `"${trimmed}" was read as seconds and frames, but a second has frames 0 to ${nominal - 1}.`,
      );
    const at = first + whole * nominal + rest;
    return {
      ok: true,
      frame: at,
      read: 'seconds-frames',
      said: `${trimmed} was read as ${whole} ${whole === 1 ? 'second' : 'seconds'} and ${rest} ${rest === 1 ? 'frame' : 'frames'}: frame ${at}.`,
    };
  }
  if (/^\d{1,2}:\d{2}:\d{2}[:;]\d{2}$/.test(trimmed)) {
    const count = framesOfTimecode(trimmed, rate);
    if (count !== null) return { ok: true, frame: first + count, read: 'timecode' };
    return refuse(
      `${trimmed} is no timecode at ${rateLabel(rate)} frames per second: frames run from 00 to ${nominalRate(rate) - 1}${dropsFrames(rate) ? ', and drop-frame leaves out the first ones of most minutes' : ''}.`,
    );
  }
  return refuse(trimmed === '' ? 'No time is given.' : `"${trimmed.slice(0, 40)}" is no time.`);
}
