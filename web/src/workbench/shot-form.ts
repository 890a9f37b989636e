import { FRAME_LIMIT, RANGE_LIMIT, type Setup, type Shot, type Tones } from '../../../core/document';
import { apply, changeRate, changeSetup, compose, type Change } from '../../../core/edit';
import { COMMON_RATES, framesPerSecond, rateLabel, type Rate } from '../../../core/time';

/** Pixels that a side of the picture may have. */
export const SIDE_LIMITS = { least: 16, most: 8192 };
/** Letters that a name may have. */
const NAME_LENGTH = 80;

/** What stands in the form of a shot, as it is typed. */
export interface ShotForm {
  readonly name: string;
  readonly width: string;
  readonly height: string;
  readonly first: string;
  readonly last: string;
  /** Length in frames of the rate that the shot has. */
  readonly oldLength: number;
  /** Label of the rate. */
  readonly rate: string;
  /** What stays as the rate changes; `null` while nobody has said. */
  readonly keep: 'frames' | 'seconds' | null;
  readonly unit: Setup['unit'];
  readonly background: [number, number, number];
  readonly tones: Tones;
  readonly samples: NonNullable<Setup['samples']>;
}

/** The form as it is opened on a shot. */
export function formOf(name: string, setup: Setup): ShotForm {
  return {
    name,
    width: String(setup.width),
    height: String(setup.height),
    first: String(setup.first),
    last: String(setup.last),
    oldLength: setup.last - setup.first + 1,
    rate: rateLabel(setup.rate),
    keep: null,
    unit: setup.unit,
    background: [...setup.background],
    tones: setup.tones ?? 'neutral',
    samples: setup.samples ?? 1,
  };
}

/** A whole number that is typed; `null` for anything else. */
function whole(text: string): number | null {
  return /^\s*[-−]?\d+\s*$/.test(text) ? Number(text.replace('−', '-')) : null;
}

/** What a form says, and what is wrong with it, in words. */
export interface ShotFormFacts {
  readonly width: number | null;
  readonly height: number | null;
  readonly first: number | null;
  readonly last: number | null;
  readonly rate: Rate;
  readonly changesRate: boolean;
  /** It has still to be said what stays as the rate changes. */
  readonly rateOpen: boolean;
  readonly nameWrong: string | null;
  readonly sizeWrong: string | null;
  readonly rangeWrong: string | null;
  /** Anything that keeps it from being set, but for the rate. */
  readonly wrong: string | null;
}

const sideWrong = (side: number | null): boolean =>
  side === null || side < SIDE_LIMITS.least || side > SIDE_LIMITS.most;

function wrongName(name: string): string | null {
  const { length } = name.trim();
  if (length === 0) return 'The shot needs a name.';
  return length > NAME_LENGTH ? `A name may have ${NAME_LENGTH} characters, this one has ${length}.` : null;
}

function wrongRange(form: ShotForm, from: number | null, to: number | null): string | null {
  if (from === null || to === null)
    return `"${from === null ? form.first : form.last}" is no frame: whole numbers are.`;
  if (to < from) return `The last frame, ${to}, is before the first, ${from}.`;
  if (to - from + 1 > RANGE_LIMIT) return `${to - from + 1} frames are too many: at most ${RANGE_LIMIT}.`;
  return Math.abs(from) > FRAME_LIMIT || Math.abs(to) > FRAME_LIMIT
    ? `Frames go from -${FRAME_LIMIT} to ${FRAME_LIMIT}.`
    : null;
}

export function factsOf(form: ShotForm, setup: Setup): ShotFormFacts {
  const [width, height, first, last] = [form.width, form.height, form.first, form.last].map(whole) as [
    number | null,
    number | null,
    number | null,
    number | null,
  ];
  const allowed = `is not allowed: ${SIDE_LIMITS.least} to ${SIDE_LIMITS.most} pixels.`;
  const nameWrong = wrongName(form.name);
  const sizeWrong = sideWrong(width)
    ? `Width "${form.width}" ${allowed}`
    : sideWrong(height)
      ? `Height "${form.height}" ${allowed}`
      : null;
  const rangeWrong = wrongRange(form, first, last);
  const changesRate = form.rate !== rateLabel(setup.rate);
  return {
    width,
    height,
    first,
    last,
    rate: COMMON_RATES.find((entry) => entry.label === form.rate)?.rate ?? setup.rate,
    changesRate,
    rateOpen: changesRate && form.keep === null,
    nameWrong,
    sizeWrong,
    rangeWrong,
    wrong: nameWrong ?? sizeWrong ?? rangeWrong,
  };
}

const share = (form: ShotForm, setup: Setup): number =>
  framesPerSecond(factsOf(form, setup).rate) / framesPerSecond(setup.rate);

/** Says what stays as the rate changes: the last frame follows. */
export function keeping(form: ShotForm, setup: Setup, keep: 'frames' | 'seconds'): ShotForm {
  const from = whole(form.first);
  if (from === null) return { ...form, keep };
  const length = keep === 'seconds' ? Math.round(form.oldLength * share(form, setup)) : form.oldLength;
  return { ...form, keep, last: String(from + length - 1) };
}

/** Types the range; how long that is in frames of the old rate is kept for when another rate is chosen. */
export function rangeTyped(form: ShotForm, setup: Setup, first: string, last: string): ShotForm {
  const [from, to] = [whole(first), whole(last)];
  if (from === null || to === null || to < from) return { ...form, first, last };
  const length = to - from + 1;
  const oldLength = form.keep === 'seconds' ? Math.round(length / share(form, setup)) : length;
  return { ...form, first, last, oldLength };
}

/** The edit that a form without mistakes makes of a shot, but for its name. */
export function changeBy(shot: Shot, form: ShotForm): Change {
  const facts = factsOf(form, shot.setup);
  const retimed = facts.changesRate ? changeRate(shot, facts.rate, form.keep ?? 'frames') : null;
  const now = retimed ? apply(shot, retimed) : shot;
  const { unit, background, tones, samples } = form;
  const next = {
    width: facts.width!,
    height: facts.height!,
    first: facts.first!,
    last: facts.last!,
    unit,
    background,
    ...(tones === (now.setup.tones ?? 'neutral') ? {} : { tones }),
    ...(samples === (now.setup.samples ?? 1) ? {} : { samples }),
  };
  const different = Object.fromEntries(
    Object.entries(next).filter(
      ([key, value]) => JSON.stringify(value) !== JSON.stringify(now.setup[key as keyof Setup]),
    ),
  );
  const change = changeSetup(now, different);
  return retimed ? { ...compose(retimed, change), label: 'Change the shot' } : change;
}
