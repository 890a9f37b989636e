/** Frame rate as an exact fraction of frames per second, e.g. `{ num: 30000, den: 1001 }`. */
export interface Rate {
  readonly num: number;
  readonly den: number;
}

/** The rates offered in the interface, with their usual labels. */
export const COMMON_RATES: readonly { label: string; rate: Rate }[] = [
  { label: '12', rate: { num: 12, den: 1 } },
  { label: '23.976', rate: { num: 24000, den: 1001 } },
  { label: '24', rate: { num: 24, den: 1 } },
  { label: '25', rate: { num: 25, den: 1 } },
  { label: '29.97', rate: { num: 30000, den: 1001 } },
  { label: '30', rate: { num: 30, den: 1 } },
  { label: '48', rate: { num: 48, den: 1 } },
  { label: '50', rate: { num: 50, den: 1 } },
  { label: '59.94', rate: { num: 60000, den: 1001 } },
  { label: '60', rate: { num: 60, den: 1 } },
];

/** Frames per second as a number. */
export function framesPerSecond(rate: Rate): number {
  return rate.num / rate.den;
}

/** Label counted in timecode: 24 for 23.976, 30 for 29.97, 60 for 59.94. */
export function nominalRate(rate: Rate): number {
  return Math.round(rate.num / rate.den);
}

/** Seconds since `first` at a frame; frames may be fractional. */
export function secondsAt(frame: number, first: number, rate: Rate): number {
  return ((frame - first) * rate.den) / rate.num;
}

/** Frame that lies `seconds` after `first`; may be fractional. */
export function frameAt(seconds: number, first: number, rate: Rate): number {
  return first + (seconds * rate.num) / rate.den;
}

/** Text such as `24` or `29.97`. */
export function rateLabel(rate: Rate): string {
  const known = COMMON_RATES.find((entry) => entry.rate.num === rate.num && entry.rate.den === rate.den);
  return known ? known.label : String(Math.round((rate.num / rate.den) * 1000) / 1000);
}
