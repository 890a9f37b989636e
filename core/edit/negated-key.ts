import type { Key } from '../document';

/** A number turned over; whatever is none stays as it is. */
export const negated = <T>(value: T): T => (typeof value === 'number' ? ((-value + 0) as T) : value);

/** A key whose value, and the way to and from it, has changed its sign. */
export function negatedKey(key: Key): Key {
  return {
    ...key,
    value: negated(key.value),
    ...(key.left ? { left: { ...key.left, rise: negated(key.left.rise) } } : {}),
    ...(key.right ? { right: { ...key.right, rise: negated(key.right.rise) } } : {}),
    ...(key.piece ? { piece: { ...key.piece, gain: negated(key.piece.gain) } } : {}),
  };
}
