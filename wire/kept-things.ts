import { z } from 'zod';
import { lookSchema } from '../core/document';
import { name } from './names';

/** What a project keeps for all its shots. */
export const KEPT_KINDS = ['manners', 'looks'] as const;
export type KeptKind = (typeof KEPT_KINDS)[number];
/** Things of a kind that a project may keep. */
export const KEPT_LIMIT = 60;

/** A look that people keep under a name, with their project: see `KeptLook` in core/edit. */
export const ownLook = z.strictObject({ name, look: lookSchema.omit({ tracks: true, links: true }) });
export type OwnLook = Readonly<z.infer<typeof ownLook>>;
