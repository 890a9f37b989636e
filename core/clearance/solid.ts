import {
  Box3,
  BufferAttribute,
  BufferGeometry,
  DoubleSide,
  Line3,
  Matrix4,
  Ray,
  Vector3,
  Triangle,
} from 'three';
import { BoxTree, measured, type Nearest, type Witness } from './box-tree';

/** Triangles in the measure of their part: three numbers a point, three places a triangle. */
export interface Triangles {
  readonly positions: ArrayLike<number>;
  readonly indices: ArrayLike<number>;
}

/** Corners nearer than this to one another, as a share of the size, are one when it is asked whether a surface is closed. */
const SAME_CORNER = 1e-6;
/** Cosine of the angle within which two directions are one. */
const ALIKE = 0.985;
/** Stretches of a crossing that are looked at. */
const CROSSINGS = 24;

/** Stretches that differ by less, as a share, are even. */
const EVEN = 1e-9;

const hit = () => ({ point: new Vector3(), distance: 0, faceIndex: 0 });
const [boxOfMine, boxOfTheirs] = [new Box3(), new Box3()];
const ray = new Ray();
const toOther = new Matrix4();

/** A surface as it is in the measure of its shape, of which every stretch of it is made. */
export class Surface {
  readonly low: readonly [number, number, number];
  readonly high: readonly [number, number, number];
  private whole: boolean | null = null;

  /** @param ball radius of what is a whole ball about the origin, metres: that is looked at as one, without facets */
  constructor(
    readonly triangles: Triangles,
    readonly ball: number | null = null,
    /** The same with fewer sides, which lie up to `miss` metres deeper; `null` where there is none. */
    private readonly coarser: (() => { readonly surface: Surface; readonly miss: number }) | null = null,
  ) {
    const { positions } = triangles;
    const end = (pick: (a: number, b: number) => number, axis: number): number => {
      let found = positions[axis]!;
      for (let i = axis; i < positions.length; i += 3) found = pick(found, positions[i]!);
      return found;
    };
    this.low = [end(Math.min, 0), end(Math.min, 1), end(Math.min, 2)];
    this.high = [end(Math.max, 0), end(Math.max, 1), end(Math.max, 2)];
  }

  private made: { readonly surface: Surface; readonly miss: number } | null = null;

  get rough(): { readonly surface: Surface; readonly miss: number } {
    this.made ??= this.coarser?.() ?? { surface: this, miss: 0 };
    return this.made;
  }

  /** Whether each edge has a neighbour that runs along it the other way: then there is an inside. */
  get closed(): boolean {
    const size = Math.hypot(...this.high.map((value, axis) => value - this.low[axis]!));
    this.whole ??= isClosed(this.triangles, size * SAME_CORNER);
    return this.whole;
  }
}

/** The upper triangle of a stretch, row by row: xx, xy, xz, yy, yz, zz. */
export type Stretch = readonly [number, number, number, number, number, number];

/** Points that are spread over a surface, and about as many corners. */
const SPREAD = 160;

/**
 * A surface of triangles that can be asked what it touches. A closed one is solid: what lies within is touched, too. Its
 * tree is made when it is first asked.
 * Trees of boxes: three-mesh-bvh; distance of triangles: Ericson, Real-Time Collision Detection, 5.1.
 */
export class Solid {
  /** Least and greatest coordinates of a box around it. */
  readonly low: readonly [number, number, number];
  readonly high: readonly [number, number, number];
  /** Middle of the box, and the way from there to its corners. */
  readonly middle: readonly [number, number, number];
  readonly radius: number;
  /** Radius about the middle of what is a ball, stretched evenly. */
  private readonly ball: number | null;
  private made: BoxTree | null = null;

