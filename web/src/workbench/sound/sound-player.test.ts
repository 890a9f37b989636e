import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Shot, Sound } from '../../../../core/document';
import { compile } from '../../../../core/evaluate';
import { emptyShot, hub } from '../../../../core/testing/random-shot';
import type { OpenShot } from '../../shot/open-shot';
import { SoundPlayer } from './sound-player';

interface Heard {
  readonly file: number;
  readonly at: number;
  readonly offset: number;
  until: number;
}

let heard: Heard[] = [];
const NOW = 12.5;

/** As much of Web Audio as the player asks for, writing down what would be heard. */
class FakeContext {
  currentTime = NOW;
  state = 'running';
  destination = {};
  createGain = () => ({ connect: () => ({}) });
  resume = () => Promise.resolve();
  close = () => Promise.resolve();
  decodeAudioData = (bytes: ArrayBuffer) =>
    Promise.resolve({ duration: 60, file: new Uint8Array(bytes)[0]! });
}
class FakeSource {
  onended: unknown = null;
  private entry: Heard | null = null;
  constructor(
    _context: unknown,
    private readonly options: { buffer: { file: number } },
  ) {}
  connect = (to: unknown): unknown => to;
  disconnect = (): void => undefined;
  start(at: number, offset: number): void {
    this.entry = { file: this.options.buffer.file, at, offset, until: Infinity };
    heard.push(this.entry);
  }
  stop(at = 0): void {
    if (this.entry) this.entry.until = at;
  }
}
class FakeGain {
  gain = { setValueCurveAtTime: () => undefined };
  connect = (): object => ({});
  disconnect = (): void => undefined;
}

beforeEach(() => {
  heard = [];
  vi.stubGlobal('AudioContext', FakeContext);
  vi.stubGlobal('AudioBufferSourceNode', FakeSource);
  vi.stubGlobal('GainNode', FakeGain);
  vi.useFakeTimers();
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const sound = (n: number, more: Partial<Sound> = {}): Sound => ({
  name: `Sound ${n}`,
  start: 1,
  asset: String(n).padStart(64, '0'),
  values: {},
  tracks: {},
  links: {},
  ...more,
});
const withSounds = (...sounds: readonly Sound[]): Shot => ({
  ...emptyShot(),
  setup: { ...emptyShot().setup, first: 1, last: 240 },
  sounds: Object.fromEntries(sounds.map((entry, i) => [`snd_${i}`, entry])),
});

async function playerOf(shot: Shot, inner: Readonly<Record<string, Shot>> = {}): Promise<SoundPlayer> {
  const doc = { now: { shot, plan: compile(shot) } } as unknown as OpenShot;
  const player = new SoundPlayer(doc, { shotOf: (id) => inner[id] ?? null }, (hash) =>
    Promise.resolve(Uint8Array.of(Number(hash))),
  );
  player.prepare();
  await vi.advanceTimersByTimeAsync(10);
  return player;
}

describe('play', () => {
  it('lets the place of the playhead be heard within 30 ms', async () => {
    const player = await playerOf(withSounds(sound(1, { start: 25, from: 2 })));
    player.start(49, { first: 1, last: 240 });
    // Frame 49 is a second after the sound begins, which leaves out the first two seconds of its file.
    expect(heard[0]).toMatchObject({ file: 1, offset: 3 });
    expect(heard[0]!.at - NOW).toBeGreaterThanOrEqual(0);
    expect(heard[0]!.at - NOW).toBeLessThan(0.03);
    player.close();
  });

  it('begins a sound that comes later at its own frame, to the sample', async () => {
    const player = await playerOf(withSounds(sound(1, { start: 25 })));
    player.start(13, { first: 1, last: 240 });
    expect(heard[0]!.offset).toBe(0);
    expect(heard[0]!.at - NOW - 12 / 24).toBeLessThan(0.03);
    player.close();
  });

  it('lets ten sounds begin at one moment, those that are muted not', async () => {
    const ten = Array.from({ length: 10 }, (_, i) => sound(i + 1, { start: 1 }));
    const player = await playerOf(withSounds(...ten, sound(11, { muted: true })));
    player.start(1, { first: 1, last: 240 });
    expect(heard.map(({ file }) => file)).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9, 10]);
    expect(new Set(heard.map(({ at }) => at)).size).toBe(1);
    player.stop();
    expect(heard.every(({ until }) => until === 0)).toBe(true);
    player.close();
  });

  it('has the sounds of shots in the shot where these are shown', async () => {
    const id = '00000000-0000-4000-8000-00000000000a';
    const host: Shot = {
      ...withSounds(),
      parts: {
        prt_a: {
          ...hub('Inner'),
          kind: 'shot',
          inset: { shot: id, name: 'Inner', start: 49, speed: 1, plays: 'once', until: null },
        },
      },
    };
    const player = await playerOf(host, { [id]: withSounds(sound(7, { start: 13 })) });
    player.start(1, { first: 1, last: 240 });
    // Two seconds until the inner shot begins, half a second until its sound does.
    await vi.advanceTimersByTimeAsync(0);
    expect(heard).toHaveLength(1);
    expect(heard[0]!.at - NOW - 2.5).toBeLessThan(0.03);
    expect(heard[0]).toMatchObject({ file: 7, offset: 0 });
    player.close();
  });
});
