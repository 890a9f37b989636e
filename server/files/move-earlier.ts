import { createWriteStream } from 'node:fs';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { Database, Queryable } from '../store/database';
import { readPieces } from '../store/films';
import { inWorkFolder } from '../work-folder';
import type { FileStore } from './file-store';

/** Name of the work that moves what an earlier Whirl kept in the database into the file store. */
export const MOVE_FILES = 'move_files';

const EARLIER = {
  assets: 'select 1 from asset where bytes is not null',
  frames: 'select 1 from render_frame where picture is not null',
  films: 'select 1 from render_film',
};

/** Asks for it to be done, where there is anything to move. */
export async function askToMoveFiles(db: Queryable): Promise<void> {
  await db.query(
    `select graphile_worker.add_job($1, job_key := $1, max_attempts := 5)
     where exists (${EARLIER.assets}) or exists (${EARLIER.frames}) or exists (${EARLIER.films})`,
    [MOVE_FILES],
  );
}

/** Moves one thing after the other; what is read meanwhile is found wherever it is. @returns how many of each */
export async function moveEarlierFiles(
  db: Database,
  files: FileStore,
): Promise<{ assets: number; frames: number; films: number }> {
  const odd: string[] = [];
  const moved = { assets: 0, frames: 0, films: 0 };
  for (;;) {
    const { rows } = await db.query<{ hash: string; bytes: Buffer }>(
      'select hash, bytes from asset where bytes is not null and hash <> all($1) limit 1',
      [odd],
    );
    if (!rows[0]) break;
    const { hash } = await files.keep(rows[0].bytes);
    if (hash !== rows[0].hash) {
      // Bytes that are not those of their name stay where they are found.
      odd.push(rows[0].hash);
      continue;
    }
    await db.query('update asset set bytes = null where hash = $1', [hash]);
    moved.assets += 1;
  }
  for (;;) {
    const { rows } = await db.query<{ job: string; frame: number; picture: Buffer }>(
      'select job_id as job, frame, picture from render_frame where picture is not null limit 20',
    );
    if (rows.length === 0) break;
    for (const { job, frame, picture } of rows) {
      const { hash, size } = await files.keep(picture);
      await db.query(
        'update render_frame set picture = null, file = $3, size = $4 where job_id = $1 and frame = $2',
        [job, frame, hash, size],
      );
      moved.frames += 1;
    }
  }
  for (;;) {
    const { rows } = await db.query<{ job: string; size: number | null }>(
      `select f.job_id as job, j.film_size as size from render_film f join render_job j on j.id = f.job_id limit 1`,
    );
    if (!rows[0]) break;
    const { job, size } = rows[0];
    if (size !== null) {
      await inWorkFolder(async (folder) => {
        const path = join(folder, 'film');
        await pipeline(Readable.from(readPieces(db, job, 0, size)), createWriteStream(path));
        const { hash } = await files.keepFile(path);
        await db.query('update render_job set film_file = $2 where id = $1', [job, hash]);
      });
    }
    await db.query('delete from render_film where job_id = $1', [job]);
    moved.films += 1;
  }
  return moved;
}
