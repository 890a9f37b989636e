import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { blankShot, type Shot } from '../../../../core/document';
import type { LoudnessTables } from '../../../../core/evaluate';
import type { SoundFacts } from '../../../../wire';
import { Sounds, type SoundDoor } from './sounds';

const HASH = 'a'.repeat(64);
const shot: Shot = {
  ...blankShot(),
  sounds: { snd_o: { name: 'Organ', start: 1, asset: HASH, values: {}, tracks: {}, links: {} } },
};
const facts: SoundFacts = {
  hash: HASH,
  seconds: 2,
  channels: 1,
  state: 'waiting',
  reason: null,
  samples: null,
  struck: null,
};

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

function soundsWith(answers: readonly (SoundFacts | Error)[]) {
  let asked = 0;
  const heard: LoudnessTables[] = [];
  const door: SoundDoor = {
    facts: () => {
      const answer = answers[Math.min(asked++, answers.length - 1)]!;
      return answer instanceof Error ? Promise.reject(answer) : Promise.resolve(answer);
    },
    table: (_, table) => Promise.resolve(new ArrayBuffer(table === 'peaks' ? 8 : 120)),
  };
  const sounds = new Sounds(
    door,
    () => shot,
    (tables) => heard.push(tables),
  );
  return { sounds, heard, asked: () => asked };
}

describe('what is known of a sound', () => {
  it('is asked for until it has been read, and told once it is', async () => {
    const { sounds, heard } = soundsWith([
      facts,
      facts,
      { ...facts, state: 'ready', samples: 88_200, struck: true },
    ]);
    sounds.follow(shot);
    await vi.advanceTimersByTimeAsync(500);
    expect(sounds.of(HASH)).toMatchObject({ facts: { state: 'waiting' }, peaks: null });
    expect(heard).toEqual([]);
    await vi.advanceTimersByTimeAsync(3000);
    expect(sounds.of(HASH).peaks).toHaveLength(8);
    expect(sounds.of(HASH).flux).toMatchObject({ struck: true });
    expect(heard).toHaveLength(1);
    expect(heard[0]!.snd_o).toMatchObject({ seconds: 2, rate: 100 });
  });
  it('says why nothing is known, and goes on asking while the server is away', async () => {
    const away = soundsWith([
      new Error('The server does not answer.'),
      { ...facts, state: 'ready', samples: 1 },
    ]);
    away.sounds.follow(shot);
    await vi.advanceTimersByTimeAsync(500);
    expect(away.sounds.of(HASH).failed).toBe('The server does not answer.');
    await vi.advanceTimersByTimeAsync(2000);
    expect(away.sounds.of(HASH).failed).toBeNull();
    const broken = soundsWith([{ ...facts, state: 'broken', reason: 'there is no sound in it' }]);
    broken.sounds.follow(shot);
    await vi.advanceTimersByTimeAsync(5000);
    expect(broken.sounds.of(HASH).failed).toBe('there is no sound in it');
    expect(broken.asked()).toBe(1);
  });
  it('is asked for once, whatever else changes, and no more once the page is left', async () => {
    const { sounds, asked } = soundsWith([facts]);
    sounds.follow(shot);
    sounds.follow({ ...shot, parts: {} });
    await vi.advanceTimersByTimeAsync(500);
    expect(asked()).toBe(1);
    sounds.close();
    await vi.advanceTimersByTimeAsync(10_000);
    expect(asked()).toBe(1);
  });
});
