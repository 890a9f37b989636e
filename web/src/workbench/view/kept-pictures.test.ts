import { describe, expect, it } from 'vitest';
import type { FrameStretch } from '../state/time';
import { KeptPictures, stretchesOf } from './kept-pictures';

/** A canvas that remembers which one was drawn on it. */
function canvas(width: number, height: number): HTMLCanvasElement & { shows: unknown } {
  const made = {
    width,
    height,
    hidden: true,
    dataset: {},
    shows: null as unknown,
    getContext: () => ({
      drawImage: (from: { shows: unknown }) => (made.shows = from.shows),
      getImageData: () => null,
    }),
  };
  return made as unknown as HTMLCanvasElement & { shows: unknown };
}

function kept(room?: number) {
  const told: (readonly FrameStretch[])[] = [];
  const cover = canvas(1, 1);
  Object.assign(globalThis, { document: { createElement: () => canvas(1, 1) } });
  const pictures = new KeptPictures(cover, (frames) => told.push(frames), room);
  const view = (what: string): HTMLCanvasElement => Object.assign(canvas(10, 10), { shows: what });
  return { pictures, cover, told, view };
}

describe('pictures that are kept', () => {
  it('are put up for their frames', () => {
    const { pictures, cover, view, told } = kept();
    pictures.meant([1]);
    pictures.keep(3, view('three'));
    pictures.keep(4, view('four'));
    expect(pictures.show(5)).toBe(false);
    expect(pictures.show(4)).toBe(true);
    expect(cover).toMatchObject({ hidden: false, shows: 'four' });
    expect(told.at(-1)).toEqual([{ from: 3, to: 4 }]);
    pictures.uncover();
    expect(cover.hidden).toBe(true);
  });
  it('are forgotten when what they show has changed, and only then', () => {
    const { pictures, view, told } = kept();
    const plan = {};
    pictures.meant([plan, 'free']);
    pictures.keep(1, view('one'));
    pictures.meant([plan, 'free']);
    expect(pictures.has(1)).toBe(true);
    pictures.meant([{}, 'free']);
    expect(pictures.has(1)).toBe(false);
    expect(told.at(-1)).toEqual([]);
  });
  it('are no more than there is room for', () => {
    const { pictures, view } = kept(2 * 10 * 10 * 4);
    pictures.meant([]);
    expect([1, 2, 3].map((frame) => pictures.keep(frame, view('any')))).toEqual([true, true, false]);
    // One that is there stays there.
    expect(pictures.keep(1, view('any'))).toBe(true);
  });
});

it('frames that follow one another are one stretch', () => {
  expect(stretchesOf([])).toEqual([]);
  expect(stretchesOf([7, 1, 3, 2, 9, 8])).toEqual([
    { from: 1, to: 3 },
    { from: 7, to: 9 },
  ]);
});
