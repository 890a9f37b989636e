import { sortedKeys, trackOf, type Shot } from '../../../../core/document';
import type { KeyAddress } from '../../../../core/edit';
import { keysAround } from '../keys/key-words';

/** The stretches that are meant: those that begin with chosen keys, else those of the channels round a frame. */
export function stretchesMeant(
  shot: Shot,
  chosenKeys: readonly KeyAddress[],
  addresses: readonly string[],
  frame: number,
): readonly KeyAddress[] {
  if (chosenKeys.length === 0) return keysAround(shot, addresses, frame);
  const byAddress = new Map<string, Set<string>>();
  for (const { address, key } of chosenKeys)
    byAddress.set(address, (byAddress.get(address) ?? new Set()).add(key));
  const meant: KeyAddress[] = [];
  for (const [address, ids] of byAddress) {
    const track = trackOf(shot, address);
    if (!track) continue;
    const keys = sortedKeys(track);
    // From its last key no stretch begins.
    for (let i = 0; i < keys.length - 1; i++) {
      const { id } = keys[i]!;
      if (ids.has(id)) meant.push({ address, key: id });
    }
  }
  return meant;
}

const tidy = (frame: number): string => String(Math.round(frame * 100) / 100);

/** "Between 10 and 22", or how many stretches are meant. */
export function stretchesWords(shot: Shot, stretches: readonly KeyAddress[]): string {
  if (stretches.length === 0) return 'No stretch here';
  if (stretches.length > 1) return `${stretches.length} stretches`;
  const { address, key } = stretches[0]!;
  const keys = sortedKeys(trackOf(shot, address)!);
  const index = keys.findIndex(({ id }) => id === key);
  return `Between ${tidy(keys[index]!.key.frame)} and ${tidy(keys[index + 1]!.key.frame)}`;
}
