import { wavOf } from '../core/format/wav';
import { fileOf, type DemoFile } from './files';

const RATE = 22_050;
/** Seconds of a beat: 120 a minute, twelve frames at 24 a second. */
const BEAT = 0.5;
export const TUNE_BEATS = 16;
export const BEAT_FRAMES = 12;
const SECONDS = TUNE_BEATS * BEAT;
/** What the organ plays, two notes to a beat, as numbers of MIDI 1.0 notes; 0 is a rest. */
const MELODY = [
  76, 79, 84, 79, 81, 79, 76, 72, 74, 77, 81, 77, 79, 77, 74, 71, 76, 79, 84, 86, 88, 86, 84, 79, 81, 84, 83,
  79, 84, 0, 84, 0,
];
/** Bass and chord of each bar of four beats: the bass on the first and third, the chord on the others. */
const BARS: readonly { readonly bass: readonly [number, number]; readonly chord: readonly number[] }[] = [
  { bass: [48, 43], chord: [60, 64, 67] },
  { bass: [50, 43], chord: [59, 62, 65] },
  { bass: [48, 45], chord: [60, 64, 69] },
  { bass: [43, 48], chord: [59, 62, 67] },
];
/** Harmonics of a stopped and an open pipe together, by their share. */
const PIPE = [1, 0.45, 0.55, 0.16, 0.22, 0.06, 0.09];
const ATTACK = 0.018;
const RELEASE = 0.06;

const hertz = (note: number): number => 440 * 2 ** ((note - 69) / 12);

/** Sounds a note of the pipes into the samples. */
function pipe(out: Float32Array, note: number, from: number, seconds: number, loud: number): void {
  const start = Math.round(from * RATE);
  const count = Math.min(out.length - start, Math.round((seconds + RELEASE) * RATE));
  const f = hertz(note);
  for (let i = 0; i < count; i++) {
    const t = i / RATE;
    const fade = Math.min(1, t / ATTACK) * Math.min(1, Math.max(0, (seconds + RELEASE - t) / RELEASE));
    // The wind of the bellows is not quite even.
    const wind = 1 + 0.06 * Math.sin(2 * Math.PI * 5.5 * (from + t));
    let value = 0;
    PIPE.forEach((share, k) => {
      if (f * (k + 1) < RATE / 2.2) value += share * Math.sin(2 * Math.PI * f * (k + 1) * t);
    });
    out[start + i]! += loud * fade * wind * value;
  }
}

/** A stroke of the snare: noise that dies away, from a repeatable row of numbers (Park and Miller 1988). */
function snare(out: Float32Array, from: number, loud: number, seed: number): void {
  let state = seed;
  const start = Math.round(from * RATE);
  for (let i = 0; i < 0.12 * RATE && start + i < out.length; i++) {
    state = (state * 16807) % 2147483647;
    const noise = state / 1073741823.5 - 1;
    out[start + i]! += loud * Math.exp(-i / (0.025 * RATE)) * noise;
  }
}

/** A stroke of the drum: a low tone that falls. */
function drum(out: Float32Array, from: number, loud: number): void {
  const start = Math.round(from * RATE);
  for (let i = 0; i < 0.22 * RATE && start + i < out.length; i++) {
    const t = i / RATE;
    out[start + i]! +=
      loud * Math.exp(-t / 0.06) * Math.sin(2 * Math.PI * (58 * t + 1.6 * (1 - Math.exp(-t / 0.03))));
  }
}

let made: DemoFile | null = null;

/** The polka of the roundabout's organ: eight seconds that can be played over and over, as a WAV file. */
export function organTune(): DemoFile {
  if (made) return made;
  const out = new Float32Array(Math.round(SECONDS * RATE));
  MELODY.forEach((note, i) => {
    if (note > 0) pipe(out, note, (i * BEAT) / 2, BEAT / 2 - 0.05, 0.085);
  });
  BARS.forEach(({ bass, chord }, bar) => {
    const from = bar * 4 * BEAT;
    bass.forEach((note, i) => {
      pipe(out, note, from + i * 2 * BEAT, BEAT * 0.7, 0.11);
      drum(out, from + i * 2 * BEAT, 0.42);
    });
    for (const beat of [1, 3]) {
      for (const note of chord) pipe(out, note, from + beat * BEAT, BEAT * 0.35, 0.04);
      snare(out, from + beat * BEAT, 0.16, 977 + bar * 31 + beat);
    }
  });
  made = fileOf('Organ tune.wav', wavOf([out, out], RATE));
  return made;
}
