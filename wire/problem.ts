import { z } from 'zod';

/** A refusal, as every answer of the server with a status of 400 or more is. RFC 9457. */
export const problemDocument = z.looseObject({
  title: z.string().optional(),
  status: z.number().optional(),
  /** Short name of the kind of refusal, for programs. */
  code: z.string(),
  /** A sentence for people. */
  detail: z.string(),
});
