import { Matrix4, Vector3 } from 'three';
import { type Bodies, type Moment, relativePose } from './bodies';
import type { Witness } from './box-tree';
import type { Solid } from './solid';

/** Looks at a stretch of time, its ends with them, at most. */
const LOOKS = 8;
/** Way between two looks that counts for what may lie between them, as a share of the way seen. */
const UNSEEN = 0.5;
/** Stretches in which two bodies move less than this against one another, as a share of the smaller one, are not halved. */
const FINE = 0.01;
/** How many times farther than they move it is asked how far apart they are: what is known then holds for longer. */
const AHEAD = 4;
/** How nearly it is asked how far apart they are: nothing is nearer than this share of what is told (Larsen and others, 1999). */
const SURE = 0.8;
/** Moments that are looked at one by one, which takes less than asking how far apart two bodies are. */
const ONE_BY_ONE = 4;
/** Two bodies that move less than this against one another stand still, as a share of the smaller one. */
const STILL = 1e-12;

/** A stretch of time in moments of 1/64 frame, both ends touching. */
export interface Touch {
  readonly from: number;
  /** `null` while it still lasts. */
  readonly to: number | null;
}

const pose = new Matrix4();
const start = new Matrix4();
const point = new Vector3();
const began = new Vector3();

/** How two bodies were seen to stand to one another, and how far apart they were at least. */
interface Known {
  readonly a: Solid;
  readonly b: Solid;
  readonly placed: Matrix4;
  readonly apart: number;
}

/** Two bodies and when they touch one another, moment after moment. */
export class Pair {
  /** The moment up to which it has been looked at, and whether they touch there. */
  private until = NaN;
  private touching = false;
  private from = 0;
  private known: Known | null = null;
  private readonly touch: Witness = { mine: -1, theirs: -1 };
  private readonly near: Witness = { mine: -1, theirs: -1 };

  constructor(
    readonly a: number,
    readonly b: number,
    private readonly bodies: Bodies,
  ) {}

  /** Whether both show, and touch, at a moment. */
  touchesAt(moment: number): boolean {
    const now = this.bodies.at(moment);
    const [a, b] = this.solids(now);
    if (!a || !b || !boxesMeet(now, this.a, this.b, 0)) return false;
    return a.touches(b, relativePose(pose, now, this.a, this.b), this.touch);
  }

  /** The touch that lasts at the end of what was looked at. */
  get open(): Touch | null {
    return this.touching ? { from: this.from, to: null } : null;
  }

  /**
   * Looks at the moments from `from` to `to`, one after the other without gaps.
   * @param told each touch that begins (`to` is `null`) or ends there
   */
  look(from: number, to: number, told: (touch: Touch) => void): void {
    if (this.until !== from) {
      if (this.touching) told({ from: this.from, to: this.until });
      this.touching = this.touchesAt(from);
      this.from = from;
      if (this.touching) told({ from, to: null });
    }
    let at = from;
    while (at < to) {
      if (this.touching) {
        const last = this.lastTouch(at, to);
        if (last === null) break;
        this.touching = false;
        told({ from: this.from, to: last });
        at = last + 1;
      } else {
        const first = this.firstTouch(at, to);
        if (first === null) break;
        this.touching = true;
        this.from = first;
        told({ from: first, to: null });
        at = first;
      }
    }
    this.until = to;
  }

  /** The last moment at which they touch before they come apart; `null` where they touch at the end, too. */
  private lastTouch(from: number, to: number): number | null {
    if (this.wayOver(from, to) === 0 || this.touchesAt(to)) return null;
    let [touching, apart] = [from, to];
    while (apart - touching > 1) {
      const middle = Math.floor((touching + apart) / 2);
      if (this.touchesAt(middle)) touching = middle;
      else apart = middle;
    }
    return touching;
  }

  /**
   * The first moment at which they touch. A stretch is left out when they are farther apart at its beginning than they come
   * to move against one another in it; else its halves are looked at (conservative advancement, by halving) until they
   * hardly move in them.
   */
  private firstTouch(from: number, to: number): number | null {
    if (this.known && this.wayOver(from, to, this.known) < this.known.apart) return null;
    const way = this.wayOver(from, to);
    if (way === 0) return null;
    if (to - from > ONE_BY_ONE && way < Infinity && this.isFree(from, way)) return null;
    if (way <= this.least(from) * FINE) return this.touchesAt(to) ? this.firstOf(from, to) : null;
    if (to - from <= ONE_BY_ONE) {
      for (let moment = from + 1; moment <= to; moment++) if (this.touchesAt(moment)) return moment;
      return null;
    }
    const middle = Math.floor((from + to) / 2);
    return this.firstTouch(from, middle) ?? this.firstTouch(middle, to);
  }

