import { z } from 'zod';

/** A stored file, without its bytes. */
export const assetFacts = z.object({
  /** SHA-256 of the bytes, in hexadecimal digits. */
  hash: z.string(),
  type: z.string(),
  /** Bytes. */
  size: z.number(),
  /** Of pictures, in pixels. */
  width: z.number().nullable(),
  height: z.number().nullable(),
  alpha: z.boolean().nullable(),
});
export type AssetFacts = Readonly<z.infer<typeof assetFacts>>;