  constructor(
    private readonly surface: Surface,
    readonly stretch: Stretch,
  ) {
    const { low, high } = surface;
    const [xx, , , yy, , zz] = stretch;
    const even = Math.max(xx, yy, Math.abs(zz)) - Math.min(xx, yy, Math.abs(zz)) <= xx * EVEN;
    const straight = [stretch[1], stretch[2], stretch[4]].every((value) => Math.abs(value) <= xx * EVEN);
    this.ball = surface.ball !== null && even && straight ? surface.ball * xx : null;
    const corners = Array.from({ length: 8 }, (_, i) =>
      stretched(stretch, i & 1 ? high[0] : low[0], i & 2 ? high[1] : low[1], i & 4 ? high[2] : low[2]),
    );
    const end = (pick: (...values: number[]) => number) =>
      [0, 1, 2].map((axis) => pick(...corners.map((at) => at[axis]!))) as [number, number, number];
    this.low = end(Math.min);
    this.high = end(Math.max);
    this.middle = [0, 1, 2].map((axis) => (this.low[axis]! + this.high[axis]!) / 2) as [
      number,
      number,
      number,
    ];
    this.radius = this.ball ?? Math.hypot(...this.high.map((value, axis) => (value - this.low[axis]!) / 2));
  }

  private rough: { readonly solid: Solid; readonly miss: number } | null = null;

  /** The same with fewer sides, and how much deeper they may lie, metres: to ask how far apart things are. */
  get roughly(): { readonly solid: Solid; readonly miss: number } {
    if (this.rough) return this.rough;
    const { surface, miss } = this.surface.rough;
    const same = this.ball !== null || surface === this.surface;
    const most = Math.hypot(...this.stretch);
    this.rough = same
      ? { solid: this, miss: 0 }
      : { solid: new Solid(surface, this.stretch), miss: miss * most };
    return this.rough;
  }

  private get boxes(): BoxTree {
    if (this.made) return this.made;
    const { positions, indices } = this.surface.triangles;
    const placed = new Float64Array(positions.length);
    for (let i = 0; i < placed.length; i += 3)
      placed.set(stretched(this.stretch, positions[i]!, positions[i + 1]!, positions[i + 2]!), i);
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', new BufferAttribute(placed, 3));
    geometry.setIndex(new BufferAttribute(Uint32Array.from(indices), 1));
    geometry.computeBoundingBox();
    this.made = new BoxTree(geometry);
    return this.made;
  }

  private get closed(): boolean {
    return this.surface.closed;
  }

  /**
   * Whether another one, placed by `otherToThis`, touches this one or lies within it or around it.
   * @param witness what told it the last time of these two, and tells it the next time
   */
  touches(other: Solid, otherToThis: Matrix4, witness?: Witness): boolean {
    if (this.ball !== null || other.ball !== null)
      return (this.roundNearest(other, otherToThis, 0)?.distance ?? Infinity) <= 0;
    if (this.boxes.meets(other.boxes, otherToThis, witness)) return true;
    if (this.holds(other.corner().applyMatrix4(otherToThis))) return true;
    return other.holds(this.corner().applyMatrix4(toOther.copy(otherToThis).invert()));
  }

  /**
   * The nearest points of both surfaces in the measure of this one; `null` where they are farther apart than `most`.
   * @param enough what is as near as this will do, though something may be nearer
   * @param witness what told it the last time of these two, and tells it the next time
   * @param share nothing that is farther than `enough` is nearer than this share of what is given, or of `most`; 1 for the
   *   nearest there is
   */
  nearest(
    other: Solid,
    otherToThis: Matrix4,
    most = Infinity,
    enough = 0,
    witness?: Witness,
    share = 1,
  ): Nearest | null {
    if (this.ball !== null || other.ball !== null) return this.roundNearest(other, otherToThis, most);
    return this.boxes.nearest(other.boxes, otherToThis, most, enough, witness, share);
  }

