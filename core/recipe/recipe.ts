import {
  channelAt,
  linkOf,
  NAME_LIMIT,
  splitAddress,
  tableOf,
  trackOf,
  type Recipe,
  type Shot,
  type Value,
} from '../document';
import { checkTyped, dimensionOf, NameTable, writtenName } from '../formula';
import {
  channelLabel,
  curveValue,
  Draft,
  EditRefused,
  makeId,
  pathOf,
  setLink,
  setValues,
  type Change,
} from '../edit';

/** What a role of a recipe takes: a channel that measures an angle, a length or anything, or a part. */
export type RoleKind = 'angle' | 'length' | 'any' | 'part';

export interface Role {
  readonly name: string;
  readonly label: string;
  readonly kind: RoleKind;
  /** Several of the same kind. */
  readonly many?: boolean;
  readonly optional?: boolean;
}

/** A number, word or switch that a recipe is made with. Lengths are metres, angles degrees, times frames. */
export interface Setting {
  readonly name: string;
  readonly label: string;
  readonly kind: 'number' | 'length' | 'angle' | 'whole' | 'frames' | 'word' | 'switch' | 'numbers';
  readonly initial: SettingValue;
  readonly min?: number;
  readonly max?: number;
  readonly words?: readonly string[];
  /** Counts only where another setting is this word. */
  readonly onlyWith?: { readonly setting: string; readonly is: string };
  /** Counts only for parts that are built: what is there has it by itself. */
  readonly building?: true;
}

export type SettingValue = number | string | boolean | readonly number[];
export type Settings = Readonly<Record<string, SettingValue>>;

/** Addresses of channels, or ids of parts, by role. */
export type Roles = Readonly<Record<string, string | readonly string[] | undefined>>;

/** What a recipe is worked out to. */
export interface Written {
  readonly links: readonly (readonly [address: string, formula: string])[];
  readonly values?: readonly (readonly [address: string, value: Value])[];
  /** Numbers worth knowing: centre distance, ratio, stroke, ...; what each measures stands in `FACT_MEASURES`. */
  readonly facts?: Readonly<Record<string, number>>;
  /** What handbooks have against it, in sentences; it is made all the same. */
  readonly warnings?: readonly string[];
}

export interface RecipeSpec {
  readonly kind: string;
  readonly label: string;
  readonly help: string;
  readonly roles: readonly Role[];
  readonly settings: readonly Setting[];
  readonly write: (kit: Kit) => Written;
}

/** What a recipe writes with: names for formulas, its settings, and refusals in words. */
export class Kit {
  private readonly names: NameTable;

  constructor(
    readonly shot: Shot,
    readonly roles: Roles,
    private readonly settings: Settings,
    private readonly label: string,
    /** The recipe has built its parts: what counts for building alone is true of them. */
    readonly built: boolean,
  ) {
    this.names = new NameTable(shot);
  }

  number(name: string): number {
    return this.settings[name] as number;
  }

  word(name: string): string {
    return this.settings[name] as string;
  }

  is(name: string): boolean {
    return this.settings[name] === true;
  }

  numbers(name: string): readonly number[] {
    return this.settings[name] as readonly number[];
  }

  address(role: string): string {
    return this.roles[role] as string;
  }

  optional(role: string): string | undefined {
    const value = this.roles[role];
    return typeof value === 'string' ? value : undefined;
  }

  many(role: string): readonly string[] {
    const value = this.roles[role];
    return typeof value === 'string' ? [value] : (value ?? []);
  }

  /** A channel as a formula writes it: `Pinion.rotation.z`. */
  ref(address: string): string {
    const { owner, path } = splitAddress(address);
    if (tableOf(owner) === 'parts') return `${writtenName(this.shot.parts[owner]!.name)}.${path}`;
    const user = Object.values(this.shot.parts).find((part) => part.shape === owner || part.look === owner);
    if (user) return `${writtenName(user.name)}.${path}`;
    const dial = this.names.nameOf(owner);
    return dial ?? this.refuse(`${address} cannot be read by a formula.`);
  }

  part(id: string): string {
    return writtenName(this.shot.parts[id]!.name);
  }

  refuse(message: string): never {
    throw new EditRefused(`${this.label}: ${message}`);
  }
}

/** A number as a person writes it, without the noise of binary fractions. */
export function digits(value: number): string {
  const text = String(Number(value.toPrecision(12)));
  return text === '-0' ? '0' : text;
}

/** A length as a formula writes it: millimetres when that is shorter to read. */
export function length(metres: number): string {
  const size = Math.abs(metres);
  return size !== 0 && size < 1 ? `${digits(metres * 1000)}mm` : `${digits(metres)}m`;
}

export const angle = (degrees: number): string => `${digits(degrees)}deg`;

