/** Everything that there is to know of a format of films. */
export interface FilmFormatFacts {
  readonly name: string;
  /** What it is good for, in a few words. */
  readonly words: string;
  readonly alpha: boolean;
  /** Its encoder halves the colours: width and height have to be even. */
  readonly evenSize: boolean;
  /** Pixels that its encoder asks for at least, where that is more than every film has. */
  readonly leastSide?: number;
  /** How finely it is written can be chosen. */
  readonly graded: boolean;
  /** Sound is heard with it. */
  readonly sound: boolean;
  /** One frame alone. */
  readonly still: boolean;
  /** Its pictures have 16 bits a colour, not 8. */
  readonly deep: boolean;
  readonly seen: FilmSeen;
  /** Ending of the file that is downloaded. */
  readonly ending: string;
  readonly type: string;
}

/** How a film is seen once it is made: it plays, it is shown as a picture, or it is a heap of files. */
export type FilmSeen = 'plays' | 'picture' | 'files';

const PLAYS = {
  alpha: false,
  evenSize: true,
  graded: true,
  sound: true,
  still: false,
  deep: false,
  seen: 'plays',
} as const;
const SHOWN = {
  alpha: true,
  evenSize: false,
  graded: false,
  sound: false,
  still: false,
  deep: false,
  seen: 'picture',
} as const;

const FORMATS = {
  mp4: { ...PLAYS, name: 'MP4', words: 'H.264, plays everywhere', ending: 'mp4', type: 'video/mp4' },
  av1: {
    ...PLAYS,
    name: 'AV1',
    words: 'MP4, half as large',
    leastSide: 64,
    ending: 'mp4',
    type: 'video/mp4',
  },
  webm: {
    ...PLAYS,
    name: 'WebM',
    words: 'VP9, can be transparent',
    alpha: true,
    ending: 'webm',
    type: 'video/webm',
  },
  mov: {
    ...PLAYS,
    name: 'ProRes',
    words: 'MOV 4444, for cutting, can be transparent',
    alpha: true,
    evenSize: false,
    graded: false,
    seen: 'files',
    ending: 'mov',
    type: 'video/quicktime',
  },
  gif: { ...SHOWN, name: 'GIF', words: '256 colours, repeats', ending: 'gif', type: 'image/gif' },
  webp: {
    ...SHOWN,
    name: 'WebP',
    words: 'moving picture, repeats',
    graded: true,
    ending: 'webp',
    type: 'image/webp',
  },
  png: {
    ...SHOWN,
    name: 'PNG frames',
    words: 'numbered pictures in a zip',
    seen: 'files',
    ending: 'zip',
    type: 'application/zip',
  },
  png16: {
    ...SHOWN,
    name: 'PNG frames, 16 bit',
    words: 'for grading, in a zip',
    seen: 'files',
    deep: true,
    ending: 'zip',
    type: 'application/zip',
  },
  still: { ...SHOWN, name: 'PNG picture', words: 'one frame', still: true, ending: 'png', type: 'image/png' },
  jpeg: {
    ...SHOWN,
    name: 'JPEG picture',
    words: 'one frame, smaller',
    alpha: false,
    graded: true,
    still: true,
    ending: 'jpg',
    type: 'image/jpeg',
  },
} as const satisfies Record<string, FilmFormatFacts>;

export type FilmFormat = keyof typeof FORMATS;

export const FILM_FORMATS = Object.keys(FORMATS) as [FilmFormat, ...FilmFormat[]];

export function filmFormat(format: FilmFormat): FilmFormatFacts {
  return FORMATS[format];
}

/** Names of the formats that can be transparent, for a sentence: "WebM, ProRes or GIF". */
export function transparentFormats(): string {
  const names = FILM_FORMATS.filter((format) => filmFormat(format).alpha).map(
    (format) => filmFormat(format).name,
  );
  return `${names.slice(0, -1).join(', ')} or ${names.at(-1)!}`;
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