  /**
   * Where both surfaces cross: the middle of the crossing and the directions in which the other one comes out of the
   * triangles that cross, in the measure of this one; `null` where they do not.
   */
  crossing(other: Solid, otherToThis: Matrix4): { middle: Vector3; ways: Vector3[] } | null {
    if (this.ball !== null || other.ball !== null) {
      const near = this.roundNearest(other, otherToThis, 0);
      if (!near) return null;
      const [a, b] = [new Vector3(...near.a), new Vector3(...near.b)];
      const along = b.clone().sub(a);
      return {
        middle: a.add(b).divideScalar(2),
        ways: along.lengthSq() > 0 ? [along.clone().normalize(), along.normalize().negate()] : [],
      };
    }
    const middle = new Vector3();
    const ways: Vector3[] = [];
    let count = 0;
    const take = (triangle: Triangle, sign: number): void => {
      const way = triangle.getNormal(new Vector3()).multiplyScalar(sign);
      if (way.lengthSq() > 0 && !ways.some((known) => known.dot(way) > ALIKE)) ways.push(way);
    };
    const line = new Line3();
    this.boxes.tree.bvhcast(other.boxes.tree, otherToThis, {
      intersectsTriangles: (mine, theirs) => {
        line.start.set(0, 0, 0);
        line.end.set(0, 0, 0);
        if (!measured(mine).intersectsTriangle(theirs, line, true)) return false;
        // Triangles that lie in one another have no line in common, but an area.
        if (line.start.equals(line.end)) middle.add(middleOfBoth(mine, theirs));
        else middle.addScaledVector(line.start, 0.5).addScaledVector(line.end, 0.5);
        take(mine, 1);
        take(theirs, -1);
        return ++count >= CROSSINGS;
      },
    });
    return count === 0 ? null : { middle: middle.divideScalar(count), ways };
  }

  /** As `nearest` where one of both is a ball; below 0 where they overlap. */
  private roundNearest(other: Solid, otherToThis: Matrix4, most: number): Nearest | null {
    if (other.ball === null) {
      const back = new Matrix4().copy(otherToThis).invert();
      const found = other.roundNearest(this, back, most);
      if (!found) return null;
      const placed = (at: readonly [number, number, number]): [number, number, number] =>
        new Vector3(...at).applyMatrix4(otherToThis).toArray();
      return { distance: found.distance, a: placed(found.b), b: placed(found.a) };
    }
    const centre = new Vector3(...other.middle).applyMatrix4(otherToThis);
    const own = new Vector3();
    let apart: number;
    let inside = false;
    if (this.ball !== null) {
      own.set(...this.middle);
      const way = centre.distanceTo(own);
      apart = way - this.ball;
      if (way > 0) own.lerp(centre, this.ball / way);
    } else {
      inside = this.holds(centre);
      const found = this.boxes.tree.closestPointToPoint(
        centre,
        hit(),
        0,
        inside ? Infinity : other.ball + most,
      );
      if (!found) return null;
      own.copy(found.point);
      apart = inside ? -found.distance : found.distance;
    }
    const distance = apart - other.ball;
    if (distance > most) return null;
    const out = own
      .clone()
      .sub(centre)
      .multiplyScalar(inside ? -1 : 1);
    if (out.lengthSq() > 0) out.setLength(other.ball);
    return { distance, a: own.toArray(), b: centre.add(out).toArray() };
  }

  private samples: Float64Array | null = null;

  /** Points spread over its surface by area, and some of its corners: three numbers each. */
  private get spread(): Float64Array {
    if (this.samples) return this.samples;
    const { geometry } = this.boxes;
    const [points, index] = [geometry.getAttribute('position'), geometry.getIndex()!];
    const corners = [new Vector3(), new Vector3(), new Vector3()] as const;
    const read = (triangle: number): void => {
      corners.forEach((corner, k) => corner.fromBufferAttribute(points, index.getX(triangle * 3 + k)));
    };
    const count = index.count / 3;
    const areas = Float64Array.from({ length: count }, (_, i) => {
      read(i);
      return new Triangle(...corners).getArea();
    });
    const whole = areas.reduce((sum, area) => sum + area, 0);
    const found: number[] = [];
    const each = Math.max(1, Math.ceil(count / SPREAD));
    let due = 0;
    let row = 0;
    for (let i = 0; i < count; i++) {
      read(i);
      if (i % each === 0) found.push(...corners[0].toArray());
      due += (SPREAD * areas[i]!) / whole;
      for (; due >= 1; due--) {
        // Evenly over the triangle: the additive recurrence with the plastic number (Roberts 2018), folded into half of a square.
        let [u, v] = [(0.7548776662466927 * ++row) % 1, (0.5698402909980532 * row) % 1];
        if (u + v > 1) [u, v] = [1 - u, 1 - v];
        const [a, b, c] = corners;
        for (const axis of ['x', 'y', 'z'] as const)
          found.push(a[axis] + u * (b[axis] - a[axis]) + v * (c[axis] - a[axis]));
      }
    }
    this.samples = Float64Array.from(found);
    return this.samples;
  }

