import { z } from 'zod';

/** A stored file, without its bytes. */
export const assetFacts = z.object({
  /** SHA-256 of the bytes, in hexadecimal digits. */
  hash: z.string(),
  type: z.string(),
  /** Bytes. */
  size: z.number(),
  /** Of pictures and videos, in pixels. */
  width: z.number().nullable(),
  height: z.number().nullable(),
  alpha: z.boolean().nullable(),
  /** Of videos: pictures per second, and how many there are. */
  video: z.object({ rate: z.object({ num: z.number(), den: z.number() }), pictures: z.number() }).nullable(),
});
export type AssetFacts = Readonly<z.infer<typeof assetFacts>>;