/** ` + 4.5deg`, ` - 3deg` or nothing for 0. */
export function plus(degrees: number): string {
  const shown = Number(degrees.toPrecision(12));
  return shown === 0 ? '' : shown > 0 ? ` + ${angle(shown)}` : ` - ${angle(-shown)}`;
}

function demandRole(shot: Shot, label: string, role: Role, value: Roles[string]): void {
  const list = value === undefined ? [] : typeof value === 'string' ? [value] : value;
  if (list.length === 0) {
    if (role.optional) return;
    throw new EditRefused(
      `${label}: choose ${role.many ? 'at least one' : 'a'} ${role.label.toLowerCase()}.`,
    );
  }
  if (list.length > 1 && !role.many)
    throw new EditRefused(`${label}: choose one ${role.label.toLowerCase()}.`);
  for (const entry of list) {
    if (role.kind === 'part') {
      if (!shot.parts[entry])
        throw new EditRefused(`${label}: the ${role.label.toLowerCase()} is no longer in the shot.`);
      continue;
    }
    const spec = channelAt(shot, entry)?.spec;
    if (!spec) throw new EditRefused(`${label}: ${entry} is no channel of this shot.`);
    if (spec.kind !== 'number')
      throw new EditRefused(
        `${label}: ${channelLabel(spec)} is a ${spec.kind}; a number is wanted for ${role.label.toLowerCase()}.`,
      );
    if (role.kind !== 'any' && spec.quantity !== role.kind)
      throw new EditRefused(
        `${label}: ${role.label.toLowerCase()} takes ${role.kind === 'angle' ? 'an angle' : 'a length'}, ${channelLabel(spec)} is none.`,
      );
  }
}

function demandSetting(label: string, setting: Setting, value: SettingValue): SettingValue {
  const name = setting.label.toLowerCase();
  if (setting.kind === 'word') {
    if (setting.words?.includes(value as string)) return value;
    throw new EditRefused(
      `${label}: ${name} is one of ${setting.words?.join(', ')}, not "${String(value).slice(0, NAME_LIMIT)}".`,
    );
  }
  if (setting.kind === 'switch') return value === true;
  const list = setting.kind === 'numbers' ? (value as readonly number[]) : [value as number];
  if (!Array.isArray(list)) throw new EditRefused(`${label}: ${name} is a list of numbers.`);
  for (const number of list) {
    if (typeof number !== 'number' || !Number.isFinite(number))
      throw new EditRefused(`${label}: ${name} must be a number, not "${String(number)}".`);
    if (setting.kind === 'whole' && !Number.isInteger(number))
      throw new EditRefused(`${label}: ${name} must be a whole number, not ${number}.`);
    if (number < (setting.min ?? -Infinity) || number > (setting.max ?? Infinity))
      throw new EditRefused(
        `${label}: ${name} ${number} is out of range: ${setting.min ?? 'anything'} to ${setting.max ?? 'anything'} is allowed.`,
      );
  }
  return value;
}

/** What a recipe is worked out to, checked: every formula is sound where it goes. */
export function writeRecipe(
  shot: Shot,
  spec: RecipeSpec,
  roles: Roles,
  settings: Settings,
  built = false,
): Written {
  for (const role of spec.roles) demandRole(shot, spec.label, role, roles[role.name]);
  const complete = Object.fromEntries(
    spec.settings.map((setting) => [
      setting.name,
      demandSetting(spec.label, setting, settings[setting.name] ?? setting.initial),
    ]),
  );
  const written = spec.write(new Kit(shot, roles, complete, spec.label, built));
  const names = new NameTable(shot);
  for (const [address, formula] of written.links) {
    const checked = checkTyped(names, address, formula);
    if (!checked.ok) throw new EditRefused(`${spec.label}: ${checked.error.message}`);
    const quantity = channelAt(shot, address)?.spec.quantity ?? 'none';
    if (checked.expression.dimension.length !== dimensionOf(quantity).length)
      throw new EditRefused(
        `${spec.label}: ${formula} does not fit ${channelLabel(channelAt(shot, address)!.spec)}.`,
      );
  }
  return written;
}

/**
 * What becomes of keys where a recipe writes a link: they go, the link comes on top of them (`own + ...`), or they stay
 * below it as they are.
 */
export type OverKeys = 'replace' | 'add' | 'keep';

/** Channels that a recipe would link and that have keys, without a link of their own yet. */
export function keyedOf(shot: Shot, written: Written): string[] {
  return written.links.flatMap(([address]) =>
    trackOf(shot, address) && !linkOf(shot, address) ? [address] : [],
  );
}

/** The edits of a recipe: its links and values, and a note of what it was made with, so that it can be edited. */
export interface Applied {
  readonly change: Change;
  readonly id: string;
  readonly written: Written;
}

