/** Geometry as plain arrays: three numbers a vertex, three indices a triangle, counter-clockwise seen from outside. */
export interface Mesh {
  readonly positions: Float32Array;
  readonly normals: Float32Array;
  /** Where a vertex lies on a picture: two shares a vertex, from the lower left corner. */
  readonly uvs: Float32Array;
  readonly indices: Uint32Array;
}

export type Point = readonly [number, number, number];
export type Flat = readonly [number, number];

/** Collects vertices and triangles. */
export class MeshBuilder {
  private readonly positions: number[] = [];
  private readonly normals: number[] = [];
  private readonly uvs: number[] = [];
  private readonly indices: number[] = [];
  private mapped = false;

  vertex(position: Point, normal: Point, uv?: Flat): number {
    this.positions.push(...position);
    this.normals.push(...normal);
    this.uvs.push(...(uv ?? [0, 0]));
    if (uv) this.mapped = true;
    return this.positions.length / 3 - 1;
  }

  triangle(a: number, b: number, c: number): void {
    this.indices.push(a, b, c);
  }

  /** A flat polygon with corners counter-clockwise seen from outside; fanned from its first corner. */
  polygon(corners: readonly Point[], normal: Point, uvs?: readonly Flat[]): void {
    const first = corners.map((corner, i) => this.vertex(corner, normal, uvs?.[i]))[0]!;
    for (let i = 1; i < corners.length - 1; i++) this.triangle(first, first + i, first + i + 1);
  }

  /**
   * A flat or nearly flat polygon of which only the corners are known, counter-clockwise seen from outside; corners that
   * lie on one another are left out. Its normal is that of Newell's method (Sutherland, Sproull and Schumacker, 1974).
   */
  face(corners: readonly Point[]): void {
    const apart = corners.filter((point, i) => {
      const before = corners[(i + corners.length - 1) % corners.length]!;
      return point.some((value, axis) => value !== before[axis]);
    });
    if (apart.length < 3) return;
    let [x, y, z] = [0, 0, 0];
    apart.forEach((a, i) => {
      const b = apart[(i + 1) % apart.length]!;
      x += (a[1] - b[1]) * (a[2] + b[2]);
      y += (a[2] - b[2]) * (a[0] + b[0]);
      z += (a[0] - b[0]) * (a[1] + b[1]);
    });
    const length = Math.sqrt(x * x + y * y + z * z);
    if (length > 0) this.polygon(apart, [x / length, y / length, z / length]);
  }

  /** A grid of vertices, `columns + 1` by `rows + 1`, joined by triangles. */
  grid(
    columns: number,
    rows: number,
    at: (u: number, v: number) => { position: Point; normal: Point },
  ): void {
    const start = this.positions.length / 3;
    for (let j = 0; j <= rows; j++)
      for (let i = 0; i <= columns; i++) {
        const { position, normal } = at(i / columns, j / rows);
        this.vertex(position, normal, [i / columns, j / rows]);
      }
    for (let j = 0; j < rows; j++)
      for (let i = 0; i < columns; i++) {
        const a = start + j * (columns + 1) + i;
        const b = a + columns + 1;
        this.triangle(a, a + 1, b + 1);
        this.triangle(a, b + 1, b);
      }
  }

  /** What was collected. Where nothing says how a picture lies, it is laid over the front, whole. */
  build(): Mesh {
    const positions = Float32Array.from(this.positions);
    return {
      positions,
      normals: Float32Array.from(this.normals),
      uvs: this.mapped ? Float32Array.from(this.uvs) : frontMap(positions),
      indices: Uint32Array.from(this.indices),
    };
  }
}

function frontMap(positions: Float32Array): Float32Array {
  const { low, high } = boundsOf(positions);
  const uvs = new Float32Array((positions.length / 3) * 2);
  for (let i = 0; i < positions.length / 3; i++)
    for (const axis of [0, 1] as const)
      uvs[i * 2 + axis] = (positions[i * 3 + axis]! - low[axis]) / (high[axis] - low[axis] || 1);
  return uvs;
}

/** Smallest box along the axes that holds all vertices; both corners at the origin where there are none. */
export function boundsOf(positions: ArrayLike<number>): {
  low: [number, number, number];
  high: [number, number, number];
} {
  if (positions.length < 3) return { low: [0, 0, 0], high: [0, 0, 0] };
  const low: [number, number, number] = [Infinity, Infinity, Infinity];
  const high: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < positions.length; i++) {
    const axis = (i % 3) as 0 | 1 | 2;
    low[axis] = Math.min(low[axis], positions[i]!);
    high[axis] = Math.max(high[axis], positions[i]!);
  }
  return { low, high };
}
