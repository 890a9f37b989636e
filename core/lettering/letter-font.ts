import type { PathStep } from './flatten';

/** The drawing of one sign of a font. */
export interface Glyph {
  /** Its number in the font; 0 stands for signs that the font has not. */
  readonly index: number;
  readonly advanceWidth?: number | undefined;
  getBoundingBox(): { readonly y2: number };
  getPath(x: number, y: number, size: number): { readonly commands: readonly PathStep[] };
}

/** A font that has been read, whoever read it: what of it letters are drawn from. */
export interface LetterFont {
  readonly unitsPerEm: number;
  charToGlyph(letter: string): Glyph;
  /** @param left,right numbers of glyphs */
  getKerningValue(left: number, right: number): number;
}
