import { describe, expect, it } from 'vitest';
import { checkStructure, type Inset, type Shot } from '../document';
import { emptyShot, hub } from '../testing/random-shot';
import { innerFrame, insetsOf, loopThrough, withInnerSounds } from './index';

const A = '00000000-0000-4000-8000-00000000000a';
const B = '00000000-0000-4000-8000-00000000000b';
const C = '00000000-0000-4000-8000-00000000000c';

const inset = (more: Partial<Inset> = {}): Inset => ({
  shot: A,
  name: 'Emblem',
  start: 11,
  speed: 1,
  plays: 'loop',
  until: null,
  ...more,
});
const setup = (first: number, last: number, num: number) => ({ first, last, rate: { num, den: 1 } });
const showing = (shot: string, more: Partial<Inset> = {}): Shot => ({
  ...emptyShot(),
  setup: { ...emptyShot().setup, first: 1, last: 96 },
  parts: { prt_s: { ...hub('Inner'), kind: 'shot', inset: inset({ shot, ...more }) } },
});

describe('the frame of a shot in a shot', () => {
  // An inner shot of frames 5 to 14, ten of them; frames 10, 11, 14, 20, 21, 25, 31 of the outer one, by hand.
  const frames = [10, 11, 14, 20, 21, 25, 31];
  const rows: readonly (readonly [Partial<Inset>, readonly (number | null)[]])[] = [
    [{}, [null, 5, 8, 14, 5, 9, 5]],
    [{ plays: 'once' }, [null, 5, 8, 14, null, null, null]],
    [{ plays: 'hold' }, [null, 5, 8, 14, 14, 14, 14]],
    [{ plays: 'back-and-forth' }, [null, 5, 8, 14, 13, 9, 7]],
    [{ until: 21 }, [null, 5, 8, 14, null, null, null]],
    [{ speed: 2 }, [null, 5, 11, 13, 5, 13, 5]],
    [{ speed: 0.5, plays: 'hold' }, [null, 5, 6.5, 9.5, 10, 12, 14]],
    [{ backwards: true, plays: 'hold' }, [null, 14, 11, 5, 5, 5, 5]],
  ];
  it.each(rows)('%o', (more, wanted) => {
    const found = frames.map((frame) => innerFrame(inset(more), setup(5, 14, 24), setup(1, 96, 24), frame));
    expect(found).toEqual(wanted);
  });
  it('keeps its own time where the rates differ', () => {
    const at = (frame: number): number | null =>
      innerFrame(inset({ plays: 'hold' }), setup(1, 300, 30), setup(1, 96, 24), frame);
    // A second after its start it has gone on by thirty frames.
    expect(at(11 + 24)).toBe(31);
    expect(at(11 + 12)).toBe(16);
  });
  it('has one frame only where its shot has', () => {
    expect(innerFrame(inset(), setup(7, 7, 24), setup(1, 96, 24), 40)).toBe(7);
  });
});

describe('shots in shots', () => {
  it('are listed once, and the way round by which one would contain itself is told', () => {
    const twice: Shot = {
      ...showing(A),
      parts: { ...showing(A).parts, prt_t: { ...hub('T'), kind: 'shot', inset: inset() } },
    };
    expect(insetsOf(twice)).toEqual([A]);
    const library = {
      shotOf: (id: string) => ({ [A]: showing(B), [B]: showing(C), [C]: emptyShot() })[id] ?? null,
    };
    expect(loopThrough(library, C, A)).toEqual([A, B, C]);
    expect(loopThrough(library, A, A)).toEqual([A]);
    expect(loopThrough(library, A, C)).toBeNull();
    // One that is gone leads nowhere.
    expect(loopThrough({ shotOf: () => null }, C, A)).toBeNull();
  });

  it('need to say which shot they show, and nothing else may', () => {
    expect(checkStructure(showing(A))).toEqual([]);
    const told = (part: object): string[] =>
      checkStructure({ ...emptyShot(), parts: { prt_s: { ...hub('S'), ...part } } }).map(({ code }) => code);
    expect(told({ kind: 'shot' })).toEqual(['inset.unwanted']);
    expect(told({ inset: inset() })).toEqual(['inset.unwanted']);
    expect(told({ kind: 'shot', inset: inset({ until: 3 }) })).toEqual(['inset.reversed']);
  });
});

describe('sounds of shots in shots', () => {
  const tune = { name: 'Organ', asset: 'a'.repeat(64), start: 29, values: {}, tracks: {}, links: {} };
  const inner: Shot = {
    ...emptyShot(),
    setup: { ...emptyShot().setup, first: 5, last: 52, rate: { num: 24, den: 1 } },
    sounds: { snd_o: { ...tune, fadeIn: 0.5 } },
  };
  const library = { shotOf: (id: string) => (id === A ? inner : null) };
  const heard = (more: Partial<Inset>): object[] =>
    Object.values(withInnerSounds(showing(A, more), library).sounds).map(({ start, from, length }) => ({
      start,
      ...(from === undefined ? {} : { from }),
      ...(length === undefined ? {} : { length }),
    }));
  it('are heard where they are seen', () => {
    // A second into the inner shot, which begins at 11 and lasts two seconds.
    expect(heard({ plays: 'hold' })).toEqual([{ start: 35, length: 1 }]);
    expect(heard({ plays: 'once' })).toEqual([{ start: 35, length: 1 }]);
    expect(heard({ plays: 'once', until: 41 })).toEqual([{ start: 35, length: 1 }]);
    expect(heard({ plays: 'hold', until: 41 })).toEqual([{ start: 35, length: 0.25 }]);
    expect(heard({ plays: 'loop' })).toEqual([
      { start: 35, length: 1 },
      { start: 83, length: 1 },
    ]);
  });
  it('begin in the middle where the inner shot does', () => {
    const early = { ...inner, sounds: { snd_o: { ...tune, start: -7 } } };
    const { sounds } = withInnerSounds(showing(A, { plays: 'hold' }), { shotOf: () => early });
    expect(Object.values(sounds)).toMatchObject([{ start: 11, from: 0.5, length: 2 }]);
  });
  it('are left out at another speed, backwards, and where they are to be silent', () => {
    for (const more of [{ speed: 2 }, { backwards: true as const }, { silent: true as const }])
      expect(heard({ plays: 'hold', ...more })).toEqual([]);
  });
});
