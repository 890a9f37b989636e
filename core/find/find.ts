import { channelAt, linkOf, storedValue, trackOf, type Shot } from '../document';
import { apply, addDial, setLink, setValues, type Change } from '../edit';
import { chainOf, compile, Evaluator, linkMap, type LoudnessTables, type Plan } from '../evaluate';
import { checkTyped, NameTable } from '../formula';
import { brentLeast } from './brent';
import { solve, type Solved, type Unknown, type Wanted } from './solve';

/** Unknowns of one question. */
export const UNKNOWNS = 4;

/** Where a formula counts: at a frame, or its least or most over frames. */
export type Moment =
  | { readonly kind: 'frame'; readonly frame: number }
  | { readonly kind: 'least' | 'most'; readonly from: number; readonly to: number };

/** What may be changed: a value that stands still, and its limits, in house units. */
export interface Changeable {
  readonly address: string;
  readonly least: number;
  readonly most: number;
}

export interface Question {
  /** As it is typed into a link. */
  readonly formula: string;
  readonly moment: Moment;
  readonly wanted: Wanted;
  readonly unknowns: readonly Changeable[];
}

/** A question that cannot be asked: what is wrong with it, and what would do. */
export class FindRefused extends Error {}

/** Part of a frame within which a least or most over frames is found. */
const TURNING = 1e-5;
/** Frames of a range that are looked at. */
const MOST_FRAMES = 2000;

const QUANTITIES = ['none', 'length', 'angle', 'time'] as const;

/** What a formula measures: one of these, or so much of it per second. */
export interface Measure {
  readonly quantity: (typeof QUANTITIES)[number];
  readonly perSecond: boolean;
}

/** The shot with a dial that is worked out by the formula. @throws FindRefused with what is wrong in it */
function withGoal(shot: Shot, formula: string): Measure & { readonly shot: Shot; readonly address: string } {
  let refused = '';
  for (const perSecond of [false, true])
    for (const quantity of QUANTITIES) {
      const added = addDial(shot, { name: freeDial(shot), quantity, min: -1e9, max: 1e9 }, 0);
      const dialled = apply(shot, added.change);
      const address = `${added.id}/value`;
      // A dial has no speed: what is measured per second is taken over a second.
      const text = perSecond ? perSecondOver(formula) : formula;
      const checked = checkTyped(new NameTable(dialled), address, text);
      if (checked.ok)
        return { shot: apply(dialled, setLink(dialled, address, text)), address, quantity, perSecond };
      refused ||= checked.error.message;
    }
  throw new FindRefused(`The formula: ${refused}`);
}

/** A formula times a second; names of its own stay at its beginning. */
function perSecondOver(formula: string): string {
  const body = formula.lastIndexOf(';') + 1;
  return `${formula.slice(0, body)} (${formula.slice(body)}) * 1s`;
}

function freeDial(shot: Shot): string {
  const names = new Set(Object.values(shot.dials).map(({ name }) => name));
  let name = 'wanted';
  while (names.has(name)) name += '_';
  return name;
}

/** What a formula measures. @throws FindRefused with what is wrong in it */
export function measureOf(shot: Shot, formula: string): Measure {
  const { quantity, perSecond } = withGoal(shot, formula);
  return { quantity, perSecond };
}

/** Why a value cannot be changed to find something, or `null`. */
export function changeTrouble(shot: Shot, address: string): string | null {
  const channel = channelAt(shot, address);
  if (!channel) return 'It is no longer in the shot.';
  if (channel.spec.kind !== 'number') return `${channel.spec.label} is no number.`;
  if (linkOf(shot, address)) return 'It is linked: the link says what it is.';
  if (trackOf(shot, address)) return 'It is keyed: only what stands still can be found.';
  return null;
}

