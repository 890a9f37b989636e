import { z } from 'zod';
import { lookSchema, SAMPLE_COUNTS } from '../core/document';
import { FILM_FORMATS, FILM_QUALITIES, PRESET_SCALE } from '../core/film';
import { name } from './names';

/** What a project keeps for all its shots. */
export const KEPT_KINDS = ['manners', 'looks', 'presets'] as const;
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
