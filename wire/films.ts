import { z } from 'zod';
import { FILM_FORMATS, FILM_QUALITIES, filmTrouble } from '../core/film';

export const RENDER_STATES = ['waiting', 'drawing', 'assembling', 'done', 'failed', 'cancelled'] as const;
export type RenderStatus = (typeof RENDER_STATES)[number];

/** States in which work is still being done. */
export const RUNNING_STATES: readonly RenderStatus[] = ['waiting', 'drawing', 'assembling'];

/** What a film is asked to be. Numbers and names are judged by `core/film`, as everywhere. */
export const renderRequest = z
  .strictObject({
    first: z.number(),
    last: z.number(),
    width: z.number(),
    height: z.number(),
    format: z.enum(FILM_FORMATS),
    alpha: z.boolean(),
    quality: z.enum(FILM_QUALITIES).default('high'),
    fileName: z.string().trim().nullable().default(null),
  })
  .superRefine((request, context) => {
    const trouble = filmTrouble(request);
    if (trouble) context.addIssue({ code: 'custom', path: [trouble.field], message: trouble.message });
  });
export type RenderRequest = Readonly<z.infer<typeof renderRequest>>;

export const renderJob = z.object({
  ...renderRequest.shape,
  id: z.string(),
  shotId: z.string().nullable(),
  shotName: z.string(),
  projectName: z.string(),
  status: z.enum(RENDER_STATES),
  error: z.string().nullable(),
  createdAt: z.string(),
  startedAt: z.string().nullable(),
  finishedAt: z.string().nullable(),
  /** Frames drawn so far, and the one drawn last. */
  drawn: z.number().int(),
  latest: z.number().int().nullable(),
  /** Of those, how many were taken over from frames that show the same. */
  taken: z.number().int(),
  rate: z.object({ num: z.number(), den: z.number() }),
  filmType: z.string().nullable(),
  /** Bytes. */
  filmSize: z.number().nullable(),
});
export type RenderJob = Readonly<z.infer<typeof renderJob>>;

export const isRunning = ({ status }: Pick<RenderJob, 'status'>): boolean => RUNNING_STATES.includes(status);

export const machine = z.object({ name: z.string(), drawingLibrary: z.string().nullable() });
export type Machine = Readonly<z.infer<typeof machine>>;

export const renderList = z.object({ jobs: z.array(renderJob), machines: z.array(machine) });
export type RenderList = Readonly<z.infer<typeof renderList>>;
