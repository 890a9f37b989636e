import { JOINT_SIZE, POSE_SIZE, type Chain, type ChainNumbers, type JointKind } from '../mechanism';

type Point = readonly [x: number, y: number];
type Pose = readonly [x: number, y: number, turn: number];

/** Writes a chain body by body and joint by joint, for tests. */
export class ChainDraft {
  private readonly found: (readonly [boolean, boolean, boolean])[] = [[false, false, false]];
  private readonly poses: number[] = [0, 0, 0];
  private readonly joints: Chain['joints'][number][] = [];
  private readonly numbers: number[] = [];

  /** Adds a body as it is drawn; `found` says which of its x, y and turn come from joints. */
  body(pose: Pose, found: readonly [boolean, boolean, boolean] = [true, true, true]): number {
    this.poses.push(...pose);
    return this.found.push(found) - 1;
  }

  /** A bar whose first point is drawn at one place and whose second lies towards another; its own x axis runs along it. */
  bar(from: Point, to: Point): number {
    const turn = (Math.atan2(to[1] - from[1], to[0] - from[0]) * 180) / Math.PI;
    return this.body([from[0], from[1], turn]);
  }

  joint(kind: JointKind, a: number, at: Point, b: number, to: Point, line = 0, turn = 0): this {
    this.joints.push({ kind, a, b });
    this.numbers.push(at[0], at[1], to[0], to[1], line, turn);
    return this;
  }

  pin(a: number, at: Point, b: number, to: Point): this {
    return this.joint('pin', a, at, b, to);
  }

  done(): { chain: Chain; drawn: Float64Array; numbers: ChainNumbers } {
    const drawn = Float64Array.from(this.poses);
    return {
      chain: { found: this.found, joints: this.joints },
      drawn,
      numbers: { poses: drawn.slice(), joints: Float64Array.from(this.numbers) },
    };
  }
}

/** Where a point of a body lies, by the library's own trigonometry: written apart from the solver's. */
export function pointOf({ poses }: ChainNumbers, body: number, [px, py]: Point): [number, number] {
  const at = body * POSE_SIZE;
  const turn = (poses[at + 2]! * Math.PI) / 180;
  return [
    poses[at]! + Math.cos(turn) * px - Math.sin(turn) * py,
    poses[at + 1]! + Math.sin(turn) * px + Math.cos(turn) * py,
  ];
}

/** Largest miss of a chain's joints: lengths, and degrees of slides. */
export function largestMiss(chain: Chain, numbers: ChainNumbers): number {
  return Math.max(
    ...chain.joints.map(({ kind, a, b }, j) => {
      const [ax, ay, bx, by, line, turn] = numbers.joints.slice(
        j * JOINT_SIZE,
        (j + 1) * JOINT_SIZE,
      ) as unknown as [number, number, number, number, number, number];
      const [p, q] = [pointOf(numbers, a, [ax, ay]), pointOf(numbers, b, [bx, by])];
      const [dx, dy] = [p[0] - q[0], p[1] - q[1]];
      if (kind === 'pin') return Math.hypot(dx, dy);
      const angle = ((numbers.poses[b * POSE_SIZE + 2]! + line) * Math.PI) / 180;
      const off = Math.abs(dy * Math.cos(angle) - dx * Math.sin(angle));
      const turned = numbers.poses[a * POSE_SIZE + 2]! - numbers.poses[b * POSE_SIZE + 2]! - turn;
      return kind === 'slot' ? off : Math.max(off, Math.abs(turned - 360 * Math.round(turned / 360)));
    }),
  );
}