function unknownOf(shot: Shot, { address, least, most }: Changeable): Unknown {
  const trouble = changeTrouble(shot, address);
  if (trouble !== null) throw new FindRefused(trouble);
  const channel = channelAt(shot, address)!;
  const { spec } = channel;
  const [low, high] = [Math.max(least, spec.min ?? -Infinity), Math.min(most, spec.max ?? Infinity)];
  if (!(high > low) || !Number.isFinite(high - low))
    throw new FindRefused(
      `${spec.label} goes from ${spec.min} to ${spec.max}: between ${least} and ${most} is nothing.`,
    );
  return { least: low, most: high, whole: spec.whole === true, now: storedValue(shot, channel) as number };
}

/** Works the formula out at values of the unknowns, without leaving a trace. */
function numberOf(
  shot: Shot,
  loudness: LoudnessTables,
  goal: string,
  unknowns: readonly string[],
  moment: Moment,
): (at: readonly number[]) => number {
  let plan: Plan = compile(shot, loudness);
  let evaluator = new Evaluator(plan);
  // What formulas ask of other moments knows nothing of values that are only put over.
  const asks = plan.probes.length > 0;
  // A link that gives no number leaves its channel what it was: that is not what was asked for.
  const above = [...chainOf(linkMap(plan), goal, 'up'), goal].filter((address) => plan.linkOf.has(address));
  const at = (frame: number): number => {
    evaluator.evaluate(frame);
    return above.some((address) => evaluator.hasFailed(address)) ? NaN : evaluator.number(goal);
  };
  const frames =
    moment.kind === 'frame'
      ? []
      : Array.from({ length: moment.to - moment.from + 1 }, (_, i) => moment.from + i);
  return (values) => {
    const put = unknowns.map((address, i) => [address, values[i]!] as [string, number]);
    if (asks) {
      plan = compile(apply(shot, setValues(shot, put)), loudness, plan);
      evaluator = new Evaluator(plan);
    } else evaluator.setOverrides(put);
    if (moment.kind === 'frame') return at(moment.frame);
    const sign = moment.kind === 'least' ? 1 : -1;
    let [best, where] = [Infinity, moment.from];
    for (const frame of frames) {
      const value = sign * at(frame);
      if (!Number.isFinite(value)) return NaN;
      if (value < best) [best, where] = [value, frame];
    }
    // The turning point lies between frames as a rule.
    const [low, high] = [Math.max(moment.from, where - 1), Math.min(moment.to, where + 1)];
    const turning = brentLeast((frame) => sign * at(frame), low, high, TURNING);
    return sign * Math.min(best, turning.value);
  };
}

export interface Found extends Solved, Measure {
  /** What the number is now. */
  readonly now: number;
}

/**
 * Finds what values must be so that a formula is what is wanted.
 * @throws FindRefused for a question that cannot be asked
 */
export function find(
  shot: Shot,
  { formula, moment, wanted, unknowns }: Question,
  loudness: LoudnessTables = {},
  told: (share: number) => void = () => undefined,
): Found {
  if (unknowns.length < 1 || unknowns.length > UNKNOWNS)
    throw new FindRefused(`One to ${UNKNOWNS} values may be changed, ${unknowns.length} are chosen.`);
  if (moment.kind !== 'frame' && !(moment.to >= moment.from && moment.to - moment.from <= MOST_FRAMES))
    throw new FindRefused(
      `Frames ${moment.from} to ${moment.to} cannot be looked over: 1 to ${MOST_FRAMES} can.`,
    );
  const known = unknowns.map((each) => unknownOf(shot, each));
  const goal = withGoal(shot, formula);
  const addresses = unknowns.map(({ address }) => address);
  const number = numberOf(goal.shot, loudness, goal.address, addresses, moment);
  const now = number(known.map((each) => each.now));
  const { quantity, perSecond } = goal;
  return { ...solve(number, known, wanted, told), now, quantity, perSecond };
}

/** Gives the values what was found, in one change. */
export function applyFound(shot: Shot, unknowns: readonly Changeable[], at: readonly number[]): Change {
  const change = setValues(
    shot,
    unknowns.map(({ address }, i) => [address, at[i]!]),
  );
  return { ...change, label: 'Take what was found' };
}
