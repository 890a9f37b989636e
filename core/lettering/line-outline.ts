import type { Outline } from '../document';
import { piecesOfRings } from '../shape';
import { flatten } from './flatten';
import type { LetterFont } from './letter-font';

/** Height of a capital of a font, in its units, measured on the H. */
export function capHeight(font: LetterFont): number {
  const box = font.charToGlyph('H').getBoundingBox();
  return box.y2 > 0 ? box.y2 : font.unitsPerEm * 0.7;
}

/** The drawing of a line of text in a font: capitals one unit high, the whole centred on the origin. */
export function lineOutline(text: string, font: LetterFont): Outline {
  const scale = 1 / capHeight(font);
  const glyphs = [...text].map((letter) => font.charToGlyph(letter));
  let x = 0;
  const placed = glyphs.map((glyph, i) => {
    if (i > 0) x += font.getKerningValue(glyphs[i - 1]!.index, glyph.index) * scale;
    const at = x;
    x += (glyph.advanceWidth ?? font.unitsPerEm / 2) * scale;
    return { glyph, at };
  });
  return placed.flatMap(({ glyph, at }, letter) => {
    const path = glyph.getPath(0, 0, font.unitsPerEm * scale);
    const rings = flatten(path.commands).map((ring) =>
      ring.map((value, i) => (i % 2 === 0 ? value + at - x / 2 : -value - 0.5)),
    );
    return piecesOfRings(rings, letter);
  });
}
