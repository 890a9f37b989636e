import { z } from 'zod';
import type { Shot } from '../core/document';
import type { Patch } from '../core/edit';
import { storable } from './names';

/** Changes that one request may bring. */
export const CHANGES_AT_ONCE = 500;
/** Patches of one change. */
export const PATCHES_AT_ONCE = 20_000;
/** Segments of the place of a patch, and characters of one. */
const PATH = { segments: 8, characters: 120 } as const;

/** PostgreSQL counts revisions in 32 bits. */
const REVISION_LIMIT = 2 ** 31 - 1;
export const revision = z.number().int().min(0).max(REVISION_LIMIT);

const patch = z.strictObject({
  path: z.array(z.string().max(PATH.characters)).min(1).max(PATH.segments),
  before: z.unknown().optional(),
  after: z.unknown().optional(),
});
const change = z.strictObject({
  id: z.uuid(),
  label: storable.max(200),
  patches: z.array(z.unknown()).max(PATCHES_AT_ONCE),
});
const changesBody = z.strictObject({
  base: revision,
  changes: z.array(z.unknown()).min(1).max(CHANGES_AT_ONCE),
});

/** Faults of a body told at most. */
const FAULTS = 20;

/**
 * Reads changes on top of a revision, each with an id that is used once: sent again, a change counts once. Judged piece
 * by piece, so that a body full of faults costs no more than one with some.
 * @throws ZodError with the first faults and their places
 */
export function readChanges(body: unknown): {
  base: number;
  changes: { id: string; label: string; patches: z.infer<typeof patch>[] }[];
} {
  const { base, changes } = changesBody.parse(body);
  const faults: z.core.$ZodIssue[] = [];
  const judged = <T>(schema: z.ZodType<T>, value: unknown, at: PropertyKey[]): T | undefined => {
    const parsed = schema.safeParse(value);
    if (parsed.success) return parsed.data;
    for (const issue of parsed.error.issues) faults.push({ ...issue, path: [...at, ...issue.path] });
    if (faults.length >= FAULTS) throw new z.ZodError(faults.slice(0, FAULTS));
    return undefined;
  };
  const read = changes.map((entry, i) => {
    const found = judged(change, entry, ['changes', i]);
    const patches = (found?.patches ?? []).map((each, k) =>
      judged(patch, each, ['changes', i, 'patches', k])!,
    );
    return { id: found?.id ?? '', label: found?.label ?? '', patches };
  });
  if (faults.length > 0) throw new z.ZodError(faults);
  return { base, changes: read };
}

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
