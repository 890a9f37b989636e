import { sortedKeys, trackOf, type Blend, type Extend, type Shot } from '../../../../core/document';
import type { KeyAddress, StretchManner } from '../../../../core/edit';

/** How a stretch may be set from a menu. */
export const STRETCHES: readonly (readonly [StretchManner, string])[] = [
  ['hold', 'Hold'],
  ['linear', 'Straight'],
  ['smooth', 'Smooth'],
  ['ease', 'Ease'],
  ['ease-in', 'Ease in'],
  ['ease-out', 'Ease out'],
  ['ease-in-out', 'Ease both'],
];

/** How a colour gets from key to key. */
export const BLEND_WORDS: readonly (readonly [Blend, string])[] = [
  ['linear', 'As light'],
  ['oklab', 'Evenly to the eye'],
];

export const EXTEND_WORDS: Record<Extend, string> = {
  hold: 'hold',
  straight: 'go on straight',
  repeat: 'repeat',
  'repeat-adding': 'repeat, adding on',
  mirror: 'to and fro',
};

/** The manner of a stretch in words. */
export function mannerWords(manner: string): string {
  if (manner === 'own') return 'by its own handles';
  return (
    STRETCHES.find(([key]) => key === manner)?.[1].toLowerCase() ??
    { curve: 'by its handles' }[manner] ??
    manner.replaceAll('-', ' ')
  );
}

/** Keys with which the stretches begin that a frame lies in; channels that the frame lies outside of give none. */
export function keysAround(shot: Shot, addresses: readonly string[], frame: number): KeyAddress[] {
  return addresses.flatMap((address) => {
    const track = trackOf(shot, address);
    if (!track) return [];
    const keys = sortedKeys(track);
    const index = keys.findLastIndex(({ key }) => key.frame <= frame);
    return index >= 0 && index < keys.length - 1 ? [{ address, key: keys[index]!.id }] : [];
  });
}
