import type { Shot } from '../../../../../core/document';
import { insetsOf } from '../../../../../core/inset';

/** Shots that are shown in a shot, and in those, each once. Those that are not known show nothing. */
export function innerIds(shot: Shot, shotOf: (id: string) => Shot | null): string[] {
  const found = new Set<string>();
  const look = (of: Shot): void => {
    for (const id of insetsOf(of)) {
      if (found.has(id)) continue;
      found.add(id);
      const other = shotOf(id);
      if (other) look(other);
    }
  };
  look(shot);
  return [...found];
}
