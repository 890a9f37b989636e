import type { Part, Shot } from '../document';
import { Draft, type Change } from './change';
import { demandPart } from './demand';
import { setLink } from './links';
import { EditRefused } from './values';

/** Changes how a camera sees; `undefined` is through its lens. */
export function setProjection(shot: Shot, id: string, projection: Part['projection']): Change {
  const part = demandPart(shot, id, 'camera');
  const draft = new Draft(shot);
  draft.set(['parts', id, 'projection'], projection);
  return draft.change(`Change how ${part.name} sees`);
}

/** Links the distance of focus of a camera to a part, so that it stays sharp. */
export function focusOn(shot: Shot, id: string, target: string): Change {
  const camera = demandPart(shot, id, 'camera');
  const part = shot.parts[target];
  if (!part) throw new EditRefused('This part is no longer in the shot.');
  const { patches } = setLink(shot, `${id}/focus`, `distance("${camera.name}", "${part.name}")`);
  return { label: `Focus ${camera.name} on ${part.name}`, patches };
}
