import type { Font } from 'opentype.js';
import type { Outline } from '../../../../core/document';
import { piecesOfRings } from '../../../../core/shape';
import { flatten, type PathStep } from './flatten';

/** Height of a capital of a font, in its units, measured on the H. */
export function capHeight(font: Font): number {
  const box = font.charToGlyph('H').getBoundingBox();
  return box.y2 > 0 ? box.y2 : font.unitsPerEm * 0.7;
}

/** The drawing of a line of text in a font: capitals one unit high, the whole centred on the origin. */
export function lineOutline(text: string, font: Font): Outline {
  const scale = 1 / capHeight(font);
  const glyphs = [...text].map((letter) => font.charToGlyph(letter));
  let x = 0;
  const placed = glyphs.map((glyph, i) => {
    if (i > 0) x += font.getKerningValue(glyphs[i - 1]!, glyph) * scale;
    const at = x;
    x += (glyph.advanceWidth ?? font.unitsPerEm / 2) * scale;
    return { glyph, at };
  });
  return placed.flatMap(({ glyph, at }, letter) => {
    const path = glyph.getPath(0, 0, font.unitsPerEm * scale);
    const rings = flatten(path.commands as PathStep[]).map((ring) =>
      ring.map((value, i) => (i % 2 === 0 ? value + at - x / 2 : -value - 0.5)),
    );
    return piecesOfRings(rings, letter);
  });
}
