import { afterEach, describe, expect, it, vi } from 'vitest';
import { FILM_FORMATS, filmTrouble } from '../../../../../core/film';
import { emptyShot } from '../../../../../core/testing/random-shot';
import { FilmHere, type FilmPort, type HereState } from './film-here';
import { innerIds } from './inner-ids';
import { bitRate, codecsOf, hereRefusal, orderTrouble, smallFilm, type FilmOrder } from './order';

describe('what a browser can draw', () => {
  it('is told with the reason where it cannot', () => {
    const refused = FILM_FORMATS.filter((format) => hereRefusal({ format, alpha: false }, true) !== null);
    expect(refused).toEqual(['mov', 'gif', 'webp', 'png', 'png16', 'still', 'jpeg']);
    expect(hereRefusal({ format: 'gif', alpha: false }, true)).toBe(
      'GIF is written by the render machines only; a browser writes MP4, AV1 and WebM.',
    );
    expect(hereRefusal({ format: 'webm', alpha: true }, true)).toContain('transparency');
    expect(hereRefusal({ format: 'mp4', alpha: false }, false)).toContain('WebCodecs');
    expect(codecsOf('webm')).toEqual(['vp9', 'vp8']);
  });
  it('a small film is a quarter of the shot, even, never large, and says which frame it is', () => {
    const { setup } = emptyShot();
    const of = smallFilm({ ...setup, width: 1281, height: 719 }, { from: 5, to: 9 });
    expect(of).toMatchObject({ first: 5, last: 9, width: 320, height: 180, numbers: true, samples: 1 });
    const large = smallFilm({ ...setup, width: 7680, height: 4320 }, { from: 1, to: 2 });
    expect([large.width, large.height]).toEqual([480, 270]);
    for (const side of [64, 65, 200, 1000, 8192]) {
      const each = smallFilm({ ...setup, width: side, height: side }, { from: 1, to: 2 });
      expect(filmTrouble({ ...each, alpha: false, fileName: null }), String(side)).toBeNull();
    }
    expect(orderTrouble({ ...of, last: 1 })).toContain('before the first');
  });
  it('has more bits for more pixels, pictures and quality', () => {
    const of = { width: 1280, height: 720, quality: 'high', format: 'mp4' } as const;
    // 100 frames of 1280x720 in 3 MB, as libx264 writes the demo: 0.26 bits a pixel.
    expect(bitRate(of, 24) / (1280 * 720 * 24)).toBeCloseTo(0.29, 1);
    expect(bitRate({ ...of, quality: 'best' }, 24)).toBeGreaterThan(bitRate(of, 24) * 1.5);
    expect(bitRate({ ...of, format: 'webm' }, 24)).toBeLessThan(bitRate(of, 24));
    expect(bitRate({ ...of, width: 64, height: 36 }, 24)).toBeGreaterThan(300_000);
  });
  it('takes shots in shots along, once each, also where they are in a circle', () => {
    const shows = (...ids: string[]) => ({
      ...emptyShot(),
      parts: Object.fromEntries(ids.map((id) => [`prt_${id}`, { inset: { shot: id } }])),
    });
    const shots: Record<string, unknown> = { a: shows('b', 'c'), b: shows('c'), c: shows('a') };
    const found = innerIds(shows('a', 'gone') as never, (id) => (shots[id] ?? null) as never);
    expect(found.sort()).toEqual(['a', 'b', 'c', 'gone']);
  });
});

describe('a film that is drawn in this browser', () => {
  const order = (sound: FilmOrder['sound'] = null): FilmOrder => ({
    of: smallFilm(emptyShot().setup, { from: 1, to: 10 }),
    shot: emptyShot(),
    loudness: {},
    inner: [],
    colours: { plate: 'black', ink: 'white' },
    sound,
  });
  const stand = () => {
    const port: FilmPort & { sent: [FilmOrder, Transferable[]][]; ended: number } = {
      onmessage: null,
      onerror: null,
      sent: [],
      ended: 0,
      postMessage: (of, handed) => void port.sent.push([of, handed]),
      terminate: () => void port.ended++,
    };
    return port;
  };
  const settled = (): Promise<void> => new Promise((resolve) => setTimeout(resolve));
  afterEach(() => vi.restoreAllMocks());

  it('tells how far it is, then gives the film, and lets it go when it is closed', async () => {
    const made = vi.spyOn(URL, 'createObjectURL').mockReturnValue('blob:film');
    const freed = vi.spyOn(URL, 'revokeObjectURL').mockReturnValue();
    const port = stand();
    const side = new Float32Array(4);
    const film = new FilmHere(
      () => Promise.resolve(order({ sides: [side, side], rate: 48_000 })),
      () => port,
    );
    const seen: HereState[] = [film.snapshot()];
    film.subscribe(() => seen.push(film.snapshot()));
    await settled();
    expect(port.sent).toHaveLength(1);
    // Handed over once, though both sides are one.
    expect(port.sent[0]![1]).toEqual([side.buffer]);
    port.onmessage!({ data: { drawn: 4 } });
    port.onmessage!({
      data: { film: new ArrayBuffer(7), type: 'video/mp4', ending: 'mp4', soundless: null },
    });
    expect(seen).toEqual([
      { state: 'preparing' },
      { state: 'drawing', drawn: 0, total: 10 },
      { state: 'drawing', drawn: 4, total: 10 },
      { state: 'done', url: 'blob:film', size: 7, ending: 'mp4', note: null },
    ]);
    expect(port.ended).toBe(1);
    expect((made.mock.calls[0]![0] as Blob).type).toBe('video/mp4');
    film.close();
    expect(freed).toHaveBeenCalledWith('blob:film');
  });
  it('is ended by closing it, also before it has begun, and says why it failed', async () => {
    const port = stand();
    const film = new FilmHere(
      () => Promise.resolve(order()),
      () => port,
    );
    film.close();
    await settled();
    expect(port.sent).toEqual([]);
    const other = new FilmHere(
      () => Promise.reject(new Error('The sound is broken.')),
      () => port,
    );
    await settled();
    expect(other.snapshot()).toEqual({ state: 'failed', reason: 'The sound is broken.' });
    const third = new FilmHere(
      () => Promise.resolve(order()),
      () => port,
    );
    await settled();
    port.onerror!({ message: '' });
    expect(third.snapshot()).toMatchObject({
      state: 'failed',
      reason: expect.stringContaining('ended') as string,
    });
    expect(port.ended).toBe(1);
  });
});
