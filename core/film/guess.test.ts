import { describe, expect, it } from 'vitest';
import { FILM_PRESETS, filmFormat, filmTrouble, guessFilm, nearestSide, type MadeFilm } from '.';

const made: MadeFilm = {
  width: 1280,
  height: 720,
  format: 'mp4',
  quality: 'high',
  alpha: false,
  samples: 1,
  frames: 96,
  drawn: 96,
  seconds: 48,
  size: 4_800_000,
};

describe('a guess at a film', () => {
  it('is what the same film took, and grows with frames, pixels and samples', () => {
    expect(guessFilm(made, [made])).toEqual({ seconds: 48, size: 4_800_000 });
    expect(guessFilm({ ...made, frames: 48 }, [made])).toEqual({ seconds: 24, size: 2_400_000 });
    expect(guessFilm({ ...made, samples: 16 }, [made]).seconds).toBeCloseTo(16 * 48);
    const large = guessFilm({ ...made, width: 2560, height: 1440 }, [made]);
    expect(large.size).toBe(4 * 4_800_000);
    expect(large.seconds! / 48).toBeGreaterThan(3);
    expect(large.seconds! / 48).toBeLessThan(4);
  });
  it('takes the size from a film written in the same way, and says nothing where nothing tells', () => {
    const other: MadeFilm = { ...made, format: 'webm', size: 9_600_000, seconds: 200 };
    expect(guessFilm({ ...made, format: 'webm' }, [made, other])).toEqual({ seconds: 48, size: 9_600_000 });
    expect(guessFilm({ ...made, quality: 'small' }, [made]).size).toBeNull();
    expect(guessFilm(made, [])).toEqual({ seconds: null, size: null });
    // All of it was taken over: that tells nothing of drawing.
    expect(guessFilm(made, [{ ...made, drawn: 0, seconds: 1 }]).seconds).toBeNull();
  });
});

it('every preset makes a film that can be made', () => {
  for (const preset of FILM_PRESETS) {
    const { format, scale } = preset;
    const side = (pixels: number): number => nearestSide(pixels * scale, format);
    const request = { first: 1, last: 96, width: side(1280), height: side(720), fileName: null };
    expect(filmTrouble({ ...request, format, alpha: preset.alpha }), preset.name).toBeNull();
    expect(filmFormat(format).still, preset.name).toBe(false);
  }
  expect(new Set(FILM_PRESETS.map((preset) => preset.name)).size).toBe(FILM_PRESETS.length);
});
