import { Router } from 'express';
import { SOUND_TABLES, type SoundTable } from '../../wire';
import { soundHash } from '../body';
import { notFound, Problem } from '../problem';
import type { Database } from '../store/database';
import { readSoundFacts, readSoundTable } from '../store/sounds';

/** What is known of sounds, and what was worked out of them. */
export function soundRoutes(db: Database): Router {
  const router = Router();
  router.param('hash', soundHash);

  router.get('/sounds/:hash', async (request, response) => {
    const facts = await readSoundFacts(db, request.params.hash);
    if (!facts) throw notFound('The sound');
    response.json(facts);
  });

  router.get('/sounds/:hash/:table', async (request, response) => {
    const table = request.params.table as SoundTable;
    if (!SOUND_TABLES.includes(table)) throw notFound(`"${table}" of the sound`);
    const bytes = await readSoundTable(db, request.params.hash, table);
    if (!bytes) {
      if (!(await readSoundFacts(db, request.params.hash))) throw notFound('The sound');
      throw new Problem(409, 'not-read', 'The sound has not been read yet: ask again in a moment.');
    }
    response
      .set('Cache-Control', 'private, max-age=31536000, immutable')
      .type('application/octet-stream')
      .send(bytes);
  });
  return router;
}
