import { OWN_MANNERS, type OwnManner } from '../../wire';
import { inTransaction, type Database, type Queryable } from './database';

/** Own ways to move of a project, the latest first; `null` when there is no such project. */
export async function listManners(db: Queryable, project: string): Promise<OwnManner[] | null> {
  const { rows } = await db.query<{ name: string | null; shape: OwnManner['shape'] }>(
    `select m.name, m.shape from project p left join project_manner m on m.project_id = p.id
     where p.id = $1 and p.deleted_at is null order by m.kept_at desc`,
    [project],
  );
  if (rows.length === 0) return null;
  return rows.flatMap(({ name, shape }) => (name === null ? [] : [{ name, shape }]));
}

/**
 * Keeps a way to move; one of the same name is replaced.
 * @returns `full` when the project holds as many as it may, `gone` when there is no such project
 */
export function keepManner(
  pool: Database,
  project: string,
  { name, shape }: OwnManner,
): Promise<'kept' | 'full' | 'gone'> {
  return inTransaction(pool, async (client) => {
    const { rowCount } = await client.query(
      'select 1 from project where id = $1 and deleted_at is null for update',
      [project],
    );
    if (rowCount !== 1) return 'gone';
    const { rows } = await client.query<{ count: number }>(
      'select count(*)::int as count from project_manner where project_id = $1 and name <> $2',
      [project, name],
    );
    if (rows[0]!.count >= OWN_MANNERS) return 'full';
    await client.query(
      `insert into project_manner (project_id, name, shape) values ($1, $2, $3)
       on conflict (project_id, name) do update set shape = excluded.shape, kept_at = clock_timestamp()`,
      [project, name, shape],
    );
    return 'kept';
  });
}

/** @returns whether there was one of this name */
export async function removeManner(db: Queryable, project: string, name: string): Promise<boolean> {
  const { rowCount } = await db.query('delete from project_manner where project_id = $1 and name = $2', [
    project,
    name,
  ]);
  return rowCount === 1;
}

/** Gives a copy of a project the ways to move of the first. */
export async function copyManners(db: Queryable, from: string, to: string): Promise<void> {
  await db.query(
    `insert into project_manner (project_id, name, shape, kept_at)
     select $2::uuid, name, shape, kept_at from project_manner where project_id = $1`,
    [from, to],
  );
}
