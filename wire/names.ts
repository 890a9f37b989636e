import { z } from 'zod';

/** Characters of the name of a project or a shot. */
export const NAME_LIMIT = 80;

export const name = z
  .string()
  .trim()
  .min(1, 'a name is needed')
  .max(NAME_LIMIT, `a name may have ${NAME_LIMIT} characters`);
