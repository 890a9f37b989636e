import { channelAt, storedValue, type Quantity, type Shot } from '../../../../core/document';
import { FindRefused, measureOf, type Changeable, type Measure, type Question } from '../../../../core/find';
import { METRES_PER_UNIT } from '../../../../core/formula';

/** A value that may be changed, its limits as they are typed. */
export interface Row {
  readonly address: string;
  readonly least: string;
  readonly most: string;
}

/** What is filled in for a search. */
export interface FindForm {
  readonly formula: string;
  readonly when: 'frame' | 'least' | 'most';
  readonly frame: string;
  readonly from: string;
  readonly to: string;
  readonly want: 'is' | 'least' | 'most';
  readonly target: string;
  readonly rows: readonly Row[];
}

/** Unit in which numbers of a quantity are typed and shown, and how many house units it has. */
export function unitFor(shot: Shot, quantity: Quantity): { readonly unit: string; readonly house: number } {
  if (quantity === 'length') return { unit: shot.setup.unit, house: METRES_PER_UNIT[shot.setup.unit] };
  return { unit: quantity === 'angle' ? '°' : quantity === 'time' ? 's' : '', house: 1 };
}

/** The same for what a formula measures. */
export function unitOfMeasure(shot: Shot, { quantity, perSecond }: Measure): ReturnType<typeof unitFor> {
  const { unit, house } = unitFor(shot, quantity);
  return { unit: perSecond ? `${unit || '1'}/s` : unit, house };
}

/** What a formula measures, or why it cannot be read. */
export function goalOf(
  shot: Shot,
  formula: string,
): (Measure & { readonly trouble: null }) | { readonly trouble: string } {
  try {
    return { ...measureOf(shot, formula), trouble: null };
  } catch (error) {
    if (!(error instanceof FindRefused)) throw error;
    return { trouble: error.message };
  }
}

/** A row for a value: from nothing to twice what it is, within what it may be. */
export function rowFor(shot: Shot, address: string): Row {
  const channel = channelAt(shot, address)!;
  const { spec } = channel;
  const { house } = unitFor(shot, spec.quantity);
  const now = storedValue(shot, channel) as number;
  const reach = Math.max(Math.abs(now), spec.quantity === 'angle' ? 180 : spec.whole ? 20 : 1);
  const within = (x: number): number => Math.max(spec.min ?? -Infinity, Math.min(spec.max ?? Infinity, x));
  const shown = (x: number): string => String(Number((x / house).toPrecision(6)));
  const [low, high] = now < 0 || spec.quantity === 'angle' ? [now - reach, now + reach] : [0, now + reach];
  return { address, least: shown(within(low)), most: shown(within(high)) };
}

const typed = (text: string): number => (text.trim() === '' ? NaN : Number(text.replace(',', '.')));

/** The question, or what is missing for it in words. */
export function questionOf(shot: Shot, form: FindForm): Question | string {
  if (form.formula.trim() === '')
    return 'Write the number that something is to become, such as distance(A, B).';
  const goal = goalOf(shot, form.formula);
  if (goal.trouble !== null) return goal.trouble;
  const frames = form.when === 'frame' ? [typed(form.frame)] : [typed(form.from), typed(form.to)];
  if (!frames.every(Number.isFinite)) return 'Frames are numbers.';
  const target = typed(form.target) * unitOfMeasure(shot, goal).house;
  if (form.want === 'is' && !Number.isFinite(target)) return 'Type the number that it is to be.';
  if (form.rows.length === 0) return 'Add what may be changed.';
  const unknowns = form.rows.map(({ address, least, most }): Changeable => {
    const { house } = unitFor(shot, channelAt(shot, address)?.spec.quantity ?? 'none');
    return { address, least: typed(least) * house, most: typed(most) * house };
  });
  if (unknowns.some(({ least, most }) => !(most > least))) return 'The limits go from less to more.';
  return {
    formula: form.formula,
    moment:
      form.when === 'frame'
        ? { kind: 'frame', frame: frames[0]! }
        : { kind: form.when, from: Math.round(frames[0]!), to: Math.round(frames[1]!) },
    wanted: form.want === 'is' ? { kind: 'is', target } : { kind: form.want },
    unknowns,
  };
}
