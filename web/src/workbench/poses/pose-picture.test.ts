import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { blankShot, type Shot } from '../../../../core/document';
import { addPart, apply } from '../../../../core/edit';
import { compile, Evaluator } from '../../../../core/evaluate';
import { buildMesh } from '../../../../core/shape';
import { ownPose, POSE_LIMITS } from '../../../../wire';
import { hullOf, posePicture } from './pose-picture';

function picture(
  parts: readonly (readonly [
    name: string,
    at: readonly [number, number, number],
    sizes: readonly [number, number, number],
    colour: [number, number, number],
  ])[],
) {
  let shot: Shot = blankShot({});
  shot = { ...shot, setup: { ...shot.setup, camera: null } };
  const ids = parts.map(([name, at, [width, height, depth], colour]) => {
    const { change, id } = addPart(shot, {
      kind: 'solid',
      name,
      shape: { kind: 'box', values: { width, height, depth } },
      look: { values: { colour } },
      values: { 'location.x': at[0], 'location.y': at[1], 'location.z': at[2] },
    });
    shot = apply(shot, change);
    return id;
  });
  const evaluator = new Evaluator(compile(shot));
  evaluator.evaluate(1);
  return posePicture(shot, evaluator, ids, (id) => {
    const shape = shot.parts[id]!.shape!;
    return buildMesh(shot.shapes[shape]!, (path) => evaluator.number(`${shape}/${path}`), 0.5);
  });
}

describe('the picture of a pose', () => {
  it('shows each solid where it stands, the nearest last, in the colour of its look', () => {
    const pieces = picture([
      ['Near', [1.5, 0, 2], [1, 1, 1], [1, 0, 0]],
      ['Far', [-1.5, 0, -2], [1, 4, 1], [0, 0, 1]],
    ]);
    expect(pieces.map((piece) => piece.colour)).toEqual(['#0000ff', '#ff0000']);
    const bounds = (points: readonly number[]) =>
      [0, 1].map((axis) => {
        const values = points.filter((_, i) => i % 2 === axis);
        return [Math.min(...values), Math.max(...values)];
      });
    // Four wide and four high: the whole square of 200.
    expect(bounds(pieces[0]!.points)).toEqual([
      [0, 50],
      [0, 200],
    ]);
    expect(bounds(pieces[1]!.points)).toEqual([
      [150, 200],
      [75, 125],
    ]);
  });
  it('of many solids is one that the server takes', () => {
    const pieces = picture(
      Array.from(
        { length: 300 },
        (_, i) => [`Part ${i}`, [i % 20, Math.floor(i / 20), 0], [0.9, 0.9, 0.9], [0.5, 0.5, 0.5]] as const,
      ).map(
        ([name, at, sizes, colour]) =>
          [name, at as unknown as [number, number, number], sizes, [...colour]] as const,
      ),
    );
    expect(pieces).toHaveLength(POSE_LIMITS.pieces);
    expect(
      ownPose.safeParse({ name: 'All', pose: { parts: [{ name: 'Part 1', values: {} }], picture: pieces } })
        .success,
    ).toBe(true);
  });
  it('has outlines round all points, whose corners are some of them', () => {
    const point = fc.tuple(fc.integer({ min: -50, max: 50 }), fc.integer({ min: -50, max: 50 }));
    fc.assert(
      fc.property(fc.array(point, { minLength: 3, maxLength: 40 }), (points) => {
        const hull = hullOf(points);
        if (hull.length < 3) return;
        for (const [x, y] of points)
          hull.forEach(([ax, ay], i) => {
            const [bx, by] = hull[(i + 1) % hull.length]!;
            expect((bx - ax) * (y - ay) - (by - ay) * (x - ax)).toBeGreaterThanOrEqual(0);
          });
        for (const corner of hull) expect(points).toContainEqual(corner);
      }),
    );
  });
});
