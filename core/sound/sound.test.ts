import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { blankShot, type Shot, type Sound } from '../document';
import { apply, setLink } from '../edit';
import { compile, levelAt, pieceOf, secondsInFile } from '../evaluate';
import { seeded } from '../testing/seeded';
import {
  BAND_EDGES,
  beatsOf,
  fadeAt,
  fluxOf,
  loudnessOf,
  mix,
  onsetsOf,
  peakColumns,
  peakPyramid,
  peaksOf,
  Spectrum,
  tempoOf,
  windowOf,
} from './index';

const RATE = 44_100;
const dB = (ratio: number): number => 20 * Math.log10(ratio);
const tone = (hz: number, amplitude: number, seconds: number, rate = RATE): Float32Array =>
  Float32Array.from(
    { length: Math.round(seconds * rate) },
    (_, i) => amplitude * Math.sin((2 * Math.PI * hz * i) / rate),
  );
/** Noise from -1 to 1, evenly. */
function noise(count: number, seed: number): Float32Array {
  const random = seeded(seed);
  return Float32Array.from({ length: count }, () => 2 * random() - 1);
}
/** Short strokes of a falling tone at given times. */
function clicks(times: readonly number[], seconds: number, noisy: number, seed = 5): Float32Array {
  const out = noise(Math.round(seconds * RATE), seed).map((value) => value * noisy);
  for (const time of times)
    for (let i = 0; i < 0.03 * RATE; i++) {
      const at = Math.round(time * RATE) + i;
      if (at < out.length)
        out[at]! += 0.9 * Math.exp(-i / (0.006 * RATE)) * Math.sin((2 * Math.PI * 1800 * i) / RATE);
    }
  return out;
}

describe('spectra', () => {
  // Harris 1978: coherent gain and noise bandwidth of periodic windows.
  it('windows have their published gains', () => {
    for (const [shape, gain, bandwidth] of [
      ['hann', 0.5, 1.5],
      ['hamming', 0.54, 1.3628258],
    ] as const) {
      const window = windowOf(shape, 4096);
      const mean = window.reduce((sum, w) => sum + w, 0) / 4096;
      const square = window.reduce((sum, w) => sum + w * w, 0) / 4096;
      expect(mean).toBeCloseTo(gain, 9);
      expect(square / mean ** 2).toBeCloseTo(bandwidth, 6);
    }
  });
  it('a full-scale sine on a line has a mean square of a half, and one on a quarter of the amplitude a sixteenth', () => {
    const spectrum = new Spectrum(2048, 'hann');
    for (const amplitude of [1, 0.25]) {
      const power = spectrum.at(tone((RATE * 64) / 2048, amplitude, 0.1), 0);
      const sum = power.reduce((total, line) => total + line, 0);
      expect((2 * sum) / (2048 ** 2 * spectrum.meanSquare)).toBeCloseTo(amplitude ** 2 / 2, 6);
    }
  });
});

describe('loudness', () => {
  it('its bands have the edges of IEC 61260-1:2014 (base 10)', () => {
    const published = [
      22.387211, 28.183829, 35.481339, 44.668359, 56.234133, 70.794578, 89.125094, 112.20185,
    ];
    published.forEach((edge, i) => expect(BAND_EDGES[i]! / edge).toBeCloseTo(1, 7));
    expect(BAND_EDGES).toHaveLength(31);
    expect(BAND_EDGES.at(-1)! / 22387.211).toBeCloseTo(1, 7);
  });
  it.each([100, 250, 500, 1000, 3150, 8000])(
    'a tone of %i Hz is as loud as it is, to half a decibel, and does not leak an octave away',
    (hz) => {
      for (const amplitude of [1, 0.1, 0.01]) {
        const table = loudnessOf(tone(hz, amplitude, 1), RATE);
        expect(Math.abs(dB(levelAt(table, 0.5, hz / 1.6, hz * 1.6) / amplitude))).toBeLessThan(0.5);
        expect(Math.abs(dB(levelAt(table, 0.5, 20, 20_000) / amplitude))).toBeLessThan(0.5);
        for (const away of [hz / 2, hz * 2])
          expect(dB(levelAt(table, 0.5, away / 10 ** 0.05, away * 10 ** 0.05) / amplitude)).toBeLessThan(-30);
      }
    },
  );
  it('white noise rises by a decibel from band to band', () => {
    const table = loudnessOf(noise(20 * RATE, 3), RATE);
    const bands = BAND_EDGES.length - 1;
    const mean = (band: number): number => {
      let sum = 0;
      for (let row = 50; row < 1950; row++) sum += table.power[row * bands + band]!;
      return 10 * Math.log10(sum / 1900);
    };
    // From 1 kHz (band 16) to 16 kHz (band 28): 12 bands. Even noise from -1 to 1 has a mean square of a third.
    expect(mean(28) - mean(16)).toBeCloseTo(12, 0);
    const share = (BAND_EDGES[17]! - BAND_EDGES[16]!) / (RATE / 2);
    expect(mean(16)).toBeCloseTo(10 * Math.log10(share / 3), 0);
  });
  it('begins and ends where the sound does', () => {
    const table = loudnessOf(new Float32Array([...new Float32Array(RATE), ...tone(1000, 1, 1)]), RATE);
    expect(levelAt(table, 0.5, 20, 20_000)).toBeLessThan(1e-6);
    expect(levelAt(table, 1.5, 20, 20_000)).toBeCloseTo(1, 2);
    // A window of a twentieth of a second in the middle of which it begins.
    expect(levelAt(table, 1, 500, 2000)).toBeCloseTo(Math.SQRT1_2, 1);
  });
});

