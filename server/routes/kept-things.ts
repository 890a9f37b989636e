import { Router } from 'express';
import type { ZodType } from 'zod';
import { KEPT_KINDS, KEPT_LIMIT, ownLook, ownManner, ownPose, ownPreset, type KeptKind } from '../../wire';
import { readSmall, soundId } from '../body';
import { notFound, Problem, readBody } from '../problem';
import type { Database } from '../store/database';
import { keepThing, listKept, removeKept, type KeptThing } from '../store/kept-things';

const WORDS: Record<KeptKind, { readonly one: string; readonly many: string }> = {
  manners: { one: 'The way to move', many: 'ways to move' },
  looks: { one: 'The look', many: 'looks' },
  presets: { one: 'The preset', many: 'presets' },
  poses: { one: 'The pose', many: 'poses' },
};
const SCHEMAS: Record<KeptKind, ZodType<KeptThing>> = {
  manners: ownManner,
  looks: ownLook,
  presets: ownPreset,
  poses: ownPose,
};

/** Ways to move, looks, ways to make films and poses that people keep with their project. */
export function keptRoutes(db: Database): Router {
  const router = Router();
  router.param('id', soundId);
  for (const kind of KEPT_KINDS) {
    router.get(`/projects/:id/${kind}`, async (request, response) => {
      const found = await listKept(db, kind, request.params.id);
      if (!found) throw notFound('The project');
      response.json(found);
    });

    router.post(`/projects/:id/${kind}`, async (request, response) => {
      const wanted = readBody(SCHEMAS[kind], await readSmall(request, response));
      const done = await keepThing(db, kind, request.params.id, wanted);
      if (done === 'gone') throw notFound('The project');
      if (done === 'full')
        throw new Problem(
          409,
          'full',
          `A project keeps ${KEPT_LIMIT} ${WORDS[kind].many} of its own: remove one that is no longer used.`,
        );
      response.status(201).json(wanted);
    });

    router.delete(`/projects/:id/${kind}/:name`, async (request, response) => {
      if (!(await removeKept(db, kind, request.params.id, request.params.name)))
        throw notFound(WORDS[kind].one);
      response.status(204).end();
    });
  }
  return router;
}
