import { z } from 'zod';
import { ROTATION_ORDERS } from '../transform';
import { PART_KINDS, SHAPE_KINDS } from './channel-table';

/** Version of the document written by this program. */
export const DOCUMENT_VERSION = 1;

export const NAME_LIMIT = 80;
export const FRAME_LIMIT = 1_000_000;
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
  );

const id = z.string().regex(/^(prt|shp|lok|dia|key)_[A-Za-z0-9_-]{1,40}$/, 'must be an id such as prt_a1');
const colour = z.tuple([z.number().min(0).max(1), z.number().min(0).max(1), z.number().min(0).max(1)]);
const value = z.union([z.number(), colour]);
const frame = z.number().min(-FRAME_LIMIT).max(FRAME_LIMIT);

const handle = z.strictObject({
  /** Frames towards the neighbouring key. */
  reach: z
    .number()
    .min(0)
    .max(FRAME_LIMIT * 2),
  /** Value units above the key's value at the handle's end. */
  rise: z.number(),
});

export const MANNERS = ['hold', 'linear', 'curve'] as const;
export const EXTENDS = ['hold', 'straight', 'repeat', 'repeat-adding', 'mirror'] as const;

export const keySchema = z.strictObject({
  frame,
  value,
  /** How the stretch from this key to the next one moves. */
  manner: z.enum(MANNERS),
  /** Handle towards the key before; missing means automatic. */
  left: handle.optional(),
  /** Handle towards the key after; missing means automatic. */
  right: handle.optional(),
});

export const trackSchema = z.strictObject({
  before: z.enum(EXTENDS),
  after: z.enum(EXTENDS),
  keys: z.record(id, keySchema),
});

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

export const partSchema = z.strictObject({
  kind: z.enum(PART_KINDS),
  name,
  parent: id.nullable(),
  /** Place among the children of the same parent; any number, smaller first. */
  order: z.number(),
  rotationOrder: z.enum(ROTATION_ORDERS),
  shape: id.nullable(),
  look: id.nullable(),
  ...owner,
});

export const shapeSchema = z.strictObject({ kind: z.enum(SHAPE_KINDS), ...owner });
export const lookSchema = z.strictObject({ name, ...owner });
export const dialSchema = z.strictObject({
  name,
  quantity: z.enum(['none', 'length', 'angle', 'time']),
  min: z.number(),
  max: z.number(),
  ...owner,
});

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
  unit: z.enum(['m', 'cm', 'mm']),
  background: colour,
  exposure: z.number().min(0.01).max(100),
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
});

type DeepReadonly<T> = T extends object ? { readonly [K in keyof T]: DeepReadonly<T[K]> } : T;

export type Shot = DeepReadonly<z.infer<typeof shotSchema>>;
export type Setup = Shot['setup'];
export type Part = DeepReadonly<z.infer<typeof partSchema>>;
export type Shape = DeepReadonly<z.infer<typeof shapeSchema>>;
export type Look = DeepReadonly<z.infer<typeof lookSchema>>;
export type Dial = DeepReadonly<z.infer<typeof dialSchema>>;
export type Track = DeepReadonly<z.infer<typeof trackSchema>>;
export type Key = DeepReadonly<z.infer<typeof keySchema>>;
export type Handle = DeepReadonly<z.infer<typeof handle>>;
export type Link = DeepReadonly<z.infer<typeof linkSchema>>;
/** A channel's value: a number, or a linear colour. */
export type Value = DeepReadonly<z.infer<typeof value>>;
export type Manner = (typeof MANNERS)[number];
export type Extend = (typeof EXTENDS)[number];
/** What parts, shapes, looks and dials have in common. */
export type Owner = Pick<Part, 'values' | 'tracks' | 'links'>;
