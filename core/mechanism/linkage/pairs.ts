import { asin, atan2, cosDeg, sinDeg } from '../../math';
import { circleMeetsLine, circlesMeet, type Point } from '../meet';
import { carryPoint, JOINT_SIZE, POSE_SIZE, type Chain, type ChainNumbers } from './chain';
import type { Group } from './order-of-solution';

/**
 * Groups of one or two bodies that are found in closed form. Source: Assur groups of class II (Artobolevsky, "Mechanisms
 * in Modern Engineering Design"); circles and lines as in `meet.ts`. `side` of a group is 1 or -1: which of the two ways
 * in which it fits together. It is read off a pose once (`sideOf`) and never changes.
 */
export interface Pair {
  /** Which way the group fits together in a pose of all bodies. */
  sideOf(numbers: ChainNumbers): number;
  /** Writes the poses of its bodies; turns up to whole turns. False where the bodies do not reach one another. */
  solve(numbers: ChainNumbers, side: number): boolean;
}

const DEGREES = 180 / Math.PI;

/** A joint as seen from one of its bodies. */
interface Seen {
  readonly joint: number;
  /** The body from which it is seen, and the other. */
  readonly own: number;
  readonly other: number;
  /** Whether the body from which it is seen is the first one of the joint. */
  readonly first: boolean;
}

function seenFrom(chain: Chain, joint: number, own: number): Seen {
  const { a, b } = chain.joints[joint]!;
  return { joint, own, other: a === own ? b : a, first: a === own };
}

/** The way in closed form for a group, or `null` where it takes steps of nearing. */
export function pairOf(chain: Chain, group: Group): Pair | null {
  if (group.sort !== 'even') return null;
  const { bodies } = group;
  const [p = 0, q = 0] = bodies;
  const kindOf = (joint: number): string => chain.joints[joint]!.kind;
  const wholeOf = (body: number): boolean => chain.found[body]!.every(Boolean);
  if (bodies.length === 1) {
    const seen = group.joints.map((joint) => seenFrom(chain, joint, p));
    const kinds = group.joints.map(kindOf).sort().join();
    if (!chain.found[p]![2] || kinds.includes('slide')) return placed(chain, p, seen);
    if (kinds === 'pin,slot' && wholeOf(p)) {
      const pin = seen.find(({ joint }) => kindOf(joint) === 'pin')!;
      const slot = seen.find(({ joint }) => kindOf(joint) === 'slot')!;
      return slot.first ? pinAndSlot(pin, slot) : pinAndOwnSlot(pin, slot);
    }
    return null;
  }
  if (bodies.length !== 2 || group.joints.length !== 3 || !wholeOf(p) || !wholeOf(q)) return null;
  const between = group.joints.filter((joint) => {
    const { a, b } = chain.joints[joint]!;
    return bodies.includes(a) && bodies.includes(b);
  });
  const outer = group.joints.filter((joint) => !between.includes(joint));
  if (between.length !== 1) return null;
  const ofP = outer.filter((joint) => [chain.joints[joint]!.a, chain.joints[joint]!.b].includes(p));
  const ofQ = outer.filter((joint) => !ofP.includes(joint));
  if (ofP.length !== 1) return null;
  const kinds = [ofP[0]!, between[0]!, ofQ[0]!].map(kindOf).join();
  const [fromP, fromQ] = [seenFrom(chain, ofP[0]!, p), seenFrom(chain, ofQ[0]!, q)];
  if (kinds === 'pin,pin,pin') return twoBars(fromP, seenFrom(chain, between[0]!, p), fromQ);
  if (kinds === 'pin,pin,slide') return barAndSlide(fromP, seenFrom(chain, between[0]!, p), fromQ);
  if (kinds === 'slide,pin,pin') return barAndSlide(fromQ, seenFrom(chain, between[0]!, q), fromP);
  if (kinds === 'pin,slide,pin') {
    const { a } = chain.joints[between[0]!]!;
    return a === p ? telescope(between[0]!, fromP, fromQ) : telescope(between[0]!, fromQ, fromP);
  }
  return null;
}

/** The point of a joint on the body from which it is seen, or on the other one, in that body's own measure. */
const ownX = ({ joints }: ChainNumbers, { joint, first }: Seen): number =>
  joints[joint * JOINT_SIZE + (first ? 0 : 2)]!;
