import { emptyReel, reelFrames, withShots, type Reel } from '../../core/reel';
import type { OpenedReel } from '../../wire';
import type { Queryable } from './database';

interface Row extends Omit<OpenedReel, 'reel'> {
  readonly document: string;
}

/** A reel, or null when there is none (or it is deleted). */
export async function readReel(db: Queryable, id: string): Promise<OpenedReel | null> {
  const { rows } = await db.query<Row>(
    `select r.id, r.name, r.project_id as "projectId", p.name as "projectName", r.revision, r.document
     from reel r join project p on p.id = r.project_id
     where r.id = $1 and r.deleted_at is null and p.deleted_at is null`,
    [id],
  );
  if (!rows[0]) return null;
  const { document, ...rest } = rows[0];
  return { ...rest, reel: JSON.parse(document) as Reel };
}

/** Adds a reel to a project. @returns its id, or null when there is no such project */
export async function createReel(
  db: Queryable,
  project: string,
  name: string,
  reel: Reel = emptyReel(),
): Promise<string | null> {
  const { rows } = await db.query<{ id: string }>(
    `insert into reel (project_id, name, document, frames, rate_num, rate_den)
     select id, $2, $3, $4, $5, $6 from project where id = $1 and deleted_at is null returning id`,
    [project, name, JSON.stringify(reel), reelFrames(reel), reel.rate.num, reel.rate.den],
  );
  return rows[0]?.id ?? null;
}

/**
 * Keeps a reel in place of that of a revision.
 * @returns the revision that it has now, or null when somebody else has kept another one since, or it is gone
 */
export async function keepReel(
  db: Queryable,
  id: string,
  revision: number,
  reel: Reel,
): Promise<number | null> {
  const { rows } = await db.query<{ revision: number }>(
    `update reel set document = $3, frames = $4, rate_num = $5, rate_den = $6, revision = revision + 1, changed_at = now()
     where id = $1 and revision = $2 and deleted_at is null returning revision`,
    [id, revision, JSON.stringify(reel), reelFrames(reel), reel.rate.num, reel.rate.den],
  );
  return rows[0]?.revision ?? null;
}

/** A copy of a reel in its project. @returns its id, or null when there is no such reel */
export async function duplicateReel(db: Queryable, id: string): Promise<string | null> {
  const found = await readReel(db, id);
  return found && createReel(db, found.projectId, `${found.name.slice(0, 73)} (copy)`, found.reel);
}

/** Gives a copy of a project the reels of the first. @param copyOf ids of the copies of its shots by those copied */
export async function copyReels(
  db: Queryable,
  from: string,
  to: string,
  copyOf: ReadonlyMap<string, string>,
): Promise<void> {
  const { rows } = await db.query<{ name: string; document: string }>(
    'select name, document from reel where project_id = $1 and deleted_at is null order by created_at, id',
    [from],
  );
  for (const { name, document } of rows)
    await createReel(db, to, name, withShots(JSON.parse(document) as Reel, copyOf));
}
