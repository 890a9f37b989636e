import { open } from 'node:fs/promises';
import type { Shot } from '../../core/document';
import {
  RUNNING_STATES,
  type Machine,
  type RenderJob,
  type RenderRequest,
  type RenderStatus,
} from '../../wire';
import { inTransaction, type Database, type Queryable } from './database';
import type { InnerShots } from './inner-shots';

/** Frames that one render machine takes at a time. */
export const STRETCH = 12;
/** Tries at a stretch or an assembly before the render is given up; a machine that dies counts as one. */
export const ATTEMPTS = 6;
/** A film whose frames are all drawn is finished before the frames of another one are begun. */
const ASSEMBLY_PRIORITY = -1;
export const FILM_PIECE = 1 << 20;
/** A machine that has not been heard of for so long is taken for dead, and its work is given to others. */
export const MACHINE_SILENCE_SECONDS = 10;
export const RENDER_CHANNEL = 'whirl_render';

const JOB_COLUMNS = `
  j.id, j.shot_id as "shotId", j.shot_name as "shotName", j.project_name as "projectName", j.status, j.error,
  j.first_frame as first, j.last_frame as last, j.width, j.height, j.format, j.alpha,
  j.quality, j.file_name as "fileName",
  j.created_at as "createdAt", j.started_at as "startedAt", j.finished_at as "finishedAt",
  json_build_object('num', j.rate_num, 'den', j.rate_den) as rate, j.film_type as "filmType",
  j.film_size as "filmSize", j.drawn, j.taken, j.latest`;

/** Makes a job and puts its stretches of frames in the queue. */
export async function createRender(
  pool: Database,
  shot: { id: string; name: string; projectName: string; document: Shot; inner: InnerShots },
  request: RenderRequest,
): Promise<string> {
  return inTransaction(pool, async (client) => {
    const { rows } = await client.query<{ id: string }>(
      `insert into render_job (shot_id, shot_name, project_name, document, first_frame, last_frame, width, height, format, alpha, quality, file_name, rate_num, rate_den, inner_shots)
       values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15) returning id`,
      [
        shot.id,
        shot.name,
        shot.projectName,
        JSON.stringify(shot.document),
        request.first,
        request.last,
        request.width,
        request.height,
        request.format,
        request.alpha,
        request.quality,
        request.fileName,
        shot.document.setup.rate.num,
        shot.document.setup.rate.den,
        JSON.stringify(shot.inner),
      ],
    );
    const id = rows[0]!.id;
    await client.query(
      `select graphile_worker.add_job('draw_frames', json_build_object('job', $1::text, 'first', start, 'last', least(start + $4 - 1, $3::int)), max_attempts := $5)
       from generate_series($2::int, $3::int, $4::int) as start`,
      [id, request.first, request.last, STRETCH, ATTEMPTS],
    );
    return id;
  });
}

export async function listRenders(db: Queryable): Promise<RenderJob[]> {
  const { rows } = await db.query<RenderJob>(
    `select ${JOB_COLUMNS} from render_job j order by j.created_at desc limit 200`,
  );
  return rows;
}

export async function readRender(db: Queryable, id: string): Promise<RenderJob | null> {
  const { rows } = await db.query<RenderJob>(`select ${JOB_COLUMNS} from render_job j where j.id = $1`, [id]);
  return rows[0] ?? null;
}

export async function readRenderDocument(db: Queryable, id: string): Promise<Shot | null> {
  const { rows } = await db.query<{ document: string }>('select document from render_job where id = $1', [
    id,
  ]);
  return rows[0] ? (JSON.parse(rows[0].document) as Shot) : null;
}

/** The shots that are shown in a film's shot, as they were when it was ordered. */
export async function readRenderInner(db: Queryable, id: string): Promise<InnerShots> {
  const { rows } = await db.query<{ inner: string }>(
    'select inner_shots as inner from render_job where id = $1',
    [id],
  );
  return rows[0] ? (JSON.parse(rows[0].inner) as InnerShots) : {};
}

/** Tells every server that a job has changed. */
export async function announce(db: Queryable, id: string): Promise<void> {
  await db.query('select pg_notify($1, $2)', [RENDER_CHANNEL, id]);
}

