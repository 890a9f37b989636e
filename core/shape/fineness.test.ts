import { describe, expect, it } from 'vitest';
import { buildMesh, FINENESS, finenessFor, isRound } from './index';
import { SHAPE_KINDS, shapeChannels, type ShapeKind } from '../document';

const sizesOf =
  (kind: ShapeKind, more: Record<string, number> = {}) =>
  (path: string): number =>
    more[path] ?? (shapeChannels(kind).find((spec) => spec.path === path)!.initial as number);
const form = (kind: ShapeKind) =>
  kind === 'lathe'
    ? {
        kind,
        profile: [
          [0.4, 0],
          [1, 0.5],
          [0.3, 1],
        ] as [number, number][],
      }
    : kind === 'belt' || kind === 'chain'
      ? {
          kind,
          pulleys: [
            [0, 0, 0.3],
            [1, 0.1, 0.2],
          ] as [number, number, number][],
        }
      : { kind };
/** Straight pieces of these are many at any fineness. */
const EDGED: ReadonlySet<ShapeKind> = new Set([
  'gear',
  'ring-gear',
  'bevel-gear',
  'sprocket',
  'belt',
  'worm',
  'shaft',
]);
const ROUND = SHAPE_KINDS.filter((kind) => isRound({ kind }));

describe('fineness', () => {
  it.each(ROUND)(
    '%s has fewer triangles the coarser it is, keeps its size, and is closed as before',
    (kind) => {
      const size = sizesOf(kind, kind === 'cylinder' || kind === 'cone' ? { sides: 64 } : {});
      const meshes = FINENESS.map((fineness) => buildMesh(form(kind), size, fineness));
      expect(buildMesh(form(kind), size)).toEqual(meshes[0]);
      const counts = meshes.map((mesh) => mesh.indices.length / 3);
      for (let i = 1; i < counts.length; i++) expect(counts[i]!).toBeLessThanOrEqual(counts[i - 1]!);
      if (!EDGED.has(kind)) expect(counts.at(-1)!).toBeLessThan(counts[0]! / 2);
      const reach = meshes.map(({ positions }) => Math.max(...positions.map(Math.abs)));
      for (const far of reach) expect(Math.abs(far / reach[0]! - 1)).toBeLessThan(0.08);
      for (const { positions, indices } of meshes) {
        expect(positions.every(Number.isFinite)).toBe(true);
        expect(Math.max(...indices)).toBeLessThan(positions.length / 3);
      }
    },
  );

  it('leaves edges that are meant to be seen', () => {
    const size = sizesOf('cylinder', { sides: 6 });
    expect(buildMesh({ kind: 'cylinder' }, size, 0.18)).toEqual(buildMesh({ kind: 'cylinder' }, size));
    expect(finenessFor({ kind: 'box' }, sizesOf('box'), 1e4, 0.1)).toBe(FINENESS.length - 1);
  });

  it('is chosen so that no edge of a ball or a cylinder is off by more than is allowed, and hardly finer', () => {
    for (const kind of ['ball', 'cylinder'] as const)
      for (const pixels of [2, 8, 30, 90, 200])
        for (const tolerance of [0.08, 0.4]) {
          const size = sizesOf(kind, { radius: 1, sides: 48, span: 180, top: 1 });
          const level = finenessFor({ kind }, size, pixels, tolerance);
          const off = (at: number): number => {
            // The middle of an edge about the equator lies nearer to the axis than the true circle.
            const count =
              kind === 'ball'
                ? Math.max(8, Math.round(48 * FINENESS[at]!))
                : Math.max(13, Math.round(48 * FINENESS[at]!));
            return (1 - Math.cos(Math.PI / count)) * pixels;
          };
          if (level > 0) expect(off(level)).toBeLessThanOrEqual(tolerance * 1.02);
          if (level < FINENESS.length - 1) expect(off(level + 1)).toBeGreaterThan(tolerance * 0.5);
        }
    expect(finenessFor({ kind: 'ball' }, sizesOf('ball'), 1, 0)).toBe(0);
  });
});
