import type { Shot } from '../../core/document';
import type { Reel } from '../../core/reel';
import {
  RUNNING_STATES,
  WORKED_STATES,
  type RenderJob,
  type RenderRequest,
  type RenderStatus,
} from '../../wire';
import type { Turn } from '../../wire';
import { inTransaction, type Database, type Queryable } from './database';
import type { InnerShots } from './inner-shots';
import {
  ASSEMBLE,
  ATTEMPTS,
  DRAW,
  FRAME_TRIES,
  queueAssembly,
  queueStretches,
  takeBackWork,
} from './stretches';

export const RENDER_CHANNEL = 'whirl_render';

const JOB_COLUMNS = `
  j.id, j.shot_id as "shotId", j.reel_id as "reelId", j.shot_name as "shotName", j.project_name as "projectName", j.status, j.error,
  j.first_frame as first, j.last_frame as last, j.width, j.height, j.format, j.alpha,
  j.quality, j.file_name as "fileName", j.samples, j.effects, j.fresh,
  j.created_at as "createdAt", j.started_at as "startedAt", j.finished_at as "finishedAt",
  json_build_object('num', j.rate_num, 'den', j.rate_den) as rate, j.film_type as "filmType",
  j.film_size as "filmSize", j.drawn, j.taken, j.latest, j.library, j.turn, j.skipped,
  (select count(*)::int from render_trouble r where r.job_id = j.id and r.tries >= ${FRAME_TRIES}) as troubled`;

/** What a film is made of: a shot, or a reel whose shots are among the inner ones. */
export type FilmOf = { readonly id: string; readonly name: string; readonly projectName: string } & {
  readonly inner: InnerShots;
} & ({ readonly document: Shot } | { readonly reel: Reel });

/** Makes a job and puts its stretches of frames in the queue. */
export async function createRender(pool: Database, of: FilmOf, request: RenderRequest): Promise<string> {
  const { rate } = 'reel' in of ? of.reel : of.document.setup;
  return inTransaction(pool, async (client) => {
    const { rows } = await client.query<{ id: string }>(
      `insert into render_job (shot_id, reel_id, shot_name, project_name, document, reel, first_frame, last_frame, width, height, format, alpha, quality, file_name, rate_num, rate_den, inner_shots, samples, effects, fresh)
       values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17, $18, $19, $20) returning id`,
      [
        'reel' in of ? null : of.id,
        'reel' in of ? of.id : null,
        of.name,
        of.projectName,
        'reel' in of ? null : JSON.stringify(of.document),
        'reel' in of ? JSON.stringify(of.reel) : null,
        request.first,
        request.last,
        request.width,
        request.height,
        request.format,
        request.alpha,
        request.quality,
        request.fileName,
        rate.num,
        rate.den,
        JSON.stringify(of.inner),
        request.samples,
        request.effects,
        request.fresh,
      ],
    );
    const id = rows[0]!.id;
    await queueStretches(client, id);
    await queueAssembly(client, id, 'along');
    const count = request.last - request.first + 1;
    await noteEvent(client, id, `Ordered: ${count === 1 ? 'one frame' : `${count} frames`}.`);
    return id;
  });
}

