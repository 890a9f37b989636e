import type { ReelPicture } from './layout';

/** Pixels of a picture: red, green, blue and alpha in turn, straight, the top row first; all 8 or all 16 bits. */
export type Pixels = Uint8Array | Uint8ClampedArray | Uint16Array;

type Mixing = Pick<NonNullable<ReelPicture['join']>, 'manner' | 'from' | 'share'>;

/**
 * Two pictures joined. A dissolve mixes the numbers of the colours as they are stored, as vision mixers do (common
 * practice), with alpha by its weight; a wipe has an edge one pixel wide.
 * @param below what is going, or `null` for black: opaque, or nothing at all where the picture can be seen through
 * @param shown what comes, of the same size @returns the picture, of the same kind
 */
export function mixPixels<Kind extends Pixels>(
  below: Kind | null,
  shown: Kind,
  width: number,
  height: number,
  alpha: boolean,
  { manner, from, share }: Mixing,
): Kind {
  const full = shown instanceof Uint16Array ? 65_535 : 255;
  const out = shown.slice() as Kind;
  const row =
    manner === 'dissolve' ? null : wiped(from === 'left' || from === 'right' ? width : height, from, share);
  const across = from === 'left' || from === 'right';
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i += 4) {
      const weight = row ? row[across ? x : y]! : share;
      if (weight === 1) continue;
      const under = below ? below[i + 3]! : alpha ? 0 : full;
      const [a, b] = [under * (1 - weight), shown[i + 3]! * weight];
      const sum = a + b;
      for (let c = i; c < i + 3; c++)
        out[c] = sum === 0 ? 0 : Math.round(((below ? below[c]! : 0) * a + shown[c]! * b) / sum);
      out[i + 3] = Math.round(sum);
    }
  return out;
}

/** How much of each column, or row, is what comes. */
function wiped(count: number, from: Mixing['from'], share: number): Float64Array {
  const edge = share * count;
  return Float64Array.from({ length: count }, (_, i) => {
    const place = from === 'left' || from === 'top' ? i : count - 1 - i;
    return Math.min(1, Math.max(0, edge - place));
  });
}