const ownY = ({ joints }: ChainNumbers, { joint, first }: Seen): number =>
  joints[joint * JOINT_SIZE + (first ? 1 : 3)]!;
const otherX = ({ joints }: ChainNumbers, { joint, first }: Seen): number =>
  joints[joint * JOINT_SIZE + (first ? 2 : 0)]!;
const otherY = ({ joints }: ChainNumbers, { joint, first }: Seen): number =>
  joints[joint * JOINT_SIZE + (first ? 3 : 1)]!;

const carried = new Float64Array(2);

function ownPoint(numbers: ChainNumbers, seen: Seen): Point {
  carryPoint(carried, numbers.poses, seen.own, ownX(numbers, seen), ownY(numbers, seen));
  return { x: carried[0]!, y: carried[1]! };
}

function otherPoint(numbers: ChainNumbers, seen: Seen): Point {
  carryPoint(carried, numbers.poses, seen.other, otherX(numbers, seen), otherY(numbers, seen));
  return { x: carried[0]!, y: carried[1]! };
}

/** Half way between the points that a joint is to bring together: before it is closed, both bodies have a say in its side. */
function between(numbers: ChainNumbers, seen: Seen): Point {
  const [one, two] = [ownPoint(numbers, seen), otherPoint(numbers, seen)];
  return { x: (one.x + two.x) / 2, y: (one.y + two.y) / 2 };
}

const turnOf = ({ poses }: ChainNumbers, body: number): number => poses[body * POSE_SIZE + 2]!;
const lineOf = ({ joints }: ChainNumbers, joint: number): number => joints[joint * JOINT_SIZE + 4]!;
const slideTurn = ({ joints }: ChainNumbers, joint: number): number => joints[joint * JOINT_SIZE + 5]!;

/** Direction of the line of a joint, as it stands. */
const lineStands = (chain: ChainNumbers, { joint, own, other, first }: Seen): number =>
  turnOf(chain, first ? other : own) + lineOf(chain, joint);

/** Puts a body with a turn so that a point of its own lies at a place. */
function put({ poses }: ChainNumbers, body: number, turn: number, px: number, py: number, to: Point): void {
  const at = body * POSE_SIZE;
  const [c, s] = [cosDeg(turn), sinDeg(turn)];
  poses[at] = to.x - (c * px - s * py);
  poses[at + 1] = to.y - (s * px + c * py);
  poses[at + 2] = turn;
}

/** Turn of a body so that the way between two of its points points from one place to another. */
function turnBetween(px: number, py: number, qx: number, qy: number, from: Point, to: Point): number {
  return (atan2(to.y - from.y, to.x - from.x) - atan2(qy - py, qx - px)) * DEGREES;
}

const distance = (x: number, y: number): number => Math.sqrt(x * x + y * y);
const sideOfNumber = (x: number): number => (x < 0 ? -1 : 1);

/** A body whose turn is given, or held by a slide: its place comes from straight lines. */
function placed(chain: Chain, body: number, seen: readonly Seen[]): Pair {
  const slide = seen.find(({ joint }) => chain.joints[joint]!.kind === 'slide');
  const [foundX, foundY, foundTurn] = chain.found[body]!;
  // One row per condition: a x + b y = c.
  const rows: [number, number, number][] = [];
  return {
    sideOf: () => 1,
    solve(numbers) {
      const { poses } = numbers;
      const at = body * POSE_SIZE;
      if (foundTurn) {
        if (!slide) return false;
        const held = slideTurn(numbers, slide.joint);
        poses[at + 2] = turnOf(numbers, slide.other) + (slide.first ? held : -held);
      }
      const [c, s] = [cosDeg(poses[at + 2]!), sinDeg(poses[at + 2]!)];
      rows.length = 0;
      for (const one of seen) {
        const [px, py] = [ownX(numbers, one), ownY(numbers, one)];
        const there = otherPoint(numbers, one);
        const [x, y] = [there.x - (c * px - s * py), there.y - (s * px + c * py)];
        if (chain.joints[one.joint]!.kind === 'pin') rows.push([1, 0, x], [0, 1, y]);
        else {
          const line = lineStands(numbers, one);
          const [nx, ny] = [-sinDeg(line), cosDeg(line)];
          rows.push([nx, ny, nx * x + ny * y]);
        }
      }
      if (foundX && foundY) {
        const [one, two] = rows as [(typeof rows)[0], (typeof rows)[0]];
        if (rows.length !== 2) return false;
        const turned = one[0] * two[1] - one[1] * two[0];
        if (Math.abs(turned) < 1e-12) return false;
        poses[at] = (one[2] * two[1] - one[1] * two[2]) / turned;
        poses[at + 1] = (one[0] * two[2] - one[2] * two[0]) / turned;
        return true;
      }
      const k = foundX ? 0 : 1;
      const row = rows[0];
      if (!foundX && !foundY) return true;
      if (!row || rows.length !== 1 || Math.abs(row[k]) < 1e-12) return false;
      poses[at + k] = (row[2] - row[1 - k]! * poses[at + 1 - k]!) / row[k];
      return true;
    },
  };
}

