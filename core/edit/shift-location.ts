import { trackOf } from '../document';
import { pathOf } from './address-path';
import type { Draft } from './change';
import { demandValue } from './values';

/** Metres by which a place may be off through rounding: beyond this many digits nobody has typed it. */
const TYPED_DIGITS = 12;

/** A number as it would be typed: without the last digits, which only rounding makes. */
export const tidy = (value: number): number => Number(value.toPrecision(TYPED_DIGITS)) + 0;

/**
 * Moves a part by the same way at every frame: what is stored, and every key. Typed numbers stay as round as they are.
 * @returns false where a link decides about one of the axes that would have to move
 */
export function shiftLocation(draft: Draft, id: string, by: readonly [number, number, number]): boolean {
  const part = draft.shot.parts[id]!;
  if (by.some((value, i) => value !== 0 && part.links[`location.${'xyz'[i]}`])) return false;
  by.forEach((value, i) => {
    if (value === 0) return;
    const address = `${id}/location.${'xyz'[i]}`;
    const track = trackOf(draft.shot, address);
    if (!track) {
      const moved = tidy(((part.values[`location.${'xyz'[i]}`] as number | undefined) ?? 0) + value);
      demandValue(draft.shot, address, moved);
      draft.set(pathOf(address, 'values'), moved);
      return;
    }
    for (const [key, entry] of Object.entries(track.keys)) {
      const moved = tidy((entry.value as number) + value);
      demandValue(draft.shot, address, moved);
      draft.set([...pathOf(address, 'tracks'), 'keys', key, 'value'], moved);
    }
  });
  return true;
}
