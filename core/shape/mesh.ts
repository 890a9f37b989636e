/** Geometry as plain arrays: three numbers a vertex, three indices a triangle, counter-clockwise seen from outside. */
export interface Mesh {
  readonly positions: Float32Array;
  readonly normals: Float32Array;
  readonly indices: Uint32Array;
}

type Point = readonly [number, number, number];

/** Collects vertices and triangles. */
export class MeshBuilder {
  private readonly positions: number[] = [];
  private readonly normals: number[] = [];
  private readonly indices: number[] = [];

  vertex(position: Point, normal: Point): number {
    this.positions.push(...position);
    this.normals.push(...normal);
    return this.positions.length / 3 - 1;
  }

  triangle(a: number, b: number, c: number): void {
    this.indices.push(a, b, c);
  }

  /** A flat polygon with corners counter-clockwise seen from outside; fanned from its first corner. */
  polygon(corners: readonly Point[], normal: Point): void {
    const first = corners.map((corner) => this.vertex(corner, normal))[0]!;
    for (let i = 1; i < corners.length - 1; i++) this.triangle(first, first + i, first + i + 1);
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
        this.vertex(position, normal);
      }
    for (let j = 0; j < rows; j++)
      for (let i = 0; i < columns; i++) {
        const a = start + j * (columns + 1) + i;
        const b = a + columns + 1;
        this.triangle(a, a + 1, b + 1);
        this.triangle(a, b + 1, b);
      }
  }

  build(): Mesh {
    return {
      positions: Float32Array.from(this.positions),
      normals: Float32Array.from(this.normals),
      indices: Uint32Array.from(this.indices),
    };
  }
}
