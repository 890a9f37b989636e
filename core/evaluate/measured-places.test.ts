import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { blankShot, type Shot } from '../document';
import { addPart, apply, setLink, setValues } from '../edit';
import { seeded } from '../testing/seeded';
import { rotationFromEuler, ROTATION_ORDERS, type RotationOrder } from '../transform';
import { compile } from './compile';
import { Evaluator } from './evaluator';

type Quaternion = readonly [w: number, x: number, y: number, z: number];

// Quaternion algebra, by which no part of the evaluation works: Kuipers, "Quaternions and Rotation Sequences" (1999), ch. 5.
const times = (p: Quaternion, q: Quaternion): Quaternion => [
  p[0] * q[0] - p[1] * q[1] - p[2] * q[2] - p[3] * q[3],
  p[0] * q[1] + p[1] * q[0] + p[2] * q[3] - p[3] * q[2],
  p[0] * q[2] - p[1] * q[3] + p[2] * q[0] + p[3] * q[1],
  p[0] * q[3] + p[1] * q[2] - p[2] * q[1] + p[3] * q[0],
];
const about = (axis: number, degrees: number): Quaternion => {
  const half = (degrees * Math.PI) / 360;
  const unit = [0, 1, 2].map((k) => (k === axis ? Math.sin(half) : 0));
  return [Math.cos(half), unit[0]!, unit[1]!, unit[2]!];
};
const ofTurns = (turns: readonly number[], order: RotationOrder): Quaternion =>
  [...order].map((letter) => about('XYZ'.indexOf(letter), turns['XYZ'.indexOf(letter)]!)).reduce(times);
const turned = (q: Quaternion, point: readonly number[]): number[] => {
  const [w, x, y, z] = q;
  return times(times(q, [0, point[0]!, point[1]!, point[2]!]), [w, -x, -y, -z]).slice(1);
};

const random = seeded(29);
const AXES = ['x', 'y', 'z'] as const;

/** A chain of hubs, each hanging from the one before, and a gauge whose channels are linked. */
function chain(
  links: readonly {
    turn: readonly number[];
    rest: readonly number[];
    order: RotationOrder;
    at: readonly number[];
    size: number;
  }[],
): { shot: Shot; ids: string[]; gauge: string } {
  let shot = blankShot();
  const ids: string[] = [];
  for (const [i, { turn, rest, order, at, size }] of links.entries()) {
    const added = addPart(shot, { kind: 'hub', name: `Hub ${i}`, parent: ids.at(-1) ?? null }, random);
    shot = apply(shot, added.change);
    ids.push(added.id);
    shot = apply(
      shot,
      setValues(
        shot,
        AXES.flatMap((axis, k) => [
          [`${added.id}/rotation.${axis}`, turn[k]!] as const,
          [`${added.id}/rest.${axis}`, rest[k]!] as const,
          [`${added.id}/location.${axis}`, at[k]!] as const,
          [`${added.id}/scale.${axis}`, size] as const,
        ]),
      ),
    );
    shot = {
      ...shot,
      parts: { ...shot.parts, [added.id]: { ...shot.parts[added.id]!, rotationOrder: order } },
    };
  }
  const gauge = addPart(shot, { kind: 'hub', name: 'Gauge', parent: null }, random);
  return { shot: apply(shot, gauge.change), ids, gauge: gauge.id };
}
const evaluated = (shot: Shot): Evaluator => {
  const evaluator = new Evaluator(compile(shot));
  evaluator.evaluate(1);
  return evaluator;
};
const linked = (shot: Shot, pairs: readonly (readonly [address: string, formula: string])[]): Shot =>
  pairs.reduce((now, [address, formula]) => apply(now, setLink(now, address, formula)), shot);

const angle = fc.double({ min: -170, max: 170, noNaN: true });
const triple = (of: fc.Arbitrary<number>) => fc.tuple(of, of, of);
const link = fc.record({
  turn: triple(angle),
  rest: triple(fc.constantFrom(0, 0, 90, -30)),
  order: fc.constantFrom(...ROTATION_ORDERS),
  at: triple(fc.double({ min: -5, max: 5, noNaN: true })),
  size: fc.double({ min: 0.25, max: 4, noNaN: true }),
});

