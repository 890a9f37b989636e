import { z } from 'zod';
import type { Shot } from '../core/document';
import type { Patch } from '../core/edit';

/** Changes that one request may bring. */
export const CHANGES_AT_ONCE = 500;
/** Patches of one change. */
export const PATCHES_AT_ONCE = 20_000;
/** Segments of the place of a patch, and characters of one. */
const PATH = { segments: 8, characters: 120 } as const;

const patch = z.strictObject({
  path: z.array(z.string().max(PATH.characters)).min(1).max(PATH.segments),
  before: z.unknown().optional(),
  after: z.unknown().optional(),
});

/** Changes on top of a revision, each with an id that is used once: sent again, a change counts once. */
export const changesBody = z.strictObject({
  base: z.number().int().min(0),
  changes: z
    .array(
      z.strictObject({
        id: z.uuid(),
        label: z.string().max(200),
        patches: z.array(patch).max(PATCHES_AT_ONCE),
      }),
    )
    .min(1)
    .max(CHANGES_AT_ONCE),
});

export interface SentChange {
  readonly id: string;
  readonly label: string;
  readonly patches: readonly Patch[];
}

export const changesTaken = z.object({ revision: z.number().int() });

export interface KeptChange {
  readonly revision: number;
  readonly senderId: string;
  readonly label: string;
  readonly patches: readonly Patch[];
}

export interface OpenedShot {
  readonly id: string;
  readonly name: string;
  readonly projectId: string;
  readonly projectName: string;
  readonly revision: number;
  readonly document: Shot;
}
