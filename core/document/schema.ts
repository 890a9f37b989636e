import { z } from 'zod';
import { AIM_AXES, ROTATION_ORDERS } from '../transform';
import { ANGLE_LIMIT, LENGTH_LIMIT, PART_KINDS, SHAPE_KINDS } from './channel-table';
import { calloutSchema, outlineSchema, textSchema } from './drawing-schema';
import {
  colour,
  frame,
  FRAME_LIMIT,
  id,
  trackSchema,
  value,
  type BLENDS,
  type EXTENDS,
  type handle,
  type HANDLE_KINDS,
  type keySchema,
  type MANNERS,
} from './key-schema';
import type { SURROUNDINGS, videoSchema } from './picture-schema';
import { asset, backdropSchema, pictureSchema } from './picture-schema';

/** Version of the document written by this program. */
export const DOCUMENT_VERSION = 6;

export const NAME_LIMIT = 80;
export const RANGE_LIMIT = 100_000;
export const FORMULA_LIMIT = 2_000;

// A quotation mark would end a quoted name in a formula.
const name = z
  .string()
  .max(NAME_LIMIT, `at most ${NAME_LIMIT} characters`)
  .refine((text) => text.trim() === text && text.length > 0, 'must not be empty or begin or end with a space')
  .refine(
    (text) => !/["\\\p{Cc}]/u.test(text),
    'must not contain quotation marks, backslashes or control characters',
  )
  // Records cannot hold an entry of that name.
  .refine((text) => text !== '__proto__', 'must not be __proto__: choose another name');

export const linkSchema = z.strictObject({
  formula: z.string().max(FORMULA_LIMIT, `at most ${FORMULA_LIMIT} characters`),
  /** Names as they stand in the formula, and the ids they mean. */
  refs: z.record(z.string(), id),
});

const owner = {
  values: z.record(z.string(), value),
  tracks: z.record(z.string(), trackSchema),
  links: z.record(z.string(), linkSchema),
};

/** A part's option to face another part with one of its axes. */
export const aimSchema = z.strictObject({
  target: id,
  axis: z.enum(AIM_AXES),
  /** Axis kept as near to straight up as the aim allows. */
  up: z.enum(AIM_AXES),
});

/** A part's option to be carried along a smooth curve through the children of another part. */
export const followSchema = z.strictObject({
  path: id,
  closed: z.boolean(),
  /** Whether the part turns with the path, its x axis along it. */
  turn: z.boolean(),
});

export const REPEAT_PATTERNS = ['row', 'stack', 'ring'] as const;

/** How a repeat shows its children again and again. */
export const repeatSchema = z.strictObject({
  pattern: z.enum(REPEAT_PATTERNS),
  /** A hub below the repeat whose own place is the step from one copy to the next; for a ring, the spoke. */
  step: id.nullable(),
});

export const CLIP_PLAYS = ['once', 'loop', 'back-and-forth', 'hold'] as const;

export const JOINT_AXES = ['x', 'y', 'z'] as const;

const jointTurn = z.number().min(-ANGLE_LIMIT).max(ANGLE_LIMIT);

/** How far a joint turns about one of its axes, degrees; `held`: it does not turn further, else that is only told. */
export const jointLimitSchema = z
  .strictObject({ least: jointTurn, most: jointTurn, held: z.literal(true).optional() })
  .refine(({ least, most }) => least <= most, 'least must not be above most');

/** Another shot of the project that a part shows, in its own time. */
export const insetSchema = z.strictObject({
  /** Its id among the shots of the server, and what it was called. */
  shot: z.uuid(),
  name,
  /** Frame at which its first frame is shown. */
  start: frame,
  /** Its own speed is 1, whatever the rates of the two are. */
  speed: z.number().min(0.01).max(100),
  plays: z.enum(CLIP_PLAYS),
  /** First frame at which it no longer shows; null goes on for ever. */
  until: frame.nullable(),
  backwards: z.literal(true).optional(),
  /** Its lights shine here, too. */
  lights: z.literal(true).optional(),
  /** Its sounds are not heard here. */
  silent: z.literal(true).optional(),
});

/**
 * How a camera sees where it does not through its lens: all lines of sight side by side, or so that at depth 0 of the
 * world a pixel of a layer (1 cm) is a pixel of the picture.
 */
export const PROJECTIONS = ['parallel', 'pixels'] as const;

export const partSchema = z.strictObject({
  kind: z.enum(PART_KINDS),
  name,
  parent: id.nullable(),
  /** Place among the children of the same parent; any number, smaller first. */
  order: z.number(),
  rotationOrder: z.enum(ROTATION_ORDERS),
  shape: id.nullable(),
  look: id.nullable(),
  aim: aimSchema.optional(),
  follow: followSchema.optional(),
  /** How far it turns, by axis of its rotation. */
  joint: z.partialRecord(z.enum(JOINT_AXES), jointLimitSchema).optional(),
  /** Repeats only. */
  repeat: repeatSchema.optional(),
  /** Shots only. */
  inset: insetSchema.optional(),
  /** Cameras only: missing is through a lens. */
  projection: z.enum(PROJECTIONS).optional(),
  /** Lights only: the part whose glow it follows. */
  glowOf: id.optional(),
  /** Backdrops only. */
  backdrop: backdropSchema.optional(),
  /** Callouts only: what it says. */
  callout: calloutSchema.optional(),
  /** Tray in which the part is kept, with everything below it. */
  tray: id.optional(),
  /** Set while the part may not be chosen or changed in the view. */
  locked: z.literal(true).optional(),
  ...owner,
});

export const PROFILE_LIMIT = 200;
/** Pulleys that a belt may run round. */
export const PULLEY_LIMIT = 40;
export const MESH_FORMATS = ['glb', 'gltf', 'obj', 'stl', 'ply'] as const;

export const shapeSchema = z.strictObject({
  kind: z.enum(SHAPE_KINDS),
  /** Lathes only: from the bottom up, distance from the axis and height in shares of radius and height. */
  profile: z
    .array(z.tuple([z.number().min(0).max(1), z.number().min(0).max(1)]))
    .min(2)
    .max(PROFILE_LIMIT)
    .optional(),
  /** Outlines and letterings only. */
  outline: outlineSchema.optional(),
  /** Letterings only: what `outline` was made from. */
  text: textSchema.optional(),
  /** Belts and chains only: in the order in which they run, x and y of a pulley and its radius; below 0 its back runs on it. */
  pulleys: z
    .array(
      z.tuple([
        z.number().min(-LENGTH_LIMIT).max(LENGTH_LIMIT),
        z.number().min(-LENGTH_LIMIT).max(LENGTH_LIMIT),
        z
          .number()
          .min(-LENGTH_LIMIT)
          .max(LENGTH_LIMIT)
          .refine((radius) => radius !== 0, { error: 'must not be 0' }),
      ]),
    )
    .min(2)
    .max(PULLEY_LIMIT)
    .optional(),
  /** Meshes only: the file and which of its meshes. */
  mesh: z
    .strictObject({
      asset,
      format: z.enum(MESH_FORMATS),
      index: z.number().int().min(0).max(10_000),
      file: z.string().max(200),
    })
    .optional(),
  ...owner,
});

/** Where a look has pictures: all over, or on one face of a box. */
export const PICTURE_PLACES = ['all', 'right', 'left', 'top', 'bottom', 'front', 'back'] as const;
/** What else of a surface a picture can say, in its light and dark: white is all of it, black none. */
export const PICTURE_MAPS = ['roughness', 'metallic', 'normal', 'glow', 'opacity'] as const;
/** Patterns that are made by the program. */
export const PATTERNS = [
  'stripes',
  'checks',
  'dots',
  'gradient',
  'wood',
  'brushed',
  'hammered',
  'ruler',
] as const;
/** How a pattern lies: through the body, in its own measure, or over the surface, as a picture does. */
export const PATTERN_LIES = ['body', 'surface'] as const;
/** What a surface has to do with shadows where it does not both throw and take them. */
export const SHADOWS = ['thrown', 'taken', 'none', 'only'] as const;

export const lookSchema = z.strictObject({
  name,
  pictures: z.partialRecord(z.enum(PICTURE_PLACES), pictureSchema).optional(),
  maps: z.partialRecord(z.enum(PICTURE_MAPS), pictureSchema).optional(),
  pattern: z.strictObject({ kind: z.enum(PATTERNS), lies: z.enum(PATTERN_LIES) }).optional(),
  /** Seen from behind, too. */
  twoSided: z.literal(true).optional(),
  /** `only`: nothing is seen of it but the shadows on it. */
  shadow: z.enum(SHADOWS).optional(),
  ...owner,
});

/** A named set of parts. */
export const traySchema = z.strictObject({
  name,
  order: z.number(),
  /** Put away: not seen in the view, but in the picture all the same. */
  away: z.boolean(),
  /** Its parts may not be chosen or changed in the view. */
  locked: z.boolean(),
  /** Left out of the picture. */
  out: z.boolean(),
});

/** A named frame. */
export const markerSchema = z.strictObject({
  name,
  frame,
  /** A beat of a sound, found or tapped. */
  beat: z.literal(true).optional(),
});
/** Two parts that are meant to touch, with all that hangs from them; both may be the same. */
export const contactSchema = z.strictObject({ a: id, b: id, why: name });
export const dialSchema = z.strictObject({
  name,
  quantity: z.enum(['none', 'length', 'angle', 'time']),
  min: z.number(),
  max: z.number(),
  ...owner,
});

/** Longest file of sound, seconds. */
export const SOUND_SECONDS = 3600;

/** A sound of the shot; formulas read its loudness. */
export const soundSchema = z.strictObject({
  name,
  /** Frame at which it begins. */
  start: frame,
  /** Missing while there are no bytes. */
  asset: asset.optional(),
  /** Seconds of the file that are left out at its beginning. */
  from: z.number().min(0).max(SOUND_SECONDS).optional(),
  /** Seconds that are played of it, once or over and over; missing to its end. */
  length: z.number().min(0.01).max(SOUND_SECONDS).optional(),
  /** Seconds over which it rises from silence at its beginning, and falls into it at its end. */
  fadeIn: z.number().min(0).max(SOUND_SECONDS).optional(),
  fadeOut: z.number().min(0).max(SOUND_SECONDS).optional(),
  /** Begins again at its end, up to the end of the shot. */
  loop: z.literal(true).optional(),
  /** Not heard; formulas read its loudness all the same. */
  muted: z.literal(true).optional(),
  ...owner,
});

/**
 * How a pin holds: a point on a point; `slot`: a point on a line, free to turn; `slide`: the same without turning against
 * the line.
 */
export const PIN_KINDS = ['pin', 'slot', 'slide'] as const;

/** Where the turning point of a part lay in its parent (x, y in metres), and how far it was turned about z (degrees). */
const drawnPose = z.tuple([z.number(), z.number(), z.number()]);

/** Joins a point of a part to a point or a line of another, in the x-y plane of the parent of both. */
export const pinSchema = z.strictObject({
  kind: z.enum(PIN_KINDS),
  /** The part with the point. */
  a: id,
  /** The part with the other point or the line; null is what both hang from. */
  b: id.nullable(),
  /** The pose in which both were drawn: from it, the way in which bars fit together is taken. */
  drawn: z.strictObject({ a: drawnPose, b: drawnPose }),
  ...owner,
});

/** A named set of tracks that can be placed on the timeline any number of times. */
export const clipSchema = z.strictObject({
  name,
  /** Part whose tracks, and those of what hangs below it, the clip was made of. */
  root: id,
  /** Frames of the tracks that are played, `first` up to `last`. */
  first: frame,
  last: frame,
  /** By channel address. */
  tracks: z.record(z.string(), trackSchema),
});

/** One showing of a clip. */
export const placementSchema = z.strictObject({
  clip: id,
  start: frame,
  /** Clip frames per frame of the shot. */
  speed: z.number().min(0.01).max(100),
  plays: z.enum(CLIP_PLAYS),
  /** First frame at which a loop, back-and-forth or hold no longer shows; null goes on for ever. */
  until: frame.nullable(),
  /** Where showings overlap, the one with the higher order counts. */
  order: z.number(),
  /** Frames of the clip that are played, where not all of them are. */
  from: frame.optional(),
  to: frame.optional(),
  /** From the last of them to the first. */
  backwards: z.literal(true).optional(),
  /** Places are turned over across x. */
  mirrored: z.literal(true).optional(),
  /** Not shown; it keeps its place. */
  off: z.literal(true).optional(),
  /** Frames of the shot over which it takes over from what lies below it, and gives back at its end. */
  blendIn: z.number().min(0).max(FRAME_LIMIT).optional(),
  blendOut: z.number().min(0).max(FRAME_LIMIT).optional(),
  /** Owners that are moved instead of those of the clip, by the clip's; what it lacks is not shown. */
  onto: z.record(id, id).optional(),
});

/** What a recipe was made with, so that its numbers are found again when it is edited. */
export const recipeSchema = z.strictObject({
  kind: z.string().max(40),
  /** Parts by the role they have: driver, driven, rod, ... */
  parts: z.record(
    z.string(),
    z.union([id, z.array(id)], { error: 'must be the id of a part, or a list of them' }),
  ),
  numbers: z.record(
    z.string(),
    z.union([z.number(), z.string().max(200), z.boolean(), z.array(z.number())], {
      error: 'must be a number, a word of at most 200 characters, true or false, or a list of numbers',
    }),
  ),
  /** Addresses of the channels that it linked. */
  driven: z.array(z.string()),
  /** Parts that it built, by their places in it. */
  built: z.record(z.string().max(200), id).optional(),
});

/** Units in which lengths are shown; for flat layers 100 pixels are one metre. */
export const LENGTH_UNITS = ['m', 'cm', 'mm', 'px'] as const;

/** Ways to bring bright light into the picture: as it is, ACES filmic, AgX, Khronos PBR Neutral. */
export const TONES = ['none', 'aces', 'agx', 'neutral'] as const;
/** Pictures that a frame can be built up from. */
export const SAMPLE_COUNTS = [1, 2, 4, 8, 16, 32, 64] as const;

export const setupSchema = z.strictObject({
  /** Picture size in pixels. */
  width: z.number().int().min(16).max(8192),
  height: z.number().int().min(16).max(8192),
  rate: z
    .strictObject({ num: z.number().int().min(1).max(1_000_000), den: z.number().int().min(1).max(10_000) })
    .refine(
      (rate) => rate.num / rate.den >= 1 && rate.num / rate.den <= 240,
      'must lie between 1 and 240 frames per second',
    ),
  first: z.number().int().min(-FRAME_LIMIT).max(FRAME_LIMIT),
  last: z.number().int().min(-FRAME_LIMIT).max(FRAME_LIMIT),
  /** Unit in which lengths are shown and plain numbers are read; the document keeps metres. */
  unit: z.enum(LENGTH_UNITS),
  background: colour,
  exposure: z.number().min(0.01).max(100),
  /** How bright light becomes the colours of the picture; missing is `neutral`. */
  tones: z.enum(TONES).optional(),
  /** Pictures that each frame is built up from; missing is 1. */
  samples: z.union(SAMPLE_COUNTS.map((count) => z.literal(count))).optional(),
  camera: id.nullable(),
});

export const shotSchema = z.strictObject({
  format: z.literal('whirl-shot'),
  version: z.literal(DOCUMENT_VERSION),
  setup: setupSchema,
  parts: z.record(id, partSchema),
  shapes: z.record(id, shapeSchema),
  looks: z.record(id, lookSchema),
  dials: z.record(id, dialSchema),
  sounds: z.record(id, soundSchema),
  pins: z.record(id, pinSchema),
  clips: z.record(id, clipSchema),
  placements: z.record(id, placementSchema),
  recipes: z.record(id, recipeSchema),
  trays: z.record(id, traySchema),
  markers: z.record(id, markerSchema),
  contacts: z.record(id, contactSchema),
});

type DeepReadonly<T> = T extends object ? { readonly [K in keyof T]: DeepReadonly<T[K]> } : T;

export type Shot = DeepReadonly<z.infer<typeof shotSchema>>;
export type Setup = Shot['setup'];
export type Part = DeepReadonly<z.infer<typeof partSchema>>;
export type Shape = DeepReadonly<z.infer<typeof shapeSchema>>;
export type Look = DeepReadonly<z.infer<typeof lookSchema>>;
export type Picture = DeepReadonly<z.infer<typeof pictureSchema>>;
export type Video = DeepReadonly<z.infer<typeof videoSchema>>;
export type PicturePlace = (typeof PICTURE_PLACES)[number];
export type Outline = DeepReadonly<z.infer<typeof outlineSchema>>;
export type PictureMap = (typeof PICTURE_MAPS)[number];
export type PatternKind = (typeof PATTERNS)[number];
export type Backdrop = DeepReadonly<z.infer<typeof backdropSchema>>;
export type SurroundingsKind = (typeof SURROUNDINGS)[number];
export type Projection = (typeof PROJECTIONS)[number];
export type Tones = (typeof TONES)[number];
export type Tray = DeepReadonly<z.infer<typeof traySchema>>;
export type Marker = DeepReadonly<z.infer<typeof markerSchema>>;
export type Contact = DeepReadonly<z.infer<typeof contactSchema>>;
export type MeshFormat = (typeof MESH_FORMATS)[number];
export type Dial = DeepReadonly<z.infer<typeof dialSchema>>;
export type Track = DeepReadonly<z.infer<typeof trackSchema>>;
export type Key = DeepReadonly<z.infer<typeof keySchema>>;
export type Handle = DeepReadonly<z.infer<typeof handle>>;
export type Link = DeepReadonly<z.infer<typeof linkSchema>>;
export type Aim = DeepReadonly<z.infer<typeof aimSchema>>;
export type Follow = DeepReadonly<z.infer<typeof followSchema>>;
export type JointAxis = (typeof JOINT_AXES)[number];
export type JointLimit = DeepReadonly<z.infer<typeof jointLimitSchema>>;
export type Joint = NonNullable<Part['joint']>;
export type RepeatOptions = DeepReadonly<z.infer<typeof repeatSchema>>;
export type Sound = DeepReadonly<z.infer<typeof soundSchema>>;
export type Pin = DeepReadonly<z.infer<typeof pinSchema>>;
export type PinKind = (typeof PIN_KINDS)[number];
export type Clip = DeepReadonly<z.infer<typeof clipSchema>>;
export type Callout = DeepReadonly<z.infer<typeof calloutSchema>>;
export type Inset = DeepReadonly<z.infer<typeof insetSchema>>;
export type Placement = DeepReadonly<z.infer<typeof placementSchema>>;
export type Recipe = DeepReadonly<z.infer<typeof recipeSchema>>;
export type HandleKind = (typeof HANDLE_KINDS)[number];
export type Blend = (typeof BLENDS)[number];
/** A channel's value: a number, or a linear colour. */
export type Value = DeepReadonly<z.infer<typeof value>>;
export type Manner = (typeof MANNERS)[number];
export type Extend = (typeof EXTENDS)[number];
/** What parts, shapes, looks, dials, sounds and pins have in common. */
export type Owner = Pick<Part, 'values' | 'tracks' | 'links'>;

/** A shot without any parts: 96 frames at 24 per second, 1280 by 720. */
export function blankShot(setup: Partial<Setup> = {}): Shot {
  return {
    format: 'whirl-shot',
    version: DOCUMENT_VERSION,
    setup: {
      width: 1280,
      height: 720,
      rate: { num: 24, den: 1 },
      first: 1,
      last: 96,
      unit: 'm',
      background: [0.5, 0.5, 0.5],
      exposure: 1,
      camera: null,
      ...setup,
    },
    parts: {},
    shapes: {},
    looks: {},
    dials: {},
    sounds: {},
    pins: {},
    clips: {},
    placements: {},
    recipes: {},
    trays: {},
    markers: {},
    contacts: {},
  };
}
