import type { Machine } from '../../wire';
import type { Queryable } from './database';
import { ASSEMBLE, DRAW, DRAW_CARD } from './stretches';

/** A machine that has not been heard of for so long is taken for dead, and its work is given to others. */
export const MACHINE_SILENCE_SECONDS = 10;

/** What a machine says of itself. */
export interface MachineReport {
  readonly id: string;
  readonly name: string;
  readonly library: string | null;
  /** Under these names it holds work of the queue. */
  readonly workers: readonly string[];
  readonly doing: string | null;
  readonly frames: number;
  readonly drawnMs: number;
}

/** Render machines heard of lately. */
export async function listMachines(db: Queryable): Promise<Machine[]> {
  const { rows } = await db.query<Machine>(
    `select name, drawing_library as "drawingLibrary", doing, frames, drawn_ms as "drawnMs", since, seen_at as "seenAt"
     from render_machine where seen_at > now() - $1 * interval '1 second' order by name`,
    [MACHINE_SILENCE_SECONDS],
  );
  return rows;
}

/**
 * A machine says that it is there, and takes work away from machines that have fallen silent, and from those that died
 * before they had said anything. @returns names of the former
 */
export async function reportMachine(db: Queryable, of: MachineReport): Promise<string[]> {
  await db.query(
    `insert into render_machine (id, name, drawing_library, workers, doing, frames, drawn_ms)
     values ($1, $2, $3, $4, $5, $6, $7)
     on conflict (id) do update set seen_at = now(), drawing_library = excluded.drawing_library, workers = excluded.workers,
       doing = excluded.doing, frames = excluded.frames, drawn_ms = excluded.drawn_ms`,
    [of.id, of.name, of.library, of.workers, of.doing, of.frames, Math.round(of.drawnMs)],
  );
  const { rows } = await db.query<{ name: string; workers: string[] }>(
    `delete from render_machine where seen_at < now() - $1 * interval '1 second' returning name, workers`,
    [MACHINE_SILENCE_SECONDS],
  );
  const workers = rows.flatMap((row) => row.workers);
  if (workers.length > 0)
    await db.query('select graphile_worker.force_unlock_workers($1::text[])', [workers]);
  await db.query(
    `select graphile_worker.force_unlock_workers(array_agg(distinct q.locked_by)) from graphile_worker.jobs q
     where q.task_identifier = any($1) and q.locked_at < now() - $2 * interval '1 second'
       and not exists (select from render_machine m where q.locked_by = any(m.workers))
     having count(*) > 0`,
    [[DRAW, ASSEMBLE, DRAW_CARD], MACHINE_SILENCE_SECONDS],
  );
  return rows.map((row) => row.name);
}

/** A machine leaves: what it holds goes back into the queue. */
export async function forgetMachine(db: Queryable, id: string): Promise<void> {
  await db.query(
    `with gone as (delete from render_machine where id = $1 returning workers)
     select graphile_worker.force_unlock_workers(workers) from gone`,
    [id],
  );
}
