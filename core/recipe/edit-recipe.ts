import type { Shot } from '../document';
import { apply, compose, EditRefused, type Change } from '../edit';
import { rebuildParts, rolesOf, planOf, type OwnChange } from './build';
import {
  applyRecipe,
  rememberedRecipe,
  type RecipeSpec,
  type Roles,
  type Settings,
  type Written,
} from './recipe';

/** A recipe with other numbers or roles, and what becomes of the parts that it has built. */
export interface Edited {
  readonly change: Change;
  readonly written: Written;
  readonly roles: Roles;
  /** What was changed by hand since it was built, and would be otherwise now. */
  readonly own: readonly OwnChange[];
  /** Parts that were added. */
  readonly added: readonly string[];
}

const complete = (spec: RecipeSpec, settings: Settings): Settings =>
  Object.fromEntries(spec.settings.map(({ name, initial }) => [name, settings[name] ?? initial]));

const sameRole = (a: Roles[string], b: Roles[string]): boolean =>
  [a ?? []].flat().join() === [b ?? []].flat().join();

/**
 * Carries a recipe that is there out again. The parts that it built follow its numbers; who plays a role stays who somebody
 * has chosen, and is otherwise who the numbers ask for.
 * @param keep what was changed by hand since stays; otherwise it goes where it can
 * @throws EditRefused for roles and settings that do not fit, saying which and what is allowed
 */
export function editRecipe(
  shot: Shot,
  spec: RecipeSpec,
  id: string,
  roles: Roles,
  settings: Settings,
  keep = true,
  random?: () => number,
): Edited {
  const recipe = shot.recipes[id];
  if (!recipe) throw new EditRefused('This recipe is no longer in the shot.');
  const before = complete(spec, rememberedRecipe(recipe).settings);
  const after = complete(spec, settings);
  const rebuilt = rebuildParts(shot, recipe, before, after, keep, random);
  if (!rebuilt) {
    const { change, written } = applyRecipe(shot, spec, roles, settings, { id, random });
    return { change, written, roles, own: [], added: [] };
  }
  const was = rolesOf(shot, planOf(spec.kind, before), recipe.built ?? {});
  const used = Object.fromEntries(
    spec.roles.map(({ name }) => [
      name,
      sameRole(roles[name], was[name]) ? rebuilt.roles[name] : roles[name],
    ]),
  );
  const base = rebuilt.change ? apply(shot, rebuilt.change) : shot;
  const made = applyRecipe(base, spec, used, settings, { id, random, built: rebuilt.slots });
  const change = rebuilt.change ? compose(rebuilt.change, made.change) : made.change;
  return {
    change: { ...change, label: spec.label },
    written: made.written,
    roles: used,
    own: rebuilt.own,
    added: rebuilt.added,
  };
}
