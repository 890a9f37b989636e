import { DEMO_PROJECT, DEMO_SHOTS } from '../demo';
import { fileKind } from '../core/format';
import { keepAsset } from './store/assets';
import { inTransaction, type Database, type Queryable } from './store/database';
import { createProject } from './store/projects';
import { askForPicture, createShot } from './store/shots';

/** What the first version of the demo held, for databases that only know that it was loaded. */
const FIRST_SHOTS: readonly string[] = ['Full ride'];

async function loadedShots(db: Queryable): Promise<readonly string[] | null> {
  const { rows } = await db.query<{ value: boolean | string[] }>(
    `select value from setting where key = 'demo' for update`,
  );
  if (!rows[0]) return null;
  return Array.isArray(rows[0].value) ? rows[0].value : FIRST_SHOTS;
}

async function demoProject(db: Queryable): Promise<string | null> {
  const { rows } = await db.query<{ id: string }>(
    'select id from project where name = $1 and deleted_at is null order by created_at limit 1',
    [DEMO_PROJECT],
  );
  return rows[0]?.id ?? null;
}

/**
 * Loads the demo project once. Shots that came with a newer version are added to it; a demo, or a shot of it, that
 * somebody has deleted stays away.
 */
export async function seedDemo(db: Database): Promise<void> {
  await inTransaction(db, async (client) => {
    await client.query('select pg_advisory_xact_lock(hashtext($1))', ['demo']);
    const loaded = await loadedShots(client);
    const fresh = DEMO_SHOTS.filter((shot) => !loaded?.includes(shot.name));
    if (fresh.length === 0) return;
    const project = loaded === null ? await createProject(client, DEMO_PROJECT) : await demoProject(client);
    if (project !== null)
      for (const { name, build, files } of fresh) {
        const document = build();
        for (const file of files()) {
          const found = fileKind(file.bytes);
          const picture = Object.values(document.looks)
            .flatMap((look) => Object.values(look.pictures ?? {}))
            .find((entry) => entry.asset === file.hash);
          if (found.kind === 'picture' && picture)
            await keepAsset(client, Buffer.from(file.bytes), {
              type: found.type,
              width: picture.width,
              height: picture.height,
              alpha: picture.alpha,
            });
        }
        const id = await createShot(client, project, name, document);
        if (id !== null) await askForPicture(client, id, 0);
      }
    await client.query(
      `insert into setting (key, value) values ('demo', $1) on conflict (key) do update set value = excluded.value`,
      [JSON.stringify(DEMO_SHOTS.map((shot) => shot.name))],
    );
  });
}
