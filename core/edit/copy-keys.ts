import { channelAt, refuseValue, sortedKeys, splitAddress, trackOf, type Key, type Shot } from '../document';
import { pathOf } from './address-path';
import { Draft, type Change } from './change';
import type { KeyAddress } from './keys';
import { makeId } from './make-id';
import { keyIn } from './put-key';
import { byChannel, reversedRow } from './retime';
import { channelName, EditRefused } from './values';

/** Keys taken from channels, with frames counted from the first of them. */
export interface CopiedKeys {
  readonly channels: readonly { readonly address: string; readonly keys: readonly Key[] }[];
}

/** Takes copies of keys; the shot is not changed. */
export function copyKeys(shot: Shot, targets: readonly KeyAddress[]): CopiedKeys {
  const channels = [...byChannel(targets)].flatMap(([address, ids]) => {
    const track = trackOf(shot, address);
    const keys = track
      ? sortedKeys(track)
          .filter(({ id }) => ids.has(id))
          .map(({ key }) => key)
      : [];
    return keys.length > 0 ? [{ address, keys }] : [];
  });
  const start = Math.min(...channels.flatMap(({ keys }) => keys.map((key) => key.frame)));
  return {
    channels: channels.map(({ address, keys }) => ({
      address,
      keys: keys.map((key) => ({ ...key, frame: key.frame - start })),
    })),
  };
}

/**
 * Puts copied keys in, the first of them at a frame. Keys that stand where one lands are replaced.
 * @param to where a channel's keys go: another address, or `null` to leave them out; missing means where they came from
 * @throws EditRefused where a value does not fit the channel it is put into
 */
export function pasteKeys(
  shot: Shot,
  copied: CopiedKeys,
  frame: number,
  to: (address: string) => string | null = (address) => address,
  random?: () => number,
): Change {
  const draft = new Draft(shot);
  let count = 0;
  for (const { address: from, keys } of copied.channels) {
    const address = to(from);
    if (address === null) continue;
    const spec = channelAt(shot, address)?.spec;
    if (!spec?.animatable) throw new EditRefused(`Keys cannot be put into ${channelName(shot, address)}.`);
    for (const key of keys) {
      const reason = refuseValue(spec, key.value);
      if (reason) throw new EditRefused(reason);
      const moved: Key = {
        ...key,
        frame: key.frame + frame,
        ...(spec.kind === 'switch' ? { manner: 'hold' } : {}),
      };
      const track = trackOf(draft.shot, address);
      if (!track)
        draft.set(pathOf(address, 'tracks'), {
          before: 'hold',
          after: 'hold',
          keys: { [makeId('key', random)]: moved },
        });
      else {
        const id = keyIn(track, moved.frame) ?? makeId('key', random);
        draft.set([...pathOf(address, 'tracks'), 'keys', id], moved);
      }
      count++;
    }
  }
  return draft.change(count === 1 ? 'Paste a key' : `Paste ${count} keys`);
}

/** Copied keys played backwards, inside the span that they have: see `reverseKeys`. */
export function reversedCopy(copied: CopiedKeys): CopiedKeys {
  const end = Math.max(...copied.channels.flatMap(({ keys }) => keys.map((key) => key.frame)));
  return {
    channels: copied.channels.map(({ address, keys }) => ({
      address,
      keys: reversedRow(keys)
        .map((key) => ({ ...key, frame: key.frame + end - (keys[0]!.frame + keys.at(-1)!.frame) }))
        .sort((a, b) => a.frame - b.frame),
    })),
  };
}

/** Where the keys of one part go in another one: the same channels. For `pasteKeys`. */
export function ontoPart(from: string, to: string): (address: string) => string | null {
  return (address) => {
    const { owner, path } = splitAddress(address);
    return owner === from ? `${to}/${path}` : null;
  };
}

/** Doubles keys, the copies `by` frames later. */
export function duplicateKeys(
  shot: Shot,
  targets: readonly KeyAddress[],
  by: number,
  random?: () => number,
): Change {
  const frames = targets.flatMap(({ address, key }) => trackOf(shot, address)?.keys[key]?.frame ?? []);
  if (frames.length === 0) return { label: 'Double keys', patches: [] };
  const change = pasteKeys(shot, copyKeys(shot, targets), Math.min(...frames) + by, undefined, random);
  return { ...change, label: `Double ${targets.length} keys` };
}
