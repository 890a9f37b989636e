import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Shot } from '../../../../core/document';
import { emptyShot, hub } from '../../../../core/testing/random-shot';
import type { OpenedShot } from '../../../../wire';
import { Insets, type ShotDoor } from './insets';

const A = '00000000-0000-4000-8000-00000000000a';
const B = '00000000-0000-4000-8000-00000000000b';
const showing = (shot: string): Shot => ({
  ...emptyShot(),
  parts: {
    prt_s: {
      ...hub('Inner'),
      kind: 'shot',
      inset: { shot, name: 'Inner', start: 1, speed: 1, plays: 'loop', until: null },
    },
  },
});

function server(shots: Record<string, Shot>) {
  const revisions: Record<string, number> = {};
  const door: ShotDoor = {
    shot: (id) =>
      shots[id]
        ? Promise.resolve({
            id,
            name: `Shot ${id.at(-1)}`,
            projectId: '',
            projectName: '',
            revision: revisions[id] ?? 0,
            document: shots[id],
          } satisfies OpenedShot)
        : Promise.reject(new Error('The shot is gone.')),
    changesSince: (id, revision) =>
      Promise.resolve(
        (revisions[id] ?? 0) > revision
          ? [{ revision: revisions[id]!, senderId: '', label: '', patches: [] }]
          : [],
      ),
  };
  return { door, shots, change: (id: string) => (revisions[id] = (revisions[id] ?? 0) + 1) };
}

beforeEach(() => vi.useFakeTimers());
afterEach(() => vi.useRealTimers());
const settle = (ms = 0): Promise<unknown> => vi.advanceTimersByTimeAsync(ms);

describe('shots that the open one shows', () => {
  it('are read with those that they show in turn, planned once, and followed when somebody changes one', async () => {
    const { door, shots, change } = server({ [A]: showing(B), [B]: emptyShot() });
    const insets = new Insets(door, () => ({}));
    insets.follow(showing(A));
    expect(insets.planOf(A)).toBeNull();
    await settle();
    expect(insets.of(A)).toMatchObject({ name: 'Shot a', failed: null });
    expect(insets.shotOf(B)).toBe(shots[B]);
    const plan = insets.planOf(A);
    expect(plan?.shot).toBe(shots[A]);
    expect(insets.planOf(A)).toBe(plan);
    shots[A] = { ...showing(B), parts: {} };
    change(A);
    await settle(3100);
    expect(insets.shotOf(A)).toBe(shots[A]);
    expect(insets.planOf(A)).not.toBe(plan);
    insets.close();
  });

  it('that cannot be had say why, and are tried again', async () => {
    const { door, shots } = server({});
    const insets = new Insets(door, () => ({}));
    insets.follow(showing(A));
    await settle();
    expect(insets.of(A)).toMatchObject({ shot: null, failed: 'The shot is gone.' });
    shots[A] = emptyShot();
    await settle(3100);
    expect(insets.of(A)).toMatchObject({ shot: shots[A], failed: null });
    insets.close();
  });
});
