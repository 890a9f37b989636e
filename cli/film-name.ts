import { FILM_FORMATS, FILM_QUALITIES, filmFormat, type FilmFormat, type FilmQuality } from '../core/film';

/** What a name of a file asks for: a film of a format, or the sound alone. */
export interface Named {
  readonly format: FilmFormat | 'wav';
  readonly quality: FilmQuality;
}

const NUMBERED = /%0?\d*d/;

function formatOfName(out: string): FilmFormat | 'wav' | null {
  const ending = /\.([^./]+)$/.exec(out)?.[1]?.toLowerCase();
  if (ending === 'wav') return 'wav';
  if (ending === 'png') return NUMBERED.test(out) ? 'png' : 'still';
  if (ending === 'jpeg') return 'jpeg';
  // Numbered pictures come as files here, not in a zip.
  const of = FILM_FORMATS.filter((format) => filmFormat(format).ending !== 'zip');
  return of.find((format) => filmFormat(format).ending === ending) ?? null;
}

/**
 * What is asked for by the name of a file, and by `--format` where an ending has several.
 * @returns a sentence where it cannot be told
 */
export function namedFilm(out: string, format: string | undefined, quality: string): Named | string {
  const grade = FILM_QUALITIES.find((one) => one === quality);
  if (!grade) return `--quality: "${quality}" is none of ${FILM_QUALITIES.join(', ')}.`;
  const found = formatOfName(out);
  if (!found)
    return 'Name the film: --out film.mp4, film.webm, film.mov, film.gif, film.webp, frames/%04d.png, picture.png or picture.jpg, or sound.wav for its sound alone';
  if (format === undefined) return { format: found, quality: grade };
  const wanted = FILM_FORMATS.find((one) => one === format);
  if (!wanted) return `--format: "${format}" is none of ${FILM_FORMATS.join(', ')}.`;
  const same =
    wanted === found || (found !== 'wav' && filmFormat(wanted).ending === filmFormat(found).ending);
  if (!same)
    return `--format: ${filmFormat(wanted).name} is written to a file that ends with .${filmFormat(wanted).ending}, not to ${out}.`;
  return { format: wanted, quality: grade };
}