/** Notes in words what happened to a film. */
export async function noteEvent(db: Queryable, id: string, words: string): Promise<void> {
  await db.query('insert into render_event (job_id, words) values ($1, $2)', [id, words.slice(0, 1000)]);
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

/** State of a film alone, which is asked for before every frame. */
export async function readStatus(db: Queryable, id: string): Promise<RenderStatus | null> {
  const { rows } = await db.query<{ status: RenderStatus }>('select status from render_job where id = $1', [
    id,
  ]);
  return rows[0]?.status ?? null;
}

/** What a film is made of, as it was when it was ordered. */
export async function readFilmOf(
  db: Queryable,
  id: string,
): Promise<{
  readonly document: Shot | null;
  readonly reel: Reel | null;
  readonly inner: InnerShots;
} | null> {
  const { rows } = await db.query<{ document: string | null; reel: string | null; inner: string }>(
    'select document, reel, inner_shots as inner from render_job where id = $1',
    [id],
  );
  if (!rows[0]) return null;
  const { document, reel, inner } = rows[0];
  return {
    document: document === null ? null : (JSON.parse(document) as Shot),
    reel: reel === null ? null : (JSON.parse(reel) as Reel),
    inner: JSON.parse(inner) as InnerShots,
  };
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

/** Ends a film as failed. */
export async function failRender(db: Queryable, id: string, reason: string): Promise<void> {
  if (!(await setStatus(db, id, WORKED_STATES, 'failed', reason.slice(0, 1000)))) return;
  await takeBackWork(db, id);
  await noteEvent(db, id, `Failed: ${reason}`);
}

/** @returns whether it was running */
export function cancelRender(pool: Database, id: string): Promise<boolean> {
  return inTransaction(pool, async (client) => {
    if (!(await setStatus(client, id, RUNNING_STATES, 'cancelled'))) return false;
    await takeBackWork(client, id);
    await noteEvent(client, id, 'Cancelled.');
    return true;
  });
}

/** Lets a film wait: the frame that is being drawn is drawn to its end. @returns whether it could */
export function pauseRender(pool: Database, id: string, reason: string | null = null): Promise<boolean> {
  return inTransaction(pool, async (client) => {
    if (!(await setStatus(client, id, ['waiting', 'drawing'], 'paused', reason))) return false;
    await takeBackWork(client, id);
    await noteEvent(client, id, reason === null ? 'Paused.' : `Paused: ${reason}`);
    return true;
  });
}

/** Goes on with a film that waits, in one of the states `from`. @returns whether it could */
async function goOn(
  pool: Database,
  id: string,
  from: readonly RenderStatus[],
  words: string,
  fresh: boolean,
): Promise<boolean> {
  const can = await inTransaction(pool, async (client) => {
    if (!(await setStatus(client, id, from, 'drawing'))) return false;
    if (fresh) await client.query('delete from render_trouble where job_id = $1', [id]);
    await queueStretches(client, id);
    await queueAssembly(client, id, 'along');
    await noteEvent(client, id, words);
    return true;
  });
  // The frame that was on its way when it was paused may have been the last one.
  if (can) await assembleWhenComplete(pool, id);
  return can;
}

/** Goes on with a film that was paused. @returns whether it could */
export const resumeRender = (pool: Database, id: string): Promise<boolean> =>
  goOn(pool, id, ['paused'], 'Goes on.', false);

/** Tries again what could not be drawn, or all that is missing of a film that has failed. @returns whether it could */
export const retryRender = (pool: Database, id: string): Promise<boolean> =>
  goOn(pool, id, ['held', 'failed'], 'Tried again.', true);

/** Goes on without the frames that could not be drawn. @returns whether there are such, and others to show instead */
export async function skipFrames(pool: Database, id: string): Promise<boolean> {
  const can = await inTransaction(pool, async (client) => {
    const { rowCount } = await client.query(
      `select 1 from render_job where id = $1 and status = 'held' and drawn > 0 for update`,
      [id],
    );
    if (rowCount !== 1) return false;
    const count = await skipTroubled(client, id);
    await setStatus(client, id, ['held'], 'drawing');
    await noteEvent(
      client,
      id,
      count === 1
        ? 'One frame is skipped: the nearest one is shown in its place.'
        : `${count} frames are skipped: the nearest ones are shown in their place.`,
    );
    return true;
  });
  if (can) await assembleWhenComplete(pool, id);
  return can;
}

/**
 * Shows, in place of each frame that was given up, the nearest one before it, or after it.
 * @returns how many
 */
async function skipTroubled(db: Queryable, id: string): Promise<number> {
  const { rowCount } = await db.query(
    `with near as (
       select r.frame as at, n.* from render_trouble r cross join lateral (
         select f.picture, f.file, f.size, f.machine from render_frame f where f.job_id = r.job_id and not f.skipped
         order by f.frame > r.frame, abs(f.frame - r.frame) limit 1
       ) n where r.job_id = $1 and r.tries >= $2
     ), put as (
       insert into render_frame (job_id, frame, picture, file, size, machine, skipped)
       select $1, at, picture, file, size, machine, true from near on conflict (job_id, frame) do nothing returning frame
     ), well as (
       delete from render_trouble r using put where r.job_id = $1 and r.frame = put.frame
     ), counted as (
       update render_job set drawn = drawn + c.n, skipped = skipped + c.n from (select count(*)::int as n from put) c where id = $1
     ) select frame from put`,
    [id, FRAME_TRIES],
  );
  return rowCount ?? 0;
}

/** Lets go of all frames of a film, and of its drawing library, and draws it with what is there. @returns whether it could */
export function drawAnew(pool: Database, id: string): Promise<boolean> {
  return inTransaction(pool, async (client) => {
    if (!(await setStatus(client, id, ['waiting', 'drawing', 'paused', 'held'], 'waiting'))) return false;
    await client.query('delete from render_frame where job_id = $1', [id]);
    await client.query('delete from render_trouble where job_id = $1', [id]);
    await client.query(
      'update render_job set library = null, drawn = 0, taken = 0, skipped = 0, latest = null where id = $1',
      [id],
    );
    await takeBackWork(client, id);
    await queueStretches(client, id);
    await queueAssembly(client, id, 'along');
    await noteEvent(client, id, 'Begun anew: its frames were let go.');
    return true;
  });
}

/** Gives a film another turn. @returns whether it is running */
export function setTurn(pool: Database, id: string, turn: Turn): Promise<boolean> {
  return inTransaction(pool, async (client) => {
    const { rows } = await client.query<{ status: RenderStatus }>(
      'update render_job set turn = $2 where id = $1 and status = any($3) returning status',
      [id, turn, RUNNING_STATES],
    );
    const status = rows[0]?.status;
    if (!status) return false;
    if (status === 'waiting' || status === 'drawing') await queueStretches(client, id);
    await announce(client, id);
    return true;
  });
}

/**
 * Takes a film for a drawing library, if none has it yet.
 * @returns the library that all frames of the film are drawn with
 */
export async function claimLibrary(db: Queryable, id: string, library: string): Promise<string> {
  const { rows } = await db.query<{ library: string }>(
    'update render_job set library = coalesce(library, $2) where id = $1 returning library',
    [id, library],
  );
  return rows[0]?.library ?? library;
}

export async function deleteRender(db: Queryable, id: string): Promise<boolean> {
  const { rowCount } = await db.query(
    `delete from render_job where id = $1 and status in ('done', 'failed', 'cancelled')`,
    [id],
  );
  return rowCount === 1;
}

/**
 * Has a film put together when all its frames are there, or says that it waits for somebody's word when the rest could
 * not be drawn. The job's row is locked meanwhile, so that of two machines that finish together just one does it.
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
    const { rows: troubles } = await client.query<{ frame: number; reason: string }>(
      'select frame, reason from render_trouble where job_id = $1 and tries >= $2 order by frame',
      [id, FRAME_TRIES],
    );
    const job = rows[0];
    const drawn = counted[0]!.drawn;
    if (!job || !['waiting', 'drawing'].includes(job.status) || drawn + troubles.length < job.wanted) return;
    if (drawn < job.wanted) {
      const frames = troubles.map((trouble) => trouble.frame);
      const told = frames.length > 8 ? `${frames.slice(0, 8).join(', ')} and more` : frames.join(', ');
      const words = `${frames.length === 1 ? `Frame ${told}` : `${frames.length} frames (${told})`} could not be drawn: ${troubles[0]!.reason}`;
      await setStatus(client, id, ['waiting', 'drawing'], 'held', words.slice(0, 1000));
      await takeBackWork(client, id);
      return;
    }
    await setStatus(client, id, ['waiting', 'drawing'], 'assembling');
    await queueAssembly(client, id, 'complete');
    await noteEvent(client, id, 'All frames are there.');
  });
}

/**
 * Ends films that nobody works on any more: a stretch of theirs has been tried as often as it may, by machines that
 * died over it, or nothing of theirs is in the queue. @returns ids of the films
 */
export async function giveUpDead(db: Queryable): Promise<string[]> {
  const reason = `A part of it was given up: the machines that worked on it ended ${ATTEMPTS} times. Smaller pictures need less memory; the log of the render machine says more.`;
  const { rows } = await db.query<{ id: string }>(
    `with work as materialized (
       select q.payload ->> 'job' as job, q.attempts >= q.max_attempts and q.locked_at is null as dead
       from graphile_worker._private_jobs q join graphile_worker._private_tasks t on t.id = q.task_id
       where t.identifier in ('${DRAW}', '${ASSEMBLE}')
     )
     update render_job j set status = 'failed', finished_at = now(), error = $1
     where status = any($2) and created_at < now() - interval '10 seconds' and (
       exists (select 1 from work where job = j.id::text and dead)
       or not exists (select 1 from work where job = j.id::text)
     ) returning id`,
    [reason, WORKED_STATES],
  );
  for (const { id } of rows) {
    await noteEvent(db, id, `Failed: ${reason}`);
    await announce(db, id);
  }
  return rows.map((row) => row.id);
}
