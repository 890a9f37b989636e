import { JOINT_SIZE, missOfJoint, POSE_SIZE, sizeOfChain, type Chain, type ChainNumbers } from './chain';
import { cosDeg, sinDeg } from '../../math';
import type { Group } from './order-of-solution';

/** Lengths of the chain that a turn by a radian counts for, where a loose group takes the smallest move. */
const LOOSE_TURN = 30;

/**
 * Groups that no closed form solves: Newton's method from a pose near by (Nikravesh, "Computer-Aided Analysis of Mechanical
 * Systems"); where there are more or fewer conditions than unknowns, by least squares with the smallest move
 * (Levenberg-Marquardt with a vanishing damping).
 */
export class Nearing {
  private readonly rows: number;
  /** How much more a turn counts than a way where the smallest move is sought: a loose bar is drawn along, not swung. */
  private readonly stiff: number;
  private readonly miss: Float64Array;
  private readonly slope: Float64Array;
  private readonly square: Float64Array;
  private readonly move: Float64Array;
  /** Place of an unknown in the group, or -1. */
  private readonly column: Int32Array;

  constructor(
    private readonly chain: Chain,
    private readonly group: Group,
  ) {
    const count = group.unknowns.length;
    this.stiff = group.sort === 'loose' ? LOOSE_TURN : 1;
    this.rows = group.joints.reduce((sum, j) => sum + (chain.joints[j]!.kind === 'slot' ? 1 : 2), 0);
    this.miss = new Float64Array(this.rows + 2);
    this.slope = new Float64Array(this.rows * count);
    this.square = new Float64Array(count * count);
    this.move = new Float64Array(count);
    this.column = new Int32Array(chain.found.length * POSE_SIZE).fill(-1);
    group.unknowns.forEach((unknown, k) => (this.column[unknown] = k));
  }

  /**
   * Moves the group's bodies from where they stand until its joints are closed, changing `numbers.poses`.
   * @param furthest largest turn, degrees, that counts as the same way of fitting together
   * @returns `closed`, `far` where the nearest closed pose lies further, `open` where there is none near; the poses are
   *   then as they were for `far`, and as close as they come for `open`
   */
  solve(numbers: ChainNumbers, furthest: number): 'closed' | 'far' | 'open' {
    const { poses } = numbers;
    const { unknowns } = this.group;
    const before = unknowns.map((unknown) => poses[unknown]!);
    const size = sizeOfChain(numbers.joints);
    let best = Infinity;
    // Where six rounds gain less than a tenth, it comes no closer.
    let earlier = Infinity;
    for (let round = 0; round < 60; round++) {
      const miss = this.linearise(numbers, size);
      const done = miss <= 1e-15 * size || (round > 2 && miss >= best * 0.5 && miss <= 1e-12 * size);
      if (done) break;
      best = Math.min(best, miss);
      if (round % 6 === 5) {
        if (best > earlier * 0.9) break;
        earlier = best;
      }
      this.step(poses, size);
    }
    const miss = this.linearise(numbers, size);
    if (!(miss <= 1e-10 * size)) return 'open';
    const turned = unknowns.reduce(
      (most, unknown, k) =>
        unknown % 3 === 2 ? Math.max(most, Math.abs(poses[unknown]! - before[k]!)) : most,
      0,
    );
    if (turned <= furthest) return 'closed';
    unknowns.forEach((unknown, k) => (poses[unknown] = before[k]!));
    return 'far';
  }

  /** Works out misses and their slopes, turns taken as lengths at the size of the chain; the largest miss. */
  private linearise(numbers: ChainNumbers, size: number): number {
    const { chain, group, miss, slope } = this;
    const count = group.unknowns.length;
    slope.fill(0);
    let row = 0;
    let most = 0;
    for (const j of group.joints) {
      const rows = missOfJoint(miss, row, chain, numbers, j);
      if (chain.joints[j]!.kind === 'slide') miss[row + 1]! *= (Math.PI / 180) * size;
      this.slopes(numbers, j, row, count, size);
      row += rows;
    }
    for (let r = 0; r < this.rows; r++) most = Math.max(most, Math.abs(miss[r]!));
    return most;
  }

