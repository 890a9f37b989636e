import { pow } from './portable';

/** Red, green, blue in linear light, each usually 0 to 1. */
export type LinearColour = readonly [number, number, number];

/** One sRGB-encoded component (0 to 1) in linear light. IEC 61966-2-1. */
export function linearFromEncoded(encoded: number): number {
  return encoded <= 0.04045 ? encoded / 12.92 : pow((encoded + 0.055) / 1.055, 2.4);
}

/** One linear component (0 to 1) encoded for sRGB. IEC 61966-2-1. */
export function encodedFromLinear(linear: number): number {
  return linear <= 0.0031308 ? linear * 12.92 : 1.055 * pow(linear, 1 / 2.4) - 0.055;
}

/** Linear colour of `#rrggbb`; `null` for other text. */
export function colourFromHex(hex: string): [number, number, number] | null {
  const match = /^#?([0-9a-f]{2})([0-9a-f]{2})([0-9a-f]{2})$/i.exec(hex.trim());
  if (!match) return null;
  const part = (text: string | undefined): number => linearFromEncoded(parseInt(text ?? '0', 16) / 255);
  return [part(match[1]), part(match[2]), part(match[3])];
}

/** `#rrggbb` of a linear colour; components outside 0 to 1 are cut off. */
export function hexOfColour(colour: LinearColour): string {
  const part = (linear: number): string => {
    const code = Math.round(Math.min(1, Math.max(0, encodedFromLinear(Math.max(0, linear)))) * 255);
    return code.toString(16).padStart(2, '0');
  };
  return `#${part(colour[0])}${part(colour[1])}${part(colour[2])}`;
}
