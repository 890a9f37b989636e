import { channelAt, type Shot } from '../document';
import { sample, type Plan } from '../evaluate';
import { framesPerSecond } from '../time';

/** Subjects of one report. */
export const SUBJECTS = 8;
/** Steps of a frame in which motion is looked at. */
const STEPS = 8;
/** Rows on either side of a moment from which its derivatives are worked out. */
const AROUND = 2;
/** Rows of a report at most: frames times steps. */
const ROWS = 400_000;

export const AXES = ['x', 'y', 'z'] as const;

/** What moves: a channel, the pivot of a part along an axis of the world, or its way along its path. */
export type MotionSubject =
  | { readonly kind: 'channel'; readonly address: string }
  | { readonly kind: 'place'; readonly part: string; readonly axis: (typeof AXES)[number] }
  | { readonly kind: 'way'; readonly part: string };

export interface MotionAsked {
  readonly subjects: readonly MotionSubject[];
  /** Frames, both with. */
  readonly from: number;
  readonly to: number;
  /** Channel over which motion is told instead of over time: speeds are per unit of it, for an angle per radian. */
  readonly driver: string | null;
}

/** A value at a moment. */
export interface Extreme {
  readonly value: number;
  /** Found between the rows by a parabola through three of them. */
  readonly frame: number;
}

/** One of value, speed, acceleration and jerk, row by row, with its least and most. */
export interface Curve {
  readonly values: Float64Array;
  readonly least: Extreme;
  readonly most: Extreme;
}

/** A stretch on which a value stands still. */
export interface Dwell {
  readonly from: number;
  readonly to: number;
  readonly level: number;
}

export interface SubjectMotion {
  readonly subject: MotionSubject;
  /** In house units; per second, or per unit of the driver. */
  readonly curves: readonly [value: Curve, speed: Curve, acceleration: Curve, jerk: Curve];
  readonly dwells: readonly Dwell[];
}

export interface MotionReport {
  /** Frames of the rows, an eighth of a frame from one to the next. */
  readonly frames: Float64Array;
  /** What the driver is at the rows, where there is one. */
  readonly driver: Float64Array | null;
  readonly subjects: readonly SubjectMotion[];
  /** Why nothing is told over the driver where it stands still or turns round, or `null`. */
  readonly trouble: string | null;
}

const RADIANS = Math.PI / 180;

/** A row of values with its first three derivatives. */
interface Derived {
  readonly values: Float64Array;
  readonly speed: Float64Array;
  readonly acceleration: Float64Array;
  readonly jerk: Float64Array;
}

/**
 * Derivatives by central differences of five rows (fourth order for speed and acceleration, second for jerk; Abramowitz
 * and Stegun 25.3). The rows that are needed around the first and the last are left away.
 * @param step distance of two rows
 */
export function derived(rows: Float64Array, step: number): Derived {
  const count = rows.length - 2 * AROUND;
  const made = (of: (a: number, b: number, c: number, d: number, e: number) => number): Float64Array =>
    Float64Array.from({ length: count }, (_, i) =>
      of(rows[i]!, rows[i + 1]!, rows[i + 2]!, rows[i + 3]!, rows[i + 4]!),
    );
  return {
    values: rows.slice(AROUND, AROUND + count),
    speed: made((a, b, _c, d, e) => (a - 8 * b + 8 * d - e) / (12 * step)),
    acceleration: made((a, b, c, d, e) => (-a + 16 * b - 30 * c + 16 * d - e) / (12 * step * step)),
    jerk: made((a, b, _c, d, e) => (e - 2 * d + 2 * b - a) / (2 * step ** 3)),
  };
}

/** Derivatives over another value that changes itself: chain rule, from those of both over time. */
function over(of: Derived, by: Derived): Derived {
  const { speed: w, acceleration: u, jerk: j } = by;
  const speed = of.speed.map((v, i) => v / w[i]!);
  const acceleration = of.acceleration.map((a, i) => (a - speed[i]! * u[i]!) / w[i]! ** 2);
  const jerk = of.jerk.map(
    (b, i) => (b - 3 * acceleration[i]! * w[i]! * u[i]! - speed[i]! * j[i]!) / w[i]! ** 3,
  );
  return { values: of.values, speed, acceleration, jerk };
}

/** The largest value, found between the rows. */
function most(values: Float64Array, frames: Float64Array, sign: 1 | -1): Extreme {
  let at = 0;
  for (let i = 1; i < values.length; i++) if (sign * values[i]! > sign * values[at]!) at = i;
  const [a, b, c] = [values[at - 1], values[at]!, values[at + 1]];
  if (a === undefined || c === undefined) return { value: b, frame: frames[at]! };
  const bend = a - 2 * b + c;
  const shift = bend === 0 ? 0 : (a - c) / (2 * bend);
  if (!(Math.abs(shift) <= 1)) return { value: b, frame: frames[at]! };
  return { value: b - ((a - c) * shift) / 4, frame: frames[at]! + shift / STEPS };
}

const curve = (values: Float64Array, frames: Float64Array): Curve => ({
  values,
  least: most(values, frames, -1),
  most: most(values, frames, 1),
});

/**
 * The longest stretches of at least two frames on which a value stays within a tolerance of its level, one after another.
 * @param tolerance above 0, either way from the level
 */
