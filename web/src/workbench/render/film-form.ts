import {
  filmFormat,
  filmTrouble,
  type FilmFormat,
  type FilmQuality,
  type FilmRequest,
} from '../../../../core/film';
import type { Shot } from '../../../../core/document';

/** What is filled in before a render: numbers as they are typed. */
export interface FilmForm {
  readonly first: string;
  readonly last: string;
  readonly width: string;
  readonly height: string;
  readonly format: FilmFormat;
  readonly alpha: boolean;
  readonly quality: FilmQuality;
  readonly name: string;
}

/** The whole shot at its own size, under its own name. */
export function formOf(setup: Shot['setup'], name: string): FilmForm {
  return {
    first: String(setup.first),
    last: String(setup.last),
    width: String(setup.width),
    height: String(setup.height),
    format: 'mp4',
    alpha: false,
    quality: 'high',
    name,
  };
}

/** A number as it is typed; nothing typed is none. */
const typed = (text: string): number => (text.trim() === '' ? NaN : Number(text));

/** What is asked for; transparency counts only where the format has it. */
export function requestOf(form: FilmForm): FilmRequest & { readonly quality: FilmQuality } {
  return {
    first: typed(form.first),
    last: typed(form.last),
    width: typed(form.width),
    height: typed(form.height),
    format: form.format,
    alpha: form.alpha && filmFormat(form.format).alpha,
    quality: form.quality,
    fileName: form.name.trim(),
  };
}

/** Why the render cannot start, or `null`. */
export function refusalOf(form: FilmForm, setup: Shot['setup']): string | null {
  return (
    filmTrouble(requestOf(form))?.message ??
    (setup.camera === null ? 'The shot has no camera: add one first.' : null)
  );
}
