import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseShot } from '../document';
import { dissolve, reelOf, SHOT_A, SHOT_B, shotItem, titleItem } from '../testing/reels';
import {
  changeItem,
  changeReelRate,
  framesInReel,
  mixPixels,
  mostJoin,
  moveItem,
  putItem,
  putShot,
  putSound,
  reelFrames,
  reelPicture,
  ReelRefused,
  reelSchema,
  reelTrouble,
  removeItem,
  setJoin,
  shotsOfReel,
  spansOf,
  splitItem,
  titleShot,
  withShots,
  type Reel,
} from './index';

/** What each frame shows: `a5` is frame 5 of the first item, `a8>b-1@1/4` a quarter of the second over it. */
function written(reel: Reel): string[] {
  const spans = spansOf(reel);
  return Array.from({ length: reelFrames(reel) }, (_, i) => {
    const picture = reelPicture(spans, i + 1)!;
    const name = ({ at, into }: { at: number; into: number }): string => `${'abcdef'[at]}${into}`;
    if (!picture.join) return name(picture.shown);
    return `${picture.below ? name(picture.below) : 'black'}>${name(picture.shown)}@${picture.join.share.toFixed(2)}`;
  });
}

describe('frames of a reel', () => {
  it('are those of its items, one after another', () => {
    expect(written(reelOf(shotItem(3), titleItem(2)))).toEqual(['a0', 'a1', 'a2', 'b0', 'b1']);
    expect(reelPicture(spansOf(reelOf(shotItem(3))), 0)).toBeNull();
    expect(reelPicture(spansOf(reelOf(shotItem(3))), 4)).toBeNull();
  });

  it('show both where items are joined, in equal steps, half before the cut', () => {
    // Three frames of four parts each, by hand: the second is the first one after the cut.
    expect(written(reelOf(shotItem(3), shotItem(4, { join: dissolve(3) })))).toEqual([
      'a0',
      'a1',
      'a2>b-1@0.25',
      'a3>b0@0.50',
      'a4>b1@0.75',
      'b2',
      'b3',
    ]);
  });

  it('come out of black at the beginning', () => {
    expect(written(reelOf(shotItem(3, { join: dissolve(1) })))).toEqual(['black>a0@0.50', 'a1', 'a2']);
  });

  it('show every frame of the reel, each join going up by one step, whatever is joined', () => {
    const reels = fc
      .array(fc.record({ frames: fc.integer({ min: 1, max: 20 }), join: fc.integer({ min: 0, max: 30 }) }), {
        minLength: 1,
        maxLength: 6,
      })
      .map((list) =>
        list.reduce(
          (reel, { frames, join }) => putItem(reel, shotItem(frames, { join: dissolve(join) })),
          reelOf(),
        ),
      );
    fc.assert(
      fc.property(reels, (reel) => {
        expect(reelTrouble(reel)).toBeNull();
        const spans = spansOf(reel);
        const steps = new Map<number, number[]>();
        for (let frame = 1; frame <= reelFrames(reel); frame++) {
          const { shown, join, below } = reelPicture(spans, frame)!;
          // The picture of each item moves on by one with every frame.
          expect(shown.into).toBe(frame - spans[shown.at]!.start);
          if (below) expect(below.into).toBe(frame - spans[below.at]!.start);
          if (join) steps.set(shown.at, [...(steps.get(shown.at) ?? []), join.share]);
        }
        for (const [at, shares] of steps) {
          const { frames } = reel.items[at]!.join;
          expect(shares).toEqual(Array.from({ length: frames }, (_, i) => (i + 1) / (frames + 1)));
        }
        for (const [at, item] of reel.items.entries())
          expect(steps.get(at)?.length ?? 0, `join ${at}`).toBe(item.join.frames);
      }),
      { numRuns: 300 },
    );
  });

  it('of a shot with another rate take as long as the shot does', () => {
    expect(framesInReel(1, 50, { num: 25, den: 1 }, { num: 24, den: 1 })).toBe(48);
    expect(framesInReel(5, 5, { num: 60, den: 1 }, { num: 24, den: 1 })).toBe(1);
  });
});

