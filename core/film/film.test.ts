import { describe, expect, it } from 'vitest';
import {
  FILM_FORMATS,
  FILM_FRAMES,
  FILM_NAME,
  FILM_QUALITIES,
  FILM_SIDE,
  filmFileName,
  filmFormat,
  filmQuality,
  filmTrouble,
  nearestSide,
  type FilmRequest,
} from './index';

const sound: FilmRequest = {
  first: 1,
  last: 96,
  width: 1280,
  height: 720,
  format: 'mp4',
  alpha: false,
  fileName: 'Ferris wheel',
};

describe('what a film can be', () => {
  it('takes what is sound, also at every limit', () => {
    for (const more of [
      {},
      { first: 5, last: 5 },
      { last: FILM_FRAMES },
      { first: -40, last: -1 },
      { width: FILM_SIDE.least, height: FILM_SIDE.most },
      { width: 4096, height: 4096 },
      { width: 8192, height: 2048 },
      { fileName: null },
      { fileName: 'x'.repeat(FILM_NAME) },
      { format: 'webm', alpha: true },
      { format: 'png', alpha: true, width: 641, height: 361 },
    ] as const)
      expect(filmTrouble({ ...sound, ...more }), JSON.stringify(more)).toBeNull();
  });
  it.each([
    [{ first: 2.5 }, 'first', 'whole numbers'],
    [{ last: NaN }, 'last', 'whole numbers'],
    [{ last: 0 }, 'last', 'The last frame, 0, is before the first, 1.'],
    [{ last: FILM_FRAMES + 1 }, 'last', `at most ${FILM_FRAMES}`],
    [{ width: 15 }, 'width', '15×720'],
    [{ height: 8194 }, 'height', '16 to 8192'],
    [{ width: 7682, height: 4320 }, 'height', 'too many pixels'],
    [{ width: 8192, height: 8192 }, 'height', '7680×4320'],
    [{ height: 721 }, 'height', '1280×722 would do'],
    [{ alpha: true }, 'alpha', 'MP4 has no transparency'],
    [{ fileName: '  ' }, 'fileName', '1 to 120'],
    [{ fileName: 'a/b' }, 'fileName', 'none of'],
    [{ fileName: 'x'.repeat(FILM_NAME + 1) }, 'fileName', '1 to 120'],
    [{ fileName: 'bell\u0007' }, 'fileName', 'none of'],
  ] as const)('refuses %o at %s, saying "%s"', (more, field, words) => {
    const trouble = filmTrouble({ ...sound, ...more });
    expect(trouble?.field).toBe(field);
    expect(trouble?.message).toContain(words);
  });
  it('offers a size that it would take', () => {
    for (const format of FILM_FORMATS)
      for (const pixels of [1, 16, 17, 719.4, 50_000]) {
        const side = nearestSide(pixels, format);
        const height = nearestSide(16, format);
        expect(filmTrouble({ ...sound, last: sound.first, format, width: side, height })).toBeNull();
      }
  });
  it('names a file so that every system takes it', () => {
    expect(filmFileName('Ring: 1/2 "fair"', 'png')).toBe('Ring_ 1_2 _fair_.zip');
  });
  it('knows each format and quality whole', () => {
    for (const format of FILM_FORMATS)
      expect(filmFormat(format).type).toMatch(/^(video|application|image)\//);
    for (const quality of FILM_QUALITIES) expect(filmQuality(quality).words).toContain('for ');
  });
});
