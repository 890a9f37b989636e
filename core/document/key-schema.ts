import { z } from 'zod';
import { EASING_NAMES } from '../easing';

export const FRAME_LIMIT = 1_000_000;
/** Largest rise of a handle or an easing, either way: beyond it curves lose themselves in rounding. */
export const RISE_LIMIT = 1e12;

export const id = z
  .string()
  .regex(
    /^(prt|shp|lok|dia|key|snd|clp|plc|rcp|try|mrk|pin|con)_[A-Za-z0-9_-]{1,40}$/,
    'must be an id such as prt_a1',
  );
export const colour = z.tuple([z.number().min(0).max(1), z.number().min(0).max(1), z.number().min(0).max(1)]);
export const value = z.union([z.number(), colour], {
  error: 'must be a number, or a colour: red, green and blue from 0 to 1',
});
const rise = z.number().min(-RISE_LIMIT).max(RISE_LIMIT);
const rises = z.union([rise, z.tuple([rise, rise, rise])], {
  error: `must be a number from -${RISE_LIMIT} to ${RISE_LIMIT}, or three such numbers for a colour`,
});
export const frame = z.number().min(-FRAME_LIMIT).max(FRAME_LIMIT);

export const handle = z.strictObject({
  /** Frames towards the neighbouring key. */
  reach: z
    .number()
    .min(0)
    .max(FRAME_LIMIT * 2),
  /** Value units above the key's value at the handle's end; for a colour one each, in the coordinates it blends in. */
  rise: rises,
});

/** How a stretch moves: held, straight, by the handles of its keys, or by a named easing equation. */
export const MANNERS = ['hold', 'linear', 'curve', ...EASING_NAMES] as const;
/**
 * How the handles of a key lie. `auto` never overshoots a key, `smooth` runs through it, `flat` is level; these are
 * worked out where no handle is stored. `aligned` keeps both stored handles in line, `free` does not.
 */
export const HANDLE_KINDS = ['auto', 'smooth', 'flat', 'aligned', 'free'] as const;
/** How colours blend between keys: in linear light, or evenly to the eye (OKLab). */
export const BLENDS = ['linear', 'oklab'] as const;
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
  handles: z.enum(HANDLE_KINDS).optional(),
  /**
   * The part of a named easing that the stretch shows, left when a key is put into an eased stretch: shares of the
   * easing's time, and the rise that the whole easing had.
   */
  piece: z
    .strictObject({
      from: z.number().min(0).max(1),
      to: z.number().min(0).max(1),
      gain: rises,
    })
    .optional(),
});

export const trackSchema = z.strictObject({
  before: z.enum(EXTENDS),
  after: z.enum(EXTENDS),
  /** For colours; missing means linear light. */
  blend: z.enum(BLENDS).optional(),
  keys: z.record(id, keySchema),
});
