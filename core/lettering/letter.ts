import { OUTLINE_LIMIT, TEXT_LIMIT, type Outline, type Shape } from '../document';
import { isWritten, piecesOfRings, signsOf, writtenOutline } from '../shape';
import { flatten } from './flatten';
import type { LetterFont } from './letter-font';
import { capHeight, lineOutline } from './line-outline';

export type Lettered =
  | { ok: true; outline: Outline; text: NonNullable<Shape['text']> }
  | { ok: false; reason: string };

/** Why a text cannot be lettered in any font, in a sentence, or `null`. */
export function textTrouble(text: string): string | null {
  const letters = [...text.trim()].length;
  if (letters === 0) return 'Type at least one letter.';
  return letters > TEXT_LIMIT ? `This text has ${letters} letters: at most ${TEXT_LIMIT} are allowed.` : null;
}

/**
 * The drawing of a line of text: capital letters one unit high, the whole centred on the origin.
 * @param fontId name under which the document has the font
 */
export function lettered(text: string, fontId: string, font: LetterFont): Lettered {
  const trimmed = text.trim();
  const trouble = textTrouble(trimmed);
  if (trouble !== null) return { ok: false, reason: trouble };
  const missing = signsOf(trimmed).filter((letter) => font.charToGlyph(letter).index === 0);
  if (missing.length > 0)
    return { ok: false, reason: `This font has no ${missing.map((letter) => `"${letter}"`).join(', ')}.` };
  if (isWritten(trimmed)) return writtenLettering(trimmed, fontId, font);
  const outline = lineOutline(trimmed, font);
  const points = outline.reduce((sum, piece) => sum + piece.outer.length + piece.holes.flat().length, 0);
  if (points > OUTLINE_LIMIT)
    return { ok: false, reason: 'This lettering has too many points: shorten the text.' };
  return { ok: true, outline, text: { text: trimmed, font: fontId } };
}

/** A text that changes: the drawing of each sign that it may show. Figures are all as wide as the widest of them. */
function writtenLettering(text: string, fontId: string, font: LetterFont): Lettered {
  const scale = 1 / capHeight(font);
  const widthOf = (sign: string): number =>
    (font.charToGlyph(sign).advanceWidth ?? font.unitsPerEm / 2) * scale;
  const figure = Math.max(...'0123456789'.split('').map(widthOf));
  const glyphs = Object.fromEntries(
    signsOf(text).map((sign) => {
      const advance = /[0-9]/.test(sign) ? figure : widthOf(sign);
      const path = font.charToGlyph(sign).getPath(0, 0, font.unitsPerEm * scale);
      const rings = flatten(path.commands).map((ring) =>
        ring.map((value, i) => (i % 2 === 0 ? value + (advance - widthOf(sign)) / 2 : -value - 0.5)),
      );
      return [sign, { advance, outline: piecesOfRings(rings, 0) }];
    }),
  );
  const written = { text, font: fontId, glyphs, space: widthOf(' ') };
  return { ok: true, outline: writtenOutline(written, 0, 0), text: written };
}
