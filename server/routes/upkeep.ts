import { Router } from 'express';
import type { Database } from '../store/database';
import { clearDue, readUpkeep } from '../store/upkeep';

/** Room that is taken, and clearing what nobody needs. */
export function upkeepRoutes(db: Database): Router {
  const router = Router();
  router.get('/upkeep', async (_request, response) => {
    response.json(await readUpkeep(db));
  });
  router.post('/upkeep', async (_request, response) => {
    await clearDue(db);
    response.json(await readUpkeep(db));
  });
  return router;
}
