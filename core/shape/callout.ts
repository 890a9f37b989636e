import type { Callout } from '../document';
import { cos, sin } from '../math';
import { drawingPieces } from './drawing';
import { extrudeMesh, type FlatPiece } from './extrude';
import type { Flat, Mesh } from './mesh';
import { writtenOutline, writtenText } from './written';

/** Room between the words and the edge of their plate, in heights of a capital: beside and above them. */
const ROOM: Flat = [0.75, 0.6];
/** Level piece of the line before the words, in heights of a capital. */
const LEVEL = 0.9;
/** Share of its being drawn out in which the line grows; in the rest the words come. */
const LINE_SHARE = 0.7;
const CORNER = 0.25;
const CORNER_SIDES = 4;
const DOT_SIDES = 24;

/** How a callout lies over a picture: in heights of the picture, from the point that it is about, y up. */
export interface CalloutLayout {
  /** Half the size of the plate, and its middle, which is that of the words. */
  readonly half: Flat;
  readonly middle: Flat;
  /** From the point to the plate. */
  readonly line: readonly Flat[];
  /** How far the line is drawn, and how much the words cover. */
  readonly reached: number;
  readonly shown: number;
}

/** The words of a callout as flat pieces, capitals one unit high, their middle at the origin. */
export function calloutPieces(
  { text, outline }: Callout,
  number: number,
  choice: number,
): readonly FlatPiece[] {
  return drawingPieces(text.glyphs ? writtenOutline(text, number, choice) : outline, 1, 1);
}

/** What a callout says, as a word that differs when its drawing does. */
export function calloutWords({ text }: Callout, number: number, choice: number): string {
  return text.glyphs ? writtenText(text.text, number, choice) : text.text;
}

/** Half the width and height of pieces whose middle is at the origin. */
export function halfSize(pieces: readonly FlatPiece[]): Flat {
  let [x, y] = [0, 0.5];
  for (const { outer } of pieces)
    for (const [px, py] of outer) [x, y] = [Math.max(x, Math.abs(px)), Math.max(y, Math.abs(py))];
  return [x, y];
}

/**
 * Lays a callout out. The line leads to the nearer side of the plate and ends level; where the words lie above or below the
 * point it leads straight to them.
 * @param words half the size of the words, in heights of a capital
 * @param height of a capital, in heights of the picture
 * @param at middle of the words
 * @param drawn how far it is drawn out, 0 to 1
 */
export function calloutLayout(words: Flat, height: number, at: Flat, drawn: number): CalloutLayout {
  const half: Flat = [(words[0] + ROOM[0]) * height, (words[1] + ROOM[1]) * height];
  const [x, y] = at;
  const side = x < 0 ? 1 : -1;
  const edge: Flat = [x + side * half[0], y];
  const level = LEVEL * height;
  const line: Flat[] = [[0, 0]];
  // Beside: the point lies past the end of the level piece.
  if (Math.abs(x) > half[0] + level) line.push([edge[0] + side * level, y], edge);
  else if (Math.abs(y) > half[1]) line.push([x, y - Math.sign(y) * half[1]]);
  return {
    half,
    middle: at,
    line,
    reached: Math.min(1, drawn / LINE_SHARE),
    shown: Math.max(0, (drawn - LINE_SHARE) / (1 - LINE_SHARE)),
  };
}

const lengthOf = ([x, y]: Flat): number => Math.sqrt(x * x + y * y);

/** The part of a line that is drawn. @param share of its length, from its beginning */
export function lineUpTo(line: readonly Flat[], share: number): Flat[] {
  const lengths = line.slice(1).map(([x, y], i) => lengthOf([x - line[i]![0], y - line[i]![1]]));
  let left = share * lengths.reduce((sum, length) => sum + length, 0);
  const drawn: Flat[] = line.length > 0 ? [line[0]!] : [];
  for (const [i, length] of lengths.entries()) {
    if (left <= 0) break;
    const [[ax, ay], [bx, by]] = [line[i]!, line[i + 1]!];
    const part = length > 0 ? Math.min(1, left / length) : 1;
    drawn.push([ax + (bx - ax) * part, ay + (by - ay) * part]);
    left -= length;
  }
  return drawn;
}

const circle = ([x, y]: Flat, radius: number, sides: number): FlatPiece => ({
  outer: Array.from({ length: sides }, (_, i): Flat => {
    const angle = (2 * Math.PI * i) / sides;
    return [x + radius * cos(angle), y + radius * sin(angle)];
  }),
  holes: [],
});

/** A line of some width with a dot at its beginning, as flat pieces. */
export function linePieces(line: readonly Flat[], width: number, dot: number): readonly FlatPiece[] {
  const pieces: FlatPiece[] = [];
  if (dot > 0 && line.length > 0) pieces.push(circle(line[0]!, dot, DOT_SIDES));
  if (width <= 0) return pieces;
  for (const [i, [bx, by]] of line.entries()) {
    if (i === 0) continue;
    const [ax, ay] = line[i - 1]!;
    const length = lengthOf([bx - ax, by - ay]);
    if (length === 0) continue;
    const [nx, ny] = [((ay - by) / length) * (width / 2), ((bx - ax) / length) * (width / 2)];
    pieces.push({
      outer: [
        [ax - nx, ay - ny],
        [bx - nx, by - ny],
        [bx + nx, by + ny],
        [ax + nx, ay + ny],
      ],
      holes: [],
    });
    // Round where two pieces meet.
    if (i + 1 < line.length) pieces.push(circle([bx, by], width / 2, DOT_SIDES / 2));
  }
  return pieces;
}

/** A plate with rounded corners, its middle at the origin. */
export function platePiece([x, y]: Flat): FlatPiece {
  const radius = Math.min(x, y) * CORNER * 2;
  const corners: readonly [number, number, number][] = [
    [1, 1, 0],
    [-1, 1, 90],
    [-1, -1, 180],
    [1, -1, 270],
  ];
  return {
    outer: corners.flatMap(([sx, sy, from]) =>
      Array.from({ length: CORNER_SIDES + 1 }, (_, i): Flat => {
        const angle = ((from + (90 * i) / CORNER_SIDES) * Math.PI) / 180;
        return [sx * (x - radius) + radius * cos(angle), sy * (y - radius) + radius * sin(angle)];
      }),
    ),
    holes: [],
  };
}

/** Flat pieces as triangles at z = 0. */
export const flatMesh = (pieces: readonly FlatPiece[]): Mesh => extrudeMesh(pieces, 0, 0);