describe('the turn of a part in the world', () => {
  it('is that of all turns above it, one after another (against quaternions)', () => {
    fc.assert(
      fc.property(fc.array(link, { minLength: 1, maxLength: 4 }), (links) => {
        const { shot, ids, gauge } = chain(links);
        const last = `"Hub ${ids.length - 1}"`;
        const evaluator = evaluated(
          linked(
            shot,
            AXES.map((axis) => [`${gauge}/rotation.${axis}`, `worldturn${axis}(${last})`] as const),
          ),
        );
        const [x, y, z] = AXES.map((axis) => evaluator.number(`${gauge}/rotation.${axis}`)) as [
          number,
          number,
          number,
        ];
        const found = rotationFromEuler(new Float64Array(9), x, y, z, links.at(-1)!.order);
        // A part is turned first as it rests, then by its rotation, then by what it hangs from.
        const whole = links
          .map(({ turn, rest, order }) => times(ofTurns(rest, 'XYZ'), ofTurns(turn, order)))
          .reduce(times);
        AXES.forEach((_, k) => {
          const axis = turned(
            whole,
            AXES.map((_axis, i) => (i === k ? 1 : 0)),
          );
          for (let row = 0; row < 3; row++) expect(found[row * 3 + k]).toBeCloseTo(axis[row]!, 6);
        });
      }),
      { numRuns: 200 },
    );
  });
  it('of a part that hangs from nothing is its own rotation; below one that turns they add up about the same axis', () => {
    const still = { rest: [0, 0, 0], order: 'XYZ' as const, at: [1, 0, 0], size: 1 };
    const { shot, gauge } = chain([
      { ...still, turn: [0, 0, 25] },
      { ...still, turn: [0, 0, -60] },
    ]);
    const evaluator = evaluated(
      linked(shot, [
        [`${gauge}/rotation.x`, 'worldturnz("Hub 0")'],
        [`${gauge}/rotation.y`, 'worldturnz("Hub 1")'],
      ]),
    );
    expect(evaluator.number(`${gauge}/rotation.x`)).toBeCloseTo(25, 12);
    expect(evaluator.number(`${gauge}/rotation.y`)).toBeCloseTo(-35, 12);
  });
});

describe('a place in the measure of another part', () => {
  it('is what the location of something that hangs from it says', () => {
    fc.assert(
      fc.property(fc.array(link, { minLength: 2, maxLength: 4 }), (links) => {
        const { shot, ids, gauge } = chain(links);
        const [from, part] = [ids.length - 2, ids.length - 1];
        const evaluator = evaluated(
          linked(
            shot,
            AXES.map(
              (axis) => [`${gauge}/location.${axis}`, `seen${axis}("Hub ${part}", "Hub ${from}")`] as const,
            ),
          ),
        );
        AXES.forEach((axis, k) =>
          expect(evaluator.number(`${gauge}/location.${axis}`)).toBeCloseTo(links[part]!.at[k]!, 9),
        );
      }),
      { numRuns: 200 },
    );
  });
  it('of parts beside one another: a quarter turn and twice the size by hand', () => {
    const { shot, gauge } = chain([
      { turn: [0, 0, 90], rest: [0, 0, 0], order: 'XYZ', at: [1, 2, 3], size: 2 },
    ]);
    let next = apply(
      shot,
      addPart(
        shot,
        {
          kind: 'hub',
          name: 'Bell',
          parent: null,
          values: { 'location.x': 1, 'location.y': 8, 'location.z': 1 },
        },
        random,
      ).change,
    );
    next = linked(
      next,
      AXES.map((axis) => [`${gauge}/location.${axis}`, `seen${axis}(Bell, "Hub 0")`] as const),
    );
    const evaluator = evaluated(next);
    expect(AXES.map((axis) => evaluator.number(`${gauge}/location.${axis}`))).toEqual([
      expect.closeTo(3, 12),
      expect.closeTo(0, 12),
      expect.closeTo(-1, 12),
    ]);
  });
  it('has no value where the other one is flat, and what turns by its own turn is told as a loop', () => {
    const { shot, ids, gauge } = chain([
      { turn: [0, 0, 0], rest: [0, 0, 0], order: 'XYZ', at: [0, 0, 0], size: 1 },
    ]);
    const flat = linked(apply(shot, setValues(shot, [[`${ids[0]!}/scale.y`, 0]])), [
      [`${gauge}/location.x`, 'seenx(Gauge, "Hub 0")'],
      [`${gauge}/rotation.x`, 'worldturnx("Hub 0")'],
    ]);
    expect(compile(flat).links.map((one) => one.error?.code)).toContain('loop');
    const evaluator = evaluated(flat);
    expect(evaluator.hasFailed(`${gauge}/rotation.x`)).toBe(true);
    const itself = linked(shot, [[`${gauge}/rotation.z`, 'worldturnz(Gauge) + 1deg']]);
    expect(compile(itself).links[0]!.error?.code).toBe('loop');
    // A part may be seen from one that it does not move: its own place is no part of its pivot's.
    const size = linked(shot, [[`${gauge}/scale.x`, 'seenx(Gauge, "Hub 0") / 1m']]);
    expect(compile(size).links[0]!.error).toBeNull();
  });
});
