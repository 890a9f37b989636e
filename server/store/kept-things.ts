import { KEPT_LIMIT, type KeptKind } from '../../wire';
import { inTransaction, type Database, type Queryable } from './database';

/** Where things that are kept with a project lie. */
const TABLES: Record<KeptKind, { readonly table: string; readonly column: string }> = {
  manners: { table: 'project_manner', column: 'shape' },
  looks: { table: 'project_look', column: 'look' },
  presets: { table: 'project_preset', column: 'preset' },
  poses: { table: 'project_pose', column: 'pose' },
};

/** Something that is kept under a name: what else there is of it is in the field that its kind names. */
export type KeptThing = { readonly name: string } & Readonly<Record<string, unknown>>;

/** Things of a kind that a project keeps, the latest first; `null` when there is no such project. */
export async function listKept(db: Queryable, kind: KeptKind, project: string): Promise<KeptThing[] | null> {
  const { table, column } = TABLES[kind];
  const { rows } = await db.query<{ name: string | null; what: unknown }>(
    `select m.name, m.${column} as what from project p left join ${table} m on m.project_id = p.id
     where p.id = $1 and p.deleted_at is null order by m.kept_at desc`,
    [project],
  );
  if (rows.length === 0) return null;
  return rows.flatMap(({ name, what }) => (name === null ? [] : [{ name, [column]: what }]));
}

/**
 * Keeps something; what has the same name is replaced.
 * @returns `full` when the project holds as many as it may, `gone` when there is no such project
 */
export function keepThing(
  pool: Database,
  kind: KeptKind,
  project: string,
  thing: KeptThing,
): Promise<'kept' | 'full' | 'gone'> {
  const { table, column } = TABLES[kind];
  return inTransaction(pool, async (client) => {
    const { rowCount } = await client.query(
      'select 1 from project where id = $1 and deleted_at is null for update',
      [project],
    );
    if (rowCount !== 1) return 'gone';
    const { rows } = await client.query<{ count: number }>(
      `select count(*)::int as count from ${table} where project_id = $1 and name <> $2`,
      [project, thing.name],
    );
    if (rows[0]!.count >= KEPT_LIMIT) return 'full';
    await client.query(
      `insert into ${table} (project_id, name, ${column}) values ($1, $2, $3)
       on conflict (project_id, name) do update set ${column} = excluded.${column}, kept_at = clock_timestamp()`,
      [project, thing.name, thing[column]],
    );
    return 'kept';
  });
}

/** @returns whether there was one of this name */
export async function removeKept(
  db: Queryable,
  kind: KeptKind,
  project: string,
  name: string,
): Promise<boolean> {
  const { table } = TABLES[kind];
  const { rowCount } = await db.query(`delete from ${table} where project_id = $1 and name = $2`, [
    project,
    name,
  ]);
  return rowCount === 1;
}

/** Gives a copy of a project all that the first keeps. */
export async function copyKept(db: Queryable, from: string, to: string): Promise<void> {
  for (const { table, column } of Object.values(TABLES))
    await db.query(
      `insert into ${table} (project_id, name, ${column}, kept_at)
       select $2::uuid, name, ${column}, kept_at from ${table} where project_id = $1`,
      [from, to],
    );
}
