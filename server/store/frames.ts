import type { FrameState, RenderStory } from '../../wire';
import { FileGone, type FileStore, type StoredFile } from '../files';
import type { Queryable } from './database';
import { announce, noteEvent } from './renders';
import { FRAME_TRIES } from './stretches';

/** Events of a film that are told. */
const EVENTS_TOLD = 500;

/** Frames of `[first, last]` not drawn yet, but for those that have been tried too often. */
export async function missingFrames(
  db: Queryable,
  id: string,
  first: number,
  last: number,
): Promise<number[]> {
  const { rows } = await db.query<{ frame: number }>(
    `select n as frame from generate_series($2::int, $3::int) n
     where not exists (select 1 from render_frame f where f.job_id = $1 and f.frame = n)
       and not exists (select 1 from render_trouble r where r.job_id = $1 and r.frame = n and r.tries >= $4)
     order by n`,
    [id, first, last, FRAME_TRIES],
  );
  return rows.map((row) => row.frame);
}

/** A frame as it was drawn. */
export interface DrawnFrame {
  readonly frame: number;
  readonly file: StoredFile;
  readonly machine: string;
  /** Drawing library; a film that is drawn with another one by now does not take the frame. */
  readonly library: string | null;
  /** Hash of what it shows and of what it is drawn with, 64 hexadecimal digits. */
  readonly meaning: string;
  /** Milliseconds that drawing it took. */
  readonly took: number;
}

/** Notes a drawn frame whose file is stored; drawing it twice is harmless. */
export async function keepFrame(db: Queryable, id: string, of: DrawnFrame): Promise<void> {
  await db.query(
    `with put as (
       insert into render_frame (job_id, frame, file, size, machine, meaning, took_ms)
       select $1, $2, $3, $4, $5, $6, $7 from render_job where id = $1 and library is not distinct from $8
       on conflict (job_id, frame) do nothing returning frame
     ), well as (
       delete from render_trouble where job_id = $1 and frame = $2
     ) update render_job set drawn = drawn + 1, latest = put.frame from put where id = $1`,
    [id, of.frame, of.file.hash, of.file.size, of.machine, of.meaning, Math.round(of.took), of.library],
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
       insert into render_frame (job_id, frame, picture, file, size, machine, meaning)
       select $1, $2, picture, file, size, machine, meaning from render_frame where meaning = $3 and not skipped limit 1
       on conflict (job_id, frame) do nothing returning frame
     ) update render_job set drawn = drawn + 1, taken = taken + 1, latest = put.frame from put where id = $1`,
    [id, frame, meaning],
  );
  if (rowCount === 1) await announce(db, id);
  return rowCount === 1;
}

/** Picture of a frame as it is stored, or null where there is none. */
export async function readFrame(
  db: Queryable,
  files: FileStore,
  id: string,
  frame: number,
): Promise<Buffer | null> {
  const { rows } = await db.query<{ picture: Buffer | null; file: string | null }>(
    'select picture, file from render_frame where job_id = $1 and frame = $2',
    [id, frame],
  );
  const found = rows[0];
  if (!found) return null;
  if (found.picture) return found.picture;
  try {
    return await files.whole(found.file!);
  } catch (error) {
    if (error instanceof FileGone) return null;
    throw error;
  }
}

/** Notes that a frame could not be drawn. @returns how often it has been tried */
export async function noteTrouble(
  db: Queryable,
  id: string,
  frame: number,
  reason: string,
  machine: string,
): Promise<number> {
  const { rows } = await db.query<{ tries: number }>(
    `insert into render_trouble (job_id, frame, tries, reason, machine) values ($1, $2, 1, $3, $4)
     on conflict (job_id, frame) do update set tries = render_trouble.tries + 1, reason = excluded.reason,
       machine = excluded.machine, at = now() returning tries`,
    [id, frame, reason, machine],
  );
  const { tries } = rows[0]!;
  await noteEvent(
    db,
    id,
    `Frame ${frame} could not be drawn by ${machine}${tries >= FRAME_TRIES ? `, for the third time` : ''}: ${reason}`,
  );
  return tries;
}

/** How a film's frames came to be, and what happened. */
export async function readStory(db: Queryable, id: string): Promise<RenderStory> {
  const { rows: frames } = await db.query<{
    frame: number;
    took: number | null;
    machine: string;
    state: FrameState;
  }>(
    `select frame, took_ms as took, machine,
       case when skipped then 'skipped' when took_ms is null then 'unchanged' else 'drawn' end as state
     from render_frame where job_id = $1 order by drawn_at, frame`,
    [id],
  );
  const { rows: troubles } = await db.query<RenderStory['troubles'][number]>(
    'select frame, tries, reason, machine from render_trouble where job_id = $1 order by frame',
    [id],
  );
  const { rows: events } = await db.query<RenderStory['events'][number]>(
    `select at, words from (
       select at, words, number from render_event where job_id = $1 order by number desc limit $2
     ) latest order by number`,
    [id, EVENTS_TOLD],
  );
  const names = [...new Set(frames.map((row) => row.machine))];
  return {
    frames: frames.map((row) => row.frame),
    states: frames.map((row) => row.state),
    took: frames.map((row) => row.took),
    machines: frames.map((row) => names.indexOf(row.machine)),
    names,
    troubles,
    events,
  };
}
