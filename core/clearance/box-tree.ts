import { type BufferGeometry, type Line3, type Matrix4, type Triangle, Vector3 } from 'three';
import { ExtendedTriangle, MeshBVH, SAH } from 'three-mesh-bvh';
import { triangleDistance } from './triangle-distance';
import { Meet, trianglesMeet } from './triangles-meet';

/** Two points nearest to one another in the measure of the first surface, and how far apart they are; 0 where they cross. */
export interface Nearest {
  readonly distance: number;
  readonly a: readonly [number, number, number];
  readonly b: readonly [number, number, number];
}

/** The triangles of two surfaces that told last how they stand: as a rule they tell it the next time, too. */
export interface Witness {
  mine: number;
  theirs: number;
}

interface Measured {
  /** The published types leave out that both points can be asked for. */
  distanceToTriangle(other: Triangle, mine: Vector3, theirs: Vector3): number;
  intersectsTriangle(other: Triangle, line: Line3 | null, quiet: boolean): boolean;
}

/** A triangle that tells where it crosses and how far away another one is, without a word where both lie in one plane. */
export const measured = (triangle: ExtendedTriangle): Measured => triangle as unknown as Measured;

const [mine, theirs] = [new ExtendedTriangle(), new ExtendedTriangle()];
const [onMine, onTheirs] = [new Vector3(), new Vector3()];
const [ownCorners, theirCorners, places] = [new Float64Array(9), new Float64Array(9), new Float64Array(6)];
const NODE = 6;
const CORNERS = 9;

/** Least and greatest coordinates of the triangle in `theirCorners`. */
const theirBox = new Float64Array(6);
/** Boxes that are farther apart than this are apart, whatever rounding does; metres. */
const APART = 1e-11;

/** Takes the triangle in `theirCorners` for the library. */
function readPlaced(): void {
  theirs.a.fromArray(theirCorners, 0);
  theirs.b.fromArray(theirCorners, 3);
  theirs.c.fromArray(theirCorners, 6);
  theirs.needsUpdate = true;
}

/** Puts least and greatest coordinates of three corners from `at` into six numbers from `to`. */
function putBox(corners: Float64Array, at: number, out: Float64Array, to: number): void {
  for (let axis = 0; axis < 3; axis++) {
    const a = corners[at + axis]!;
    const b = corners[at + axis + 3]!;
    const c = corners[at + axis + 6]!;
    out[to + axis] = a < b ? (a < c ? a : c) : b < c ? b : c;
    out[to + 3 + axis] = a > b ? (a > c ? a : c) : b > c ? b : c;
  }
}

/** Share by which rounding may make a distance from a plane too long. */
const ROUNDING = 1 + 1e-9;

/** Whether a triangle lies on one side of the plane of another one, all of it farther away than a distance. */
function beyond(face: Float64Array, from: Float64Array, distance: number): boolean {
  const [x, y, z] = [face[0]!, face[1]!, face[2]!];
  const [ax, ay, az] = [face[3]! - x, face[4]! - y, face[5]! - z];
  const [bx, by, bz] = [face[6]! - x, face[7]! - y, face[8]! - z];
  const nx = ay * bz - az * by;
  const ny = az * bx - ax * bz;
  const nz = ax * by - ay * bx;
  const first = nx * (from[0]! - x) + ny * (from[1]! - y) + nz * (from[2]! - z);
  const second = nx * (from[3]! - x) + ny * (from[4]! - y) + nz * (from[5]! - z);
  const third = nx * (from[6]! - x) + ny * (from[7]! - y) + nz * (from[8]! - z);
  const least =
    first > 0 && second > 0 && third > 0
      ? Math.min(first, second, third)
      : first < 0 && second < 0 && third < 0
        ? -Math.max(first, second, third)
        : 0;
  return least * least > distance * distance * (nx * nx + ny * ny + nz * nz) * ROUNDING;
}

/**
 * The boxes of a surface's tree laid out flat, so that two trees can be gone through together for what is nearer than a
 * distance (Larsen and others, Fast proximity queries with swept sphere volumes, 1999).
 */
