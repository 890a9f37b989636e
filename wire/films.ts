import { z } from 'zod';
import { SAMPLE_COUNTS } from '../core/document';
import { FILM_FORMATS, FILM_QUALITIES, filmTrouble } from '../core/film';

export const RENDER_STATES = [
  'waiting',
  'drawing',
  'assembling',
  'paused',
  'held',
  'done',
  'failed',
  'cancelled',
] as const;
export type RenderStatus = (typeof RENDER_STATES)[number];

/** States in which machines work on a film, or will by themselves. */
export const WORKED_STATES: readonly RenderStatus[] = ['waiting', 'drawing', 'assembling'];
/** States that a film does not stay in: it is worked on, or waits for somebody's word. */
export const RUNNING_STATES: readonly RenderStatus[] = [...WORKED_STATES, 'paused', 'held'];

/** Whose frames are drawn when several films wait: those of one turn take turns. */
export const TURNS = ['first', 'normal', 'later'] as const;
export type Turn = (typeof TURNS)[number];

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
    /** Pictures that each frame is built up from; `null`, as many as the shot says. */
    samples: z
      .union(SAMPLE_COUNTS.map((count) => z.literal(count)))
      .nullable()
      .default(null),
    /** With what lens and film do to the picture: blur, glow, grain and the like. */
    effects: z.boolean().default(true),
    /** Draw every frame, also those that show the same as one that was drawn before. */
    fresh: z.boolean().default(false),
  })
  .superRefine((request, context) => {
    const trouble = filmTrouble(request);
    if (trouble) context.addIssue({ code: 'custom', path: [trouble.field], message: trouble.message });
  });
export type RenderRequest = Readonly<z.infer<typeof renderRequest>>;
/** What a film is asked to be, as it is sent: what is missing is as usual. */
export type RenderWish = Readonly<z.input<typeof renderRequest>>;

export const renderJob = z.object({
  ...renderRequest.shape,
  id: z.string(),
  shotId: z.string().nullable(),
  /** Of a film of a reel, which then has its name where others have that of a shot. */
  reelId: z.string().nullable(),
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
  /** Name of the drawing library of all its frames, once one is drawn. */
  library: z.string().nullable(),
  turn: z.enum(TURNS),
  /** Frames that could not be drawn, however often they were tried. */
  troubled: z.number().int(),
  /** Frames in whose place another one is shown. */
  skipped: z.number().int(),
});
export type RenderJob = Readonly<z.infer<typeof renderJob>>;

export const isRunning = ({ status }: Pick<RenderJob, 'status'>): boolean => RUNNING_STATES.includes(status);

export const machine = z.object({
  name: z.string(),
  drawingLibrary: z.string().nullable(),
  /** What it is at, in words, or null when it waits. */
  doing: z.string().nullable(),
  /** Frames that it has drawn since it began, and how long that took, in milliseconds. */
  frames: z.number().int(),
  drawnMs: z.number(),
  since: z.string(),
  seenAt: z.string(),
});
export type Machine = Readonly<z.infer<typeof machine>>;

export const renderList = z.object({ jobs: z.array(renderJob), machines: z.array(machine) });
export type RenderList = Readonly<z.infer<typeof renderList>>;

/** What can be done with a film that is not over, each by a request of this name. */
export type RenderDeed = 'cancel' | 'pause' | 'resume' | 'retry' | 'skip' | 'anew';
export const turnBody = z.strictObject({ turn: z.enum(TURNS) });

/** How a frame of a film came to be. */
export const FRAME_STATES = ['drawn', 'unchanged', 'skipped'] as const;
export type FrameState = (typeof FRAME_STATES)[number];

/** What happened to a film: its frames as columns, in the order in which they came. */
export const renderStory = z.object({
  frames: z.array(z.number().int()),
  states: z.array(z.enum(FRAME_STATES)),
  /** Milliseconds that drawing took; null for frames that were not drawn. */
  took: z.array(z.number().nullable()),
  /** Places in `names`. */
  machines: z.array(z.number().int()),
  names: z.array(z.string()),
  troubles: z.array(
    z.object({ frame: z.number().int(), tries: z.number().int(), reason: z.string(), machine: z.string() }),
  ),
  /** The latest last. */
  events: z.array(z.object({ at: z.string(), words: z.string() })),
});
export type RenderStory = Readonly<z.infer<typeof renderStory>>;
