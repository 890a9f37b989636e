import { resolveChannel, type Shot } from '../core/document';

/**
 * Addresses of channels named as people write them: `Crown wheel.rotation.y`, `Boat 1.world`, `Lamp.world[3]` for copy 3 of a
 * repeat (from 0), `dial.speed`. Names may
 * hold dots: the longest name that fits counts.
 * @throws RangeError naming what is unknown
 */
export function addressOfName(shot: Shot, text: string): string {
  // A name may stand in quotation marks, as in a formula.
  const name = text.trim().replace(/^"([^"]*)"(?=\.)/, '$1');
  if (name.startsWith('dial.')) {
    const dial = Object.entries(shot.dials).find(([, entry]) => entry.name === name.slice(5));
    if (dial) return `${dial[0]}/value`;
  }
  const parts = Object.entries(shot.parts)
    .filter(([, part]) => name.startsWith(`${part.name}.`))
    .sort((a, b) => b[1].name.length - a[1].name.length);
  for (const [id, part] of parts) {
    const path = name.slice(part.name.length + 1);
    const world = /^world(?:\[(\d+)\])?$/.exec(path);
    if (world) return `${id}/world${world[1] === undefined ? '' : `#${world[1]}`}`;
    const channel = resolveChannel(shot, id, path);
    if (channel) return `${channel.owner}/${channel.path}`;
  }
  const known = parts[0]?.[1].name;
  throw new RangeError(
    known
      ? `"${known}" has no value "${name.slice(known.length + 1)}".`
      : `There is no part for "${name}": write a part's name, a dot and a value, such as Camera.location.x.`,
  );
}

/**
 * Addresses of channels named in a list with commas between. A part's name may hold commas itself: what is not known by
 * a piece of the list alone is tried together with the next ones.
 * @throws RangeError naming the first that is unknown
 */
export function addressesOfNames(shot: Shot, list: string): { name: string; address: string }[] {
  const pieces = list.split(',');
  const out: { name: string; address: string }[] = [];
  for (let i = 0; i < pieces.length;) {
    let found: { name: string; address: string; next: number } | null = null;
    for (let next = i + 1; next <= pieces.length && !found; next++) {
      const name = pieces.slice(i, next).join(',').trim();
      const address = known(shot, name);
      if (address !== null) found = { name, address, next };
    }
    if (!found) {
      addressOfName(shot, pieces[i]!);
      return out;
    }
    out.push({ name: found.name, address: found.address });
    i = found.next;
  }
  return out;
}

function known(shot: Shot, name: string): string | null {
  try {
    return addressOfName(shot, name);
  } catch (error) {
    if (error instanceof RangeError) return null;
    throw error;
  }
}