/** A bar pinned at one point whose other point runs on a line. */
function pinAndSlot(pin: Seen, slot: Seen): Pair {
  const place = (numbers: ChainNumbers, side: number): Point => {
    const from = otherPoint(numbers, pin);
    const on = otherPoint(numbers, slot);
    const r = distance(ownX(numbers, slot) - ownX(numbers, pin), ownY(numbers, slot) - ownY(numbers, pin));
    return circleMeetsLine(from.x, from.y, r, on.x, on.y, lineStands(numbers, slot), side);
  };
  return {
    sideOf(numbers) {
      const [from, to] = [ownPoint(numbers, pin), ownPoint(numbers, slot)];
      const line = lineStands(numbers, slot);
      return sideOfNumber((to.x - from.x) * cosDeg(line) + (to.y - from.y) * sinDeg(line));
    },
    solve(numbers, side) {
      const from = otherPoint(numbers, pin);
      const to = place(numbers, side);
      if (!(to.x - to.x === 0)) return false;
      const [px, py] = [ownX(numbers, pin), ownY(numbers, pin)];
      put(
        numbers,
        pin.own,
        turnBetween(px, py, ownX(numbers, slot), ownY(numbers, slot), from, to),
        px,
        py,
        from,
      );
      return true;
    },
  };
}

/**
 * Direction of a line that passes a point `away` to its left side (on its right below 0) and lies so that another point,
 * (dx, dy) from the first, is on it: in front with side 1, behind with -1. NaN where the point is too near.
 */
function lineThrough(dx: number, dy: number, away: number, side: number): number {
  const d = distance(dx, dy);
  const share = away / d;
  if (!(Math.abs(share) <= 1)) return NaN;
  const lean = asin(share);
  return (atan2(dy, dx) - (side < 0 ? Math.PI - lean : lean)) * DEGREES;
}

/** A bar pinned at one point that carries a line on which a point of another body runs. */
function pinAndOwnSlot(pin: Seen, slot: Seen): Pair {
  return {
    sideOf(numbers) {
      const from = ownPoint(numbers, pin);
      const to = otherPoint(numbers, slot);
      const line = lineStands(numbers, slot);
      return sideOfNumber((to.x - from.x) * cosDeg(line) + (to.y - from.y) * sinDeg(line));
    },
    solve(numbers, side) {
      const [from, to] = [otherPoint(numbers, pin), otherPoint(numbers, slot)];
      const own = lineOf(numbers, slot.joint);
      const [px, py] = [ownX(numbers, pin), ownY(numbers, pin)];
      const away = (ownY(numbers, slot) - py) * cosDeg(own) - (ownX(numbers, slot) - px) * sinDeg(own);
      const turn = lineThrough(to.x - from.x, to.y - from.y, away, side) - own;
      if (!(turn - turn === 0)) return false;
      put(numbers, pin.own, turn, px, py, from);
      return true;
    },
  };
}

