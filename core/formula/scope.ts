import type { Channel } from '../document';
import type { PinnedPlace } from './pinned';
import type { Rate } from '../time';
import { PLAIN, TIME, type Dimension } from './dimension';
import type { LengthUnit } from './units';

/** What the names of a formula mean. */
export interface Scope {
  readonly unit: LengthUnit;
  readonly rate: Rate;
  readonly first: number;
  readonly last: number;
  /** Address of the channel being linked; it may not read itself except by `own`. */
  readonly self: string;
  /** Whether the linked channel is a colour: the formula must give one. */
  readonly colour: boolean;
  /** Dimension that the result must have. */
  readonly wanted: Dimension;
  /** Owner id of a name as written; `null` when unknown, `gone` when it was known but is no longer there. */
  owner(name: string, quoted: boolean): { id: string } | 'gone' | null;
  channel(ownerId: string, path: string): Channel | null;
  /** Id of a sound of the shot by its name; `gone` when it was known but is no longer there. */
  sound(name: string): { id: string } | 'gone' | null;
  /** The repeat for whose copies the formula is worked out one by one, or `null`. */
  readonly repeat: string | null;
  /** What pins give the linked channel; `null` for a channel that pins never give. */
  readonly pinned: (PinnedPlace & { readonly component: number }) | null;
  /** How many fields a number is typed into at once; `index` and `count` then tell them apart. */
  readonly among?: number;
  /** Names and paths for suggestions. */
  soundNames(): Iterable<string>;
  ownerNames(): Iterable<string>;
  paths(ownerId: string): Iterable<string>;
}

/** Named numbers of the language. */
export const CONSTANTS: ReadonlyMap<string, number> = new Map([
  ['pi', Math.PI],
  ['tau', 2 * Math.PI],
  ['e', Math.E],
  ['true', 1],
  ['false', 0],
]);
/** What tells the time, and what each measures. */
export const CLOCKS: ReadonlyMap<string, Dimension> = new Map([
  ['frame', PLAIN],
  ['time', TIME],
  ['progress', PLAIN],
]);
export const PLAIN_NAMES: readonly string[] = [
  ...CONSTANTS.keys(),
  ...CLOCKS.keys(),
  'rate',
  'first',
  'last',
  'own',
  'index',
  'outer',
  'count',
];
const BARE_NAME = /^[\p{L}_][\p{L}\p{N}_]*$/u;

/** A part's name as it is written in a formula: in quotation marks unless it is a plain word. */
export function writtenName(name: string): string {
  return BARE_NAME.test(name) && name !== 'dial' && !['and', 'or', 'not'].includes(name) ? name : `"${name}"`;
}
