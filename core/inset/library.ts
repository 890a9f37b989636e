import type { Shot } from '../document';

/** The shots that others show, by their ids; those that are not known, or gone, are missing. */
export interface ShotLibrary {
  shotOf(id: string): Shot | null;
}

/** Ids of the shots that a shot shows, each once. */
export function insetsOf(shot: Shot): string[] {
  const found = new Set<string>();
  for (const { inset } of Object.values(shot.parts)) if (inset) found.add(inset.shot);
  return [...found];
}

/**
 * The way by which a shot would contain itself, if it showed another one.
 * @param host the shot that shows @param placed the one that it is to show
 * @returns ids from the placed shot to the host, or `null` where there is no such way
 */
export function loopThrough(library: ShotLibrary, host: string, placed: string): string[] | null {
  const seen = new Set<string>();
  const walk = (id: string): string[] | null => {
    if (id === host) return [id];
    if (seen.has(id)) return null;
    seen.add(id);
    const shot = library.shotOf(id);
    for (const inner of shot ? insetsOf(shot) : []) {
      const way = walk(inner);
      if (way) return [id, ...way];
    }
    return null;
  };
  return walk(placed);
}
