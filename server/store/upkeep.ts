import { CLEARED, CLEARED_KINDS, type Amounts, type Cleared, type Room, type UpkeepReport } from '../../wire';
import type { FileStore } from '../files';
import { looseFiles, sweepFiles } from '../files/sweep';
import { inTransaction, type Database, type Queryable } from './database';

/** How the room that each kind takes is found, in bytes. Files are counted once, whoever names them. */
const ROOM_OF: Record<Room, string> = {
  documents: `select pg_total_relation_size('shot_snapshot')`,
  changes: `select pg_total_relation_size('shot_change')`,
  files: `select coalesce(sum(size), 0)::bigint from asset`,
  frames: `select (coalesce((select sum(size) from (select distinct file, size from render_frame where file is not null) f), 0)
    + coalesce((select sum(size) from render_frame where file is null), 0))::bigint`,
  films: `select coalesce(sum(film_size), 0)::bigint from render_job where film_type is not null`,
};

const NOTHING = Object.fromEntries(CLEARED_KINDS.map((kind) => [kind, { count: 0, bytes: 0 }])) as Amounts;

const older = (column: string, kind: Cleared): string =>
  `${column} < now() - interval '${CLEARED[kind].days} days'`;

/** Frames of films that are over; the last one drawn stays as the film's picture in the list. */
const FRAMES = `f.job_id = j.id and f.frame is distinct from j.latest and ${older('j.finished_at', 'frames')}`;
const DEAD_WORK = `from graphile_worker._private_jobs
  where attempts >= max_attempts and locked_at is null and ${older('run_at', 'work')}`;

/**
 * Hashes of the stored files that some shot, film or kept look names: as it is, in its history, or deleted but not yet cleared.
 * Texts are searched one shot after the other, so that no more than one document is held.
 */
async function namedFiles(db: Queryable): Promise<Set<string>> {
  const named = new Set<string>();
  const search = async (sql: string, values: unknown[]): Promise<void> => {
    const { rows } = await db.query<{ hash: string }>(sql, values);
    for (const { hash } of rows) named.add(hash);
  };
  const { rows: shots } = await db.query<{ id: string }>('select id from shot');
  for (const { id } of shots) {
    await search(
      `select distinct (regexp_matches(convert_from(bytes, 'UTF8'), '"([0-9a-f]{64})"', 'g'))[1] as hash
       from (select string_agg(bytes, '' order by piece) as bytes from shot_snapshot where shot_id = $1 group by revision) s`,
      [id],
    );
    await search(
      `select distinct (regexp_matches(patches, '"([0-9a-f]{64})"', 'g'))[1] as hash from shot_change where shot_id = $1`,
      [id],
    );
  }
  const { rows: films } = await db.query<{ id: string }>('select id from render_job');
  for (const { id } of films)
    await search(
      `select distinct (regexp_matches(coalesce(document, reel) || inner_shots, '"([0-9a-f]{64})"', 'g'))[1] as hash from render_job where id = $1`,
      [id],
    );
  await search(
    `select distinct (regexp_matches(document, '"([0-9a-f]{64})"', 'g'))[1] as hash from reel`,
    [],
  );
  await search(
    `select distinct (regexp_matches(look::text, '"([0-9a-f]{64})"', 'g'))[1] as hash from project_look`,
    [],
  );
  return named;
}

async function unnamedFiles(db: Queryable): Promise<{ hash: string; bytes: number }[]> {
  const { rows } = await db.query<{ hash: string; bytes: number }>(
    `select hash, size as bytes from asset where ${older('created_at', 'files')}`,
  );
  if (rows.length === 0) return [];
  const named = await namedFiles(db);
  return rows.filter(({ hash }) => !named.has(hash));
}

async function amount(db: Queryable, sql: string): Promise<{ count: number; bytes: number }> {
  const { rows } = await db.query<{ count: number; bytes: number }>(sql);
  return { count: rows[0]!.count, bytes: Number(rows[0]!.bytes) };
}

const DELETED_SHOTS = `select s.id from shot s join project p on p.id = s.project_id
  where ${older('coalesce(s.deleted_at, p.deleted_at)', 'deletions')}`;

