import { z } from 'zod';

/** Longest sound that is taken, seconds. */
export const SOUND_TAKEN_SECONDS = 1800;

/** Samples per second of which waves and loudness are worked out. */
export const SOUND_READ_RATE = 44_100;

/** What is known of a sound. */
export const soundFacts = z.object({
  hash: z.string(),
  seconds: z.number(),
  channels: z.number(),
  state: z.enum(['waiting', 'ready', 'broken']),
  /** Why it could not be read. */
  reason: z.string().nullable(),
  /** Samples that the wave was made of, once it is ready. */
  samples: z.number().nullable(),
  /** Whether it begins with a stroke. */
  struck: z.boolean().nullable(),
});
export type SoundFacts = Readonly<z.infer<typeof soundFacts>>;

/** What is worked out of a sound: numbers one after another, little-endian. */
export const SOUND_TABLES = ['peaks', 'loudness', 'flux'] as const;
export type SoundTable = (typeof SOUND_TABLES)[number];
