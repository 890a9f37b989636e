import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Calm } from './calm';

describe('what is told calmly', () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  const listened = () => {
    const calm = new Calm();
    const times: number[] = [];
    const start = performance.now();
    calm.state.subscribe(() => times.push(performance.now() - start));
    return { calm, times };
  };

  it('is told once after the last of several changes', () => {
    const { calm, times } = listened();
    for (let i = 0; i < 5; i++) {
      calm.changed();
      vi.advanceTimersByTime(20);
    }
    expect(times).toEqual([]);
    vi.advanceTimersByTime(1000);
    expect(times).toEqual([160]);
  });

  it('is told while changes go on without end, at least three times a second', () => {
    const { calm, times } = listened();
    for (let i = 0; i < 100; i++) {
      calm.changed();
      vi.advanceTimersByTime(16);
    }
    expect(times.length).toBeGreaterThanOrEqual(4);
    expect(Math.max(...times.map((time, i) => time - (times[i - 1] ?? 0)))).toBeLessThanOrEqual(320);
  });

  it('is told of nothing once it is stopped', () => {
    const { calm, times } = listened();
    calm.changed();
    calm.stop();
    vi.advanceTimersByTime(1000);
    expect(times).toEqual([]);
  });
});
