import type { FilmFormat, FilmQuality } from './formats';

/** A way to make a film, for any shot: all but its frames and its name. */
export interface FilmPreset {
  readonly format: FilmFormat;
  readonly alpha: boolean;
  readonly quality: FilmQuality;
  /** Factor on the size of the shot. */
  readonly scale: number;
  /** Pictures that each frame is built up from; `null`, as many as the shot says. */
  readonly samples: number | null;
  /** With what lens and film do to the picture. */
  readonly effects: boolean;
}

/** Factors on the size of a shot that a preset may have. */
export const PRESET_SCALE = { least: 0.05, most: 8 } as const;

const PLAIN = { alpha: false, quality: 'high', scale: 1, samples: null, effects: true } as const;

/** Presets that every project has. */
export const FILM_PRESETS: readonly (FilmPreset & { readonly name: string })[] = [
  { ...PLAIN, name: 'To show', format: 'mp4' },
  { ...PLAIN, name: 'To send about', format: 'mp4', quality: 'small', scale: 0.5 },
  {
    ...PLAIN,
    name: 'To judge the timing',
    format: 'mp4',
    quality: 'small',
    scale: 0.5,
    samples: 1,
    effects: false,
  },
  { ...PLAIN, name: 'To cut with others', format: 'mov', quality: 'best' },
  { ...PLAIN, name: 'To lay over another film', format: 'mov', alpha: true, quality: 'best' },
  { ...PLAIN, name: 'For a web page, transparent', format: 'webm', alpha: true },
  { ...PLAIN, name: 'Numbered pictures', format: 'png' },
  { ...PLAIN, name: 'Moving picture for a message', format: 'gif', scale: 0.25 },
];
