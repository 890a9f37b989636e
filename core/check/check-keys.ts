import { channelAt, ownerOf, sortedKeys, type Shot } from '../document';
import { channelName } from '../edit';
import { ROTATION_ORDERS } from '../transform';
import type { Problem } from './problem';

/** Degrees from straight up within which the middle turn is in gimbal lock. */
const LOCK = 1;

/** Keys that nobody sees, that hide one another, or that stand where a switch cannot be seen to switch. */
export function checkKeys(shot: Shot): Problem[] {
  const problems: Problem[] = [];
  const { first, last } = shot.setup;
  const ids = [shot.parts, shot.shapes, shot.looks, shot.dials].flatMap((table) => Object.keys(table));
  for (const id of ids)
    for (const [path, track] of Object.entries(ownerOf(shot, id)!.tracks)) {
      const address = `${id}/${path}`;
      const keys = sortedKeys(track).map((entry) => entry.key);
      const add = (code: Problem['code'], frame: number, words: string): void => {
        problems.push({
          code,
          severity: 'warning',
          address,
          frame,
          message: `${channelName(shot, address)}: ${words}`,
        });
      };
      const outside = keys.filter((key) => key.frame < first || key.frame > last);
      if (outside.length === keys.length && track.before === 'hold' && track.after === 'hold')
        add('keys.outside-range', outside[0]!.frame, `all its keys lie outside frames ${first} to ${last}.`);
      keys.forEach((key, i) => {
        const gap = i === 0 ? Infinity : key.frame - keys[i - 1]!.frame;
        if (gap === 0)
          add('keys.same-frame', key.frame, `two keys stand on frame ${key.frame}; the later one counts.`);
        else if (gap < 1 - 1e-9)
          add(
            'keys.close',
            key.frame,
            `two keys are closer than a frame, at ${keys[i - 1]!.frame} and ${key.frame}.`,
          );
      });
      const between = keys.find((key) => !Number.isInteger(key.frame));
      if (between && channelAt(shot, address)?.spec.kind === 'switch')
        add('keys.between-frames', between.frame, `it switches between two frames, at ${between.frame}.`);
    }
  return [...problems, ...checkGimbal(shot)];
}

/** Keys at which the middle turn is so near 90 degrees that the outer two turn about the same axis. */
function checkGimbal(shot: Shot): Problem[] {
  const problems: Problem[] = [];
  for (const [id, part] of Object.entries(shot.parts)) {
    const [outer, middle, inner] = [
      ...ROTATION_ORDERS.find((order) => order === part.rotationOrder)!.toLowerCase(),
    ];
    const track = part.tracks[`rotation.${middle}`];
    const moves = (axis: string | undefined): boolean => {
      const path = `rotation.${axis}`;
      return Object.keys(part.tracks[path]?.keys ?? {}).length > 1 || part.links[path] !== undefined;
    };
    if (!track || !(moves(outer) || moves(inner))) continue;
    for (const { key } of sortedKeys(track)) {
      const value = key.value as number;
      const fromLock = Math.abs((((value % 180) + 180) % 180) - 90);
      if (fromLock >= LOCK) continue;
      problems.push({
        code: 'gimbal.near-key',
        severity: 'warning',
        address: `${id}/rotation.${middle}`,
        frame: key.frame,
        amount: value,
        message: `${part.name}: at frame ${key.frame} its rotation ${middle!.toUpperCase()} is ${Math.round(value * 100) / 100} degrees, where ${outer!.toUpperCase()} and ${inner!.toUpperCase()} turn about the same axis. Another order of rotation, or a hub above, avoids it.`,
      });
      break;
    }
  }
  return problems;
}