export class BoxTree {
  readonly tree: MeshBVH;
  /** Middle and half size of each node, six numbers. */
  private readonly boxes: Float64Array;
  /** The two nodes below; for a leaf -1, and then its first triangle and how many there are. */
  private readonly left: Int32Array;
  private readonly right: Int32Array;
  private readonly first: Int32Array;
  private readonly count: Int32Array;

  /** Corners of all triangles, nine numbers each. */
  private readonly corners: Float64Array;
  /** Least and greatest coordinates of all triangles, six numbers each. */
  private readonly bounds: Float64Array;

  /** @param geometry with an index and without groups */
  constructor(readonly geometry: BufferGeometry) {
    this.tree = new MeshBVH(geometry, { targetLeafSize: 1, strategy: SAH });
    geometry.boundsTree = this.tree;
    let nodes = 0;
    this.tree.traverse(() => void nodes++);
    this.boxes = new Float64Array(nodes * NODE);
    [this.left, this.right, this.first, this.count] = [0, 0, 0, 0].map(() =>
      new Int32Array(nodes).fill(-1),
    ) as [Int32Array, Int32Array, Int32Array, Int32Array];
    const above: number[] = [];
    let node = 0;
    this.tree.traverse((depth, isLeaf, box, offset, count) => {
      for (let axis = 0; axis < 3; axis++) {
        this.boxes[node * NODE + axis] = (box[axis]! + box[axis + 3]!) / 2;
        this.boxes[node * NODE + 3 + axis] = (box[axis + 3]! - box[axis]!) / 2;
      }
      if (isLeaf) {
        this.first[node] = offset;
        this.count[node] = count;
      }
      const parent = above[depth - 1];
      if (depth > 0 && parent !== undefined) {
        if (this.left[parent] === -1) this.left[parent] = node;
        else this.right[parent] = node;
      }
      above[depth] = node++;
    });
    const index = geometry.getIndex()!.array;
    const { array } = geometry.getAttribute('position');
    this.corners = new Float64Array(index.length * 3);
    index.forEach((vertex, i) => {
      for (let axis = 0; axis < 3; axis++) this.corners[i * 3 + axis] = array[vertex * 3 + axis]!;
    });
    this.bounds = new Float64Array((index.length / 3) * NODE);
    for (let i = 0; i < index.length / 3; i++) putBox(this.corners, i * CORNERS, this.bounds, i * NODE);
  }

  /**
   * The nearest points of this surface and another one, placed by `otherToThis`.
   * @param most what is farther apart is not looked for
   * @param enough what is as near as this ends the search, and is given though something may be nearer
   * @param witness looked at first, and told anew
   * @param share nothing that is farther than `enough` is nearer than this share of what is given, or of `most`; 1 for the
   *   nearest there is
   */
  nearest(
    other: BoxTree,
    otherToThis: Matrix4,
    most: number,
    enough = 0,
    witness?: Witness,
    share = 1,
  ): Nearest | null {
    const m = otherToThis.elements;
    let best = most;
    let found: Nearest | null = null;
    if (witness && this.knows(witness, other)) {
      other.place(witness.theirs, m);
      found = this.nearerOf(witness.mine, best, null);
      if (found) best = found.distance;
      if (found && best <= enough) return found;
    }
    const stack: number[] = [0, 0];
    const bounds: number[] = [this.apart(0, other, 0, m)];
    while (bounds.length > 0) {
      const bound = bounds.pop()!;
      const b = stack.pop()!;
      const a = stack.pop()!;
      if (bound > Math.max(best * share, enough) || (found && bound >= best)) continue;
      const leafA = this.left[a] === -1;
      const leafB = other.left[b] === -1;
      if (leafA && leafB) {
        const nearer = this.nearestOf(a, other, b, m, best, found, witness);
        if (!nearer || nearer === found) continue;
        found = nearer;
        best = nearer.distance;
        if (best <= enough) return found;
        continue;
      }
      const splitA = !leafA && (leafB || this.size(a) >= other.size(b));
      const pairs = splitA ? [this.left[a]!, b, this.right[a]!, b] : [a, other.left[b]!, a, other.right[b]!];
      const one = this.apart(pairs[0]!, other, pairs[1]!, m);
      const two = this.apart(pairs[2]!, other, pairs[3]!, m);
      // The nearer one is looked at first.
      const order = one <= two ? [2, 0] : [0, 2];
      for (const at of order) {
        const apart = at === 0 ? one : two;
        if (apart > Math.max(best * share, enough) || apart > best) continue;
        stack.push(pairs[at]!, pairs[at + 1]!);
        bounds.push(apart);
      }
    }
    return found;
  }

