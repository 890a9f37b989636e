import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { blankShot, type Shot } from '../../../../core/document';
import { addPart, apply, setJointLimit, setValues } from '../../../../core/edit';
import { compile, Evaluator } from '../../../../core/evaluate';
import { seeded } from '../../../../core/testing/seeded';
import { jointArcs } from './joint-arc';
import { pivotOf } from './part-place';

const random = seeded(17);

/** An upper arm that is turned and hangs from a turned body, and a hand at its end. */
function arm(turn: readonly number[], body: readonly number[]): { shot: Shot; arm: string; hand: string } {
  let shot = blankShot();
  const add = (name: string, parent: string | null, values: Record<string, number>): string => {
    const made = addPart(shot, { kind: 'hub', name, parent, values }, random);
    shot = apply(shot, made.change);
    return made.id;
  };
  const turns = (of: readonly number[]): Record<string, number> => ({
    'rotation.x': of[0]!,
    'rotation.y': of[1]!,
    'rotation.z': of[2]!,
  });
  const chest = add('Chest', null, { 'location.x': 1, 'location.y': 2, ...turns(body) });
  const upper = add('Arm', chest, { 'location.x': 0.3, ...turns(turn) });
  const hand = add('Hand', upper, { 'location.y': -0.6, 'location.z': 0.1 });
  return { shot, arm: upper, hand };
}
const evaluated = (shot: Shot): Evaluator => {
  const evaluator = new Evaluator(compile(shot));
  evaluator.evaluate(1);
  return evaluator;
};

describe('the arc of a joint', () => {
  it('runs where what hangs from the part really goes, whatever its other turns are', () => {
    const angle = fc.integer({ min: -80, max: 80 });
    fc.assert(
      fc.property(
        fc.tuple(angle, angle, angle),
        fc.tuple(angle, angle, angle),
        fc.constantFrom('x', 'y', 'z'),
        (turn, body, axis) => {
          const made = arm(turn, body);
          const limit = { least: -95, most: 130 };
          const shot = apply(made.shot, setJointLimit(made.shot, made.arm, axis, limit));
          const [arc] = jointArcs(shot, evaluated(shot), made.arm);
          expect(arc!.within).toBe(true);
          // The same part, really turned to both ends: the arm's end lies seven tenths of the way to the hand, flattened.
          for (const [end, point] of [
            [limit.least, arc!.points[0]!],
            [limit.most, arc!.points.at(-1)!],
          ] as const) {
            const turned = apply(shot, setValues(shot, [[`${made.arm}/rotation.${axis}`, end]]));
            const [there] = jointArcs(turned, evaluated(turned), made.arm);
            expect(there!.now.distanceTo(point)).toBeLessThan(1e-9);
            const hand = pivotOf(evaluated(turned), made.hand).sub(arc!.pivot);
            const way = there!.now.clone().sub(arc!.pivot);
            expect(way.length()).toBeLessThanOrEqual(0.7 * hand.length() + 1e-9);
            expect(way.dot(hand)).toBeGreaterThan(0);
          }
        },
      ),
      { numRuns: 60 },
    );
  });
  it('tells where a joint is beyond its limits; one without any has none', () => {
    const { shot, arm: id } = arm([0, 0, 100], [0, 0, 0]);
    expect(jointArcs(shot, evaluated(shot), id)).toEqual([]);
    const limited = apply(shot, setJointLimit(shot, id, 'z', { least: -10, most: 90 }));
    expect(jointArcs(limited, evaluated(limited), id).map((arc) => arc.within)).toEqual([false]);
  });
});
