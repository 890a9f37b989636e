import { z } from 'zod';
import { lookSchema, SAMPLE_COUNTS } from '../core/document';
import { FILM_FORMATS, FILM_QUALITIES, PRESET_SCALE } from '../core/film';
import { name } from './names';

/** What a project keeps for all its shots. */
export const KEPT_KINDS = ['manners', 'looks', 'presets', 'poses'] as const;
export type KeptKind = (typeof KEPT_KINDS)[number];
/** Things of a kind that a project may keep. */
export const KEPT_LIMIT = 60;

/** A look that people keep under a name, with their project: see `KeptLook` in core/edit. */
export const ownLook = z.strictObject({ name, look: lookSchema.omit({ tracks: true, links: true }) });
export type OwnLook = Readonly<z.infer<typeof ownLook>>;

/** A way to make a film that people keep under a name: see `FilmPreset` in core/film. */
export const ownPreset = z.strictObject({
  name,
  preset: z.strictObject({
    format: z.enum(FILM_FORMATS),
    alpha: z.boolean(),
    quality: z.enum(FILM_QUALITIES),
    scale: z.number().min(PRESET_SCALE.least).max(PRESET_SCALE.most),
    samples: z.union(SAMPLE_COUNTS.map((count) => z.literal(count))).nullable(),
    effects: z.boolean(),
  }),
});
export type OwnPreset = Readonly<z.infer<typeof ownPreset>>;

/** Parts of a pose, and pieces and corners of its picture, at most. */
export const POSE_LIMITS = { parts: 400, pieces: 240, corners: 32, size: 200 } as const;

/** A pose that people keep under a name: see `KeptPose` in core/edit; its picture is cut out of flat pieces, the nearest last. */
export const ownPose = z.strictObject({
  name,
  pose: z.strictObject({
    parts: z
      .array(
        z.strictObject({
          name,
          values: z.record(z.string().max(40), z.number()),
          linked: z.array(z.string().max(40)).max(40).optional(),
        }),
      )
      .min(1)
      .max(POSE_LIMITS.parts),
    picture: z
      .array(
        z.strictObject({
          colour: z.string().regex(/^#[0-9a-f]{6}$/),
          /** Corners, x and y in turn, x to the right and y down. */
          points: z
            .array(z.number().int().min(0).max(POSE_LIMITS.size))
            .min(6)
            .max(POSE_LIMITS.corners * 2),
        }),
      )
      .max(POSE_LIMITS.pieces),
  }),
});
export type OwnPose = Readonly<z.infer<typeof ownPose>>;
