import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { blankShot, type Shot } from '../../../../core/document';
import { addPart, apply, renamePart, setValues } from '../../../../core/edit';
import { Elsewhere, MARKED_MS, partsTouched } from './elsewhere';

function twoSolids(): { shot: Shot; box: string; ball: string; hub: string } {
  let shot: Shot = blankShot();
  const add = (spec: Parameters<typeof addPart>[1]): string => {
    const { change, id } = addPart(shot, spec);
    shot = apply(shot, change);
    return id;
  };
  const look = { values: {} };
  const box = add({ kind: 'solid', name: 'Box', shape: { kind: 'box', values: {} }, look });
  const ball = add({ kind: 'solid', name: 'Ball', shape: { kind: 'ball', values: {} }, look });
  const hub = add({ kind: 'hub', name: 'Hub' });
  return { shot, box, ball, hub };
}

describe('what somebody else has changed', () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  it('shows on the parts that have it, by their shape or look too, and on those alone', () => {
    const { shot, box, ball, hub } = twoSolids();
    const { look } = shot.parts[ball]!;
    expect(partsTouched(shot, [renamePart(shot, hub, 'Axle')])).toEqual([hub]);
    expect(partsTouched(shot, [setValues(shot, [[`${look}/roughness`, 0.2]])])).toEqual([ball]);
    const both = [renamePart(shot, box, 'Crate'), setValues(shot, [[`${ball}/location.x`, 1]])];
    expect(partsTouched(shot, both)).toEqual([box, ball]);
    expect(partsTouched(shot, [{ label: '', patches: [{ path: ['setup', 'last'], after: 9 }] }])).toEqual([]);
  });

  it('is marked for a moment, which begins anew with each change', () => {
    const elsewhere = new Elsewhere();
    elsewhere.mark(['prt_a']);
    vi.advanceTimersByTime(MARKED_MS - 1);
    elsewhere.mark(['prt_b']);
    vi.advanceTimersByTime(MARKED_MS - 1);
    expect([...elsewhere.now.parts]).toEqual(['prt_a', 'prt_b']);
    vi.advanceTimersByTime(1);
    expect(elsewhere.now.parts.size).toBe(0);
  });
});
