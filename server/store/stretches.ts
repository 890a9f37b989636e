import { TURNS, type Turn } from '../../wire';
import type { Queryable } from './database';

/** Frames that one render machine takes at a time. */
export const STRETCH = 12;
/** Tries at a stretch or an assembly before the render is given up; a machine that dies counts as one. */
export const ATTEMPTS = 6;
/** Tries at a frame before it is left until somebody has had a look. */
export const FRAME_TRIES = 3;

/** Films that are complete are finished before those that are written while they are drawn. */
const COMPLETE = -1;
const ALONG = 5;
/** Places in the queue that each turn has: the queue counts in 16 bits. */
const TURN_PLACES = 20_000;

export const DRAW = 'draw_frames';
export const ASSEMBLE = 'assemble_film';
export const DRAW_CARD = 'draw_card';

const WAITING_WORK = `from graphile_worker._private_jobs q join graphile_worker._private_tasks t on t.id = q.task_id
  where q.locked_at is null`;

/** Word by which the queue keeps work from machines that draw with another library. */
export const libraryFlag = (library: string): string => `drawn by ${library}`;

/** Frames in runs that follow each other, cut into stretches. */
export function stretchesOf(frames: readonly number[], most = STRETCH): { first: number; last: number }[] {
  const found: { first: number; last: number }[] = [];
  for (const frame of frames) {
    const open = found.at(-1);
    if (open && frame === open.last + 1 && frame - open.first < most) open.last = frame;
    else found.push({ first: frame, last: frame });
  }
  return found;
}

/** Takes a film's stretches out of the queue; those that are being drawn end by themselves. */
export async function takeBackStretches(db: Queryable, id: string): Promise<void> {
  await db.query(
    `select graphile_worker.complete_jobs(array_agg(q.id)) ${WAITING_WORK} and t.identifier = $2 and q.payload ->> 'job' = $1
     having count(*) > 0`,
    [id, DRAW],
  );
}

/** Takes all of a film's work that waits out of the queue. */
export async function takeBackWork(db: Queryable, id: string): Promise<void> {
  await takeBackStretches(db, id);
  await db.query(
    `select graphile_worker.complete_jobs(array_agg(q.id)) ${WAITING_WORK} and t.identifier = $2 and q.payload ->> 'job' = $1
     having count(*) > 0`,
    [id, ASSEMBLE],
  );
}

/**
 * Puts all that is missing of a film into the queue, instead of what waits there of it. Its stretches begin where those
 * of the other films of its turn are now, and so take turns with them.
 */
export async function queueStretches(db: Queryable, id: string): Promise<void> {
  await takeBackStretches(db, id);
  const { rows: jobs } = await db.query<{ turn: Turn; library: string | null }>(
    'select turn, library from render_job where id = $1',
    [id],
  );
  const job = jobs[0];
  if (!job) return;
  const { rows: missing } = await db.query<{ frame: number }>(
    `select n as frame from render_job j, generate_series(j.first_frame, j.last_frame) n
     where j.id = $1
       and not exists (select 1 from render_frame f where f.job_id = j.id and f.frame = n)
       and not exists (select 1 from render_trouble r where r.job_id = j.id and r.frame = n and r.tries >= $2)
     order by n`,
    [id, FRAME_TRIES],
  );
  const base = (TURNS.indexOf(job.turn) - 1) * TURN_PLACES;
  const { rows: fronts } = await db.query<{ front: number | null }>(
    `select min(q.priority)::int as front ${WAITING_WORK} and t.identifier = $1 and q.priority between $2 and $3`,
    [DRAW, base - TURN_PLACES / 2, base + TURN_PLACES / 2 - 1],
  );
  const front = fronts[0]?.front ?? base - TURN_PLACES / 2;
  const stretches = stretchesOf(missing.map((row) => row.frame));
  await db.query(
    `select graphile_worker.add_job($2, json_build_object('job', $1::text, 'first', s.first, 'last', s.last),
       max_attempts := $3, priority := least($4::int + s.place::int - 1, $5::int), flags := $6::text[])
     from unnest($7::int[], $8::int[]) with ordinality as s (first, last, place) order by s.place`,
    [
      id,
      DRAW,
      ATTEMPTS,
      front,
      base + TURN_PLACES / 2 - 1,
      job.library === null ? null : [libraryFlag(job.library)],
      stretches.map((stretch) => stretch.first),
      stretches.map((stretch) => stretch.last),
    ],
  );
}

/** Puts a stretch back that a machine has taken and cannot draw. @param library of the only machines that can */
export async function putBackStretch(
  db: Queryable,
  id: string,
  { first, last }: { readonly first: number; readonly last: number },
  library: string,
  afterSeconds: number,
): Promise<void> {
  await db.query(
    `select graphile_worker.add_job($2, json_build_object('job', $1::text, 'first', $3::int, 'last', $4::int),
       max_attempts := $5, flags := $6::text[], run_at := now() + $7 * interval '1 second')`,
    [id, DRAW, first, last, ATTEMPTS, [libraryFlag(library)], afterSeconds],
  );
}

/** Has a film put together: along with its drawing, or because it is complete. One machine at a time does it. */
export async function queueAssembly(db: Queryable, id: string, when: 'along' | 'complete'): Promise<void> {
  await db.query(
    `select graphile_worker.add_job($2, json_build_object('job', $1::text), queue_name := 'film ' || $1,
       max_attempts := $3, priority := $4)`,
    [id, ASSEMBLE, ATTEMPTS, when === 'along' ? ALONG : COMPLETE],
  );
}

/** Whether a film that is complete waits to be put together. */
export async function completeFilmWaits(db: Queryable): Promise<boolean> {
  const { rowCount } = await db.query(
    `select 1 ${WAITING_WORK} and t.identifier = $1 and q.priority = $2 and q.run_at <= now() limit 1`,
    [ASSEMBLE, COMPLETE],
  );
  return rowCount === 1;
}

/** Words for work that a machine with this library leaves to others. */
export async function flagsOfOthers(db: Queryable, library: string): Promise<string[]> {
  const { rows } = await db.query<{ library: string }>(
    `select distinct library from render_job where library is not null and library <> $1
       and status in ('waiting', 'drawing', 'assembling')`,
    [library],
  );
  return rows.map((row) => libraryFlag(row.library));
}