describe('which part of its file a sound plays', () => {
  const sound = (more: Partial<Sound>): Sound => ({
    name: 'Organ',
    start: 1,
    values: {},
    tracks: {},
    links: {},
    ...more,
  });
  const table = loudnessOf(tone(1000, 1, 4), RATE);
  it('a piece, once or over and over', () => {
    const at = (more: Partial<Sound>, seconds: number): number =>
      secondsInFile(pieceOf(sound(more)), seconds, table);
    expect(at({}, 2)).toBe(2);
    expect(at({}, -0.1)).toBe(-1);
    expect(at({}, 4.2)).toBe(-1);
    expect(at({ from: 1, length: 2 }, 0.5)).toBe(1.5);
    expect(at({ from: 1, length: 2 }, 2.5)).toBe(-1);
    expect(at({ from: 1, length: 2, loop: true }, 4.5)).toBeCloseTo(1.5, 12);
    expect(at({ from: 1, loop: true }, 3.25)).toBeCloseTo(1.25, 2);
  });
  it('fades have equal power: the published sines of a quarter turn', () => {
    const faded = sound({ fadeIn: 1, fadeOut: 2 });
    for (const [share, gain] of [
      [0.1, 0.15643447],
      [0.25, 0.38268343],
      [0.5, 0.70710678],
      [0.75, 0.92387953],
      [0.9, 0.98768834],
    ] as const) {
      expect(fadeAt(faded, share, 10)).toBeCloseTo(gain, 7);
      expect(fadeAt(faded, 10 - 2 * share, 10)).toBeCloseTo(gain, 7);
    }
    expect(fadeAt(faded, 5, 10)).toBe(1);
    expect(fadeAt(sound({}), 0, 10)).toBe(1);
  });
});

describe('beginnings', () => {
  it('are peaks of the flux by three conditions: the published example', () => {
    const flux = Float64Array.from([0.1, 0.2, 1.5, 0.3, 0.1, 0.1, 0.4, 0.2, 0.1, 2, 0.5, 0.2, 0.1]);
    const found = peaksOf(flux, 0.3, { alone: 3, meanBefore: 3, fall: 0.84 });
    expect(found.map(({ index }) => index)).toEqual([2, 9]);
  });
  it.each([90, 120, 137.5].flatMap((tempo) => [0, 0.1].map((noisy) => [tempo, noisy] as const)))(
    'of clicks at %f a minute with noise of %f: none missed, none invented, within 10 ms; the tempo to 0.5 %',
    (perMinute, noisy) => {
      const times = Array.from(
        { length: Math.floor((20 * perMinute) / 60) },
        (_, i) => 0.3 + (i * 60) / perMinute,
      );
      const flux = fluxOf(clicks(times, 20.5, noisy), RATE);
      const onsets = onsetsOf(flux);
      expect(onsets).toHaveLength(times.length);
      onsets.forEach(({ seconds }, i) => expect(Math.abs(seconds - times[i]!)).toBeLessThan(0.01));
      const tempo = tempoOf(flux, onsets)!;
      expect(Math.abs(tempo.perMinute / perMinute - 1)).toBeLessThan(0.005);
      const beats = beatsOf(tempo, times.at(-1)! + 0.1);
      expect(beats).toHaveLength(times.length);
      beats.forEach((seconds, i) => expect(Math.abs(seconds - times[i]!)).toBeLessThan(0.015));
    },
  );
  it('there are none in silence and in an even tone', () => {
    expect(onsetsOf(fluxOf(new Float32Array(RATE), RATE))).toEqual([]);
    expect(tempoOf(fluxOf(new Float32Array(RATE), RATE), [])).toBeNull();
    expect(onsetsOf(fluxOf(tone(440, 0.5, 3), RATE)).filter(({ seconds }) => seconds < 2.9)).toEqual([]);
    expect(onsetsOf(fluxOf(noise(RATE, 4), RATE)).filter(({ seconds }) => seconds < 0.1)).toEqual([]);
    // A stroke at the very beginning is one.
    expect(onsetsOf(fluxOf(clicks([0], 1, 0), RATE))).toHaveLength(1);
  });
  // 100 looks a second, 8 s: weighed autocorrelation (Ellis 2007) gives these tempos by design.
  it.each([
    ['every 25 looks, 1 and a half in turn', 25, 0.5, 120],
    ['every 30 looks', 30, 1, 100],
    ['every 80 looks', 80, 1, 75],
  ])('tempo of pulses %s', (_, every, other, wanted) => {
    const values = new Float64Array(800);
    for (let i = 0, k = 0; i < 800; i += every, k++) values[i] = k % 2 === 0 ? 1 : other;
    expect(tempoOf({ values, first: 0, step: 0.01, struck: false }, [])!.perMinute).toBeCloseTo(wanted, 0);
  });
});

