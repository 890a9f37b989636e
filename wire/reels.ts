import { z } from 'zod';
import { reelSchema, reelTrouble, type Reel } from '../core/reel';
import { name } from './names';
import { revision } from './shots';

/** A reel, with what its form alone does not tell. */
const reel = reelSchema.superRefine((wanted, context) => {
  const trouble = reelTrouble(wanted);
  if (trouble !== null) context.addIssue({ code: 'custom', message: trouble });
});

export const newReelBody = z.strictObject({ name, reel: reel.optional() });
/** A reel as it is now, instead of that of the revision that it was made from. */
export const reelBody = z.strictObject({ revision, reel });

export const reelCard = z.object({
  id: z.string(),
  name: z.string(),
  changedAt: z.string(),
  frames: z.number().int(),
  rate: z.object({ num: z.number(), den: z.number() }),
});
export type ReelCard = Readonly<z.infer<typeof reelCard>>;

export interface OpenedReel {
  readonly id: string;
  readonly name: string;
  readonly projectId: string;
  readonly projectName: string;
  readonly revision: number;
  readonly reel: Reel;
}
