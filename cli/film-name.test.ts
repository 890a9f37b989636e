import { describe, expect, it } from 'vitest';
import { namedFilm } from './film-name';

describe('the name of a film', () => {
  it.each([
    ['film.mp4', 'mp4'],
    ['a.b/FILM.MP4', 'mp4'],
    ['film.webm', 'webm'],
    ['film.mov', 'mov'],
    ['film.gif', 'gif'],
    ['film.webp', 'webp'],
    ['frames/%04d.png', 'png'],
    ['one.png', 'still'],
    ['one.jpg', 'jpeg'],
    ['one.jpeg', 'jpeg'],
    ['sound.wav', 'wav'],
  ])('%s asks for %s', (out, format) => {
    expect(namedFilm(out, undefined, 'high')).toEqual({ format, quality: 'high' });
  });
  it('takes another format of the same ending, and none of another', () => {
    expect(namedFilm('film.mp4', 'av1', 'small')).toEqual({ format: 'av1', quality: 'small' });
    expect(namedFilm('film.mp4', 'gif', 'high')).toContain('ends with .gif, not to film.mp4');
    expect(namedFilm('film.wav', 'mp4', 'high')).toContain('ends with .mp4');
  });
  it('says what there is where it knows no such name, format or quality', () => {
    for (const out of ['', 'film', 'film.avi', 'film.zip'])
      expect(namedFilm(out, undefined, 'high')).toContain('--out film.mp4');
    expect(namedFilm('film.mp4', 'avi', 'high')).toContain('"avi" is none of mp4, av1, webm');
    expect(namedFilm('film.mp4', undefined, 'fine')).toContain('"fine" is none of best, high, small');
  });
});