describe('edits of a reel', () => {
  const [a, b, c] = [shotItem(10), shotItem(8, { join: dissolve(6) }), titleItem(5, { join: dissolve(4) })];
  const reel = reelOf(a, b, c);
  const ids = (of: Reel): string[] => of.items.map(({ id }) => id);

  it('put, move and remove, and shorten joins that no longer fit', () => {
    expect(ids(moveItem(reel, c.id, 0))).toEqual([c.id, a.id, b.id]);
    expect(ids(moveItem(reel, a.id, 3))).toEqual([b.id, c.id, a.id]);
    expect(ids(moveItem(reel, b.id, 1))).toEqual(ids(reel));
    expect(ids(removeItem(reel, b.id))).toEqual([a.id, c.id]);
    const shorter = changeItem(reel, b, { frames: 3 });
    expect(reelTrouble({ ...reel, items: reel.items.with(1, { ...b, frames: 3 }) })).toContain(
      'items/1/join',
    );
    expect(reelTrouble(shorter)).toBeNull();
    expect(shorter.items.map(({ join }) => join.frames)).toEqual([0, 2, 4]);
  });

  it('say how many frames a join may have, and refuse more', () => {
    // Of the 8 frames of b two belong to the join after it: six are free, of which its own takes half of 12 or 13.
    expect(mostJoin(reel.items, 1)).toBe(12);
    expect(() => setJoin(reel, b.id, dissolve(14))).toThrow('room for 12 frames');
    expect(reelTrouble(setJoin(reel, b.id, dissolve(12)))).toBeNull();
    const full = setJoin(reel, b.id, dissolve(12));
    expect(() => setJoin(full, c.id, dissolve(6))).toThrow(ReelRefused);
    expect(setJoin(reel, b.id, { ...dissolve(5), manner: 'cut' }).items[1]!.join).toMatchObject({
      manner: 'cut',
      frames: 0,
    });
  });

  it('cut an item in two so that every frame shows what it did', () => {
    const whole = reelOf(shotItem(10, { first: 5 }), shotItem(6, { join: dissolve(4) }));
    const cut = splitItem(whole, whole.items[0]!, 4, 2, 'itm_new');
    /** Frames of the shots that are seen, at two frames of a shot for each of the reel. */
    const seen = (reel: Reel): (number | undefined)[] => {
      const spans = spansOf(reel);
      return Array.from({ length: 16 }, (_, i) => {
        const { shown } = reelPicture(spans, i + 1)!;
        return shown.item.kind === 'shot' ? shown.item.first + shown.into * 2 : undefined;
      });
    };
    expect(ids(cut)).toEqual([whole.items[0]!.id, 'itm_new', whole.items[1]!.id]);
    expect(seen(cut)).toEqual(seen(whole));
    expect(() => splitItem(whole, whole.items[0]!, 0, 1, 'itm_x')).toThrow('inside');
    expect(() => splitItem(whole, whole.items[0]!, 10, 1, 'itm_x')).toThrow('inside');
  });

  it('take the rate and size of the first shot, and bring later ones into it', () => {
    const facts = {
      id: SHOT_A,
      name: 'Ride',
      rate: { num: 25, den: 1 },
      first: 5,
      last: 54,
      width: 640,
      height: 480,
    };
    const one = putShot(reelOf(), facts, 'itm_a');
    expect(one).toMatchObject({ rate: { num: 25, den: 1 }, width: 640, items: [{ first: 5, frames: 50 }] });
    const two = putShot(one, { ...facts, rate: { num: 50, den: 1 }, width: 100 }, 'itm_b', 0);
    expect(two).toMatchObject({ rate: { num: 25, den: 1 }, width: 640 });
    expect(two.items.map(({ id, frames }) => [id, frames])).toEqual([
      ['itm_b', 25],
      ['itm_a', 50],
    ]);
  });

  it('keep every length in seconds when the rate changes', () => {
    const twice = changeReelRate(reel, { num: 48, den: 1 });
    expect(twice.items.map(({ frames, join }) => [frames, join.frames])).toEqual([
      [20, 0],
      [16, 12],
      [10, 8],
    ]);
    expect(changeReelRate(twice, { num: 24, den: 1 })).toEqual(reel);
    expect(reelTrouble(changeReelRate(reel, { num: 7, den: 1 }))).toBeNull();
  });

  it('refuse what is not there, and too many', () => {
    expect(() => removeItem(reel, 'itm_gone')).toThrow('no longer in the reel');
    let full = reelOf();
    for (let i = 0; i < 300; i++) full = putItem(full, titleItem(1));
    expect(() => putItem(full, titleItem(1))).toThrow('300');
    expect(reelTrouble({ ...reel, items: [a, { ...b, id: a.id }] })).toContain('twice');
    expect(reelTrouble(reelOf(shotItem(20_000), shotItem(1)))).toContain('20001 frames');
  });

  it('keep the sounds that run across, and know the shots', () => {
    const sound = {
      id: 'snd_a',
      name: 'Organ',
      asset: 'a'.repeat(64),
      start: 1,
      from: 0,
      level: 1,
      fadeIn: 0,
      fadeOut: 0,
    };
    const heard = putSound(reel, 'snd_a', sound);
    expect(putSound(heard, 'snd_a', { ...sound, level: 0.5 }).sounds).toEqual([{ ...sound, level: 0.5 }]);
    expect(putSound(heard, 'snd_a', null)).toEqual(reel);
    expect(shotsOfReel(reel)).toEqual([SHOT_A]);
    expect(shotsOfReel(withShots(reel, new Map([[SHOT_A, SHOT_B]])))).toEqual([SHOT_B]);
    expect(reelSchema.parse(JSON.parse(JSON.stringify(heard)))).toEqual(heard);
  });
});

