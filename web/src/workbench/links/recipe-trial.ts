import type { Shot } from '../../../../core/document';
import { apply, compose, EditRefused, type Change } from '../../../../core/edit';
import type { Evaluator } from '../../../../core/evaluate';
import {
  applyRecipe,
  buildParts,
  editRecipe,
  keyedOf,
  type OwnChange,
  ownSizes,
  type OverKeys,
  type RecipeSpec,
  type Roles,
  type Settings,
  type Written,
} from '../../../../core/recipe';
import { likelyChannel } from './role-field';

/** What a recipe would make, or why it makes nothing. */
export type Trial =
  | {
      readonly ok: true;
      readonly change: Change;
      readonly shot: Shot;
      readonly written: Written;
      readonly driver: string | null;
      readonly ids: readonly string[];
      /** Channels with keys that the recipe would link. */
      readonly keyed: readonly string[];
      /** What was changed by hand of parts that it built, and would be otherwise. */
      readonly own: readonly OwnChange[];
    }
  | { readonly ok: false; readonly message: string };

export const listOf = (value: Roles[string]): readonly string[] =>
  value === undefined ? [] : typeof value === 'string' ? [value] : value;

/** All numbers of a recipe: as typed, else as the parts have them, else as recipes begin. */
export function completeSettings(
  shot: Shot,
  spec: RecipeSpec,
  roles: Roles,
  settings: Settings,
  builds: boolean,
  evaluator: Evaluator,
): Settings {
  const own = builds ? {} : ownSizes(shot, evaluator, spec.kind, roles);
  return Object.fromEntries(
    spec.settings.map((setting) => [
      setting.name,
      settings[setting.name] ?? own[setting.name] ?? setting.initial,
    ]),
  );
}

/** What a recipe makes of its roles and numbers, without doing it. */
export function tryOut(
  shot: Shot,
  spec: RecipeSpec,
  roles: Roles,
  settings: Settings,
  builds: boolean,
  id: string | undefined,
  evaluator: Evaluator,
  overKeys: OverKeys | null,
  keepsOwn: boolean,
): Trial {
  try {
    const complete = completeSettings(shot, spec, roles, settings, builds, evaluator);
    const driverOf = (used: Roles): string | null =>
      spec.roles[0]?.kind === 'part' ? null : (listOf(used[spec.roles[0]?.name ?? ''])[0] ?? null);
    if (id !== undefined) {
      const edited = editRecipe(shot, spec, id, roles, complete, keepsOwn);
      return {
        ok: true,
        change: edited.change,
        shot: apply(shot, edited.change),
        written: edited.written,
        driver: driverOf(edited.roles),
        ids: [],
        keyed: [],
        own: edited.own,
      };
    }
    const built = builds ? buildParts(shot, spec.kind, complete) : null;
    const base = built ? apply(shot, built.change) : shot;
    const used = built ? built.roles : roles;
    const made = applyRecipe(base, spec, used, complete, {
      overKeys: overKeys ?? 'keep',
      built: built?.slots,
    });
    const change = built ? { ...compose(built.change, made.change), label: spec.label } : made.change;
    return {
      ok: true,
      change,
      shot: apply(shot, change),
      written: made.written,
      driver: driverOf(used),
      ids: built?.ids ?? [],
      keyed: keyedOf(base, made.written),
      own: [],
    };
  } catch (error) {
    if (error instanceof EditRefused) return { ok: false, message: error.message };
    throw error;
  }
}

/** Roles that the chosen parts most likely take: the first one drives, the others are driven. */
export function likelyRoles(
  shot: Shot,
  spec: RecipeSpec,
  chosen: readonly string[],
  channel: string | null,
): Roles {
  if (chosen.length < 2) {
    const driven = spec.roles.find((role, i) => i > 0 && !role.optional);
    return channel !== null && driven && driven.kind !== 'part'
      ? { [driven.name]: driven.many ? [channel] : channel }
      : {};
  }
  const rest = [...chosen];
  return Object.fromEntries(
    spec.roles.flatMap((role): [string, string | string[]][] => {
      const parts = role.many ? rest.splice(0) : rest.splice(0, 1);
      const found = parts.flatMap((id) => likelyChannel(shot, id, role.kind) ?? []);
      return found.length === 0 ? [] : [[role.name, role.many ? found : found[0]!]];
    }),
  );
}
