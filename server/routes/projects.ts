import { Router } from 'express';
import { newShot } from '../new-shot';
import { notFound, Problem, readBody } from '../problem';
import type { Database } from '../store/database';
import {
  createProject,
  duplicateProject,
  listProjects,
  rename,
  setDeleted,
  type Renamable,
} from '../store/projects';
import { askForPicture, createShot, duplicateShot } from '../store/shots';
import { parseShot } from '../../core/document';
import { named, newShotBody } from '../../wire';

/** Projects and the shots in them: list, make, rename, duplicate, delete and bring back. */
export function projectRoutes(db: Database): Router {
  const router = Router();

  router.get('/projects', async (_request, response) => {
    response.json(await listProjects(db));
  });

  router.post('/projects', async (request, response) => {
    response.status(201).json({ id: await createProject(db, readBody(named, request.body).name) });
  });

  router.post('/projects/:id/shots', async (request, response) => {
    const body = readBody(newShotBody, request.body);
    const parsed =
      body.document === undefined ? { ok: true as const, shot: newShot() } : parseShot(body.document);
    if (!parsed.ok)
      throw new Problem(422, 'bad-document', parsed.problems[0]!.message, { errors: parsed.problems });
    const exists = (await listProjects(db)).some((project) => project.id === request.params.id);
    if (!exists) throw notFound('The project');
    const id = await createShot(db, request.params.id, body.name, parsed.shot);
    await askForPicture(db, id, 0);
    response.status(201).json({ id });
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
  ] as [string, Renamable, string][]) {
    router.patch(`/${path}/:id`, async (request, response) => {
      if (!(await rename(db, table, request.params.id, readBody(named, request.body).name)))
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
