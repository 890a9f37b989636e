import opentype, { type Font } from 'opentype.js';
import caveatBrush from '@fontsource/caveat-brush/files/caveat-brush-latin-400-normal.woff?url';
import limelight from '@fontsource/limelight/files/limelight-latin-400-normal.woff?url';
import lora from '@fontsource/lora/files/lora-latin-700-normal.woff?url';
import oswald from '@fontsource/oswald/files/oswald-latin-700-normal.woff?url';
import rye from '@fontsource/rye/files/rye-latin-400-normal.woff?url';
import { OUTLINE_LIMIT, TEXT_LIMIT, type Outline, type Shape } from '../../../../core/document';
import { isWritten, piecesOfRings, signsOf, writtenOutline } from '../../../../core/shape';
import { flatten, type PathStep } from './flatten';
import { capHeight, lineOutline } from './line-outline';

/** Fonts that ship with Whirl, all under the SIL Open Font License. */
export const FONTS = [
  { id: 'rye', name: 'Rye, fairground slab', url: rye },
  { id: 'limelight', name: 'Limelight, theatre', url: limelight },
  { id: 'oswald', name: 'Oswald, narrow and bold', url: oswald },
  { id: 'lora', name: 'Lora, book', url: lora },
  { id: 'caveat-brush', name: 'Caveat Brush, by hand', url: caveatBrush },
] as const;

const loaded = new Map<string, Promise<Font>>();

function fontOf(id: string): Promise<Font> {
  const entry = FONTS.find((font) => font.id === id) ?? FONTS[0];
  let font = loaded.get(entry.id);
  if (!font) {
    font = fetch(entry.url)
      .then((response) => response.arrayBuffer())
      .then((bytes) => opentype.parse(bytes));
    loaded.set(entry.id, font);
    font.catch(() => loaded.delete(entry.id));
  }
  return font;
}

export type Lettered =
  { ok: true; outline: Outline; text: NonNullable<Shape['text']> } | { ok: false; reason: string };

/** The drawing of a text: capital letters one unit high, the whole centred on the origin. */
export async function letteringOutline(text: string, fontId: string): Promise<Lettered> {
  const trimmed = text.trim();
  if (trimmed === '') return { ok: false, reason: 'Type at least one letter.' };
  if ([...trimmed].length > TEXT_LIMIT)
    return {
      ok: false,
      reason: `This text has ${[...trimmed].length} letters: at most ${TEXT_LIMIT} are allowed.`,
    };
  let font: Font;
  try {
    font = await fontOf(fontId);
  } catch {
    return { ok: false, reason: 'The font could not be read from the server. Is Whirl still running?' };
  }
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
function writtenLettering(text: string, fontId: string, font: Font): Lettered {
  const scale = 1 / capHeight(font);
  const widthOf = (sign: string): number =>
    (font.charToGlyph(sign).advanceWidth ?? font.unitsPerEm / 2) * scale;
  const figure = Math.max(...'0123456789'.split('').map(widthOf));
  const glyphs = Object.fromEntries(
    signsOf(text).map((sign) => {
      const advance = /[0-9]/.test(sign) ? figure : widthOf(sign);
      const path = font.charToGlyph(sign).getPath(0, 0, font.unitsPerEm * scale);
      const rings = flatten(path.commands as PathStep[]).map((ring) =>
        ring.map((value, i) => (i % 2 === 0 ? value + (advance - widthOf(sign)) / 2 : -value - 0.5)),
      );
      return [sign, { advance, outline: piecesOfRings(rings, 0) }];
    }),
  );
  const written = { text, font: fontId, glyphs, space: widthOf(' ') };
  return { ok: true, outline: writtenOutline(written, 0, 0), text: written };
}
