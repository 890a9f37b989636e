import { Router } from 'express';
import { OWN_MANNERS, ownManner } from '../../wire';
import { readSmall, soundId } from '../body';
import { notFound, Problem, readBody } from '../problem';
import type { Database } from '../store/database';
import { keepManner, listManners, removeManner } from '../store/manners';

/** Ways to move that people keep with their project. */
export function mannerRoutes(db: Database): Router {
  const router = Router();
  router.param('id', soundId);

  router.get('/projects/:id/manners', async (request, response) => {
    const found = await listManners(db, request.params.id);
    if (!found) throw notFound('The project');
    response.json(found);
  });

  router.post('/projects/:id/manners', async (request, response) => {
    const wanted = readBody(ownManner, await readSmall(request, response));
    const done = await keepManner(db, request.params.id, wanted);
    if (done === 'gone') throw notFound('The project');
    if (done === 'full')
      throw new Problem(
        409,
        'full',
        `A project keeps ${OWN_MANNERS} ways to move of its own: remove one that is no longer used.`,
      );
    response.status(201).json(wanted);
  });

  router.delete('/projects/:id/manners/:name', async (request, response) => {
    if (!(await removeManner(db, request.params.id, request.params.name))) throw notFound('The way to move');
    response.status(204).end();
  });
  return router;
}
