import type { Outline } from '../core/document';
import { piecesOfRings } from '../core/shape';

/** Letters of the fair's signs, cut from boards on a grid of five by seven. */
const LETTERS: Readonly<Record<string, readonly string[]>> = {
  A: ['.###.', '##.##', '##.##', '#####', '##.##', '##.##', '##.##'],
  B: ['####.', '##.##', '##.##', '####.', '##.##', '##.##', '####.'],
  D: ['####.', '##.##', '##.##', '##.##', '##.##', '##.##', '####.'],
  E: ['#####', '##...', '##...', '####.', '##...', '##...', '#####'],
  F: ['#####', '##...', '##...', '####.', '##...', '##...', '##...'],
  H: ['##.##', '##.##', '##.##', '#####', '##.##', '##.##', '##.##'],
  I: ['.###.', '..#..', '..#..', '..#..', '..#..', '..#..', '.###.'],
  N: ['##..#', '###.#', '#####', '##.##', '##..#', '##..#', '##..#'],
  O: ['.###.', '##.##', '##.##', '##.##', '##.##', '##.##', '.###.'],
  R: ['####.', '##.##', '##.##', '####.', '###..', '##.#.', '##.##'],
  T: ['#####', '#####', '..#..', '..#..', '..#..', '..#..', '..#..'],
  U: ['##.##', '##.##', '##.##', '##.##', '##.##', '##.##', '.###.'],
};
const [WIDE, HIGH] = [5, 7];

/**
 * The drawing of a letter in shares of its own size.
 * @throws RangeError for one that no sign has
 */
export function letterOutline(letter: string): Outline {
  const rows = LETTERS[letter];
  if (!rows) throw new RangeError(`There is no board for the letter "${letter}".`);
  const filled = (x: number, y: number): boolean => rows[y]?.[x] === '#';
  // Each side of a filled square that has none beside it, from point to point with the square on its left.
  const next = new Map<string, [number, number][]>();
  const side = (from: [number, number], to: [number, number]): void => {
    const list = next.get(String(from)) ?? [];
    list.push(to);
    next.set(String(from), list);
  };
  for (let y = 0; y < HIGH; y++)
    for (let x = 0; x < WIDE; x++) {
      if (!filled(x, y)) continue;
      if (!filled(x, y + 1)) side([x, y + 1], [x + 1, y + 1]);
      if (!filled(x + 1, y)) side([x + 1, y + 1], [x + 1, y]);
      if (!filled(x, y - 1)) side([x + 1, y], [x, y]);
      if (!filled(x - 1, y)) side([x, y], [x, y + 1]);
    }
  const rings: number[][] = [];
  for (const [start, ends] of next)
    while (ends.length > 0) {
      const points: [number, number][] = [];
      let at = start.split(',').map(Number) as [number, number];
      for (let to = ends.pop(); to; to = next.get(String(at))?.pop()) {
        points.push(at);
        at = to;
      }
      rings.push(corners(points).flatMap(([x, y]) => [x / WIDE - 0.5, 0.5 - y / HIGH]));
    }
  return piecesOfRings(rings);
}

/** Points at which a line of whole steps turns. */
function corners(points: readonly [number, number][]): [number, number][] {
  return points.filter(([x, y], i) => {
    const [ax, ay] = points[(i + points.length - 1) % points.length]!;
    const [bx, by] = points[(i + 1) % points.length]!;
    return (x - ax) * (by - y) !== (y - ay) * (bx - x);
  });
}
