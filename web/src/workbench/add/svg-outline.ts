import { SVGLoader } from 'three/addons/loaders/SVGLoader.js';
import { OUTLINE_LIMIT, type Outline } from '../../../../core/document';
import { normalised, piecesOfRings } from '../../../../core/shape';

export type SvgRead =
  | { ok: true; outline: Outline; width: number; height: number }
  | { ok: false; reason: string };

const CURVE_STEPS = 10;
const BYTES_AT_MOST = 8 * 1024 * 1024;

/** What an SVG file may not hold, and what to call it. */
const REFUSED: readonly (readonly [RegExp, string])[] = [
  [/<script[\s>/]/i, 'a script'],
  [/\son[a-z]+\s*=\s*["']/i, 'a script that answers to events'],
  [/javascript:/i, 'a script in an address'],
  [/<foreignObject[\s>]/i, 'a foreign object'],
  [/<!ENTITY/i, 'an entity of its own'],
];

/** Outlines of an SVG file: every filled shape, as one drawing in pixels of the file. Nothing in the file is run. */
export function readSvg(text: string): SvgRead {
  if (text.length > BYTES_AT_MOST)
    return {
      ok: false,
      reason: `The drawing has ${Math.ceil(text.length / 1048576)} MB: at most ${BYTES_AT_MOST / 1048576} MB.`,
    };
  for (const [pattern, what] of REFUSED)
    if (pattern.test(text))
      return { ok: false, reason: `The drawing holds ${what}: save it as plain SVG, without.` };
  let paths;
  try {
    ({ paths } = new SVGLoader().parse(text));
  } catch (error) {
    return {
      ok: false,
      reason: `The drawing cannot be read: ${error instanceof Error ? error.message : ''}`,
    };
  }
  const filled = paths.filter(
    (path) => (path.userData as { style?: { fill?: string } } | undefined)?.style?.fill !== 'none',
  );
  const pieces = (filled.length > 0 ? filled : paths).flatMap((path) =>
    piecesOfRings(
      path.subPaths.map((sub) => sub.getPoints(CURVE_STEPS).flatMap(({ x, y }) => [x, -y])).map(withoutEnd),
    ),
  );
  if (pieces.length === 0)
    return {
      ok: false,
      reason: 'There is no closed outline in this drawing: turn its texts and lines into paths first.',
    };
  const points = pieces.reduce((sum, piece) => sum + piece.outer.length + piece.holes.flat().length, 0) / 2;
  if (points > OUTLINE_LIMIT / 2)
    return {
      ok: false,
      reason: `The drawing has ${points} points: at most ${OUTLINE_LIMIT / 2} are allowed. Simplify its paths.`,
    };
  return { ok: true, ...normalised(pieces) };
}

function withoutEnd(ring: readonly number[]): number[] {
  const n = ring.length;
  const same = ring[0] === ring[n - 2] && ring[1] === ring[n - 1];
  return same ? ring.slice(0, n - 2) : [...ring];
}
