import { DEMO_PROJECT, DEMO_SHOTS } from '../demo';
import type { Database } from './store/database';
import { createProject } from './store/projects';
import { askForPicture, createShot } from './store/shots';

/** Loads the demo project once; a demo that somebody has deleted stays away. */
export async function seedDemo(db: Database): Promise<void> {
  const { rowCount } = await db.query(
    `insert into setting (key, value) values ('demo', 'true') on conflict do nothing`,
  );
  if (rowCount !== 1) return;
  const project = await createProject(db, DEMO_PROJECT);
  for (const { name, build } of DEMO_SHOTS) {
    const id = await createShot(db, project, name, build());
    await askForPicture(db, id, 0);
  }
}
