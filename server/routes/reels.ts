import { Router } from 'express';
import { newReelBody, reelBody } from '../../wire';
import { readBytes, soundId } from '../body';
import type { Desk } from '../desk/desk';
import { notFound, Problem, readBody, readJson } from '../problem';
import type { Database } from '../store/database';
import { createReel, duplicateReel, keepReel, readReel } from '../store/reels';
import { readRender } from '../store/renders';

/** Bytes that a reel may have; most of them are the letters of its titles. */
const REEL_BYTES = 8 * 1024 * 1024;
const REQUEST_BYTES = 100 * 1024;

/** Reels: make, open, keep, and order their films. */
export function reelRoutes(db: Database, desk: Desk): Router {
  const router = Router();
  router.param('id', soundId);

  router.post('/projects/:id/reels', async (request, response) => {
    const { name, reel } = readBody(
      newReelBody,
      readJson(await readBytes(request, response, REEL_BYTES, 'A reel')),
    );
    const id = await createReel(db, request.params.id, name, reel);
    if (id === null) throw notFound('The project');
    response.status(201).json({ id });
  });

  router.get('/reels/:id', async (request, response) => {
    const found = await readReel(db, request.params.id);
    if (!found) throw notFound('The reel');
    response.set('Cache-Control', 'no-store').json(found);
  });

  router.put('/reels/:id', async (request, response) => {
    const { id } = request.params;
    const body = readBody(reelBody, readJson(await readBytes(request, response, REEL_BYTES, 'A reel')));
    const revision = await keepReel(db, id, body.revision, body.reel);
    if (revision === null) {
      const now = await readReel(db, id);
      if (!now) throw notFound('The reel');
      throw new Problem(
        409,
        'changed',
        `Somebody else has changed the reel: it is at revision ${now.revision} now, yours began at ${body.revision}.`,
        { revision: now.revision },
      );
    }
    response.json({ revision });
  });

  router.post('/reels/:id/duplicate', async (request, response) => {
    const id = await duplicateReel(db, request.params.id);
    if (id === null) throw notFound('The reel');
    response.status(201).json({ id });
  });

  router.post('/reels/:id/renders', async (request, response) => {
    const body = await readBytes(request, response, REQUEST_BYTES, 'The order of a film');
    const { id } = request.params;
    response.status(201).json(await readRender(db, await desk.do(id, 'startReel', id, body)));
  });

  return router;
}