  /** How deep the surface of another one goes below that of this one at most, as far as points spread over it tell; metres. */
  deepestOf(other: Solid, otherToThis: Matrix4): number {
    const { spread } = other;
    const point = new Vector3();
    let deepest = 0;
    for (let i = 0; i < spread.length; i += 3) {
      point.set(spread[i]!, spread[i + 1]!, spread[i + 2]).applyMatrix4(otherToThis);
      if (!this.holds(point)) continue;
      const near = this.boxes.tree.closestPointToPoint(point, hit(), deepest);
      if (near) deepest = Math.max(deepest, near.distance);
    }
    return deepest;
  }

  private corner(): Vector3 {
    const index = this.boxes.geometry.getIndex()!.getX(0);
    return new Vector3().fromBufferAttribute(this.boxes.geometry.getAttribute('position'), index);
  }

  /** Whether a point lies within: a ray from there comes out one time more often than it goes in. */
  private holds(point: Vector3): boolean {
    if (!this.closed) return false;
    for (let axis = 0; axis < 3; axis++) {
      const at = point.getComponent(axis);
      if (at < this.low[axis]! || at > this.high[axis]!) return false;
    }
    ray.origin.copy(point);
    // Askew, so that it meets no edge of what is built along the axes.
    ray.direction.set(0.5377, 0.6131, 0.5788).normalize();
    return this.boxes.tree.raycast(ray, DoubleSide).length % 2 === 1;
  }
}

/** Middle of what the boxes of two triangles have in common. */
function middleOfBoth(mine: Triangle, theirs: Triangle): Vector3 {
  boxOfMine.setFromPoints([mine.a, mine.b, mine.c]);
  boxOfTheirs.setFromPoints([theirs.a, theirs.b, theirs.c]);
  return boxOfMine.intersect(boxOfTheirs).getCenter(new Vector3());
}

const stretched = (
  [xx, xy, xz, yy, yz, zz]: Stretch,
  x: number,
  y: number,
  z: number,
): [number, number, number] => [xx * x + xy * y + xz * z, yy * y + yz * z, zz * z];

/** @param same corners nearer than this to one another are one, metres */
function isClosed({ positions, indices }: Triangles, same: number): boolean {
  if (indices.length === 0 || !(same > 0)) return false;
  const corners = new Map<string, number>();
  const cornerOf = new Uint32Array(positions.length / 3);
  for (let i = 0; i < cornerOf.length; i++) {
    const word = [0, 1, 2].map((axis) => Math.round(positions[i * 3 + axis]! / same)).join(' ');
    let known = corners.get(word);
    if (known === undefined) corners.set(word, (known = corners.size));
    cornerOf[i] = known;
  }
  const open = new Map<number, number>();
  const count = corners.size;
  for (let i = 0; i < indices.length; i += 3)
    for (let k = 0; k < 3; k++) {
      const from = cornerOf[indices[i + k]!]!;
      const to = cornerOf[indices[i + ((k + 1) % 3)]!]!;
      if (from === to) continue;
      const edge = Math.min(from, to) * count + Math.max(from, to);
      const left = (open.get(edge) ?? 0) + (from < to ? 1 : -1);
      if (left === 0) open.delete(edge);
      else open.set(edge, left);
    }
  return open.size === 0;
}