export interface Applying {
  /** Of the recipe that is edited; missing makes a new one. */
  readonly id?: string;
  readonly random?: () => number;
  /** What becomes of keys of channels that the recipe drives; they stay as they are where it is missing. */
  readonly overKeys?: OverKeys;
  /** Parts that were built for it, by their places. */
  readonly built?: Readonly<Record<string, string>>;
}

/**
 * Carries a recipe out.
 * @throws EditRefused for roles and settings that do not fit, saying which and what is allowed
 */
export function applyRecipe(
  shot: Shot,
  spec: RecipeSpec,
  roles: Roles,
  settings: Settings,
  { id, random, overKeys = 'keep', built }: Applying = {},
): Applied {
  const written = writeRecipe(shot, spec, roles, settings, built !== undefined);
  const draft = new Draft(shot);
  const take = (change: Change): void => {
    for (const { path, after } of change.patches) draft.set(path, after);
  };
  const old = id === undefined ? undefined : shot.recipes[id];
  // A recipe that is edited lets go of what it no longer drives.
  for (const address of old?.driven ?? [])
    if (!written.links.some(([other]) => other === address) && channelAt(draft.shot, address))
      take(setLink(draft.shot, address, null));
  for (const [address, value] of written.values ?? []) take(setValues(draft.shot, [[address, value]]));
  for (const [address, formula] of written.links) {
    const keyed = trackOf(draft.shot, address) !== null;
    if (keyed && overKeys === 'replace') {
      const kept = curveValue(draft.shot, address, trackOf(draft.shot, address)!, shot.setup.first);
      draft.set(pathOf(address, 'tracks'), undefined);
      draft.set(pathOf(address, 'values'), kept);
    }
    const added = keyed && overKeys === 'add' && !/^own\b/.test(formula) ? `own + ${formula}` : formula;
    take(setLink(draft.shot, address, added));
  }
  const recipe: Recipe = {
    kind: spec.kind,
    parts: Object.fromEntries(
      spec.roles.flatMap((role) => {
        const value = roles[role.name];
        if (value === undefined) return [];
        const part = (address: string): string =>
          role.kind === 'part' ? address : splitAddress(address).owner;
        return [[role.name, typeof value === 'string' ? part(value) : value.map(part)]];
      }),
    ),
    numbers: {
      ...Object.fromEntries(
        spec.settings.map((setting) => {
          const value = settings[setting.name] ?? setting.initial;
          return [setting.name, Array.isArray(value) ? [...(value as number[])] : (value as number)];
        }),
      ),
      // Paths of the channels that the roles name, beside their owners: one for a role, or one for each of its channels.
      ...Object.fromEntries(
        spec.roles.flatMap((role) => {
          const value = roles[role.name];
          if (value === undefined || role.kind === 'part') return [];
          const paths = (typeof value === 'string' ? [value] : value).map(
            (entry) => splitAddress(entry).path,
          );
          return paths.every((path) => path === paths[0])
            ? [[`${role.name} path`, paths[0] ?? '']]
            : paths.map((path, i) => [`${role.name} path ${i + 1}`, path]);
        }),
      ),
    },
    driven: written.links.map(([address]) => address),
    ...(built ? { built: { ...built } } : {}),
  };
  const recipeId = id ?? makeId('rcp', random);
  draft.set(['recipes', recipeId], recipe);
  return { change: draft.change(spec.label), id: recipeId, written };
}

/** Roles and settings that a recipe of the document was made with, to be shown and edited again. */
export function rememberedRecipe(recipe: Recipe): { roles: Roles; settings: Settings } {
  const roles: Record<string, string | string[]> = {};
  const settings: Record<string, SettingValue> = {};
  for (const [name, value] of Object.entries(recipe.numbers))
    if (!/ path( \d+)?$/.test(name)) settings[name] = value;
  for (const [role, owner] of Object.entries(recipe.parts)) {
    const full = (id: string, i: number): string => {
      const path = recipe.numbers[`${role} path ${i + 1}`] ?? recipe.numbers[`${role} path`];
      return typeof path === 'string' ? `${id}/${path}` : id;
    };
    roles[role] = typeof owner === 'string' ? full(owner, 0) : owner.map(full);
  }
  return { roles, settings };
}

/** The recipe that wrote the link of a channel, or `null`. */
export function recipeOf(shot: Shot, address: string): { id: string; recipe: Recipe } | null {
  const found = Object.entries(shot.recipes).find(([, recipe]) => recipe.driven.includes(address));
  return found ? { id: found[0], recipe: found[1] } : null;
}

/** The recipe that built a part, or `null`. */
export function builderOf(shot: Shot, part: string): { id: string; recipe: Recipe } | null {
  const found = Object.entries(shot.recipes).find(([, { built = {} }]) =>
    Object.values(built).includes(part),
  );
  return found ? { id: found[0], recipe: found[1] } : null;
}