/** Moves a job on from one of the given states. @returns false when it was in none of them */
export async function setStatus(
  db: Queryable,
  id: string,
  from: readonly RenderStatus[],
  to: RenderStatus,
  error: string | null = null,
): Promise<boolean> {
  const { rowCount } = await db.query(
    `update render_job set status = $3, error = $4,
       started_at = case when $3 = 'drawing' then coalesce(started_at, now()) else started_at end,
       finished_at = case when $3 in ('done', 'failed', 'cancelled') then now() end
     where id = $1 and status = any($2)`,
    [id, from, to, error],
  );
  if (rowCount === 1) await announce(db, id);
  return rowCount === 1;
}

export async function deleteRender(db: Queryable, id: string): Promise<boolean> {
  const { rowCount } = await db.query(
    `delete from render_job where id = $1 and status in ('done', 'failed', 'cancelled')`,
    [id],
  );
  return rowCount === 1;
}

/** Frames of `[first, last]` not drawn yet. */
export async function missingFrames(
  db: Queryable,
  id: string,
  first: number,
  last: number,
): Promise<number[]> {
  const { rows } = await db.query<{ frame: number }>(
    `select n as frame from generate_series($2::int, $3::int) n
     where not exists (select 1 from render_frame f where f.job_id = $1 and f.frame = n) order by n`,
    [id, first, last],
  );
  return rows.map((row) => row.frame);
}

/**
 * Stores a drawn frame; drawing it twice is harmless.
 * @param meaning hash of what it shows and of what it is drawn with, 64 hexadecimal digits
 */
export async function keepFrame(
  db: Queryable,
  id: string,
  frame: number,
  picture: Buffer,
  machine: string,
  meaning: string,
): Promise<void> {
  await db.query(
    `with put as (
       insert into render_frame (job_id, frame, picture, machine, meaning) values ($1, $2, $3, $4, $5)
       on conflict (job_id, frame) do nothing returning frame
     ) update render_job set drawn = drawn + 1, latest = put.frame from put where id = $1`,
    [id, frame, picture, machine, meaning],
  );
  await announce(db, id);
}

/** Takes a frame over from one that means the same, of any film. @returns whether there was one */
export async function takeOverFrame(
  db: Queryable,
  id: string,
  frame: number,
  meaning: string,
): Promise<boolean> {
  const { rowCount } = await db.query(
    `with put as (
       insert into render_frame (job_id, frame, picture, machine, meaning)
       select $1, $2, picture, machine, meaning from render_frame where meaning = $3 limit 1
       on conflict (job_id, frame) do nothing returning frame
     ) update render_job set drawn = drawn + 1, taken = taken + 1, latest = put.frame from put where id = $1`,
    [id, frame, meaning],
  );
  if (rowCount === 1) await announce(db, id);
  return rowCount === 1;
}

export async function readFrame(db: Queryable, id: string, frame: number): Promise<Buffer | null> {
  const { rows } = await db.query<{ picture: Buffer }>(
    'select picture from render_frame where job_id = $1 and frame = $2',
    [id, frame],
  );
  return rows[0]?.picture ?? null;
}

/**
 * Puts the assembly of a job in the queue when all its frames are there. The job's row is locked meanwhile, so that
 * of two machines that finish together just one does it.
 */
export async function assembleWhenComplete(pool: Database, id: string): Promise<void> {
  await inTransaction(pool, async (client) => {
    const { rows } = await client.query<{ status: RenderStatus; wanted: number }>(
      'select status, last_frame - first_frame + 1 as wanted from render_job where id = $1 for update',
      [id],
    );
    const { rows: counted } = await client.query<{ drawn: number }>(
      'select count(*)::int as drawn from render_frame where job_id = $1',
      [id],
    );
    const job = rows[0];
    if (!job || !['waiting', 'drawing'].includes(job.status) || counted[0]!.drawn < job.wanted) return;
    await client.query(`update render_job set status = 'assembling' where id = $1`, [id]);
    await client.query(
      `select graphile_worker.add_job('assemble_film', json_build_object('job', $1::text), max_attempts := $2, priority := $3)`,
      [id, ATTEMPTS, ASSEMBLY_PRIORITY],
    );
    await announce(client, id);
  });
}

