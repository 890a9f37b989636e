/** A piece of a picture that is drawn by itself, pixels from the left and the top of the whole. */
export interface Tile {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
  /** The part of it that is kept; what is round that is drawn for what shines and bends over it. */
  readonly keep: {
    readonly left: number;
    readonly top: number;
    readonly width: number;
    readonly height: number;
  };
  /** The picture that it is a piece of. */
  readonly whole: { readonly width: number; readonly height: number };
}

/**
 * Pieces begin at multiples of this, so that what is halved again and again for a glow is halved at the same places in
 * all of them.
 */
export const TILE_GRID = 32;

/** Where a piece lies in its picture: shares of it from the left and from below, and across and up. */
export function windowOf({ left, top, width, height, whole }: Tile): [number, number, number, number] {
  return [left / whole.width, 1 - (top + height) / whole.height, width / whole.width, height / whole.height];
}

/** Begin of a piece and of what is kept of it, and where the latter ends. */
interface Run {
  readonly at: number;
  readonly from: number;
  readonly to: number;
}

function runs(length: number, side: number, margin: number): Run[] {
  if (length <= side) return [{ at: 0, from: 0, to: length }];
  const found: Run[] = [];
  const rim = Math.ceil(margin / TILE_GRID) * TILE_GRID;
  for (let from = 0; from < length;) {
    const at = Math.max(0, from - rim);
    // The last one reaches to the edge, from a place of the grid.
    const last = at + side >= length;
    const begin = last
      ? Math.max(0, Math.floor((length - side + TILE_GRID - 1) / TILE_GRID) * TILE_GRID)
      : at;
    const to = last ? length : at + side - rim;
    found.push({ at: Math.min(at, begin), from, to });
    from = to;
  }
  return found;
}

/**
 * Cuts a picture into pieces that a card can draw.
 * @param side most pixels of a piece along a side, at least 256
 * @param margin pixels round what is kept of a piece, where the picture goes on; at most a quarter of a side is given
 * @returns one piece, the whole, where it fits
 */
export function tilesOf(width: number, height: number, side: number, margin: number): Tile[] {
  if (!(side >= 256)) throw new RangeError(`A piece has at least 256 pixels along a side, not ${side}.`);
  const even = Math.floor(side / TILE_GRID) * TILE_GRID;
  const rim = Math.min(margin, even / 4);
  const across = runs(width, even, rim);
  const whole = { width, height };
  return runs(height, even, rim).flatMap((down) =>
    across.map((over) => ({
      left: over.at,
      top: down.at,
      width: Math.min(even, width - over.at),
      height: Math.min(even, height - down.at),
      keep: { left: over.from, top: down.from, width: over.to - over.from, height: down.to - down.from },
      whole,
    })),
  );
}