  /** Whether a witness speaks of triangles that both surfaces have: sizes may have changed since. */
  private knows({ mine, theirs }: Witness, other: BoxTree): boolean {
    return mine >= 0 && mine * CORNERS < this.corners.length && theirs * CORNERS < other.corners.length;
  }

  /**
   * Whether the surfaces cross, or touch, with the other one placed by `otherToThis`.
   * @param witness looked at first, and told anew where they do
   */
  meets(other: BoxTree, otherToThis: Matrix4, witness?: Witness): boolean {
    const m = otherToThis.elements;
    if (witness && this.knows(witness, other)) {
      other.place(witness.theirs, m);
      if (this.meetsPlaced(witness.mine)) return true;
    }
    const stack: number[] = [0, 0];
    while (stack.length > 0) {
      const b = stack.pop()!;
      const a = stack.pop()!;
      if (this.apart(a, other, b, m) > 0) continue;
      const leafA = this.left[a] === -1;
      const leafB = other.left[b] === -1;
      if (leafA && leafB) {
        if (this.leavesMeet(a, other, b, m, witness)) return true;
      } else if (!leafA && (leafB || this.size(a) >= other.size(b)))
        stack.push(this.left[a]!, b, this.right[a]!, b);
      else stack.push(a, other.left[b]!, a, other.right[b]!);
    }
    return false;
  }

  private leavesMeet(
    a: number,
    other: BoxTree,
    b: number,
    m: readonly number[],
    witness: Witness | undefined,
  ): boolean {
    for (let k = other.first[b]!; k < other.first[b]! + other.count[b]!; k++) {
      other.place(k, m);
      for (let i = this.first[a]!; i < this.first[a]! + this.count[a]!; i++) {
        if (!this.meetsPlaced(i)) continue;
        if (witness) [witness.mine, witness.theirs] = [i, k];
        return true;
      }
    }
    return false;
  }

  /** Whether the box of triangle `i` is farther than a distance from that of the triangle in `theirCorners`. */
  private boxBeyond(i: number, distance: number): boolean {
    const at = i * NODE;
    let sum = 0;
    for (let axis = 0; axis < 3; axis++) {
      const over = this.bounds[at + axis]! - theirBox[3 + axis]!;
      const under = theirBox[axis]! - this.bounds[at + 3 + axis]!;
      const gap = over > under ? over : under;
      if (gap > 0) sum += gap * gap;
    }
    const least = distance + APART;
    return sum > least * least;
  }

  /** Whether triangle `i` meets the one in `theirCorners`. */
  private meetsPlaced(i: number): boolean {
    if (this.boxBeyond(i, 0)) return false;
    const told = trianglesMeet(this.own(i), theirCorners);
    if (told !== Meet.unsure) return told === Meet.yes;
    this.read(mine, i);
    readPlaced();
    return measured(mine).intersectsTriangle(theirs, null, true);
  }

  /** Corners of triangle `i`, until the next one is asked for. */
  private own(i: number): Float64Array {
    const at = i * CORNERS;
    for (let k = 0; k < CORNERS; k++) ownCorners[k] = this.corners[at + k]!;
    return ownCorners;
  }

  private size(node: number): number {
    const at = node * NODE + 3;
    return this.boxes[at]! + this.boxes[at + 1]! + this.boxes[at + 2]!;
  }

