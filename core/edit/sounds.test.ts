import { describe, expect, it } from 'vitest';
import { blankShot, checkStructure, type Shot } from '../document';
import { readNotes } from '../format/midi';
import {
  addSound,
  apply,
  beatFrames,
  changeSound,
  clearBeats,
  framesOfSound,
  invert,
  keyOnBeats,
  markBeats,
  pushAfter,
  removeSound,
  setLink,
  type Change,
} from './index';
import { hub } from '../testing/random-shot';

const ASSET = 'a'.repeat(64);
const start: Shot = {
  ...blankShot({ first: 1, last: 100, rate: { num: 25, den: 1 } }),
  parts: { prt_a: hub('Lamp', { values: { 'location.x': 3 } }) },
};

/** Makes a change and holds that it leaves a sound document and is undone exactly. */
function make(shot: Shot, change: Change): Shot {
  const after = apply(shot, change);
  expect(checkStructure(after)).toEqual([]);
  expect(apply(after, invert(change))).toEqual(shot);
  return after;
}

const made = addSound(start, 'Organ', ASSET, 11);
const shot = make(start, made.change);
const { id } = made;

describe('a sound', () => {
  it('is brought in at a frame, under a name of its own', () => {
    expect(shot.sounds[id]).toMatchObject({ name: 'Organ', start: 11, asset: ASSET });
    const again = make(shot, addSound(shot, 'Organ', ASSET, 1).change);
    expect(Object.values(again.sounds).map(({ name }) => name)).toEqual(['Organ', 'Organ 2']);
  });
  it('is changed, and options are taken back', () => {
    const cut = make(shot, changeSound(shot, id, { from: 1.5, length: 2, loop: true, fadeIn: 0.2 }));
    expect(cut.sounds[id]).toMatchObject({ from: 1.5, length: 2, loop: true, fadeIn: 0.2 });
    const back = make(cut, changeSound(cut, id, { from: undefined, loop: undefined }));
    expect(Object.keys(back.sounds[id]!)).not.toContain('from');
    expect(Object.keys(back.sounds[id]!)).not.toContain('loop');
    expect(make(shot, changeSound(shot, id, { name: 'Quay organ' })).sounds[id]!.name).toBe('Quay organ');
  });
  it.each([
    [{ length: 0 }, /The length must be 0\.01 to 3600 seconds, not 0/],
    [{ fadeOut: -1 }, /The fade at the end must be 0 to/],
    [{ from: NaN }, /left out/],
    [{ start: 1e9 }, /frame/i],
  ])('refuses %o', (options, words) => {
    expect(() => changeSound(shot, id, options)).toThrow(words);
  });
  it('is taken out, and what read it says so', () => {
    const linked = apply(shot, setLink(shot, 'prt_a/location.y', 'level("Organ", 20Hz, 200Hz) * 1m'));
    const gone = make(linked, removeSound(linked, id));
    expect(gone.sounds).toEqual({});
    expect(gone.parts.prt_a!.links['location.y']!.formula).toContain('Organ');
  });
});

describe('beats', () => {
  it('lie where the piece that a sound plays has them', () => {
    // 25 frames a second, from frame 11 on.
    expect(framesOfSound(shot, id, [0, 0.4, 2])).toEqual([11, 21, 61]);
    const cut = apply(shot, changeSound(shot, id, { from: 0.4, length: 1 }));
    expect(framesOfSound(cut, id, [0, 0.4, 0.8, 2])).toEqual([11, 21]);
  });
  it('are marked, added to, replaced and taken away', () => {
    const two = make(shot, markBeats(shot, [5, 15], true));
    expect(beatFrames(two)).toEqual([5, 15]);
    const tapped = make(two, markBeats(two, [15, 25], false));
    expect(beatFrames(tapped)).toEqual([5, 15, 25]);
    expect(beatFrames(make(tapped, markBeats(tapped, [7], true)))).toEqual([7]);
    expect(beatFrames(make(tapped, clearBeats(tapped)))).toEqual([]);
    expect(() =>
      markBeats(
        shot,
        Array.from({ length: 2001 }, (_, i) => i),
        true,
      ),
    ).toThrow(/2001 beats/);
  });
  it('are keyed on, each or every second, from a frame on, with the value or in turn with given ones', () => {
    const beating = apply(shot, markBeats(shot, [5, 15, 25, 35], true));
    const framesOf = (change: Change, path = 'location.x'): [number, unknown][] =>
      Object.values(make(beating, change).parts.prt_a!.tracks[path]!.keys).map((key) => [
        key.frame,
        key.value,
      ]);
    expect(framesOf(keyOnBeats(beating, ['prt_a/location.x'], 1, 1))).toEqual([
      [5, 3],
      [15, 3],
      [25, 3],
      [35, 3],
    ]);
    expect(framesOf(keyOnBeats(beating, ['prt_a/location.x'], 2, 10))).toEqual([
      [15, 3],
      [35, 3],
    ]);
    expect(framesOf(keyOnBeats(beating, ['prt_a/location.y'], 1, 1, [0, 1]), 'location.y')).toEqual([
      [5, 0],
      [15, 1],
      [25, 0],
      [35, 1],
    ]);
    expect(() => keyOnBeats(beating, ['prt_a/location.x'], 1, 40)).toThrow(/no beat from frame 40/);
    const linked = apply(beating, setLink(beating, 'prt_a/location.x', '1m'));
    expect(() => keyOnBeats(linked, ['prt_a/location.x'], 1, 1)).toThrow(/linked/);
  });
});

describe('notes of a standard MIDI file', () => {
  /** A file with one track, 480 ticks a quarter: 500,000 us at tick 0, 400,000 from tick 960 on. */
  const midi = (events: readonly number[]): Uint8Array =>
    Uint8Array.from([
      ...[0x4d, 0x54, 0x68, 0x64, 0, 0, 0, 6, 0, 0, 0, 1, 0x01, 0xe0],
      ...[0x4d, 0x54, 0x72, 0x6b, 0, 0, 0, events.length, ...events],
    ]);
  const bytes = midi([
    ...[0, 0xff, 0x51, 3, 0x07, 0xa1, 0x20],
    ...[0, 0x90, 60, 100, 0x83, 0x60, 0x90, 60, 0],
    ...[0x83, 0x60, 0xff, 0x51, 3, 0x06, 0x1a, 0x80],
    ...[0, 0x90, 64, 64, 0x83, 0x60, 0x80, 64, 0],
    ...[0, 0x90, 67, 127, 0x83, 0x60, 0x80, 67, 0],
    ...[0, 0xff, 0x2f, 0],
  ]);
  it('come at the published times of their tempo map, with pitch and strength', () => {
    const [track] = readNotes(bytes);
    // Ticks 0, 960 and 1440 of that map: 0, 1 and 1.4 seconds.
    expect(track!.notes.map(({ seconds, pitch }) => [Math.round(seconds * 1e6) / 1e6, pitch])).toEqual([
      [0, 60],
      [1, 64],
      [1.4, 67],
    ]);
    expect(track!.notes[2]!.strength).toBe(1);
  });
  it('are refused with the reason where the file is broken', () => {
    expect(() => readNotes(bytes.subarray(0, 30))).toThrow(/^The MIDI file is broken/);
  });
});

it('sounds that begin behind a frame are pushed with the markers', () => {
  const later = make(shot, pushAfter(shot, [], 10, 12, { markers: true, range: false }));
  expect(later.sounds[id]!.start).toBe(23);
  const stays = make(shot, pushAfter(shot, [], 10, 12, { markers: false, range: false }));
  expect(stays.sounds[id]!.start).toBe(11);
});
