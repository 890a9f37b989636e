import { upgraded, type Shot } from '../../core/document';
import type { KeptChange, OpenedShot } from '../../wire';
import type { Queryable } from './database';

/** A shot with its document, or null when there is none (or it is deleted). */
export async function readShot(db: Queryable, id: string, lock = false): Promise<OpenedShot | null> {
  const { rows } = await db.query<OpenedShot>(
    `select s.id, s.name, s.project_id as "projectId", p.name as "projectName", s.revision, s.document
     from shot s join project p on p.id = s.project_id
     where s.id = $1 and s.deleted_at is null and p.deleted_at is null ${lock ? 'for update of s' : ''}`,
    [id],
  );
  const shot = rows[0];
  return shot ? { ...shot, document: upgraded(shot.document) as Shot } : null;
}

/** Revision of a shot, or null when there is none (or it is deleted). */
export async function readRevision(db: Queryable, id: string): Promise<number | null> {
  const { rows } = await db.query<{ revision: number }>(
    'select revision from shot where id = $1 and deleted_at is null',
    [id],
  );
  return rows[0]?.revision ?? null;
}

export async function createShot(
  db: Queryable,
  projectId: string,
  name: string,
  document: Shot,
): Promise<string> {
  const { rows } = await db.query<{ id: string }>(
    'insert into shot (project_id, name, document) values ($1, $2, $3) returning id',
    [projectId, name, JSON.stringify(document)],
  );
  return rows[0]!.id;
}

/** A copy of a shot in its project. @returns its id, or null when there is no such shot */
export async function duplicateShot(db: Queryable, id: string): Promise<string | null> {
  const { rows } = await db.query<{ id: string }>(
    `insert into shot (project_id, name, document, picture, picture_revision)
     select project_id, left(name, 73) || ' (copy)', document, picture, case when picture is null then null else 0 end
     from shot where id = $1 and deleted_at is null returning id`,
    [id],
  );
  return rows[0]?.id ?? null;
}

/** Changes kept after a revision, oldest first. */
export async function changesSince(db: Queryable, id: string, revision: number): Promise<KeptChange[]> {
  const { rows } = await db.query<KeptChange>(
    `select revision, sender_id as "senderId", label, patches from shot_change where shot_id = $1 and revision > $2 order by revision`,
    [id, revision],
  );
  return rows;
}

/** Which of these ids of changes the shot has already, whatever revision they led to. */
export async function sentBefore(db: Queryable, id: string, ids: readonly string[]): Promise<Set<string>> {
  const { rows } = await db.query<{ id: string }>(
    'select sender_id as id from shot_change where shot_id = $1 and sender_id = any($2::uuid[])',
    [id, ids],
  );
  return new Set(rows.map((row) => row.id));
}

/** Channel on which PostgreSQL tells that a shot has moved on: its id and its revision, with a space between. */
export const SHOT_CHANNEL = 'shot_changed';

/** Stores changes and the document that they lead to; call inside a transaction that holds the shot. */
export async function keepChanges(
  db: Queryable,
  id: string,
  changes: readonly KeptChange[],
  document: Shot,
): Promise<void> {
  const { revision } = changes.at(-1)!;
  await db.query(
    `insert into shot_change (shot_id, revision, sender_id, label, patches)
     select $1, c.revision, c."senderId", c.label, c.patches
     from jsonb_to_recordset($2::jsonb) as c(revision integer, "senderId" uuid, label text, patches jsonb)`,
    [id, JSON.stringify(changes)],
  );
  await db.query('update shot set document = $2, revision = $3, changed_at = now() where id = $1', [
    id,
    JSON.stringify(document),
    revision,
  ]);
  await db.query('select pg_notify($1, $2)', [SHOT_CHANNEL, `${id} ${revision}`]);
}

export async function readPicture(db: Queryable, id: string): Promise<Buffer | null> {
  const { rows } = await db.query<{ picture: Buffer | null }>('select picture from shot where id = $1', [id]);
  return rows[0]?.picture ?? null;
}

export async function keepPicture(
  db: Queryable,
  id: string,
  revision: number,
  picture: Buffer,
): Promise<void> {
  await db.query('update shot set picture = $2, picture_revision = $3 where id = $1', [
    id,
    picture,
    revision,
  ]);
}

/** Cards wait for films: work of a smaller number goes first, and a film's work has 0. */
const CARD_PRIORITY = 10;

/** Asks for a new card picture once the shot has been left alone for a moment. */
export async function askForPicture(db: Queryable, id: string, delaySeconds: number): Promise<void> {
  await db.query(
    `select graphile_worker.add_job('draw_card', json_build_object('shot', $1::text), run_at := now() + $2 * interval '1 second', job_key := 'card:' || $1, max_attempts := 5, priority := $3)`,
    [id, delaySeconds, CARD_PRIORITY],
  );
}