/** Two bars pinned together, each pinned to what stands already: two circles meet. */
function twoBars(first: Seen, middle: Seen, second: Seen): Pair {
  return {
    sideOf(numbers) {
      const [a, j, c] = [ownPoint(numbers, first), between(numbers, middle), ownPoint(numbers, second)];
      return sideOfNumber((c.x - a.x) * (j.y - a.y) - (c.y - a.y) * (j.x - a.x));
    },
    solve(numbers, side) {
      const [from, to] = [otherPoint(numbers, first), otherPoint(numbers, second)];
      const [ax, ay, bx, by] = [
        ownX(numbers, first),
        ownY(numbers, first),
        ownX(numbers, second),
        ownY(numbers, second),
      ];
      const [jx, jy, kx, ky] = [
        ownX(numbers, middle),
        ownY(numbers, middle),
        otherX(numbers, middle),
        otherY(numbers, middle),
      ];
      const meet = circlesMeet(
        from.x,
        from.y,
        distance(jx - ax, jy - ay),
        to.x,
        to.y,
        distance(kx - bx, ky - by),
        side,
      );
      if (!(meet.x - meet.x === 0)) return false;
      put(numbers, first.own, turnBetween(ax, ay, jx, jy, from, meet), ax, ay, from);
      put(numbers, second.own, turnBetween(bx, by, kx, ky, to, meet), bx, by, to);
      return true;
    },
  };
}

/** A pinned bar and a block on a slide, pinned together: a circle meets a line. */
function barAndSlide(bar: Seen, middle: Seen, block: Seen): Pair {
  return {
    sideOf(numbers) {
      const [from, to] = [ownPoint(numbers, bar), between(numbers, middle)];
      const line = lineStands(numbers, block);
      return sideOfNumber((to.x - from.x) * cosDeg(line) + (to.y - from.y) * sinDeg(line));
    },
    solve(numbers, side) {
      const from = otherPoint(numbers, bar);
      const held = slideTurn(numbers, block.joint);
      const turn = turnOf(numbers, block.other) + (block.first ? held : -held);
      const line = (block.first ? turnOf(numbers, block.other) : turn) + lineOf(numbers, block.joint);
      const on = otherPoint(numbers, block);
      // The pin of the block runs beside the line on which its own point runs.
      const [bx, by] = [ownX(numbers, block), ownY(numbers, block)];
      const [qx, qy] = [otherX(numbers, middle) - bx, otherY(numbers, middle) - by];
      const [c, s] = [cosDeg(turn), sinDeg(turn)];
      const [px, py] = [ownX(numbers, bar), ownY(numbers, bar)];
      const [jx, jy] = [ownX(numbers, middle), ownY(numbers, middle)];
      const r = distance(jx - px, jy - py);
      const meet = circleMeetsLine(
        from.x,
        from.y,
        r,
        on.x + c * qx - s * qy,
        on.y + s * qx + c * qy,
        line,
        side,
      );
      if (!(meet.x - meet.x === 0)) return false;
      put(numbers, bar.own, turnBetween(px, py, jx, jy, from, meet), px, py, from);
      put(numbers, block.own, turn, otherX(numbers, middle), otherY(numbers, middle), meet);
      return true;
    },
  };
}

/** Two pinned bars of which one slides on the other: `first` has the point, `second` the line. */
function telescope(slide: number, first: Seen, second: Seen): Pair {
  return {
    sideOf(numbers) {
      const [from, to] = [ownPoint(numbers, second), ownPoint(numbers, first)];
      const line = turnOf(numbers, second.own) + lineOf(numbers, slide);
      return sideOfNumber((to.x - from.x) * cosDeg(line) + (to.y - from.y) * sinDeg(line));
    },
    solve(numbers, side) {
      const { joints } = numbers;
      const o = slide * JOINT_SIZE;
      const own = lineOf(numbers, slide);
      const held = slideTurn(numbers, slide);
      const [a, b] = [otherPoint(numbers, first), otherPoint(numbers, second)];
      const [nx, ny] = [-sinDeg(own), cosDeg(own)];
      // From pin to line, and from pin to point, both square to the line: they stay as all turns together.
      const line =
        nx * (joints[o + 2]! - ownX(numbers, second)) + ny * (joints[o + 3]! - ownY(numbers, second));
      const [c, s] = [cosDeg(held), sinDeg(held)];
      const [px, py] = [joints[o]! - ownX(numbers, first), joints[o + 1]! - ownY(numbers, first)];
      const point = nx * (c * px - s * py) + ny * (s * px + c * py);
      const turn = lineThrough(a.x - b.x, a.y - b.y, line - point, side) - own;
      if (!(turn - turn === 0)) return false;
      put(numbers, second.own, turn, ownX(numbers, second), ownY(numbers, second), b);
      put(numbers, first.own, turn + held, ownX(numbers, first), ownY(numbers, first), a);
      return true;
    },
  };
}
