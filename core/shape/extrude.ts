import earcut from 'earcut';
import { cos } from '../math';
import { MeshBuilder, type Flat, type Mesh } from './mesh';

/** Edges that meet flatter than this are shaded as one round surface. */
const SMOOTH_COSINE = cos((35 * Math.PI) / 180);
/** A corner is cut back by at most this many bevels, so that sharp ones do not run away. */
const LONGEST_MITER = 2.5;

/** A piece of a flat drawing: an outer ring, counter-clockwise, and the rings of its holes, clockwise. */
export interface FlatPiece {
  readonly outer: readonly Flat[];
  readonly holes: readonly (readonly Flat[])[];
}

/** A ring with what its corners need: the direction outwards at each edge and at each corner. */
interface Ring {
  readonly points: readonly Flat[];
  /** Of the edge from a point to the next one. */
  readonly edges: readonly Flat[];
  /** From a corner outwards, as long as one unit of bevel asks for. */
  readonly miters: readonly Flat[];
}

/** Takes out points that lie on the one before. */
function cleaned(points: readonly Flat[]): Flat[] {
  return points.filter((point, i) => {
    const before = points[(i + points.length - 1) % points.length]!;
    return Math.abs(point[0] - before[0]) > 1e-9 || Math.abs(point[1] - before[1]) > 1e-9;
  });
}

function ringOf(raw: readonly Flat[]): Ring | null {
  const points = cleaned(raw);
  if (points.length < 3) return null;
  const edges = points.map((point, i): Flat => {
    const next = points[(i + 1) % points.length]!;
    const [dx, dy] = [next[0] - point[0], next[1] - point[1]];
    const length = Math.sqrt(dx * dx + dy * dy);
    return [dy / length, -dx / length];
  });
  const miters = edges.map((edge, i): Flat => {
    const before = edges[(i + edges.length - 1) % edges.length]!;
    const [x, y] = [edge[0] + before[0], edge[1] + before[1]];
    const together = 1 + edge[0] * before[0] + edge[1] * before[1];
    const factor = Math.min(1 / Math.max(together, 1e-6), LONGEST_MITER);
    return [x * factor, y * factor];
  });
  return { points, edges, miters };
}

/**
 * Gives flat pieces a thickness along z, middle at z = 0. With a bevel the front and back edges are cut at 45 degrees,
 * inside the drawing and inside the depth.
 */
export function extrudeMesh(pieces: readonly FlatPiece[], depth: number, bevel: number): Mesh {
  const builder = new MeshBuilder();
  const half = depth / 2;
  const cut = Math.min(bevel, half);
  for (const piece of pieces) {
    const rings = [piece.outer, ...piece.holes].map(ringOf).filter((ring) => ring !== null);
    if (rings.length === 0) continue;
    caps(builder, rings, half, cut);
    for (const ring of rings) walls(builder, ring, half, cut);
  }
  return builder.build();
}

const inset = (ring: Ring, i: number, by: number): Flat => {
  const [point, miter] = [ring.points[i]!, ring.miters[i]!];
  return [point[0] - miter[0] * by, point[1] - miter[1] * by];
};

function caps(builder: MeshBuilder, rings: readonly Ring[], half: number, cut: number): void {
  const holes: number[] = [];
  let count = rings[0]!.points.length;
  for (const ring of rings.slice(1)) {
    holes.push(count);
    count += ring.points.length;
  }
  // Divided as drawn and then drawn in, so that a bevel never turns a triangle over into another's place.
  const triangles = earcut(
    rings.flatMap((ring) => ring.points.flat()),
    holes,
  );
  for (const side of half > 0 ? ([1, -1] as const) : ([1] as const)) {
    const at = rings.flatMap((ring) =>
      ring.points.map((_, i) => builder.vertex([...inset(ring, i, cut), side * half], [0, 0, side])),
    );
    for (let i = 0; i < triangles.length; i += 3) {
      const [a, b, c] = [at[triangles[i]!]!, at[triangles[i + 1]!]!, at[triangles[i + 2]!]!];
      const [p, q, r] = [0, 1, 2].map((k) => pointAt(rings, triangles[i + k]!));
      const turns = (q![0] - p![0]) * (r![1] - p![1]) - (q![1] - p![1]) * (r![0] - p![0]) > 0;
      if (turns === side > 0) builder.triangle(a, b, c);
      else builder.triangle(a, c, b);
    }
  }
}

function pointAt(rings: readonly Ring[], index: number): Flat {
  let left = index;
  for (const ring of rings) {
    if (left < ring.points.length) return ring.points[left]!;
    left -= ring.points.length;
  }
  throw new RangeError(`There is no point ${index}.`);
}

function walls(builder: MeshBuilder, ring: Ring, half: number, cut: number): void {
  const count = ring.points.length;
  const rows: [by: number, z: number][] =
    cut > 0
      ? [
          [cut, half],
          [0, half - cut],
          [0, cut - half],
          [cut, -half],
        ]
      : [
          [0, half],
          [0, -half],
        ];
  const smooth = (i: number, k: number): Flat => {
    const [a, b] = [ring.edges[i]!, ring.edges[(k + count) % count]!];
    if (a[0] * b[0] + a[1] * b[1] < SMOOTH_COSINE) return a;
    const [x, y] = [a[0] + b[0], a[1] + b[1]];
    const length = Math.sqrt(x * x + y * y);
    return [x / length, y / length];
  };
  for (let i = 0; i < count; i++) {
    const next = (i + 1) % count;
    const [start, end] = [smooth(i, i - 1), smooth(i, i + 1)];
    for (let row = 0; row + 1 < rows.length; row++) {
      const [[byFront, zFront], [byBack, zBack]] = [rows[row]!, rows[row + 1]!];
      if (zFront - zBack <= 0) continue;
      const lean = byFront > byBack ? Math.SQRT1_2 : byFront < byBack ? -Math.SQRT1_2 : 0;
      const flat = lean === 0 ? 1 : Math.SQRT1_2;
      const corner = (at: number, by: number, z: number, normal: Flat): number =>
        builder.vertex([...inset(ring, at, by), z], [normal[0] * flat, normal[1] * flat, lean]);
      const a = corner(i, byBack, zBack, start);
      const b = corner(next, byBack, zBack, end);
      const c = corner(next, byFront, zFront, end);
      const d = corner(i, byFront, zFront, start);
      builder.triangle(a, b, c);
      builder.triangle(a, c, d);
    }
  }
}