describe('peaks', () => {
  it('of columns are never less than the samples, and no more than a bucket further out', () => {
    const samples = noise(40_000, 9).map((value, i) => value * (i / 40_000));
    const pyramid = peakPyramid(samples);
    fc.assert(
      fc.property(
        fc.integer({ min: -500, max: 39_000 }),
        fc.integer({ min: 300, max: 9000 }),
        (from, per) => {
          const columns = peakColumns(pyramid, samples.length, from, per, 4);
          for (let x = 0; x < 4; x++) {
            const [a, b] = [Math.max(0, from + x * per), Math.min(samples.length, from + (x + 1) * per)];
            if (a >= b) {
              expect(columns[2 * x + 1]).toBe(0);
              continue;
            }
            const own = samples.subarray(a, b).reduce((top, value) => Math.max(top, value), -1);
            const reach = 4 * per;
            const near = samples.subarray(Math.max(0, a - reach), Math.min(samples.length, b + reach));
            expect(columns[2 * x + 1]!).toBeGreaterThanOrEqual(own - 1 / 127);
            expect(columns[2 * x + 1]!).toBeLessThanOrEqual(
              near.reduce((top, value) => Math.max(top, value), -1) + 1 / 127,
            );
          }
        },
      ),
    );
  });
});

describe('the mix', () => {
  const shotWith = (sounds: Record<string, Partial<Sound>>): Shot => ({
    ...blankShot({ rate: { num: 25, den: 1 }, first: 1, last: 50 }),
    sounds: Object.fromEntries(
      Object.entries(sounds).map(([id, sound]) => [
        id,
        { name: id.slice(4), start: 1, values: {}, tracks: {}, links: {}, ...sound },
      ]),
    ),
  });
  const rate = 8000;
  const file = { channels: [tone(500, 0.5, 1, rate)], rate };
  const heard = (shot: Shot): Float32Array =>
    mix(compile(shot), { snd_a: file, snd_b: file }, 1, 50, rate)[0];
  it('has each sound from its start, as long as it plays', () => {
    const out = heard(shotWith({ snd_a: { start: 11 } }));
    expect(out).toHaveLength(16_000);
    // Ten frames at 25 a second are 0.4 s, 3,200 samples.
    for (const i of [0, 3199, 11_200, 15_999]) expect(out[i]).toBe(0);
    for (const i of [0, 5, 777, 7999]) expect(out[3200 + i]).toBeCloseTo(file.channels[0]![i]!, 6);
  });
  it('sums sounds, leaves muted ones out, repeats loops, and begins before the range where they do', () => {
    const two = heard(shotWith({ snd_a: {}, snd_b: { start: -24, loop: true, from: 0.25, length: 0.5 } }));
    const own = file.channels[0]!;
    for (const i of [3, 1234, 7000, 12_345]) {
      const other = own[2000 + ((i + 8000) % 4000)]!;
      expect(two[i]).toBeCloseTo((own[i] ?? 0) + other, 5);
    }
    expect(heard(shotWith({ snd_a: { muted: true } })).every((value) => value === 0)).toBe(true);
  });
  it('follows the level from frame to frame, and fades', () => {
    const shot = shotWith({ snd_a: { fadeIn: 0.5 } });
    const linked = apply(shot, setLink(shot, 'snd_a/level', '(frame - 1) / 50'));
    const out = heard(linked);
    for (const i of [40, 1001, 3999, 6400]) {
      const fade = Math.sin((Math.min(1, i / 4000) * Math.PI) / 2);
      const level = ((i / rate) * 25) / 50;
      expect(out[i]).toBeCloseTo(file.channels[0]![i]! * fade * level, 5);
    }
  });
  it('keeps the sides of a file of two channels apart', () => {
    const sides = { channels: [tone(500, 0.5, 1, rate), new Float32Array(rate)], rate };
    const [left, right] = mix(compile(shotWith({ snd_a: {} })), { snd_a: sides }, 1, 50, rate);
    expect(left[1001]).toBeCloseTo(sides.channels[0]![1001]!, 6);
    expect(right.every((value) => value === 0)).toBe(true);
  });
});
