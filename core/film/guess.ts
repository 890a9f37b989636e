import { filmFormat, type FilmFormat, type FilmQuality } from './formats';

/** What is known of a film that has been made. */
export interface MadeFilm {
  readonly width: number;
  readonly height: number;
  readonly format: FilmFormat;
  readonly quality: FilmQuality;
  readonly alpha: boolean;
  /** Pictures that each of its frames was built up from. */
  readonly samples: number;
  readonly frames: number;
  /** Frames of it that were drawn for it, and the seconds that it took in all. */
  readonly drawn: number;
  readonly seconds: number;
  /** Bytes of its file. */
  readonly size: number;
}

export type FilmToMake = Pick<
  MadeFilm,
  'width' | 'height' | 'format' | 'quality' | 'alpha' | 'samples' | 'frames'
>;

export interface FilmGuess {
  /** Seconds until it is there, or `null` where nothing tells. */
  readonly seconds: number | null;
  /** Bytes, or `null` where nothing tells. */
  readonly size: number | null;
}

const pixels = ({ width, height }: { width: number; height: number }): number => width * height;

/** What of a frame's time does not grow with its pixels, as so many pixels (measured at the demo's ride). */
const STANDING_PIXELS = 200_000;

const work = (of: FilmToMake): number => (pixels(of) + STANDING_PIXELS) * of.samples;

/**
 * How long a film will take and how large it will be, from films of the same shot: the time by pixels and samples, the
 * size by pixels and frames of the latest film that was written in the same way.
 * @param made the latest first
 */
export function guessFilm(of: FilmToMake, made: readonly MadeFilm[]): FilmGuess {
  const timed = made.find((film) => film.drawn >= 2 && film.seconds > 0);
  const alike = made.find(
    (film) =>
      film.format === of.format &&
      film.size > 0 &&
      film.alpha === of.alpha &&
      (film.quality === of.quality || !filmFormat(of.format).graded),
  );
  return {
    seconds: timed ? (timed.seconds / timed.drawn) * (work(of) / work(timed)) * of.frames : null,
    size: alike ? (alike.size / alike.frames / pixels(alike)) * pixels(of) * of.frames : null,
  };
}
