import { describe, expect, it } from 'vitest';
import { addPart, apply } from '../edit';
import { compile } from '../evaluate';
import { emptyShot } from '../testing/random-shot';
import { clearance, joined, meetingsOf } from './index';
import type { Shot } from '../document';

/** A slide that goes to and fro into a stop, over a bed it rests on, with a knob fixed to it and a pendulum in a slot. */
function machine(): Shot {
  let shot: Shot = { ...emptyShot(), setup: { ...emptyShot().setup, first: 0, last: 40 } };
  const add = (name: string, size: readonly number[], at: readonly number[], moves: string | null): void => {
    const [width, height, depth] = size;
    const { change, id } = addPart(shot, {
      kind: 'solid',
      name,
      shape: { kind: 'box', values: { width: width!, height: height!, depth: depth! } },
      values: { 'location.x': at[0]!, 'location.y': at[1]!, 'location.z': at[2]! },
    });
    shot = apply(shot, change);
    if (moves !== null)
      shot = {
        ...shot,
        parts: {
          ...shot.parts,
          [id]: { ...shot.parts[id]!, links: { 'location.x': { formula: moves, refs: {} } } },
        },
      };
  };
  const swing = 'sin(frame * 18)';
  add('Slide', [2, 1, 1], [0, 0, 0], swing);
  add('Knob', [0.2, 0.5, 0.2], [0, 0.6, 0], swing);
  add('Bed', [6, 1, 1], [0, -0.99, 0], null);
  add('Stop', [1, 1, 1], [2.2, 0, 0], null);
  return shot;
}

describe('findings by pairs', () => {
  const shot = machine();
  const plan = compile(shot);
  const check = (from: number, to: number, watched: [string, string][] = []) =>
    clearance(plan, { from, to, parts: null, watched });
  const id = (name: string): string =>
    Object.keys(shot.parts).find((part) => shot.parts[part]!.name === name)!;
  const words = (meetings: ReturnType<typeof meetingsOf>) =>
    meetings.map(({ a, b, kind, findings }) => [
      [a, b]
        .map((part) => shot.parts[part]!.name)
        .sort()
        .join(' and '),
      kind,
      findings.length,
    ]);

  it('come together, rub all the while, or stand in one another', () => {
    const meetings = meetingsOf(check(0, 40).findings);
    expect(words(meetings)).toEqual([
      ['Slide and Stop', 'into', 2],
      ['Bed and Slide', 'along', 1],
      ['Knob and Slide', 'still', 1],
      ['Bed and Stop', 'still', 1],
    ]);
    // The slide's end comes to 1 + 1, the stop begins at 1.7.
    expect(meetings[0]!.deepest!.depth).toBeCloseTo(0.3, 3);
    expect(meetings[0]!.findings[0]!.from).toBeCloseTo((Math.asin(0.7) * 180) / Math.PI / 18, 1);
  });

  it('are left out where it is said', () => {
    const left = meetingsOf(check(0, 40).findings, (a, b) => [a, b].includes(id('Stop')) && a !== b);
    expect(words(left).map(([names]) => names)).toEqual(['Bed and Slide', 'Knob and Slide']);
  });

  it.each([5, 9, 20, 33])('of two halves, parted at frame %i, are those of the whole', (seam) => {
    const watched: [string, string][] = [[id('Knob'), id('Stop')]];
    const whole = check(0, 40, watched);
    const halves = joined(check(0, seam, watched), check(seam, 40, watched), seam);
    const bare = (found: typeof whole) =>
      found.findings
        .map(({ a, b, from, to, before, after, still }) => ({ a, b, from, to, before, after, still }))
        .sort((p, q) => p.from - q.from || (JSON.stringify(p) < JSON.stringify(q) ? -1 : 1));
    expect(bare(halves)).toEqual(bare(whole));
    expect(halves.nearness[0]!.distances).toEqual(whole.nearness[0]!.distances);
    expect(halves.nearness[0]!.least).toBeCloseTo(whole.nearness[0]!.least, 6);
    whole.findings.forEach(({ depth, a, b, from }) => {
      const same = halves.findings.find(
        (each) => each.a.part === a.part && each.b.part === b.part && each.from === from,
      )!;
      if (depth !== null) expect(same.depth!).toBeCloseTo(depth, 2);
    });
  });
});
