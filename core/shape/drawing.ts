import type { Outline } from '../document';
import type { FlatPiece } from './extrude';
import type { Flat } from './mesh';

function pairs(ring: readonly number[], place: (x: number, y: number) => Flat): Flat[] {
  const points: Flat[] = [];
  for (let i = 0; i + 1 < ring.length; i += 2) points.push(place(ring[i]!, ring[i + 1]!));
  return points;
}

/** A drawing in metres: each point scaled, and each letter moved on from the one before by `spacing`. */
export function drawingPieces(
  outline: Outline,
  width: number,
  height: number,
  spacing = 0,
): readonly FlatPiece[] {
  const letters = outline.reduce((most, piece) => Math.max(most, piece.letter), 0);
  return outline.map((piece) => {
    const shift = spacing * (piece.letter - letters / 2);
    const place = (x: number, y: number): Flat => [x * width + shift, y * height];
    return { outer: pairs(piece.outer, place), holes: piece.holes.map((hole) => pairs(hole, place)) };
  });
}

/** Twice the area inside a ring: above 0 when it runs counter-clockwise. */
export function ringArea(ring: readonly number[]): number {
  let sum = 0;
  for (let i = 0; i < ring.length; i += 2) {
    const j = (i + 2) % ring.length;
    sum += ring[i]! * ring[j + 1]! - ring[j]! * ring[i + 1]!;
  }
  return sum;
}

function reversed(ring: readonly number[]): number[] {
  const out: number[] = [];
  for (let i = ring.length - 2; i >= 0; i -= 2) out.push(ring[i]!, ring[i + 1]!);
  return out;
}

const wound = (ring: readonly number[], counterClockwise: boolean): number[] =>
  ringArea(ring) > 0 === counterClockwise ? [...ring] : reversed(ring);

function holds(ring: readonly number[], x: number, y: number): boolean {
  let inside = false;
  for (let i = 0; i < ring.length; i += 2) {
    const j = (i + 2) % ring.length;
    const [ax, ay, bx, by] = [ring[i]!, ring[i + 1]!, ring[j]!, ring[j + 1]!];
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) inside = !inside;
  }
  return inside;
}

/**
 * Sorts closed rings into outer rings and the holes in them by how they lie in one another (even-odd rule, as in SVG 2,
 * "fill-rule"), and winds them as a drawing has them.
 */
export function piecesOfRings(rings: readonly (readonly number[])[], letter = 0): Outline {
  const kept = rings.filter((ring) => ring.length >= 6 && Math.abs(ringArea(ring)) > 1e-12);
  const around = kept.map((ring, i) =>
    kept.flatMap((other, k) => (k !== i && holds(other, ring[0]!, ring[1]!) ? [k] : [])),
  );
  return kept.flatMap((ring, i) => {
    if (around[i]!.length % 2 === 1) return [];
    const depth = around[i]!.length;
    const holes = kept.filter((_, k) => around[k]!.length === depth + 1 && around[k]!.includes(i));
    return [{ letter, outer: wound(ring, true), holes: holes.map((hole) => wound(hole, false)) }];
  });
}

/** A drawing put into shares of its own size, its middle at the origin, with the size that it had. */
export function normalised(outline: Outline): { outline: Outline; width: number; height: number } {
  const low = [Infinity, Infinity];
  const high = [-Infinity, -Infinity];
  for (const piece of outline)
    for (let i = 0; i < piece.outer.length; i++) {
      low[i % 2] = Math.min(low[i % 2]!, piece.outer[i]!);
      high[i % 2] = Math.max(high[i % 2]!, piece.outer[i]!);
    }
  const size = [high[0]! - low[0]!, high[1]! - low[1]!];
  const share = (ring: readonly number[]): number[] =>
    ring.map((value, i) => (value - (low[i % 2]! + high[i % 2]!) / 2) / (size[i % 2]! || 1));
  return {
    outline: outline.map((piece) => ({
      letter: piece.letter,
      outer: share(piece.outer),
      holes: piece.holes.map(share),
    })),
    width: size[0]!,
    height: size[1]!,
  };
}
