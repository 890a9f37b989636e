import { DEMO_PROJECT, DEMO_REEL, demoReel, demoShotId, DEMO_SHOTS } from '../demo';
import type { Shot } from '../core/document';
import { fileKind } from '../core/format';
import type { FileStore } from './files';
import { keepAsset } from './store/assets';
import { inTransaction, type Database, type Queryable } from './store/database';
import { createProject } from './store/projects';
import { createReel } from './store/reels';
import { askForPicture, createShot } from './store/shots';
import { noteSound } from './store/sounds';

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

/** Ids of the demo's shots that are loaded already, by those that they show one another by. */
async function loadedIds(db: Queryable, project: string): Promise<Map<string, string>> {
  const { rows } = await db.query<{ id: string; name: string }>(
    'select id, name from shot where project_id = $1 and deleted_at is null',
    [project],
  );
  return new Map(rows.map(({ id, name }) => [demoShotId(name), id]));
}

/** A shot that shows others by the ids that they have here. */
function shown(shot: Shot, idOf: ReadonlyMap<string, string>): Shot {
  const parts = Object.entries(shot.parts).map(([id, part]) => {
    const { inset } = part;
    return [
      id,
      inset ? { ...part, inset: { ...inset, shot: idOf.get(inset.shot) ?? inset.shot } } : part,
    ] as const;
  });
  return { ...shot, parts: Object.fromEntries(parts) };
}

/** How long a WAV file of the demo is, and how many channels it has: fields of its format chunk. */
function wavFacts(bytes: Uint8Array): { seconds: number; channels: number } {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  return { channels: view.getUint16(22, true), seconds: view.getUint32(40, true) / view.getUint32(28, true) };
}

/**
 * Loads the demo project once. Shots and reels that came with a newer version are added to it; a demo, or a piece of it, that
 * somebody has deleted stays away.
 */
export async function seedDemo(db: Database, store: FileStore): Promise<void> {
  await inTransaction(db, async (client) => {
    await client.query('select pg_advisory_xact_lock(hashtext($1))', ['demo']);
    const loaded = await loadedShots(client);
    const fresh = DEMO_SHOTS.filter((shot) => !loaded?.includes(shot.name));
    const reelLoaded = loaded?.includes(DEMO_REEL) === true;
    if (fresh.length === 0 && reelLoaded) return;
    const project = loaded === null ? await createProject(client, DEMO_PROJECT) : await demoProject(client);
    const idOf = project === null ? new Map<string, string>() : await loadedIds(client, project);
    if (project !== null)
      for (const { name, build, files } of fresh) {
        const document = shown(build(), idOf);
        for (const file of files()) {
          const found = fileKind(file.bytes);
          if (found.kind === 'sound') {
            const kept = await keepAsset(client, store, Buffer.from(file.bytes), {
              type: found.type,
              width: null,
              height: null,
              alpha: null,
            });
            await noteSound(client, kept.hash, wavFacts(file.bytes));
          }
          const picture = Object.values(document.looks)
            .flatMap((look) => Object.values(look.pictures ?? {}))
            .find((entry) => entry.asset === file.hash);
          if (found.kind === 'picture' && picture)
            await keepAsset(client, store, Buffer.from(file.bytes), {
              type: found.type,
              width: picture.width,
              height: picture.height,
              alpha: picture.alpha,
            });
        }
        const id = await createShot(client, project, name, document);
        if (id === null) continue;
        idOf.set(demoShotId(name), id);
        await askForPicture(client, id, 0);
      }
    if (project !== null && !reelLoaded)
      await createReel(
        client,
        project,
        DEMO_REEL,
        demoReel((name) => idOf.get(demoShotId(name))),
      );
    await client.query(
      `insert into setting (key, value) values ('demo', $1) on conflict (key) do update set value = excluded.value`,
      [JSON.stringify([...DEMO_SHOTS.map((shot) => shot.name), DEMO_REEL])],
    );
  });
}
