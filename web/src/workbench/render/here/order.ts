import {
  filmFormat,
  filmTrouble,
  nearestSide,
  type FilmFormat,
  type FilmQuality,
} from '../../../../../core/film';
import type { Setup, Shot } from '../../../../../core/document';
import type { LoudnessTables } from '../../../../../core/evaluate';

/** Codecs by which a browser can write a format, the best first; none for formats that only machines write. */
const CODECS = {
  mp4: ['avc'],
  av1: ['av1'],
  webm: ['vp9', 'vp8'],
} as const satisfies Partial<Record<FilmFormat, readonly string[]>>;

export type FormatHere = keyof typeof CODECS;
export type VideoCodecHere = (typeof CODECS)[FormatHere][number];

export const codecsOf = (format: FormatHere): readonly VideoCodecHere[] => CODECS[format];

const isHere = (format: FilmFormat): format is FormatHere => format in CODECS;

/** What a film that is drawn in this browser is to be. */
export interface FilmHereOf {
  readonly first: number;
  readonly last: number;
  readonly width: number;
  readonly height: number;
  readonly format: FormatHere;
  readonly quality: FilmQuality;
  /** `null`, as many as the shot says. */
  readonly samples: number | null;
  readonly effects: boolean;
  /** Each picture says which frame it is. */
  readonly numbers: boolean;
}

/** All that the worker needs. */
export interface FilmOrder {
  readonly of: FilmHereOf;
  readonly shot: Shot;
  readonly loudness: LoudnessTables;
  /** The shots that are shown in it. */
  readonly inner: readonly { readonly id: string; readonly shot: Shot; readonly loudness: LoudnessTables }[];
  /** Of the numbers in its pictures, and of what they stand on. */
  readonly colours: { readonly plate: string; readonly ink: string };
  /** What is heard, left and right, or `null`. */
  readonly sound: { readonly sides: readonly [Float32Array, Float32Array]; readonly rate: number } | null;
}

/** How far the worker has come. */
export type FilmAnswer =
  | { readonly drawn: number }
  | {
      readonly film: ArrayBuffer;
      readonly type: string;
      readonly ending: string;
      readonly soundless: string | null;
    }
  | { readonly failed: string };

/** Why a film cannot be drawn in this browser, or `null`. @param can whether the browser can encode video at all */
export function hereRefusal(
  of: { readonly format: FilmFormat; readonly alpha: boolean },
  can = typeof VideoEncoder !== 'undefined' && typeof OffscreenCanvas !== 'undefined',
): string | null {
  const names = (Object.keys(CODECS) as FormatHere[]).map((format) => filmFormat(format).name);
  if (!can)
    return 'This browser cannot encode video: it lacks WebCodecs. Newer ones have it; the render machines do without.';
  if (!isHere(of.format))
    return `${filmFormat(of.format).name} is written by the render machines only; a browser writes ${names.slice(0, -1).join(', ')} and ${names.at(-1)!}.`;
  if (of.alpha) return 'Browsers cannot encode transparency: the render machines can.';
  return null;
}

/** Pixels of the longer side of a small film at most. */
const SMALL_SIDE = 480;

/** The film for judging the timing: a quarter of the size, one sample, numbers in its pictures. */
export function smallFilm(setup: Setup, range: { readonly from: number; readonly to: number }): FilmHereOf {
  const scale = Math.min(0.25, SMALL_SIDE / Math.max(setup.width, setup.height));
  const side = (pixels: number): number => nearestSide(pixels * scale, 'mp4');
  return {
    first: range.from,
    last: range.to,
    width: side(setup.width),
    height: side(setup.height),
    format: 'mp4',
    quality: 'best',
    samples: 1,
    effects: false,
    numbers: true,
  };
}

/** Why what is asked for is no film, as everywhere. */
export const orderTrouble = (of: FilmHereOf): string | null =>
  filmTrouble({ ...of, alpha: false, fileName: null })?.message ?? null;

/** Bits of a pixel of H.264: for "high" as many as the render machines' films of the demo have. */
const BITS: Record<FilmQuality, number> = { best: 0.55, high: 0.28, small: 0.1 };
/** What the other codecs need of that. */
const NEWER = 0.7;
/** Bits a second that a film has at least: small pictures are harder to pack. */
const LEAST_BITS = 300_000;

/** Bits a second for a film. @param rate pictures a second */
export function bitRate(
  of: Pick<FilmHereOf, 'width' | 'height' | 'quality' | 'format'>,
  rate: number,
): number {
  const bits = BITS[of.quality] * (of.format === 'mp4' ? 1 : NEWER);
  return Math.round(LEAST_BITS + of.width * of.height * rate * bits);
}
