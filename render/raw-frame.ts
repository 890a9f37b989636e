import sharp from 'sharp';

/** A picture as numbers: red, green, blue and alpha of each pixel, straight, the top row first. */
export interface RawFrame {
  readonly width: number;
  readonly height: number;
  /** Whether anything may be seen through. */
  readonly alpha: boolean;
  /** 16 bits a colour, in the order of this computer; else 8. */
  readonly deep: boolean;
  readonly pixels: Buffer;
}

// Measured at 1280x720: 10 ms and 580 kB, against 52 ms and 440 kB of the finest packing.
const PACKING = { compressionLevel: 1, adaptiveFiltering: false };

/** A raw picture as PNG. */
export function pngOf({ width, height, alpha, deep, pixels }: RawFrame): Promise<Buffer> {
  const numbers = deep ? new Uint16Array(pixels.buffer, pixels.byteOffset, pixels.length / 2) : pixels;
  const picture = sharp(numbers, { raw: { width, height, channels: 4 }, limitInputPixels: false });
  const seen = alpha ? picture : picture.removeAlpha();
  return (deep ? seen.toColourspace('rgb16') : seen).png(PACKING).toBuffer();
}

/** A PNG as numbers of 8 bits. */
export async function rawOf(png: Buffer): Promise<RawFrame> {
  const picture = sharp(png, { limitInputPixels: false });
  const { hasAlpha } = await picture.metadata();
  const { data, info } = await picture.ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, alpha: hasAlpha, deep: false, pixels: data };
}

/** A picture of a film, in the shape in which it is wanted. */
export interface FilmPicture {
  readonly frame: number;
  png(): Promise<Buffer>;
  raw(): Promise<RawFrame>;
}

/** Pictures of a film in order. */
export type Pictures = AsyncIterable<FilmPicture>;

export const picturePng = (frame: number, png: Buffer): FilmPicture => ({
  frame,
  png: () => Promise.resolve(png),
  raw: () => rawOf(png),
});

export const pictureRaw = (frame: number, raw: RawFrame): FilmPicture => ({
  frame,
  png: () => pngOf(raw),
  raw: () => Promise.resolve(raw),
});
