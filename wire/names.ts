import { z } from 'zod';

/** Characters of the name of a project or a shot. */
export const NAME_LIMIT = 80;

/** A text that PostgreSQL can store: without NUL and without halves of characters. */
export const storable = z
  .string()
  .refine((text) => !/\0|\p{Surrogate}/u.test(text), 'may not hold NUL or half a character');

export const name = storable
  .trim()
  .min(1, 'a name is needed')
  .max(NAME_LIMIT, `a name may have ${NAME_LIMIT} characters`);
