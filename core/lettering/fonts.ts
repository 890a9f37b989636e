/** Fonts that ship with Whirl, all under the SIL Open Font License: their names, and the file of each in its package. */
export const FONTS = [
  { id: 'rye', name: 'Rye, fairground slab', file: '@fontsource/rye/files/rye-latin-400-normal.woff' },
  {
    id: 'limelight',
    name: 'Limelight, theatre',
    file: '@fontsource/limelight/files/limelight-latin-400-normal.woff',
  },
  {
    id: 'oswald',
    name: 'Oswald, narrow and bold',
    file: '@fontsource/oswald/files/oswald-latin-700-normal.woff',
  },
  { id: 'lora', name: 'Lora, book', file: '@fontsource/lora/files/lora-latin-700-normal.woff' },
  {
    id: 'caveat-brush',
    name: 'Caveat Brush, by hand',
    file: '@fontsource/caveat-brush/files/caveat-brush-latin-400-normal.woff',
  },
] as const;

/** The font that a text asks for; the first one where it is not known. */
export const fontNamed = (id: string): (typeof FONTS)[number] =>
  FONTS.find((font) => font.id === id) ?? FONTS[0];
