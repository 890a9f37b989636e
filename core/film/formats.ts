/** Everything that there is to know of a format of films. */
export interface FilmFormatFacts {
  readonly name: string;
  /** What it is good for, in a few words. */
  readonly words: string;
  readonly alpha: boolean;
  /** Its encoder halves the colours: width and height have to be even. */
  readonly evenSize: boolean;
  /** How finely it is written can be chosen. */
  readonly graded: boolean;
  /** Ending of the file that is downloaded. */
  readonly ending: string;
  readonly type: string;
}

const FORMATS = {
  mp4: {
    name: 'MP4',
    words: 'H.264, plays everywhere',
    alpha: false,
    evenSize: true,
    graded: true,
    ending: 'mp4',
    type: 'video/mp4',
  },
  webm: {
    name: 'WebM',
    words: 'VP9, can be transparent',
    alpha: true,
    evenSize: true,
    graded: true,
    ending: 'webm',
    type: 'video/webm',
  },
  png: {
    name: 'PNG frames',
    words: 'numbered pictures in a zip',
    alpha: true,
    evenSize: false,
    graded: false,
    ending: 'zip',
    type: 'application/zip',
  },
} as const satisfies Record<string, FilmFormatFacts>;

export type FilmFormat = keyof typeof FORMATS;

export const FILM_FORMATS = Object.keys(FORMATS) as [FilmFormat, ...FilmFormat[]];

export function filmFormat(format: FilmFormat): FilmFormatFacts {
  return FORMATS[format];
}

const QUALITIES = {
  best: { name: 'Best', words: 'for cutting on' },
  high: { name: 'High', words: 'for showing' },
  small: { name: 'Small', words: 'for sending about' },
} as const;

/** How finely a film is written: best is not told from its pictures by eye, small is for sending about. */
export type FilmQuality = keyof typeof QUALITIES;

export const FILM_QUALITIES = Object.keys(QUALITIES) as [FilmQuality, ...FilmQuality[]];

export function filmQuality(quality: FilmQuality): { readonly name: string; readonly words: string } {
  return QUALITIES[quality];
}