  /** Of a stretch at whose end they touch and at whose beginning they do not: when that begins. */
  private firstOf(from: number, to: number): number {
    let [apart, touching] = [from, to];
    while (touching - apart > 1) {
      const middle = Math.floor((apart + touching) / 2);
      if (this.touchesAt(middle)) touching = middle;
      else apart = middle;
    }
    return touching;
  }

  /** Radius of the smaller one. */
  private least(moment: number): number {
    const [a, b] = this.solids(this.bodies.at(moment));
    return Math.min(a?.radius ?? 0, b?.radius ?? 0);
  }

  /** Whether at a moment nothing of one is within a distance of the other. */
  private isFree(moment: number, distance: number): boolean {
    const now = this.bodies.at(moment);
    const [a, b] = this.solids(now);
    if (!a || !b) return true;
    if (!boxesMeet(now, this.a, this.b, distance)) return true;
    relativePose(pose, now, this.a, this.b);
    point.set(...b.middle).applyMatrix4(pose);
    const apart = Math.hypot(point.x - a.middle[0], point.y - a.middle[1], point.z - a.middle[2]);
    if (apart > a.radius + b.radius + distance) return true;
    const [one, other] = [a.roughly, b.roughly];
    const miss = one.miss + other.miss;
    const [least, most] = [distance + miss, distance * AHEAD + miss];
    const near = one.solid.nearest(other.solid, pose, most, least, this.near, SURE);
    if (near && near.distance <= least) return false;
    // Nothing is nearer than this.
    const sure = Math.max(least, (near?.distance ?? most) * SURE);
    const placed = relativePose(new Matrix4(), now, ...this.seenFrom(a, b));
    this.known = { a, b, placed, apart: sure - miss };
    return true;
  }

  /** The larger one, and the one that is seen from it: so it moves less. */
  private seenFrom(a: Solid, b: Solid): [seen: number, other: number] {
    return a.radius >= b.radius ? [this.a, this.b] : [this.b, this.a];
  }

  /**
   * How far a point of one can come against the other from the beginning on, or from how they were known to stand; Infinity
   * when one appears or changes.
   */
  private wayOver(from: number, to: number, known: Known | null = null): number {
    const steps = Math.min(LOOKS, to - from);
    const first = this.bodies.at(from);
    const [a, b] = this.solids(first);
    let step = 0;
    if (a && b) {
      const [seen, other] = this.seenFrom(a, b);
      const of = other === this.a ? a : b;
      if (known) {
        if (known.a !== a || known.b !== b) return Infinity;
        start.copy(known.placed);
      } else relativePose(start, first, seen, other);
      let before = known ? wayBetween(start, relativePose(pose, first, seen, other), of) : 0;
      let most = before;
      for (let i = 1; i <= steps; i++) {
        const moment = from + Math.round(((to - from) * i) / steps);
        const now = this.bodies.at(moment);
        if (now.solids[this.a] !== a || now.solids[this.b] !== b) return Infinity;
        relativePose(pose, now, seen, other);
        const way = wayBetween(start, pose, of);
        most = Math.max(most, way);
        step = Math.max(step, Math.abs(way - before));
        before = way;
      }
      return most <= of.radius * STILL ? 0 : most + step * UNSEEN;
    }
    // Nothing that does not show touches anything.
    for (let i = 1; i <= steps; i++) {
      const now = this.bodies.at(from + Math.round(((to - from) * i) / steps));
      if (now.solids[this.a] && now.solids[this.b]) return Infinity;
    }
    return 0;
  }

  private solids({ solids }: Moment): [Solid | null, Solid | null] {
    return [solids[this.a] ?? null, solids[this.b] ?? null];
  }
}

/** The farthest that a point of a solid comes from one pose to another. */
function wayBetween(from: Matrix4, to: Matrix4, { middle, radius }: Solid): number {
  began.set(...middle).applyMatrix4(from);
  point.set(...middle).applyMatrix4(to);
  const [p, q] = [from.elements, to.elements];
  // The chord of the turn: for unit vectors e that are turned, the sum of |e' - e|^2 is 8 sin^2(angle / 2).
  let sum = 0;
  for (let column = 0; column < 3; column++)
    for (let row = 0; row < 3; row++) sum += (p[column * 4 + row]! - q[column * 4 + row]!) ** 2;
  return began.distanceTo(point) + Math.sqrt(sum / 2) * radius;
}

/** Whether the boxes of two bodies come within a distance of one another along each axis. */
function boxesMeet({ boxes }: Moment, a: number, b: number, distance: number): boolean {
  for (let axis = 0; axis < 3; axis++) {
    if (boxes[a * 6 + axis]! > boxes[b * 6 + 3 + axis]! + distance) return false;
    if (boxes[b * 6 + axis]! > boxes[a * 6 + 3 + axis]! + distance) return false;
  }
  return true;
}
