import type { Dial, Shot } from '../document';
import { Draft, type Change } from './change';
import { makeId } from './make-id';
import { demandName } from './demand-name';
import { readersOf, type Added } from './parts';
import { writeLastNames } from './reader-names';
import { EditRefused } from './values';

export type DialQuantity = Dial['quantity'];

/** What a new dial is, or what a dial is to become. Lengths in metres, angles in degrees, times in seconds. */
export interface DialOptions {
  readonly name: string;
  readonly quantity: DialQuantity;
  readonly min: number;
  readonly max: number;
}

const WORD = /^[\p{L}_][\p{L}\p{N}_]*$/u;

/** Name of a dial as formulas write it after `dial.`: one word, free in the shot. @throws EditRefused */
function demandDialName(shot: Shot, name: string, own: string | null): string {
  const tidy = demandName(name);
  if (!WORD.test(tidy))
    throw new EditRefused(
      `A dial's name is one word of letters and digits, since formulas read it as dial.name; "${tidy}" is not. Write ${tidy.replaceAll(/[^\p{L}\p{N}_]+/gu, '_').replace(/^(?=\p{N})|^$/u, 'dial')}.`,
    );
  if (Object.entries(shot.dials).some(([id, dial]) => id !== own && dial.name === tidy))
    throw new EditRefused(`There is a dial "${tidy}" already.`);
  return tidy;
}

function demandLimits({ min, max }: { min: number; max: number }): void {
  if (!Number.isFinite(min) || !Number.isFinite(max))
    throw new EditRefused('The limits of a dial are numbers.');
  if (min >= max) throw new EditRefused(`A dial goes from less to more: ${min} is not below ${max}.`);
}

/**
 * A new dial.
 * @param value what it stands at; its lower limit when missing
 * @throws EditRefused for a name that is taken or no word, limits that are none, a value beyond them
 */
export function addDial(shot: Shot, options: DialOptions, value?: number, random?: () => number): Added {
  const name = demandDialName(shot, options.name, null);
  demandLimits(options);
  const at = value ?? options.min;
  if (!(at >= options.min && at <= options.max))
    throw new EditRefused(`${name} goes from ${options.min} to ${options.max}: ${at} is beyond it.`);
  const draft = new Draft(shot);
  const id = makeId('dia', random);
  draft.set(['dials', id], {
    name,
    quantity: options.quantity,
    min: options.min,
    max: options.max,
    values: { value: at },
    tracks: {},
    links: {},
  });
  return { id, change: draft.change(`Add the dial ${name}`) };
}

/**
 * Renames a dial or changes its limits; formulas go on reading it. A value beyond new limits is brought to them; keys
 * beyond them are refused.
 */
export function changeDial(shot: Shot, id: string, options: Partial<DialOptions>): Change {
  const dial = shot.dials[id];
  if (!dial) throw new EditRefused('This dial is no longer in the shot.');
  const next = { ...dial, ...options };
  const name = demandDialName(shot, next.name, id);
  demandLimits(next);
  const beyond = Object.values(dial.tracks.value?.keys ?? {}).find(
    ({ value }) => typeof value === 'number' && (value < next.min || value > next.max),
  );
  if (beyond)
    throw new EditRefused(
      `${dial.name} has a key of ${String(beyond.value)} at frame ${beyond.frame}: limits from ${next.min} to ${next.max} leave it out.`,
    );
  const draft = new Draft(shot);
  const stored = dial.values.value;
  draft.set(['dials', id], {
    ...dial,
    name,
    quantity: next.quantity,
    min: next.min,
    max: next.max,
    values:
      typeof stored === 'number'
        ? { ...dial.values, value: Math.max(next.min, Math.min(next.max, stored)) }
        : dial.values,
  });
  return draft.change(`Change the dial ${dial.name}`);
}

/** What reads a dial, in words. */
export const dialReaders = (shot: Shot, id: string): string[] => readersOf(shot, [id]);

/** Takes a dial away; links that read it stay and say that it has gone. */
export function removeDial(shot: Shot, id: string): Change {
  const draft = new Draft(shot);
  writeLastNames(draft, shot, new Set([id]));
  draft.set(['dials', id], undefined);
  return draft.change(`Remove the dial ${shot.dials[id]?.name ?? ''}`);
}
