import type { Part, Shot } from '../document';
import { EditRefused } from './values';

/** @throws EditRefused with these words where a value is none that a schema takes */
export function demand(
  schema: { safeParse(value: unknown): { success: boolean } },
  value: unknown,
  words: string,
): void {
  if (!schema.safeParse(value).success) throw new EditRefused(words);
}

/** @throws EditRefused where a part of a kind is no longer in the shot */
export function demandPart(shot: Shot, id: string, kind: Part['kind']): Part {
  const part = shot.parts[id];
  if (part?.kind !== kind) throw new EditRefused(`This ${kind} is no longer in the shot.`);
  return part;
}
