import { filmFormat, transparentFormats, type FilmFormat, type FilmFormatFacts } from './formats';

/** Pixels of a film's side, the least and the most. */
export const FILM_SIDE = { least: 16, most: 8192 } as const;
/** Pixels of one picture: what a picture of 7680 by 4320 has, so that drawing it takes no more memory than that. */
export const FILM_PIXELS = 7680 * 4320;
/** Frames of one render. */
export const FILM_FRAMES = 20_000;
/** Characters of the name of a film's file, without its ending. */
export const FILM_NAME = 120;
/** Signs that some system does not take in the name of a file. */
export const NOT_IN_FILE_NAMES = '\\ / : * ? " < > |';
const WRONG_IN_NAME = /[\\/:*?"<>|\p{Cc}]/u;

/** What a film is asked to be. */
export interface FilmRequest {
  /** Frames, both included. */
  readonly first: number;
  readonly last: number;
  /** Pixels. */
  readonly width: number;
  readonly height: number;
  readonly format: FilmFormat;
  /** Leave the background out and keep the transparency. */
  readonly alpha: boolean;
  /** Name of the file without its ending; `null` for the shot's name. */
  readonly fileName: string | null;
}

/** Why a film cannot be made: the field at fault and a sentence that names its value, what is allowed and the cure. */
export interface FilmTrouble {
  readonly field: keyof FilmRequest;
  readonly message: string;
}

function leastSide(format: FilmFormat): number {
  const facts: FilmFormatFacts = filmFormat(format);
  return Math.max(FILM_SIDE.least, facts.leastSide ?? 0);
}

/** The nearest size that a film of a format can have. */
export function nearestSide(pixels: number, format: FilmFormat): number {
  const kept = Math.max(leastSide(format), Math.min(FILM_SIDE.most, pixels));
  return filmFormat(format).evenSize ? Math.round(kept / 2) * 2 : Math.round(kept);
}

/** The first thing wrong with what is asked, or `null`. Page, server and command line all ask here. */
export function filmTrouble(request: FilmRequest): FilmTrouble | null {
  for (const field of ['first', 'last', 'width', 'height'] as const)
    if (!Number.isInteger(request[field])) return { field, message: 'Frames and pixels are whole numbers.' };
  const { first, last, width, height, format, alpha, fileName } = request;
  const count = last - first + 1;
  if (count < 1) return { field: 'last', message: `The last frame, ${last}, is before the first, ${first}.` };
  if (count > FILM_FRAMES)
    return {
      field: 'last',
      message: `${count} frames are too many for one render: at most ${FILM_FRAMES}.`,
    };
  if (filmFormat(format).still && count > 1)
    return {
      field: 'last',
      message: `A ${filmFormat(format).name} is one frame, ${first} to ${last} are ${count}: set both to the one that you want, or choose PNG frames.`,
    };
  for (const field of ['width', 'height'] as const)
    if (request[field] < leastSide(format) || request[field] > FILM_SIDE.most)
      return {
        field,
        message: `${leastSide(format) > FILM_SIDE.least ? `${filmFormat(format).name} films` : 'Pictures'} are ${leastSide(format)} to ${FILM_SIDE.most} pixels wide and high: ${width}×${height} is not.`,
      };
  if (width * height > FILM_PIXELS)
    return {
      field: 'height',
      message: `A picture of ${width}×${height} has too many pixels: at most ${FILM_PIXELS} are allowed, as 7680×4320 has.`,
    };
  const facts = filmFormat(format);
  if (facts.evenSize && (width % 2 !== 0 || height % 2 !== 0))
    return {
      field: width % 2 !== 0 ? 'width' : 'height',
      message: `Films need an even width and height: ${nearestSide(width, format)}×${nearestSide(height, format)} would do.`,
    };
  if (alpha && !facts.alpha)
    return { field: 'alpha', message: `${facts.name} has no transparency: choose ${transparentFormats()}.` };
  if (fileName !== null) {
    const name = fileName.trim();
    if (name === '' || name.length > FILM_NAME || WRONG_IN_NAME.test(name))
      return {
        field: 'fileName',
        message: `A file name must have 1 to ${FILM_NAME} characters and none of ${NOT_IN_FILE_NAMES}`,
      };
  }
  return null;
}

/** A name as the file of a film can have it, with the ending of its format. */
export function filmFileName(name: string, format: FilmFormat): string {
  return `${name}.${filmFormat(format).ending}`.replace(/[\p{Cc}/\\:*?"<>|]/gu, '_');
}
