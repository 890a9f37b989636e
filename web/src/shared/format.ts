import type { ChannelSpec, Shot, Value } from '../../../core/document';
import { METRES_PER_UNIT } from '../../../core/formula';
import { hexOfColour } from '../../../core/math';
import { framesPerSecond, rateLabel, type Rate } from '../../../core/time';

type Unit = Shot['setup']['unit'];

const MINUS = '−';

/** A number with at most `digits` decimals, a true minus sign, no -0. */
export function formatNumber(value: number, digits: number): string {
  const text = value.toFixed(digits);
  const clean = Number(text) === 0 ? text.replace('-', '') : text;
  return clean.replace('-', MINUS);
}

/** A channel's number as its field shows it: in the shot's unit, degrees with a sign. */
export function formatValue(spec: ChannelSpec, value: number, unit: Unit): string {
  switch (spec.quantity) {
    case 'length':
      return formatNumber(value / METRES_PER_UNIT[unit], { m: 3, cm: 1, mm: 0, px: 1 }[unit]).replace(
        /(\.\d{2})0$/,
        '$1',
      );
    case 'angle':
      return `${formatNumber(value, 2).replace(/\.?0+$/, '')}°`;
    default:
      return spec.whole || spec.kind === 'switch' ? String(value) : formatNumber(value, 2);
  }
}

/** Text to begin editing with: every digit that matters, plain minus sign, so that leaving it alone changes nothing. */
export function editableValue(spec: ChannelSpec, value: number, unit: Unit): string {
  const shown = spec.quantity === 'length' ? value / METRES_PER_UNIT[unit] : value;
  return String(Number(shown.toPrecision(12)));
}

/** Value with its unit, for tips and the formula bar. */
export function describeValue(spec: ChannelSpec, value: Value, unit: Unit): string {
  if (typeof value !== 'number') return hexOfColour(value);
  if (spec.kind === 'switch') return value ? 'on' : 'off';
  const suffix = spec.quantity === 'length' ? ` ${unit}` : spec.unit ? ` ${spec.unit}` : '';
  return `${formatValue(spec, value, unit)}${suffix}`;
}

/** "96 frames, 4 s" */
export function formatLength(frames: number, rate: Rate): string {
  const seconds = Math.round((frames / framesPerSecond(rate)) * 100) / 100;
  return `${frames} ${frames === 1 ? 'frame' : 'frames'} at ${rateLabel(rate)}: ${seconds} s`;
}

const MINUTE = 60;
const HOUR = 3600;
const DAY = 86400;

/** "just now", "5 minutes ago", else the date. */
export function formatAgo(iso: string, now = Date.now()): string {
  const seconds = (now - Date.parse(iso)) / 1000;
  if (seconds < MINUTE) return 'just now';
  const plural = (count: number, word: string): string => `${count} ${word}${count === 1 ? '' : 's'} ago`;
  if (seconds < HOUR) return plural(Math.floor(seconds / MINUTE), 'minute');
  if (seconds < DAY) return plural(Math.floor(seconds / HOUR), 'hour');
  return new Date(iso).toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' });
}

export function formatBytes(bytes: number): string {
  if (bytes >= 1e9) return `${(bytes / 1e9).toFixed(1)} GB`;
  return bytes < 1e6 ? `${Math.max(1, Math.round(bytes / 1000))} kB` : `${(bytes / 1e6).toFixed(1)} MB`;
}