describe('two pictures joined', () => {
  const join = (
    manner: 'dissolve' | 'wipe',
    share: number,
    from: 'left' | 'right' | 'top' | 'bottom' = 'left',
  ) => ({
    manner,
    share,
    from,
  });
  const grey = (values: number[]): Uint8Array => Uint8Array.from(values.flatMap((v) => [v, v, v, 255]));
  const lights = (pixels: Uint8Array): number[] => [...pixels].filter((_, i) => i % 4 === 0);

  it('dissolve by the numbers that are stored', () => {
    expect([...mixPixels(grey([100]), grey([200]), 1, 1, false, join('dissolve', 0.25))]).toEqual([
      125, 125, 125, 255,
    ]);
    expect([...mixPixels(null, grey([200]), 1, 1, false, join('dissolve', 0.5))]).toEqual([
      100, 100, 100, 255,
    ]);
    const deep = mixPixels(
      Uint16Array.from([1000, 1000, 1000, 65_535]),
      Uint16Array.from([3000, 3000, 3000, 65_535]),
      1,
      1,
      false,
      join('dissolve', 0.5),
    );
    expect([...deep]).toEqual([2000, 2000, 2000, 65_535]);
  });

  it('weigh colours by their alpha', () => {
    // Porter and Duff's "plus" of both, each by its share: half of an opaque 200 over half of nothing.
    const shown = Uint8Array.from([200, 100, 50, 255]);
    expect([...mixPixels(null, shown, 1, 1, true, join('dissolve', 0.5))]).toEqual([200, 100, 50, 128]);
    const clear = Uint8Array.from([10, 10, 10, 0]);
    expect([...mixPixels(clear, clear, 1, 1, true, join('dissolve', 0.5))]).toEqual([0, 0, 0, 0]);
  });

  it('wipe from each side, with an edge one pixel wide', () => {
    const [dark, light] = [grey([0, 0, 0, 0]), grey([100, 100, 100, 100])];
    const row = (from: 'left' | 'right', share: number): number[] =>
      lights(mixPixels(dark, light, 4, 1, false, join('wipe', share, from)));
    expect(row('left', 0.5)).toEqual([100, 100, 0, 0]);
    expect(row('right', 0.25)).toEqual([0, 0, 0, 100]);
    expect(row('left', 0.375)).toEqual([100, 50, 0, 0]);
    expect(lights(mixPixels(dark, light, 1, 4, false, join('wipe', 0.5, 'top')))).toEqual([100, 100, 0, 0]);
    expect(lights(mixPixels(dark, light, 1, 4, false, join('wipe', 0.25, 'bottom')))).toEqual([0, 0, 0, 100]);
  });
});

describe('a title', () => {
  it('is a shot of flat letters, line under line, the same each time', () => {
    const line = (text: string) => ({
      text: { text, font: 'rye' },
      outline: [{ letter: 0, outer: [0, 0, 1, 0, 1, 1], holes: [] }],
    });
    const title = titleItem(24, { lines: [line('HARBOUR'), line('FAIR')], ink: [0.5, 0.2, 0.1], size: 0.1 });
    const shot = titleShot(title, reelOf(title));
    expect(parseShot(shot)).toMatchObject({ ok: true });
    expect(titleShot(title, reelOf(title))).toEqual(shot);
    const lines = Object.values(shot.parts).filter(({ kind }) => kind === 'solid');
    expect(lines.map(({ values }) => values['location.y'])).toEqual([0.085, -0.085]);
    expect(parseShot(titleShot(titleItem(1), reelOf()))).toMatchObject({ ok: true });
  });
});
