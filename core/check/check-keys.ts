import { channelAt, ownerOf, sortedKeys, type Shot, OWNER_TABLES } from '../document';
import { channelName } from '../edit';
import type { Problem } from './problem';

/** Keys that nobody sees, that hide one another, or that stand where a switch cannot be seen to switch. */
export function checkKeys(shot: Shot): Problem[] {
  const problems: Problem[] = [];
  const { first, last } = shot.setup;
  const ids = OWNER_TABLES.flatMap((table) => Object.keys(shot[table]));
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
      const outside = keys.every((key) => key.frame < first) || keys.every((key) => key.frame > last);
      // One key alone, or equal ones, are a value that is meant to stand.
      const moves = keys.some((key) => JSON.stringify(key.value) !== JSON.stringify(keys[0]!.value));
      if (moves && outside && track.before === 'hold' && track.after === 'hold')
        add('keys.outside-range', keys[0]!.frame, `all its keys lie outside frames ${first} to ${last}.`);
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
  return problems;
}
