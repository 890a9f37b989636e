import { z } from 'zod';
import { name } from './names';
import { reelCard } from './reels';

const rate = z.object({ num: z.number(), den: z.number() });

export const named = z.strictObject({ name });

/** A new shot; without a document it is what every new shot is. */
export const newShotBody = z.strictObject({ name, document: z.unknown().optional() });

export const made = z.object({ id: z.string() });

export const shotCard = z.object({
  id: z.string(),
  name: z.string(),
  revision: z.number().int(),
  changedAt: z.string(),
  first: z.number(),
  last: z.number(),
  rate,
  width: z.number(),
  height: z.number(),
  /** Revision that the card's picture was drawn of; `null` while there is none. */
  pictureRevision: z.number().int().nullable(),
});
export type ShotCard = Readonly<z.infer<typeof shotCard>>;

export const projectCard = z.object({
  id: z.string(),
  name: z.string(),
  changedAt: z.string(),
  shots: z.array(shotCard),
  reels: z.array(reelCard),
});
export type ProjectCard = Readonly<z.infer<typeof projectCard>>;
export const projectList = z.array(projectCard);
