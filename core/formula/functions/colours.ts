import { linearFromEncoded } from '../../math';
import { PLAIN } from '../dimension';
import { define, floorMod, type FunctionSpec } from './spec';

/** What makes a colour of numbers. Every one is worked out component by component. */
export const COLOUR_FUNCTIONS: readonly FunctionSpec[] = [
  define(
    'colour',
    'red green blue',
    ['bare', 'bare', 'bare'],
    PLAIN,
    () => NaN,
    'A colour of three shares of light, 0 to 1 each. It stands where a colour is wanted, as #e8a33d does.',
    'colour(1, 0.2, 0)',
    { special: 'colour' },
  ),
  define(
    'hsl',
    'hue saturation lightness',
    ['angle', 'bare', 'bare'],
    PLAIN,
    () => NaN,
    'A colour by its hue (0 red, 120deg green, 240deg blue), its saturation and its lightness, 0 to 1 each.',
    'hsl(30deg, 0.8, 0.5)',
    { special: 'colour' },
  ),
];

const clamped = (x: number): number => Math.min(1, Math.max(0, x));
/** Twelfths of a turn by which red, green and blue are ahead. */
const AHEAD = [0, 8, 4];

/**
 * One component (0 red, 1 green, 2 blue) in linear light of a hue in degrees, a saturation and a lightness. Source: CSS
 * Color Module Level 4, section 7.1, hslToRgb; decoded after IEC 61966-2-1.
 */
export function componentOfHsl(
  hue: number,
  saturation: number,
  lightness: number,
  component: number,
): number {
  const s = clamped(saturation);
  const l = clamped(lightness);
  const k = floorMod(hue / 30 + AHEAD[component]!, 12);
  const encoded = l - s * Math.min(l, 1 - l) * Math.max(-1, Math.min(k - 3, 9 - k, 1));
  return linearFromEncoded(clamped(encoded));
}

/** As the function `hsl`, with the component that is asked for as a fourth number. */
export const HSL_COMPONENT: FunctionSpec = define(
  'hsl',
  'hue saturation lightness component',
  ['angle', 'bare', 'bare', 'bare'],
  PLAIN,
  componentOfHsl,
  '',
  '',
);