  private slopes({ poses, joints }: ChainNumbers, j: number, row: number, count: number, size: number): void {
    const { chain, slope, column } = this;
    const { kind, a, b } = chain.joints[j]!;
    const o = j * JOINT_SIZE;
    const put = (r: number, body: number, k: number, value: number): void => {
      const at = column[body * POSE_SIZE + k]!;
      if (at >= 0) slope[r * count + at]! += k === 2 ? value / (size * this.stiff) : value;
    };
    const turned = (body: number, px: number, py: number): [number, number] => {
      const turn = poses[body * POSE_SIZE + 2]!;
      return [cosDeg(turn) * px - sinDeg(turn) * py, sinDeg(turn) * px + cosDeg(turn) * py];
    };
    const [ax, ay] = turned(a, joints[o]!, joints[o + 1]!);
    const [bx, by] = turned(b, joints[o + 2]!, joints[o + 3]!);
    if (kind === 'pin') {
      put(row, a, 0, 1);
      put(row, a, 2, -ay);
      put(row, b, 0, -1);
      put(row, b, 2, by);
      put(row + 1, a, 1, 1);
      put(row + 1, a, 2, ax);
      put(row + 1, b, 1, -1);
      put(row + 1, b, 2, -bx);
      return;
    }
    const line = poses[b * POSE_SIZE + 2]! + joints[o + 4]!;
    const [ux, uy] = [cosDeg(line), sinDeg(line)];
    const dx = poses[a * POSE_SIZE]! + ax - poses[b * POSE_SIZE]! - bx;
    const dy = poses[a * POSE_SIZE + 1]! + ay - poses[b * POSE_SIZE + 1]! - by;
    put(row, a, 0, -uy);
    put(row, a, 1, ux);
    put(row, a, 2, ux * ax + uy * ay);
    put(row, b, 0, uy);
    put(row, b, 1, -ux);
    put(row, b, 2, -(ux * bx + uy * by) - (ux * dx + uy * dy));
    if (kind === 'slot') return;
    put(row + 1, a, 2, size);
    put(row + 1, b, 2, -size);
  }

  private step(poses: Float64Array, size: number): void {
    const { group, miss, slope, square, move, rows } = this;
    const { unknowns } = group;
    const count = unknowns.length;
    let solved = false;
    if (rows === count) {
      square.set(slope);
      for (let r = 0; r < rows; r++) move[r] = miss[r]!;
      solved = eliminate(square, move, count);
    }
    if (!solved) {
      for (let i = 0; i < count; i++) {
        move[i] = 0;
        for (let r = 0; r < rows; r++) move[i]! += slope[r * count + i]! * miss[r]!;
        for (let k = 0; k < count; k++) {
          let sum = i === k ? 1e-9 : 0;
          for (let r = 0; r < rows; r++) sum += slope[r * count + i]! * slope[r * count + k]!;
          square[i * count + k] = sum;
        }
      }
      eliminate(square, move, count);
    }
    // A step of more than half a radian leaves what the slopes say: it is made smaller, all unknowns alike.
    let most = 0;
    unknowns.forEach((unknown, k) => {
      if (unknown % 3 === 2) move[k]! /= this.stiff;
      most = Math.max(most, Math.abs(move[k]!));
    });
    const share = most > size / 2 ? size / 2 / most : 1;
    unknowns.forEach((unknown, k) => {
      const by = move[k]! * share;
      if (by - by === 0) poses[unknown]! -= unknown % 3 === 2 ? (by / size) * (180 / Math.PI) : by;
    });
  }
}

/** Solves a square system by elimination with the largest pivot in `x`, in place; false where it has no one answer. */
function eliminate(m: Float64Array, x: Float64Array, n: number): boolean {
  for (let c = 0; c < n; c++) {
    let pivot = c;
    for (let r = c + 1; r < n; r++) if (Math.abs(m[r * n + c]!) > Math.abs(m[pivot * n + c]!)) pivot = r;
    if (!(Math.abs(m[pivot * n + c]!) > 1e-13)) return false;
    if (pivot !== c) {
      for (let k = c; k < n; k++) {
        const kept = m[c * n + k]!;
        m[c * n + k] = m[pivot * n + k]!;
        m[pivot * n + k] = kept;
      }
      const kept = x[c]!;
      x[c] = x[pivot]!;
      x[pivot] = kept;
    }
    for (let r = c + 1; r < n; r++) {
      const share = m[r * n + c]! / m[c * n + c]!;
      if (share === 0) continue;
      for (let k = c; k < n; k++) m[r * n + k]! -= share * m[c * n + k]!;
      x[r]! -= share * x[c]!;
    }
  }
  for (let r = n - 1; r >= 0; r--) {
    for (let k = r + 1; k < n; k++) x[r]! -= m[r * n + k]! * x[k]!;
    x[r]! /= m[r * n + r]!;
  }
  return true;
}
