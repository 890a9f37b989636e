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

/** Says that text is no colour, with the cure; without a full stop, for what may be written besides. */
export const noColour = (text: string): string =>
  `"${text}" is no colour: write six hexadecimal digits such as #c9973f`;

/** `#rrggbb` of a linear colour; components outside 0 to 1 are cut off. */
export function hexOfColour(colour: LinearColour): string {
  const part = (linear: number): string => {
    const code = Math.round(Math.min(1, Math.max(0, encodedFromLinear(Math.max(0, linear)))) * 255);
    return code.toString(16).padStart(2, '0');
  };
  return `#${part(colour[0])}${part(colour[1])}${part(colour[2])}`;
}

/** Cube root with the same bits everywhere; two Newton steps bring a power to the last bits. */
function cubeRoot(x: number): number {
  if (x === 0) return 0;
  const size = Math.abs(x);
  let y = pow(size, 1 / 3);
  y -= (y - size / (y * y)) / 3;
  y -= (y - size / (y * y)) / 3;
  return x < 0 ? -y : y;
}

/**
 * OKLab coordinates (lightness, green-red, blue-yellow) of a linear colour. Source: B. Ottosson, "A perceptual color
 * space for image processing" (2020), matrices as published there in January 2021.
 */
export function oklabFromLinear([r, g, b]: LinearColour): [number, number, number] {
  const l = cubeRoot(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
  const m = cubeRoot(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
  const s = cubeRoot(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
  return [
    0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s,
    1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s,
    0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s,
  ];
}

/** Writes the linear colour of the OKLab coordinates that stand at `at`, cut to 0..1, in their place. */
export function linearFromOklabAt(values: Float64Array, at: number): void {
  const L = values[at]!;
  const A = values[at + 1]!;
  const B = values[at + 2]!;
  const l = L + 0.3963377774 * A + 0.2158037573 * B;
  const m = L - 0.1055613458 * A - 0.0638541728 * B;
  const s = L - 0.0894841775 * A - 1.291485548 * B;
  const l3 = l * l * l;
  const m3 = m * m * m;
  const s3 = s * s * s;
  values[at] = unit(4.0767416621 * l3 - 3.3077115913 * m3 + 0.2309699292 * s3);
  values[at + 1] = unit(-1.2684380046 * l3 + 2.6097574011 * m3 - 0.3413193965 * s3);
  values[at + 2] = unit(-0.0041960863 * l3 - 0.7034186147 * m3 + 1.707614701 * s3);
}

function unit(x: number): number {
  return x < 0 ? 0 : x > 1 ? 1 : x;
}
