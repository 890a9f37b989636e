import { z } from 'zod';

export const OUTLINE_LIMIT = 60_000;
export const TEXT_LIMIT = 200;

/** Points of a closed line, x and y in turn. */
const ring = z.array(z.number().min(-1e6).max(1e6)).min(6).max(OUTLINE_LIMIT);

/**
 * A flat drawing in shares of its own size: y up, its middle at the origin. An outer ring runs counter-clockwise, the
 * rings of its holes clockwise. `letter` counts the letters of a lettering, 0 in any other drawing.
 */
export const outlineSchema = z
  .array(
    z.strictObject({ letter: z.number().int().min(0).max(TEXT_LIMIT), outer: ring, holes: z.array(ring) }),
  )
  .max(2000)
  .refine(
    (pieces) =>
      pieces.reduce(
        (sum, piece) => sum + piece.outer.length + piece.holes.reduce((all, hole) => all + hole.length, 0),
        0,
      ) <= OUTLINE_LIMIT,
    `at most ${OUTLINE_LIMIT / 2} points`,
  );

/** A text in one of the fonts. */
export const textSchema = z.strictObject({
  text: z.string().max(TEXT_LIMIT),
  font: z.string().max(40),
  /** Of a text that changes: drawings of all signs that it may show, each from its left edge on. */
  glyphs: z
    .record(z.string(), z.strictObject({ advance: z.number().min(0).max(100), outline: outlineSchema }))
    .optional(),
  /** Width of a blank. */
  space: z.number().min(0).max(100).optional(),
});

/** The words of a callout: a text and what was drawn from it, capitals one unit high. */
export const calloutSchema = z.strictObject({ text: textSchema, outline: outlineSchema });
