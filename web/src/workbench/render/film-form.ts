import {
  filmFormat,
  filmTrouble,
  nearestSide,
  PRESET_SCALE,
  type FilmFormat,
  type FilmPreset,
  type FilmQuality,
  type FilmRequest,
} from '../../../../core/film';
import type { Shot } from '../../../../core/document';
import { hereRefusal, type FilmHereOf } from './here/order';

type Samples = NonNullable<Shot['setup']['samples']>;

/** What is filled in before a render: numbers as they are typed. */
export interface FilmForm {
  readonly first: string;
  readonly last: string;
  readonly width: string;
  readonly height: string;
  readonly format: FilmFormat;
  readonly alpha: boolean;
  readonly quality: FilmQuality;
  /** Pictures that each frame is built up from; `null`, as many as the shot says. */
  readonly samples: Samples | null;
  /** With what lens and film do to the picture. */
  readonly effects: boolean;
  /** Drawn in this browser, not by render machines. */
  readonly here: boolean;
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
    samples: null,
    effects: true,
    here: false,
    name,
  };
}

/** A number as it is typed; nothing typed is none. */
const typed = (text: string): number => (text.trim() === '' ? NaN : Number(text));

/** What is asked of this browser. Call it only where nothing refuses it. */
export function hereOf(form: FilmForm): FilmHereOf {
  const { first, last, width, height, format, quality, samples, effects } = requestOf(form);
  return {
    ...{ first, last, width, height, quality, samples, effects },
    format: format as FilmHereOf['format'],
    numbers: false,
  };
}

/** What is asked for; transparency counts only where the format has it. */
export function requestOf(form: FilmForm): FilmRequest & Pick<FilmForm, 'quality' | 'samples' | 'effects'> {
  return {
    first: typed(form.first),
    last: typed(form.last),
    width: typed(form.width),
    height: typed(form.height),
    format: form.format,
    alpha: form.alpha && filmFormat(form.format).alpha,
    quality: form.quality,
    samples: form.samples,
    effects: form.effects,
    fileName: form.name.trim(),
  };
}

/** Why the render cannot start, or `null`. */
export function refusalOf(form: FilmForm, setup: Shot['setup']): string | null {
  return (
    filmTrouble(requestOf(form))?.message ??
    (form.here ? hereRefusal(requestOf(form)) : null) ??
    (setup.camera === null ? 'The shot has no camera: add one first.' : null)
  );
}

/**
 * A form for another format: a picture is of the frame where the playhead is, and a film after it is of the whole shot
 * again. Sides that the format cannot have become the nearest that it can.
 */
export function inFormat(
  form: FilmForm,
  format: FilmFormat,
  setup: Shot['setup'],
  frame: number,
): Partial<FilmForm> {
  const facts = filmFormat(format);
  const here = String(Math.min(setup.last, Math.max(setup.first, Math.round(frame))));
  const range = facts.still
    ? { first: here, last: here }
    : filmFormat(form.format).still
      ? { first: String(setup.first), last: String(setup.last) }
      : {};
  const side = (text: string): string => {
    const pixels = typed(text);
    const odd = facts.evenSize && Number.isInteger(pixels) && pixels % 2 !== 0;
    return odd ? String(nearestSide(pixels, format)) : text;
  };
  return { format, ...range, width: side(form.width), height: side(form.height) };
}

/** A form as a preset says, for a shot. */
export function withPreset(form: FilmForm, preset: FilmPreset, setup: Shot['setup']): Partial<FilmForm> {
  const { format, alpha, quality, scale, samples, effects } = preset;
  const side = (pixels: number): string => String(nearestSide(pixels * scale, format));
  return {
    ...inFormat(form, format, setup, typed(form.first)),
    alpha,
    quality,
    samples: samples as Samples | null,
    effects,
    width: side(setup.width),
    height: side(setup.height),
  };
}

/** What of a form is kept as a preset. */
export function presetOf(form: FilmForm, setup: Shot['setup']): FilmPreset & { samples: Samples | null } {
  const { format, quality, samples, effects } = form;
  const { alpha, width } = requestOf(form);
  const scale = Math.min(PRESET_SCALE.most, Math.max(PRESET_SCALE.least, width / setup.width));
  return { format, alpha, quality, scale: Number.isFinite(scale) ? scale : 1, samples, effects };
}
