import { z } from 'zod';
import { VIDEO_AFTER } from '../film';

/** Stored bytes, by their SHA-256. */
export const asset = z.string().regex(/^[0-9a-f]{64}$/, 'must be the SHA-256 of stored bytes');

export const PICTURE_SIDE_LIMIT = 8192;
/** What browsers decode on a machine without a card for it. */
export const VIDEO_SIDE_LIMIT = 4096;

export const VIDEO_SPEED_LIMIT = 100;

/** How a video plays in the shot. Counting of its pictures begins with 0. */
export const videoSchema = z
  .strictObject({
    /** Pictures per second of the file. */
    rate: z.strictObject({ num: z.number().int().min(1), den: z.number().int().min(1) }),
    /** Pictures in the file. */
    pictures: z.number().int().min(1).max(10_000_000),
    /** Frame of the shot at which it begins to play. */
    start: z.number().min(-1e7).max(1e7),
    /** 1 plays as it was taken, a negative one backwards, 0 stands still. */
    speed: z.number().min(-VIDEO_SPEED_LIMIT).max(VIDEO_SPEED_LIMIT),
    /** The pictures that are shown: `[from, to)`. */
    from: z.number().int().min(0),
    to: z.number().int().min(1),
    after: z.enum(VIDEO_AFTER),
  })
  .refine((video) => video.from < video.to && video.to <= video.pictures, {
    message: 'the first picture comes before the last, and both are in the video',
    path: ['from'],
  });

export const pictureSchema = z.strictObject({
  asset,
  /** Size in pixels. */
  width: z.number().int().min(1).max(PICTURE_SIDE_LIMIT),
  height: z.number().int().min(1).max(PICTURE_SIDE_LIMIT),
  /** Whether some of it can be seen through. */
  alpha: z.boolean(),
  file: z.string().max(200),
  /** Of a video. */
  video: videoSchema.optional(),
});

/** What is seen behind everything. */
export const BACKGROUNDS = ['colour', 'gradient', 'picture', 'surroundings'] as const;
/** Surroundings of our own making, which are mirrored. */
export const SURROUNDINGS = ['plain', 'workshop', 'quay', 'tent', 'white'] as const;

export const backdropSchema = z
  .strictObject({
    shows: z.enum(BACKGROUNDS),
    surroundings: z.enum(SURROUNDINGS),
    picture: pictureSchema.optional(),
  })
  .refine((backdrop) => backdrop.shows !== 'picture' || backdrop.picture !== undefined, {
    message: 'a backdrop that shows a picture needs one',
    path: ['picture'],
  });
