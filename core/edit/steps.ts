import { sortedKeys, trackOf, type Key, type Shot } from '../document';
import { pathOf } from './address-path';
import { Draft, type Change } from './change';
import { makeId } from './make-id';
import { curveValue, SAME_FRAME } from './put-key';
import { channelName, EditRefused } from './values';

const STEPS_LIMIT = 20_000;

/**
 * Holds channels on every second frame ("on twos"), or on every third and so on: the curve between two frames is replaced
 * by held keys that have its values there. Keys outside the range stay.
 * @param every frames that each pose is held, 1 or more
 * @throws EditRefused for a range or step out of bounds
 */
export function holdOnSteps(
  shot: Shot,
  addresses: readonly string[],
  from: number,
  to: number,
  every = 2,
  random?: () => number,
): Change {
  const count = Math.floor((to - from) / every) + 1;
  if (!(every >= 1) || !(to > from) || count * addresses.length > STEPS_LIMIT)
    throw new EditRefused(
      `Frames ${from} to ${to} cannot be held on every ${every}: a step of 1 frame or more and at most ${STEPS_LIMIT} keys are allowed.`,
    );
  const draft = new Draft(shot);
  for (const address of addresses) {
    const track = trackOf(shot, address);
    if (!track || Object.keys(track.keys).length === 0) continue;
    const held: Record<string, Key> = {};
    for (const { id, key } of sortedKeys(track)) {
      if (key.frame < from - SAME_FRAME || key.frame > to + SAME_FRAME) held[id] = key;
    }
    for (let i = 0; i < count; i++) {
      const frame = from + i * every;
      held[makeId('key', random)] = { frame, value: curveValue(shot, address, track, frame), manner: 'hold' };
    }
    const end = sortedKeys(track).findLast(({ key }) => key.frame <= to + SAME_FRAME);
    const goesOn = sortedKeys(track).some(({ key }) => key.frame > to + SAME_FRAME);
    const last = from + (count - 1) * every;
    // What moves on behind the range goes on from its end as it did.
    if (goesOn && end && last < to - SAME_FRAME)
      held[makeId('key', random)] = {
        frame: to,
        value: curveValue(shot, address, track, to),
        manner: end.key.piece ? 'curve' : end.key.manner,
      };
    draft.set([...pathOf(address, 'tracks'), 'keys'], held);
  }
  const words = every === 2 ? 'twos' : `every ${every} frames`;
  return draft.change(
    addresses.length === 1
      ? `Hold ${channelName(shot, addresses[0]!)} on ${words}`
      : `Hold ${addresses.length} channels on ${words}`,
  );
}
