import { z } from 'zod';

/** What is cleared, by itself once a day or by hand, and after how many days. */
export const CLEARED = {
  frames: { days: 7, label: 'Single frames of finished renders' },
  deletions: { days: 30, label: 'Deleted projects and shots' },
  files: { days: 1, label: 'Pictures, sounds and meshes that no shot names' },
  loose: { days: 1, label: 'Stored files that nothing names' },
  work: { days: 7, label: 'Work that was given up' },
} as const;
export type Cleared = keyof typeof CLEARED;
export const CLEARED_KINDS = Object.keys(CLEARED) as Cleared[];

/** What takes room, in the order in which it is shown. */
export const ROOM = {
  documents: 'Shots, as they are',
  changes: 'History of the shots',
  files: 'Pictures, videos, sounds and meshes',
  frames: 'Single frames of renders',
  films: 'Finished films',
} as const;
export type Room = keyof typeof ROOM;
export const ROOM_KINDS = Object.keys(ROOM) as Room[];

const amount = z.object({
  /** Things. */
  count: z.number().int(),
  bytes: z.number(),
});
const amounts = z.record(z.enum(CLEARED_KINDS), amount);
export type Amounts = Readonly<z.infer<typeof amounts>>;

export const upkeepReport = z.object({
  /** Bytes of each kind. */
  room: z.record(z.enum(ROOM_KINDS), z.number()),
  /** Bytes of the database and of the stored files. */
  total: z.number(),
  /** Where files are, in words, and how many bytes are free there; null where that is not known. */
  place: z.string(),
  free: z.number().nullable(),
  /** What would be cleared now. */
  due: amounts,
  /** The last time that it was cleared, and what went. */
  last: z.object({ at: z.string(), cleared: amounts }).nullable(),
});
export type UpkeepReport = Readonly<z.infer<typeof upkeepReport>>;
