import { z } from 'zod';
import { asset, calloutSchema, FRAME_LIMIT, NAME_LIMIT, setupSchema, SOUND_SECONDS } from '../document';
import { FILM_FRAMES } from '../film';

/** Things one after another in a reel. */
export const REEL_ITEMS = 300;
export const REEL_SOUNDS = 50;
/** Lines of a title. */
export const TITLE_LINES = 4;
/** Height of a title's capitals as a share of the picture's. */
export const TITLE_SIZE = { least: 0.01, most: 0.6 } as const;
/** Frames of a join at most. */
export const JOIN_LIMIT = 1000;

/** How something follows what is before it: at once, one picture through the other, or pushed over it from a side. */
export const JOINS = ['cut', 'dissolve', 'wipe'] as const;
/** The side from which a wipe uncovers what comes. */
export const SIDES = ['left', 'right', 'top', 'bottom'] as const;

const id = z.string().regex(/^itm_[A-Za-z0-9_-]{1,40}$/, 'must be an id such as itm_a1');
const name = z.string().trim().min(1).max(NAME_LIMIT);
const share = z.number().min(0).max(1);
const colour = z.tuple([share, share, share]);

export const joinSchema = z.strictObject({
  manner: z.enum(JOINS),
  /** Frames in which both pictures are seen, half of them before the cut; 0 for a cut. */
  frames: z.number().int().min(0).max(JOIN_LIMIT),
  from: z.enum(SIDES),
});

const common = {
  id,
  /** Frames of the reel. */
  frames: z.number().int().min(1).max(FILM_FRAMES),
  /** How it follows what is before it; the first of all follows a black picture. */
  join: joinSchema,
};

export const shotItemSchema = z.strictObject({
  ...common,
  kind: z.literal('shot'),
  shot: z.uuid(),
  /** What the shot was called, for when it is gone. */
  name,
  /** Frame of the shot that is shown first. */
  first: z.number().int().min(-FRAME_LIMIT).max(FRAME_LIMIT),
  /** Its sounds are not heard. */
  silent: z.literal(true).optional(),
});

export const titleItemSchema = z.strictObject({
  ...common,
  kind: z.literal('title'),
  /** Written under one another; none is a plain picture. */
  lines: z.array(calloutSchema).max(TITLE_LINES),
  /** Height of a capital as a share of the picture's height. */
  size: z.number().min(TITLE_SIZE.least).max(TITLE_SIZE.most),
  ink: colour,
  ground: colour,
});

/** A sound that runs across shots. */
export const reelSoundSchema = z.strictObject({
  id: z.string().regex(/^snd_[A-Za-z0-9_-]{1,40}$/, 'must be an id such as snd_a1'),
  name,
  asset,
  /** Frame of the reel at which it begins. */
  start: z.number().int().min(-FRAME_LIMIT).max(FRAME_LIMIT),
  /** Seconds of the file that are left out at its beginning, and that are played; missing, to its end. */
  from: z.number().min(0).max(SOUND_SECONDS),
  length: z.number().min(0.01).max(SOUND_SECONDS).optional(),
  /** 1 is as loud as the file. */
  level: z.number().min(0).max(4),
  fadeIn: z.number().min(0).max(SOUND_SECONDS),
  fadeOut: z.number().min(0).max(SOUND_SECONDS),
});

const setup = setupSchema.shape;

/** Shots and titles one after another. */
export const reelSchema = z.strictObject({
  format: z.literal('whirl-reel'),
  version: z.literal(1),
  rate: setup.rate,
  width: setup.width,
  height: setup.height,
  items: z.array(z.discriminatedUnion('kind', [shotItemSchema, titleItemSchema])).max(REEL_ITEMS),
  sounds: z.array(reelSoundSchema).max(REEL_SOUNDS),
});

type DeepReadonly<T> = T extends object ? { readonly [K in keyof T]: DeepReadonly<T[K]> } : T;

export type Reel = DeepReadonly<z.infer<typeof reelSchema>>;
export type ReelItem = Reel['items'][number];
export type ShotItem = DeepReadonly<z.infer<typeof shotItemSchema>>;
export type TitleItem = DeepReadonly<z.infer<typeof titleItemSchema>>;
export type ReelSound = Reel['sounds'][number];
export type Join = ReelItem['join'];
export type JoinManner = Join['manner'];

export const CUT: Join = { manner: 'cut', frames: 0, from: 'left' };

export const emptyReel = (): Reel => ({
  format: 'whirl-reel',
  version: 1,
  rate: { num: 24, den: 1 },
  width: 1280,
  height: 720,
  items: [],
  sounds: [],
});
