import { partDefinition, type Shot } from '../document';
import { Draft, type Change } from './change';
import { EditRefused } from './values';

/**
 * Lets a light follow the glow of a part; `null` lets it shine by itself.
 * @throws EditRefused where one of them is gone, the first is no light or the other does not glow
 */
export function setGlowOf(shot: Shot, id: string, part: string | null): Change {
  const light = shot.parts[id];
  if (!light || !partDefinition(light.kind).light)
    throw new EditRefused('This light is no longer in the shot.');
  const glowing = part === null ? null : shot.parts[part];
  if (glowing === undefined)
    throw new EditRefused('The part whose glow it follows is no longer in the shot.');
  if (glowing && glowing.look === null)
    throw new EditRefused(`${glowing.name} has no look, so that it does not glow: choose a solid.`);
  const draft = new Draft(shot);
  draft.set(['parts', id, 'glowOf'], part ?? undefined);
  return draft.change(
    glowing ? `Let ${light.name} follow the glow of ${glowing.name}` : `Let ${light.name} shine by itself`,
  );
}
