import { Router } from 'express';
import { z } from 'zod';
import { parseShot, type Shot } from '../../core/document';
import { apply, type Change } from '../../core/edit';
import { notFound, Problem, readBody } from '../problem';
import { inTransaction, type Database } from '../store/database';
import { askForPicture, changesSince, keepChange, readPicture, readShot } from '../store/shots';

/** Seconds that a shot is left alone before its card picture is drawn again. */
const PICTURE_DELAY = 6;
const CHANGES_AT_ONCE = 500;

const patch = z.strictObject({
  path: z.array(z.string().max(120)).min(1).max(8),
  before: z.unknown().optional(),
  after: z.unknown().optional(),
});
const changesBody = z.strictObject({
  base: z.number().int().min(0),
  changes: z
    .array(z.strictObject({ id: z.uuid(), label: z.string().max(200), patches: z.array(patch).max(20_000) }))
    .min(1)
    .max(CHANGES_AT_ONCE),
});

function applied(document: Shot, change: Change): Shot {
  let next: unknown;
  try {
    next = apply(document, change);
  } catch (error) {
    throw new Problem(422, 'change-does-not-fit', error instanceof Error ? error.message : String(error));
  }
  const parsed = parseShot(next);
  if (!parsed.ok)
    throw new Problem(
      422,
      'bad-document',
      `"${change.label}" was refused. ${parsed.problems[0]!.path}: ${parsed.problems[0]!.message}`,
      { errors: parsed.problems },
    );
  return parsed.shot;
}

/** Opening a shot and keeping its changes. */
export function shotRoutes(db: Database): Router {
  const router = Router();

  router.get('/shots/:id', async (request, response) => {
    const shot = await readShot(db, request.params.id);
    if (!shot) throw notFound('The shot');
    response.json(shot);
  });

  router.get('/shots/:id/changes', async (request, response) => {
    const since = readBody(z.coerce.number().int().min(0), request.query.since ?? 0);
    response.json(await changesSince(db, request.params.id, since));
  });

  router.post('/shots/:id/changes', async (request, response) => {
    const { base, changes } = readBody(changesBody, request.body);
    const answer = await inTransaction(db, async (client) => {
      const shot = await readShot(client, request.params.id, true);
      if (!shot) throw notFound('The shot');
      const missed = await changesSince(client, shot.id, base);
      const known = new Set(missed.map((change) => change.senderId));
      const fresh = changes.filter((change) => !known.has(change.id));
      // What the sender has missed that is not its own, sent twice after a lost answer.
      const foreign = missed.filter((change) => !changes.some((sent) => sent.id === change.senderId));
      if (base > shot.revision)
        throw new Problem(
          409,
          'base-unknown',
          `Revision ${base} is not known here: the shot is at ${shot.revision}.`,
          { revision: shot.revision, missed: [] },
        );
      if (foreign.length > 0)
        throw new Problem(409, 'stale', `The shot has moved on to revision ${shot.revision}.`, {
          revision: shot.revision,
          missed,
        });
      let { document, revision } = shot;
      for (const { id, label, patches } of fresh) {
        document = applied(document, { label, patches });
        revision += 1;
        await keepChange(client, shot.id, { revision, senderId: id, label, patches }, document);
      }
      if (fresh.length > 0) await askForPicture(client, shot.id, PICTURE_DELAY);
      return { revision };
    });
    response.json(answer);
  });

  router.get('/shots/:id/picture', async (request, response) => {
    const picture = await readPicture(db, request.params.id);
    if (!picture) throw notFound('The picture');
    response.set('Cache-Control', 'private, max-age=31536000, immutable').type('image/png').send(picture);
  });

  return router;
}
