import { describe, expect, it } from 'vitest';
import {
  blankShot,
  parseShot,
  picturesOf,
  showsChannel,
  channelsOf,
  type Picture,
  type Shot,
} from '../document';
import {
  addPart,
  apply,
  changeBackdrop,
  changeRate,
  changeVideo,
  pushAfter,
  setPicture,
  setPictureMap,
  invert,
  videosOf,
} from './index';

const still: Picture = { asset: 'a'.repeat(64), width: 40, height: 30, alpha: false, file: 'flag.png' };
const film: Picture = {
  ...still,
  asset: 'b'.repeat(64),
  file: 'wave.mp4',
  video: { rate: { num: 25, den: 1 }, pictures: 100, start: 11, speed: 1, from: 0, to: 100, after: 'hold' },
};

function dressed(): { shot: Shot; look: string; backdrop: string } {
  const empty = blankShot();
  const box = addPart(empty, {
    kind: 'solid',
    name: 'Crate',
    shape: { kind: 'box', values: {} },
    look: { values: {} },
  });
  let shot = apply(empty, box.change);
  const look = shot.parts[box.id]!.look!;
  const behind = addPart(shot, { kind: 'backdrop', name: 'Behind' });
  shot = apply(shot, behind.change);
  shot = apply(shot, setPicture(shot, look, 'front', film));
  shot = apply(shot, setPicture(shot, look, 'back', still));
  shot = apply(shot, setPictureMap(shot, look, 'glow', film));
  shot = apply(shot, changeBackdrop(shot, behind.id, { shows: 'picture', picture: film }));
  return { shot, look, backdrop: behind.id };
}

describe('videos of a shot', () => {
  it('are found on looks and behind everything, and are part of a valid document', () => {
    const { shot, look, backdrop } = dressed();
    expect(picturesOf(shot)).toHaveLength(4);
    expect(videosOf(shot).map(({ path }) => path.join('/'))).toEqual([
      `looks/${look}/pictures/front`,
      `looks/${look}/maps/glow`,
      `parts/${backdrop}/backdrop/picture`,
    ]);
    expect(parseShot(JSON.parse(JSON.stringify(shot))).ok).toBe(true);
    const shift = channelsOf(shot, look).find(({ path }) => path === 'video.shift')!;
    expect(showsChannel(shot, look, shift)).toBe(true);
    const [front, glow] = videosOf(shot);
    let bare = apply(shot, setPicture(shot, look, 'front', null));
    expect(showsChannel(bare, look, shift)).toBe(true);
    bare = apply(bare, setPictureMap(bare, look, 'glow', null));
    expect(showsChannel(bare, look, shift)).toBe(false);
    expect([front, glow]).toHaveLength(2);
  });
  it('change how they play, each for itself, and undo takes it back', () => {
    const { shot } = dressed();
    const [front, glow] = videosOf(shot);
    const change = changeVideo(shot, front!.path, { speed: -0.5, from: 10, to: 20, after: 'back' });
    const next = apply(shot, change);
    expect(videosOf(next)[0]!.picture.video).toMatchObject({
      speed: -0.5,
      from: 10,
      to: 20,
      after: 'back',
      start: 11,
    });
    expect(videosOf(next)[1]).toEqual(glow);
    expect(apply(next, invert(change))).toEqual(shot);
  });
  it('refuse what they do not have, saying what there is', () => {
    const { shot, look } = dressed();
    const { path } = videosOf(shot)[0]!;
    expect(() => changeVideo(shot, path, { from: 50, to: 50 })).toThrow(
      '"wave.mp4" has the pictures 1 to 100',
    );
    expect(() => changeVideo(shot, path, { to: 101 })).toThrow('the pictures 1 to 100');
    expect(() => changeVideo(shot, path, { speed: 101 })).toThrow('cannot play so');
    expect(() => changeVideo(shot, ['looks', look, 'pictures', 'back'], { speed: 2 })).toThrow('no longer');
  });
  it('stay at their moment when the frame rate changes, and are pushed along with markers', () => {
    const { shot } = dressed();
    const faster = apply(shot, changeRate(shot, { num: 48, den: 1 }, 'seconds'));
    expect(videosOf(faster).map(({ picture }) => picture.video.start)).toEqual([21, 21, 21]);
    const kept = apply(shot, changeRate(shot, { num: 48, den: 1 }, 'frames'));
    expect(videosOf(kept)).toEqual(videosOf(shot));
    const starts = (from: number, markers: boolean): number[] =>
      videosOf(apply(shot, pushAfter(shot, [], from, 5, { markers, range: false }))).map(
        ({ picture }) => picture.video.start,
      );
    expect(starts(10, true)).toEqual([16, 16, 16]);
    expect(starts(11, true)).toEqual([11, 11, 11]);
    expect(starts(10, false)).toEqual([11, 11, 11]);
  });
});
