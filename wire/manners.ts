import { z } from 'zod';
import { MANNERS } from '../core/document';
import { name } from './names';

const rise = z.number().min(-1000).max(1000);

/** A way to move that people keep under a name, with their project: see `StretchShape` in core/edit. */
export const ownManner = z.strictObject({
  name,
  shape: z.strictObject({
    manner: z.enum(MANNERS),
    points: z.tuple([z.number().min(0).max(1), rise, z.number().min(0).max(1), rise]).nullable(),
    piece: z
      .strictObject({ from: z.number().min(0).max(1), to: z.number().min(0).max(1), gain: rise })
      .optional(),
  }),
});
export type OwnManner = Readonly<z.infer<typeof ownManner>>;
export const ownManners = z.array(ownManner);
