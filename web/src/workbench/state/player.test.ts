import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { blankShot } from '../../../../core/document';
import type { OpenShot } from '../../shot/open-shot';
import { Player, type AudioClock } from './player';
import { Time } from './time';

let drawing: ((now: number) => void)[] = [];
let clock = 0;
/** Lets the page draw at a moment, as late as it likes. */
function draw(at: number): void {
  clock = at;
  const due = drawing;
  drawing = [];
  for (const step of due) step(at);
}

beforeEach(() => {
  [drawing, clock] = [[], 1000];
  vi.stubGlobal('requestAnimationFrame', (step: (now: number) => void) => drawing.push(step));
  vi.stubGlobal('cancelAnimationFrame', () => (drawing = []));
  vi.spyOn(performance, 'now').mockImplementation(() => clock);
});
afterEach(() => {
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

function playing(rate: { num: number; den: number }, first = 1, last = 1000, sound?: AudioClock) {
  const blank = blankShot();
  const shot = { ...blank, setup: { ...blank.setup, first, last, rate } };
  const evaluated: number[] = [];
  const doc = { now: { shot }, evaluate: (frame: number) => evaluated.push(frame) } as unknown as OpenShot;
  const time = new Time(first);
  return { time, player: new Player(time, doc, sound), evaluated };
}

describe('play-back', () => {
  it.each([
    [24, 1],
    [30000, 1001],
  ])('at %i/%i keeps the time whatever drawing costs: within a frame at each second of ten', (num, den) => {
    const { time, player, evaluated } = playing({ num, den });
    player.play(1);
    let at = clock;
    // Pictures take from 20 to 400 ms, in an order that never comes out even.
    for (let i = 0; at < 11_000; i++) {
      at += 20 + ((i * 137) % 381);
      draw(at);
      const exact = 1 + ((at - 1000) / 1000) * (num / den);
      expect(Math.abs(time.now.frame - exact)).toBeLessThanOrEqual(1);
    }
    // Pictures were dropped, none was shown twice.
    expect(evaluated.length).toBeLessThan(80);
    expect(new Set(evaluated).size).toBe(evaluated.length);
  });
  it.each([
    [24, 1],
    [25, 1],
    [30000, 1001],
    [60, 1],
  ])('at %i/%i keeps to the clock of the sound, within half a frame over ten seconds', (num, den) => {
    // A sound device whose seconds are longer than those of the page, and which begins a little later.
    const heard = (): number => Math.max(0, (clock - 1000) / 1000 - 0.02) * 0.9987;
    const { time, player } = playing({ num, den }, 1, 1000, { start: () => heard, stop: () => undefined });
    player.play(1);
    let looks = 0;
    for (let at = 1000; at < 11_000; looks++) {
      // Screens draw sixty times a second, now and then a picture late.
      at += looks % 17 === 0 ? 1000 / 30 : 1000 / 60;
      draw(at);
      // A frame is heard from its beginning to its end: its middle is half a frame from both.
      const exact = 1 + heard() * (num / den);
      expect(Math.abs(time.now.frame + 0.5 - exact)).toBeLessThanOrEqual(0.5 + 1e-6);
    }
    expect(looks).toBeGreaterThan(500);
  });
  it('begins again at the first frame of the stretch that it plays, and stops', () => {
    const { time, player } = playing({ num: 24, den: 1 });
    player.play(10, { first: 10, last: 21 });
    draw(1000 + 11.5 * (1000 / 24));
    expect(time.now.frame).toBe(21);
    draw(1000 + 12.5 * (1000 / 24));
    expect(time.now.frame).toBe(10);
    player.stop();
    draw(5000);
    expect(time.now).toMatchObject({ frame: 10, playing: false });
  });
  it('holds each picture for as many frames as is chosen, and shows the frame it stops at', () => {
    const { time, player, evaluated } = playing({ num: 25, den: 1 }, 1, 100);
    time.holdPictures(2);
    player.play(1);
    for (let i = 1; i <= 8; i++) draw(1000 + i * 40 + 1);
    expect(time.now.frame).toBe(9);
    expect(evaluated).toEqual([3, 5, 7, 9]);
    draw(1000 + 9 * 40 + 1);
    expect(evaluated.at(-1)).toBe(9);
    player.stop();
    expect(time.now.frame).toBe(10);
    expect(evaluated.at(-1)).toBe(10);
  });
  it('ends at the last frame where it is not to begin again', () => {
    const { time, player } = playing({ num: 24, den: 1 }, 1, 12);
    time.toggleLoop();
    player.play(4);
    draw(1000 + 7.2 * (1000 / 24));
    expect(time.now).toMatchObject({ frame: 11, playing: true });
    draw(3000);
    expect(time.now).toMatchObject({ frame: 12, playing: false });
  });
});
