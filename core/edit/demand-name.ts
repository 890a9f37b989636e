import { NAME_LIMIT, shotSchema } from '../document';
import { EditRefused } from './values';

/** A name without spaces round it. @throws EditRefused for one that is empty, too long, or has signs that names may not have */
export function demandName(name: string): string {
  const trimmed = name.trim();
  const shown = trimmed.length > 40 ? `${trimmed.slice(0, 40)}...` : trimmed;
  if (trimmed.length > NAME_LIMIT)
    throw new EditRefused(
      `The name "${shown}" has ${trimmed.length} characters: at most ${NAME_LIMIT} are allowed.`,
    );
  const checked = shotSchema.shape.parts.valueType.shape.name.safeParse(trimmed);
  if (!checked.success)
    throw new EditRefused(`The name "${shown}" is not allowed: it ${checked.error.issues[0]!.message}.`);
  return trimmed;
}
