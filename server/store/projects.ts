import type { ProjectCard } from '../../wire';
import type { Queryable } from './database';

/** Projects that are not deleted, last changed first, with their shots. */
export async function listProjects(db: Queryable): Promise<ProjectCard[]> {
  const { rows } = await db.query<ProjectCard>(`
    select p.id, p.name,
      greatest(p.changed_at, max(s.changed_at)) as "changedAt",
      coalesce(json_agg(json_build_object(
        'id', s.id, 'name', s.name, 'revision', s.revision, 'changedAt', s.changed_at,
        'first', s.document #> '{setup,first}', 'last', s.document #> '{setup,last}', 'rate', s.document #> '{setup,rate}',
        'width', s.document #> '{setup,width}', 'height', s.document #> '{setup,height}',
        'pictureRevision', s.picture_revision
      ) order by s.created_at, s.id) filter (where s.id is not null), '[]') as shots
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

export type Renamable = 'project' | 'shot';

/** Renames a project or shot. @returns false when there is none */
export async function rename(db: Queryable, table: Renamable, id: string, name: string): Promise<boolean> {
  const { rowCount } = await db.query(
    `update ${table} set name = $2, changed_at = now() where id = $1 and deleted_at is null`,
    [id, name],
  );
  return rowCount === 1;
}

/** Deletes a project or shot so that it can be brought back, or brings it back. @returns false when there is none */
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

/** A copy of a project with all its shots. @returns its id, or null when there is no such project */
export async function duplicateProject(db: Queryable, id: string): Promise<string | null> {
  const { rows } = await db.query<{ id: string }>(
    `with made as (
       insert into project (name) select left(name, 73) || ' (copy)' from project where id = $1 and deleted_at is null returning id
     ), copied as (
       insert into shot (project_id, name, document, picture, picture_revision)
       select made.id, s.name, s.document, s.picture, case when s.picture is null then null else 0 end
       from shot s, made where s.project_id = $1 and s.deleted_at is null
       order by s.created_at
     ) select id from made`,
    [id],
  );
  return rows[0]?.id ?? null;
}
