import { channelAt, linkOf, type Shot } from '../document';
import { apply, channelName, compose, EditRefused, setLink, type Change } from '../edit';
import {
  checkTyped,
  eachNode,
  NameTable,
  phaseIn,
  textOfLink,
  withPhase,
  type Expression,
  type Phase,
} from '../formula';
import { editRecipe } from './edit-recipe';
import { recipeOf, rememberedRecipe } from './recipe';
import { RECIPES } from './recipes';

function written(shot: Shot, address: string): { text: string; phase: Phase } | null {
  const link = linkOf(shot, address);
  const spec = channelAt(shot, address)?.spec;
  if (!link || !spec) return null;
  const names = new NameTable(shot);
  const text = textOfLink(names, link);
  const phase = phaseIn(text, spec.quantity === 'angle');
  if (!phase) return null;
  const checked = checkTyped(names, address, text);
  if (!checked.ok) return null;
  if (phase.from < phase.to) return { text, phase };
  // A new term goes beside an angle only: a plain number of turns would change its meaning.
  let beside: Expression | null = null;
  eachNode(checked.expression, (node) => {
    if (node.to === phase.to && (beside === null || node.from <= beside.from)) beside = node;
  });
  return (beside as Expression | null)?.dimension.angle === 1 ? { text, phase } : null;
}

/** Degrees by which the link of a channel runs ahead of what it reads; `null` where it has no phase. */
export function phaseOf(shot: Shot, address: string): number | null {
  return written(shot, address)?.phase.degrees ?? null;
}

/**
 * Gives the links of channels other phases. A link of a recipe that has a phase takes its whole recipe along, so that
 * a rod goes on meeting its crank and the recipe's numbers stay true.
 * @param phases degrees by address
 * @throws EditRefused for a channel without a phase
 */
export function setPhases(shot: Shot, phases: ReadonlyMap<string, number>): Change {
  let now = shot;
  let done: Change | null = null;
  const take = (change: Change): void => {
    now = apply(now, change);
    done = done ? compose(done, change) : change;
  };
  const moved = new Set<string>();
  for (const [address, degrees] of phases) {
    const found = written(now, address);
    if (!found) throw new EditRefused(`${channelName(shot, address)} has no phase.`);
    const made = recipeOf(now, address);
    const spec = made && RECIPES.get(made.recipe.kind);
    if (made && spec?.settings.some((setting) => setting.name === 'phase')) {
      if (moved.has(made.id)) continue;
      moved.add(made.id);
      const { roles, settings } = rememberedRecipe(made.recipe);
      take(editRecipe(now, spec, made.id, roles, { ...settings, phase: degrees }).change);
    } else take(setLink(now, address, withPhase(found.text, found.phase, degrees)));
  }
  const label = phases.size === 1 ? `Phase of ${channelName(shot, [...phases.keys()][0]!)}` : 'Phases';
  return { label, patches: (done as Change | null)?.patches ?? [] };
}
