import fc from 'fast-check';
import Timecode from 'smpte-timecode';
import { describe, expect, it } from 'vitest';
import {
  dropsFrames,
  framesOfTimecode,
  frameAt,
  parseTypedTime,
  secondsAt,
  timecodeOf,
  type Rate,
} from './index';

const ntsc: Rate = { num: 30000, den: 1001 };
const ntsc60: Rate = { num: 60000, den: 1001 };
const pal: Rate = { num: 25, den: 1 };

describe('SMPTE ST 12-1 labels', () => {
  it.each([
    [1798, '00:00:59;28'],
    [1799, '00:00:59;29'],
    [1800, '00:01:00;02'],
    [3597, '00:01:59;29'],
    [3598, '00:02:00;02'],
    [17981, '00:09:59;29'],
    [17982, '00:10:00;00'],
    [19782, '00:11:00;02'],
    [107892, '01:00:00;00'],
    [2589407, '23:59:59;29'],
  ])('29.97 drop-frame %d is %s', (count, label) => {
    expect(timecodeOf(count, ntsc)).toBe(label);
    expect(framesOfTimecode(label, ntsc)).toBe(count);
  });
  it.each([
    [3599, '00:00:59;59'],
    [3600, '00:01:00;04'],
    [7196, '00:02:00;04'],
    [35964, '00:10:00;00'],
    [215784, '01:00:00;00'],
    [5178815, '23:59:59;59'],
  ])('59.94 drop-frame %d is %s', (count, label) => {
    expect(timecodeOf(count, ntsc60)).toBe(label);
    expect(framesOfTimecode(label, ntsc60)).toBe(count);
  });
  it('refuses labels that drop-frame skips', () => {
    for (const label of ['00:01:00;00', '00:01:00;01', '01:09:00;00'])
      expect(framesOfTimecode(label, ntsc)).toBeNull();
    expect(framesOfTimecode('00:10:00;00', ntsc)).toBe(17982);
  });
  it.each([
    [24, '00:00:00:24'],
    [25, '00:00:01:00'],
    [99, '00:00:03:24'],
    [1500, '00:01:00:00'],
    [90000, '01:00:00:00'],
  ])('25 fps %d is %s', (count, label) => {
    expect(timecodeOf(count, pal)).toBe(label);
  });
  it('agrees with smpte-timecode over 24 hours', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 2589407 }),
        (count) => timecodeOf(count, ntsc) === Timecode(count, 29.97, true).toString(),
      ),
      { numRuns: 2000 },
    );
  });
  it('defines no drop-frame for 23.976', () => expect(dropsFrames({ num: 24000, den: 1001 })).toBe(false));
});

describe('frames and seconds', () => {
  it('100 frames at 25 are 4 s; 23.976 as published', () => {
    expect(secondsAt(101, 1, pal)).toBe(4);
    expect(secondsAt(1000, 0, { num: 24000, den: 1001 })).toBeCloseTo(41.7083333, 7);
    expect(frameAt(10, 0, { num: 24000, den: 1001 })).toBeCloseTo(239.7602398, 7);
  });
  const context = { rate: pal, first: 1, current: 10 };
  it.each([
    ['48', 48, 'frame'],
    ['+12', 22, 'offset'],
    ['-3', 7, 'offset'],
    ['48f', 48, 'frame'],
    ['+2s', 60, 'offset'],
    ['-0.2s', 5, 'offset'],
    ['12.5', 12.5, 'frame'],
    ['2s', 51, 'seconds'],
    ['00:00:02:00', 51, 'timecode'],
  ] as const)('reads %s', (text, frame, read) => {
    expect(parseTypedTime(text, context)).toEqual({ ok: true, frame, read });
  });
  it.each([
    ['abc', '"abc" is no time'],
    ['', 'No time is given'],
    ['2 s s', 'is no time'],
    ['00:00:02:25', 'frames run from 00 to 24'],
    ['1:30', 'a second has frames 0 to 24'],
  ])('refuses %s and says how to write it', (text, words) => {
    const typed = parseTypedTime(text, context);
    expect(typed.ok ? '' : typed.message).toContain(words);
    expect(typed.ok ? '' : typed.message).toContain('Write a frame');
  });
  it('1:12 is not taken silently: it says what was read', () => {
    expect(parseTypedTime('1:12', context)).toEqual({
      ok: true,
      frame: 38,
      read: 'seconds-frames',
      said: '1:12 was read as 1 second and 12 frames: frame 38.',
    });
  });
  it('labels that drop-frame leaves out are refused', () => {
    const typed = parseTypedTime('00:01:00;00', { rate: ntsc, first: 0, current: 0 });
    expect(typed.ok ? '' : typed.message).toContain('drop-frame leaves out');
  });
});
