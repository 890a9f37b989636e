import { Router } from 'express';
import { readBytes, readSmall, soundId } from '../body';
import type { Desk } from '../desk/desk';
import { notFound, readBody } from '../problem';
import type { Database } from '../store/database';
import {
  createProject,
  duplicateProject,
  duplicateShot,
  listProjects,
  rename,
  setDeleted,
  type Renamable,
} from '../store/projects';
import { DOCUMENT_BYTES } from '../store/shots';
import { named } from '../../wire';

/** Projects and the shots and reels in them: list, make, rename, duplicate, delete and bring back. */
export function projectRoutes(db: Database, desk: Desk): Router {
  const router = Router();
  router.param('id', soundId);

  router.get('/projects', async (_request, response) => {
    response.json(await listProjects(db));
  });

  router.post('/projects', async (request, response) => {
    response
      .status(201)
      .json({ id: await createProject(db, readBody(named, await readSmall(request, response)).name) });
  });

  router.post('/projects/:id/shots', async (request, response) => {
    const body = await readBytes(request, response, DOCUMENT_BYTES, 'A shot');
    response.status(201).json(await desk.do(request.params.id, 'newShot', request.params.id, body));
  });

  router.post('/projects/:id/duplicate', async (request, response) => {
    const id = await duplicateProject(db, request.params.id);
    if (id === null) throw notFound('The project');
    response.status(201).json({ id });
  });

  router.post('/shots/:id/duplicate', async (request, response) => {
    const id = await duplicateShot(db, request.params.id);
    if (id === null) throw notFound('The shot');
    response.status(201).json({ id });
  });

  for (const [path, table, words] of [
    ['projects', 'project', 'The project'],
    ['shots', 'shot', 'The shot'],
    ['reels', 'reel', 'The reel'],
  ] as [string, Renamable, string][]) {
    router.patch(`/${path}/:id`, async (request, response) => {
      if (
        !(await rename(
          db,
          table,
          request.params.id,
          readBody(named, await readSmall(request, response)).name,
        ))
      )
        throw notFound(words);
      response.status(204).end();
    });
    router.delete(`/${path}/:id`, async (request, response) => {
      if (!(await setDeleted(db, table, request.params.id, true))) throw notFound(words);
      response.status(204).end();
    });
    router.post(`/${path}/:id/restore`, async (request, response) => {
      if (!(await setDeleted(db, table, request.params.id, false))) throw notFound(words);
      response.status(204).end();
    });
  }
  return router;
}