/** What would be cleared now. */
export async function whatIsDue(db: Queryable, store: FileStore): Promise<Amounts> {
  const files = await unnamedFiles(db);
  const loose = await looseFiles(db, store);
  return {
    frames: await amount(
      db,
      `select count(*)::int as count, coalesce(sum(f.size), 0) as bytes
       from render_frame f join render_job j on ${FRAMES}`,
    ),
    deletions: await amount(
      db,
      `select (select count(*)::int from (${DELETED_SHOTS}) s)
         + (select count(*)::int from project where ${older('deleted_at', 'deletions')})
         + (select count(*)::int from reel where ${older('deleted_at', 'deletions')}) as count,
         (select coalesce(sum(document_size), 0) from shot where id in (${DELETED_SHOTS})) as bytes`,
    ),
    files: { count: files.length, bytes: files.reduce((sum, file) => sum + file.bytes, 0) },
    loose: { count: loose.length, bytes: loose.reduce((sum, file) => sum + file.size, 0) },
    work: await amount(db, `select count(*)::int as count, 0 as bytes ${DEAD_WORK}`),
  };
}

/** Room that is taken, what is due, and when was the last time. */
export async function readUpkeep(db: Queryable, store: FileStore): Promise<UpkeepReport> {
  const sizes = await Promise.all(
    Object.entries(ROOM_OF).map(async ([kind, sql]) => {
      const { rows } = await db.query<{ bytes: number }>(`select (${sql}) as bytes`);
      return [kind, Number(rows[0]!.bytes)] as const;
    }),
  );
  const { rows } = await db.query<{ total: number; last: UpkeepReport['last'] }>(
    `select pg_database_size(current_database()) as total, (select value from setting where key = 'upkeep') as last`,
  );
  const { last } = rows[0]!;
  const room = Object.fromEntries(sizes) as UpkeepReport['room'];
  return {
    room,
    total: rows[0]!.total + room.files + room.frames + room.films,
    place: store.place,
    free: await store.room(),
    due: await whatIsDue(db, store),
    // An earlier Whirl may not have known all kinds.
    last: last && { at: last.at, cleared: { ...NOTHING, ...last.cleared } },
  };
}

/**
 * Clears what is due, which may be much: give it a patient pool. Two that clear at once wait for each other.
 * @returns what went
 */
export async function clearDue(pool: Database, store: FileStore): Promise<Amounts> {
  const cleared = await clearRows(pool, store);
  const swept = await sweepFiles(pool, store);
  const whole = {
    ...cleared,
    loose: { count: swept.length, bytes: swept.reduce((sum, file) => sum + file.size, 0) },
  };
  await pool.query(
    `insert into setting (key, value) values ('upkeep', $1) on conflict (key) do update set value = excluded.value`,
    [JSON.stringify({ at: new Date().toISOString(), cleared: whole })],
  );
  return whole;
}

function clearRows(pool: Database, store: FileStore): Promise<Amounts> {
  return inTransaction(pool, async (client) => {
    await client.query('select pg_advisory_xact_lock(hashtext($1))', ['upkeep']);
    const due = await whatIsDue(client, store);
    await client.query(`delete from render_frame f using render_job j where ${FRAMES}`);
    await client.query(`delete from shot where id in (${DELETED_SHOTS})`);
    await client.query(`delete from reel where ${older('deleted_at', 'deletions')}`);
    await client.query(`delete from project where ${older('deleted_at', 'deletions')}`);
    // After the shots: what only they named goes with them.
    const files = await unnamedFiles(client);
    await client.query(`delete from asset where hash = any($1) and ${older('created_at', 'files')}`, [
      files.map((file) => file.hash),
    ]);
    await client.query(
      `select graphile_worker.complete_jobs(array_agg(id)) from (select id ${DEAD_WORK}) dead having count(*) > 0`,
    );
    const cleared = {
      ...due,
      files: { count: files.length, bytes: files.reduce((sum, file) => sum + file.bytes, 0) },
    };
    return cleared;
  });
}
