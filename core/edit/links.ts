import { channelAt, FORMULA_LIMIT, linkOf, type Shot } from '../document';
import { askedMoments, compile, MOMENTS_A_FRAME } from '../evaluate';
import { linkFromText, NameTable } from '../formula';
import { pathOf } from './address-path';
import { Draft, type Change } from './change';
import { channelName, EditRefused } from './values';

/**
 * Links a channel by a formula as typed, or takes its link away (`null`). A formula with a mistake is kept too:
 * it stays out of force until it is mended.
 * @throws EditRefused for a channel that cannot be linked or text beyond the limit
 */
export function setLink(shot: Shot, address: string, formula: string | null): Change {
  const draft = new Draft(shot);
  const spec = channelAt(shot, address)?.spec;
  if (!spec) throw new EditRefused(`There is no channel ${address} in this shot.`);
  const name = channelName(shot, address);
  if (formula === null) {
    if (linkOf(shot, address)) draft.set(pathOf(address, 'links'), undefined);
    leaveRecipes(draft, address);
    return draft.change(`Unlink ${name}`);
  }
  if (!spec.animatable)
    throw new EditRefused(`${spec.label} describes how the part lies or is built: it cannot be linked.`);
  if (formula.length > FORMULA_LIMIT)
    throw new EditRefused(`A formula may have ${FORMULA_LIMIT} characters, this one has ${formula.length}.`);
  draft.set(pathOf(address, 'links'), linkFromText(new NameTable(shot), formula.trim()));
  if (ASKS.test(formula)) demandMoments(draft.shot);
  return draft.change(`Link ${name}`);
}

/** @throws EditRefused where formulas ask for more values at other moments than are worked out */
function demandMoments(shot: Shot): void {
  const plan = compile(shot);
  const asked = askedMoments(plan);
  if (asked && asked.moments > MOMENTS_A_FRAME)
    throw new EditRefused(
      `The formulas would ask for ${Number.isFinite(asked.moments) ? asked.moments.toLocaleString('en') : 'endlessly many'} values at other moments in every frame: at most ${MOMENTS_A_FRAME.toLocaleString('en')} are worked out. Ask less often, or of a channel that asks nothing itself.`,
    );
}

/** Whether a formula, as typed, may ask for other moments. */
const ASKS = /\b(at|delay|speed|travel|gone|follow|since)\s*\(/;

/** A channel that is unlinked on purpose is no longer part of the recipe that linked it; a recipe without any goes. */
function leaveRecipes(draft: Draft, address: string): void {
  for (const [id, recipe] of Object.entries(draft.shot.recipes)) {
    if (!recipe.driven.includes(address)) continue;
    const driven = recipe.driven.filter((other) => other !== address);
    draft.set(['recipes', id], driven.length > 0 ? { ...recipe, driven } : undefined);
  }
}
