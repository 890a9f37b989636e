import { Router } from 'express';
import type { FileStore } from '../files';
import type { Database } from '../store/database';
import { clearDue, readUpkeep } from '../store/upkeep';

/** Room that is taken, and clearing what nobody needs. */
export function upkeepRoutes(db: Database, files: FileStore): Router {
  const router = Router();
  router.get('/upkeep', async (_request, response) => {
    response.json(await readUpkeep(db, files));
  });
  router.post('/upkeep', async (_request, response) => {
    await clearDue(db, files);
    response.json(await readUpkeep(db, files));
  });
  return router;
}