  /** How far apart two boxes are at least: along the axes of the one, and along those of the other. */
  private apart(a: number, other: BoxTree, b: number, m: readonly number[]): number {
    const p = this.boxes;
    const q = other.boxes;
    const i = a * NODE;
    const j = b * NODE;
    let mineSum = 0;
    const way0 = m[0]! * q[j]! + m[4]! * q[j + 1]! + m[8]! * q[j + 2]! + m[12]! - p[i]!;
    const way1 = m[1]! * q[j]! + m[5]! * q[j + 1]! + m[9]! * q[j + 2]! + m[13]! - p[i + 1]!;
    const way2 = m[2]! * q[j]! + m[6]! * q[j + 1]! + m[10]! * q[j + 2]! + m[14]! - p[i + 2]!;
    for (let axis = 0; axis < 3; axis++) {
      const way = axis === 0 ? way0 : axis === 1 ? way1 : way2;
      const half =
        Math.abs(m[axis]!) * q[j + 3]! +
        Math.abs(m[axis + 4]!) * q[j + 4]! +
        Math.abs(m[axis + 8]!) * q[j + 5]!;
      const gap = Math.abs(way) - p[i + 3 + axis]! - half;
      if (gap > 0) mineSum += gap * gap;
    }
    let theirSum = 0;
    for (let axis = 0; axis < 3; axis++) {
      const at = axis * 4;
      const way = m[at]! * way0 + m[at + 1]! * way1 + m[at + 2]! * way2;
      const half =
        Math.abs(m[at]!) * p[i + 3]! + Math.abs(m[at + 1]!) * p[i + 4]! + Math.abs(m[at + 2]!) * p[i + 5]!;
      const gap = Math.abs(way) - q[j + 3 + axis]! - half;
      if (gap > 0) theirSum += gap * gap;
    }
    return Math.sqrt(Math.max(mineSum, theirSum));
  }

  private nearestOf(
    a: number,
    other: BoxTree,
    b: number,
    m: readonly number[],
    most: number,
    before: Nearest | null,
    witness: Witness | undefined,
  ): Nearest | null {
    let found = before;
    for (let k = other.first[b]!; k < other.first[b]! + other.count[b]!; k++) {
      other.place(k, m);
      for (let i = this.first[a]!; i < this.first[a]! + this.count[a]!; i++) {
        const nearer = this.nearerOf(i, found?.distance ?? most, found);
        if (!nearer) continue;
        found = nearer;
        if (witness) [witness.mine, witness.theirs] = [i, k];
      }
    }
    return found;
  }

  /** The nearest points of triangle `i` and the one in `theirCorners`; `null` unless they are nearer than what was found. */
  private nearerOf(i: number, least: number, found: Nearest | null): Nearest | null {
    if (this.boxBeyond(i, least)) return null;
    const own = this.own(i);
    // What lies wholly on one side of the other's plane is at least as far away as its nearest corner from there.
    if (beyond(own, theirCorners, least) || beyond(theirCorners, own, least)) return null;
    const distance = Math.sqrt(triangleDistance(own, theirCorners, places));
    if (distance > least || (found && distance >= least)) return null;
    if (distance === 0) this.crossingAt(i);
    return {
      distance,
      a: [places[0]!, places[1]!, places[2]!],
      b: [places[3]!, places[4]!, places[5]!],
    };
  }

  /** Puts triangle `k`, placed by a matrix, into `theirCorners`. */
  private place(k: number, m: readonly number[]): void {
    const at = k * CORNERS;
    for (let corner = 0; corner < CORNERS; corner += 3) {
      const x = this.corners[at + corner]!;
      const y = this.corners[at + corner + 1]!;
      const z = this.corners[at + corner + 2]!;
      theirCorners[corner] = m[0]! * x + m[4]! * y + m[8]! * z + m[12]!;
      theirCorners[corner + 1] = m[1]! * x + m[5]! * y + m[9]! * z + m[13]!;
      theirCorners[corner + 2] = m[2]! * x + m[6]! * y + m[10]! * z + m[14]!;
    }
    putBox(theirCorners, 0, theirBox, 0);
  }

  /** Puts a place at which triangle `i` crosses the one that it was measured against into `places`. */
  private crossingAt(i: number): void {
    this.read(mine, i);
    readPlaced();
    measured(mine).distanceToTriangle(theirs, onMine, onTheirs);
    onMine.toArray(places, 0);
    onTheirs.toArray(places, 3);
  }

  private read(out: ExtendedTriangle, triangle: number): void {
    const index = this.geometry.getIndex()!.array;
    const { array } = this.geometry.getAttribute('position');
    out.a.fromArray(array, index[triangle * 3]! * 3);
    out.b.fromArray(array, index[triangle * 3 + 1]! * 3);
    out.c.fromArray(array, index[triangle * 3 + 2]! * 3);
    out.needsUpdate = true;
  }
}
