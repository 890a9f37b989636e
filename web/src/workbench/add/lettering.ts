import opentype, { type Font } from 'opentype.js';
import caveatBrush from '@fontsource/caveat-brush/files/caveat-brush-latin-400-normal.woff?url';
import limelight from '@fontsource/limelight/files/limelight-latin-400-normal.woff?url';
import lora from '@fontsource/lora/files/lora-latin-700-normal.woff?url';
import oswald from '@fontsource/oswald/files/oswald-latin-700-normal.woff?url';
import rye from '@fontsource/rye/files/rye-latin-400-normal.woff?url';
import { FONTS, fontNamed, lettered, textTrouble, type Lettered } from '../../../../core/lettering';

export { FONTS, type Lettered };

/** Addresses of the fonts' files. */
const FILES: Record<(typeof FONTS)[number]['id'], string> = {
  rye,
  limelight,
  oswald,
  lora,
  'caveat-brush': caveatBrush,
};

const loaded = new Map<string, Promise<Font>>();

function fontOf(id: string): Promise<Font> {
  const known = fontNamed(id).id;
  let font = loaded.get(known);
  if (!font) {
    font = fetch(FILES[known])
      .then((response) => response.arrayBuffer())
      .then((bytes) => opentype.parse(bytes));
    loaded.set(known, font);
    font.catch(() => loaded.delete(known));
  }
  return font;
}

/** The drawing of a text: capital letters one unit high, the whole centred on the origin. */
export async function letteringOutline(text: string, fontId: string): Promise<Lettered> {
  const trouble = textTrouble(text);
  if (trouble !== null) return { ok: false, reason: trouble };
  try {
    return lettered(text, fontId, await fontOf(fontId));
  } catch {
    return { ok: false, reason: 'The font could not be read from the server. Is Whirl still running?' };
  }
}