export function dwells(values: Float64Array, frames: Float64Array, tolerance: number): Dwell[] {
  const found: Dwell[] = [];
  for (let start = 0; start < values.length;) {
    let [low, high] = [values[start]!, values[start]!];
    let end = start;
    while (end + 1 < values.length) {
      const next = values[end + 1]!;
      if (Math.max(high, next) - Math.min(low, next) > 2 * tolerance) break;
      [low, high] = [Math.min(low, next), Math.max(high, next)];
      end++;
    }
    if (frames[end]! - frames[start]! < 2) {
      start++;
      continue;
    }
    found.push({ from: frames[start]!, to: frames[end]!, level: (low + high) / 2 });
    start = end + 1;
  }
  return found;
}

/** Share of its stroke by which a value that stands still may move. */
const STILL = 0.001;

function places(plan: Plan, part: string, from: number, to: number): Float64Array[] {
  const table = sample(
    plan,
    [`${part}/world`, ...AXES.map((axis) => `${part}/pivot.${axis}`)],
    from,
    to,
    1 / STEPS,
  );
  return AXES.map((_, row) =>
    Float64Array.from({ length: table.frames.length }, (_, i) => {
      const at = i * table.columns;
      const v = table.values;
      const m = at + row * 4;
      return v[m]! * v[at + 16]! + v[m + 1]! * v[at + 17]! + v[m + 2]! * v[at + 18]! + v[m + 3]!;
    }),
  );
}

/** Values of a subject at all rows. */
function rowsOf(plan: Plan, subject: MotionSubject, from: number, to: number): Float64Array {
  if (subject.kind === 'channel') return sample(plan, [subject.address], from, to, 1 / STEPS).values;
  const along = places(plan, subject.part, from, to);
  if (subject.kind === 'place') return along[AXES.indexOf(subject.axis)]!;
  const [x, y, z] = along as [Float64Array, Float64Array, Float64Array];
  const way = new Float64Array(x.length);
  for (let i = 1; i < way.length; i++) {
    const [dx, dy, dz] = [x[i]! - x[i - 1]!, y[i]! - y[i - 1]!, z[i]! - z[i - 1]!];
    way[i] = way[i - 1]! + Math.sqrt(dx * dx + dy * dy + dz * dz);
  }
  // It begins with the first frame that is told of, not before it.
  const begun = way[AROUND]!;
  return way.map((value) => value - begun);
}

/** Whether a driver goes on all through: not slower anywhere than a thousandth of its fastest. */
function goesOn({ speed }: Derived): boolean {
  let [low, high] = [Infinity, -Infinity];
  for (const value of speed) {
    low = Math.min(low, value);
    high = Math.max(high, value);
  }
  const fastest = Math.max(Math.abs(low), Math.abs(high));
  return fastest > 0 && low * high > 0 && Math.min(Math.abs(low), Math.abs(high)) > fastest / 1000;
}

/**
 * How chosen channels and points move: value, speed, acceleration and jerk, over time or over what drives them, with the
 * least and most of each and where, and where they stand still.
 * @param told share that is done, after each subject
 * @throws RangeError for an unknown channel or part, or too long a range
 */
export function motionReport(
  plan: Plan,
  { subjects, from, to, driver }: MotionAsked,
  told: (share: number) => void = () => undefined,
): MotionReport {
  if (subjects.length > SUBJECTS) throw new RangeError(`At most ${SUBJECTS} things are told of at once.`);
  if (!(to > from) || (to - from) * STEPS > ROWS)
    throw new RangeError(`Frames ${from} to ${to} are not told of: 1 to ${ROWS / STEPS} frames are.`);
  for (const subject of subjects)
    if (subject.kind !== 'channel' && !plan.shot.parts[subject.part])
      throw new RangeError(`There is no part ${subject.part} in this shot.`);
    else if (subject.kind === 'channel' && channelAt(plan.shot, subject.address)?.spec.kind === 'colour')
      throw new RangeError(`${subject.address} is a colour: numbers are told of.`);
  const margin = AROUND / STEPS;
  const seconds = 1 / (STEPS * framesPerSecond(plan.shot.setup.rate));
  const rows = (subject: MotionSubject): Derived =>
    derived(rowsOf(plan, subject, from - margin, to + margin), seconds);
  const count = Math.round((to - from) * STEPS) + 1;
  const frames = Float64Array.from({ length: count }, (_, i) => from + i / STEPS);
  const leads = driver === null ? null : rows({ kind: 'channel', address: driver });
  const goes = leads !== null && goesOn(leads);
  const by = leads && goes ? scaledTo(leads, unitOf(plan.shot, driver!)) : null;
  const found = subjects.map((subject, i): SubjectMotion => {
    const inTime = rows(subject);
    const { values, speed, acceleration, jerk } = by ? over(inTime, by) : inTime;
    const value = curve(values, frames);
    told((i + 1) / subjects.length);
    return {
      subject,
      curves: [value, curve(speed, frames), curve(acceleration, frames), curve(jerk, frames)],
      dwells: dwells(values, frames, Math.max(1e-12, STILL * (value.most.value - value.least.value))),
    };
  });
  return {
    frames,
    driver: goes ? leads.values : null,
    subjects: found,
    trouble:
      leads && !goes
        ? 'What it is told over stands still or turns round in this range: it is told over time. Choose a range in which it goes one way.'
        : null,
  };
}

/** Angles count in radians where something is told per unit of them, as handbooks do. */
const unitOf = (shot: Shot, address: string): number =>
  channelAt(shot, address)?.spec.quantity === 'angle' ? RADIANS : 1;

const scaledTo = (of: Derived, factor: number): Derived => ({
  values: of.values,
  speed: of.speed.map((value) => value * factor),
  acceleration: of.acceleration.map((value) => value * factor),
  jerk: of.jerk.map((value) => value * factor),
});
