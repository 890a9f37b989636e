import { cos, sin } from '../math';
import { solidLength } from '../mechanism';
import { atFineness, SPRING_STEPS, WIRE_SIDES } from './fineness';
import { MeshBuilder, type Mesh, type Point } from './mesh';

export interface SpringSizes {
  /** From the axis to the middle of the wire, metres. */
  readonly radius: number;
  /** Radius of the wire. */
  readonly wire: number;
  readonly turns: number;
  readonly length: number;
}

/** A spring is not drawn with more steps than this: many turns get fewer steps each. */
const MOST_STEPS = 2400;
/** Turns that lie flat at each end, where there are enough. */
const FLAT_TURNS = 1;

/** Height of the middle of the wire, metres above the foot, after so many turns. */
export function springHeight(sizes: SpringSizes, turn: number): number {
  const { wire, turns } = sizes;
  const length = Math.max(sizes.length, solidLength(sizes));
  const flat = Math.min(FLAT_TURNS, turns / 4);
  const near = 2 * wire;
  const steep = (length - 2 * wire - 2 * near * flat) / (turns - 2 * flat);
  if (turn <= flat) return wire + near * turn;
  if (turn >= turns - flat) return length - wire - near * (turns - turn);
  return wire + near * flat + steep * (turn - flat);
}

/** A coil that stands on its foot at the origin, up along y, with flat turns at both ends; right-handed. */
export function springMesh(sizes: SpringSizes, fineness = 1): Mesh {
  const builder = new MeshBuilder();
  const { radius, wire, turns } = sizes;
  const each = Math.min(atFineness(SPRING_STEPS, fineness, 10), MOST_STEPS / turns);
  const steps = Math.max(4, Math.round(turns * each));
  const sides = atFineness(WIRE_SIDES, fineness, 5);
  const middle = (i: number): Point => {
    const turn = (turns * i) / steps;
    const angle = -2 * Math.PI * turn;
    return [radius * cos(angle), springHeight(sizes, turn), radius * sin(angle)];
  };
  const section = (i: number): { points: Point[]; normals: Point[] } => {
    const at = middle(i);
    const angle = (-2 * Math.PI * turns * i) / steps;
    const out: Point = [cos(angle), 0, sin(angle)];
    const [before, after] = [middle(Math.max(0, i - 1)), middle(Math.min(steps, i + 1))];
    const way = unit([after[0] - before[0], after[1] - before[1], after[2] - before[2]]);
    // Square to the wire and to the way out from the axis.
    const up = unit(cross(out, way));
    const side = cross(up, way);
    const normals = Array.from({ length: sides }, (_, k): Point => {
      const round = (2 * Math.PI * k) / sides;
      const [c, s] = [cos(round), sin(round)];
      return [side[0] * c + up[0] * s, side[1] * c + up[1] * s, side[2] * c + up[2] * s];
    });
    return {
      normals,
      points: normals.map((n): Point => [at[0] + wire * n[0], at[1] + wire * n[1], at[2] + wire * n[2]]),
    };
  };
  let last: readonly number[] = [];
  for (let i = 0; i <= steps; i++) {
    const { points, normals } = section(i);
    if (i === 0) builder.face([...points].reverse());
    if (i === steps) builder.face(points);
    const now = points.map((point, k) => builder.vertex(point, normals[k]!));
    for (let k = 0; i > 0 && k < sides; k++) {
      const next = (k + 1) % sides;
      builder.triangle(last[k]!, last[next]!, now[next]!);
      builder.triangle(last[k]!, now[next]!, now[k]!);
    }
    last = now;
  }
  return builder.build();
}

const cross = (a: Point, b: Point): Point => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];

function unit([x, y, z]: Point): Point {
  const length = Math.sqrt(x * x + y * y + z * z) || 1;
  return [x / length, y / length, z / length];
}