/** Stores a finished film, read from a file piece by piece, and ends the job. */
export async function keepFilm(pool: Database, id: string, type: string, path: string): Promise<void> {
  const file = await open(path);
  try {
    await inTransaction(pool, async (client) => {
      await client.query('delete from render_film where job_id = $1', [id]);
      let size = 0;
      for (let piece = 0; ; piece++) {
        const { bytesRead, buffer } = await file.read({ buffer: Buffer.alloc(FILM_PIECE), position: size });
        if (bytesRead === 0) break;
        size += bytesRead;
        await client.query('insert into render_film (job_id, piece, bytes) values ($1, $2, $3)', [
          id,
          piece,
          buffer.subarray(0, bytesRead),
        ]);
      }
      await client.query('update render_job set film_type = $2, film_size = $3 where id = $1', [
        id,
        type,
        size,
      ]);
      await setStatus(client, id, ['assembling'], 'done');
    });
  } finally {
    await file.close();
  }
}

/** Bytes `[from, to)` of a film, piece by piece. */
export async function* readFilm(db: Queryable, id: string, from: number, to: number): AsyncGenerator<Buffer> {
  for (let piece = Math.floor(from / FILM_PIECE); piece * FILM_PIECE < to; piece++) {
    const { rows } = await db.query<{ bytes: Buffer }>(
      'select bytes from render_film where job_id = $1 and piece = $2',
      [id, piece],
    );
    const start = piece * FILM_PIECE;
    yield rows[0]!.bytes.subarray(Math.max(0, from - start), to - start);
  }
}

/** Render machines heard of lately. */
export async function listMachines(db: Queryable): Promise<Machine[]> {
  const { rows } = await db.query<Machine>(
    `select name, drawing_library as "drawingLibrary" from render_machine where seen_at > now() - $1 * interval '1 second' order by name`,
    [MACHINE_SILENCE_SECONDS],
  );
  return rows;
}

/** A machine says that it is there, and takes work away from machines that have fallen silent. */
export async function reportMachine(
  db: Queryable,
  workerId: string,
  name: string,
  library: string | null,
): Promise<void> {
  await db.query(
    `insert into render_machine (worker_id, name, drawing_library) values ($1, $2, $3)
     on conflict (worker_id) do update set seen_at = now(), drawing_library = excluded.drawing_library`,
    [workerId, name, library],
  );
  await db.query(
    `with silent as (
       delete from render_machine where seen_at < now() - $1 * interval '1 second' returning worker_id
     ) select graphile_worker.force_unlock_workers(array_agg(worker_id)) from silent having count(*) > 0`,
    [MACHINE_SILENCE_SECONDS],
  );
}

export async function forgetMachine(db: Queryable, workerId: string): Promise<void> {
  await db.query('delete from render_machine where worker_id = $1', [workerId]);
}

/**
 * Ends films that nobody works on any more: a stretch of theirs has been tried as often as it may, by machines that
 * died over it, or nothing of theirs is in the queue. @returns ids of the films
 */
export async function giveUpDead(db: Queryable): Promise<string[]> {
  const { rows } = await db.query<{ id: string }>(
    `with work as materialized (
       select q.payload ->> 'job' as job, q.attempts >= q.max_attempts and q.locked_at is null as dead
       from graphile_worker._private_jobs q join graphile_worker._private_tasks t on t.id = q.task_id
       where t.identifier in ('draw_frames', 'assemble_film')
     )
     update render_job j set status = 'failed', finished_at = now(), error = $1
     where status = any($2) and created_at < now() - interval '10 seconds' and (
       exists (select 1 from work where job = j.id::text and dead)
       or not exists (select 1 from work where job = j.id::text)
     ) returning id`,
    [
      `A part of it was given up: the machines that worked on it ended ${ATTEMPTS} times. Smaller pictures need less memory; the log of the render machine says more.`,
      RUNNING_STATES,
    ],
  );
  for (const { id } of rows) await announce(db, id);
  return rows.map((row) => row.id);
}
