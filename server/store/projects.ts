import type { ProjectCard } from '../../wire';
import { inTransaction, type Database, type Queryable } from './database';
import { showCopies } from './inner-shots';
import { copyKept } from './kept-things';
import { copyReels } from './reels';
import { copyShots } from './shots';

/** Projects that are not deleted, last changed first, with their shots and reels. */
export async function listProjects(db: Queryable): Promise<ProjectCard[]> {
  const { rows } = await db.query<ProjectCard>(`
    select p.id, p.name,
      greatest(p.changed_at, max(s.changed_at), (select max(r.changed_at) from reel r where r.project_id = p.id)) as "changedAt",
      coalesce(json_agg(json_build_object(
        'id', s.id, 'name', s.name, 'revision', s.revision, 'changedAt', s.changed_at,
        'first', s.first_frame, 'last', s.last_frame, 'rate', json_build_object('num', s.rate_num, 'den', s.rate_den),
        'width', s.width, 'height', s.height, 'pictureRevision', s.picture_revision
      ) order by s.created_at, s.id) filter (where s.id is not null), '[]') as shots,
      (select coalesce(json_agg(json_build_object(
        'id', r.id, 'name', r.name, 'changedAt', r.changed_at, 'frames', r.frames,
        'rate', json_build_object('num', r.rate_num, 'den', r.rate_den)
      ) order by r.created_at, r.id), '[]') from reel r where r.project_id = p.id and r.deleted_at is null) as reels
    from project p left join shot s on s.project_id = p.id and s.deleted_at is null
    where p.deleted_at is null
    group by p.id
    order by "changedAt" desc`);
  return rows;
}

export async function createProject(db: Queryable, name: string): Promise<string> {
  const { rows } = await db.query<{ id: string }>('insert into project (name) values ($1) returning id', [
    name,
  ]);
  return rows[0]!.id;
}

export type Renamable = 'project' | 'shot' | 'reel';

/** Renames a project, shot or reel. @returns false when there is none */
export async function rename(db: Queryable, table: Renamable, id: string, name: string): Promise<boolean> {
  const { rowCount } = await db.query(
    `update ${table} set name = $2, changed_at = now() where id = $1 and deleted_at is null`,
    [id, name],
  );
  return rowCount === 1;
}

/** Deletes a project, shot or reel so that it can be brought back, or brings it back. @returns false when there is none */
export async function setDeleted(
  db: Queryable,
  table: Renamable,
  id: string,
  deleted: boolean,
): Promise<boolean> {
  const { rowCount } = await db.query(
    `update ${table} set deleted_at = ${deleted ? 'now()' : 'null'} where id = $1 and deleted_at is ${deleted ? '' : 'not '}null`,
    [id],
  );
  return rowCount === 1;
}

/** A copy of a project with all its shots and reels. @returns its id, or null when there is no such project */
export function duplicateProject(pool: Database, id: string): Promise<string | null> {
  return inTransaction(pool, async (client) => {
    const { rows } = await client.query<{ id: string }>(
      `insert into project (name) select left(name, 73) || ' (copy)' from project where id = $1 and deleted_at is null returning id`,
      [id],
    );
    const copy = rows[0]?.id ?? null;
    if (copy === null) return null;
    const { rows: shots } = await client.query<{ id: string }>(
      'select id from shot where project_id = $1 and deleted_at is null order by created_at, id',
      [id],
    );
    const ids = shots.map((shot) => shot.id);
    const copies = await copyShots(client, ids, copy, '');
    const copyOf = new Map(ids.map((shot, i) => [shot, copies[i]!]));
    await showCopies(client, copyOf);
    await copyReels(client, id, copy, copyOf);
    await copyKept(client, id, copy);
    return copy;
  });
}

/** A copy of a shot in its project. @returns its id, or null when there is no such shot */
export async function duplicateShot(pool: Database, id: string): Promise<string | null> {
  const made = await inTransaction(pool, (client) => copyShots(client, [id], null, ' (copy)'));
  return made[0] ?? null;
}
