import type { Readable } from 'node:stream';
import type { FileStore } from '../files';
import { inTransaction, type Database, type Queryable } from './database';
import { noteEvent, setStatus } from './renders';

const MB = 1024 * 1024;
/** Films that an earlier Whirl kept lie in the database, in pieces of this size. */
const PIECE = MB;

/** Stores a finished film, read from a file piece by piece, and ends the job. */
export async function keepFilm(
  pool: Database,
  files: FileStore,
  id: string,
  type: string,
  path: string,
): Promise<void> {
  const { hash, size } = await files.keepFile(path);
  await inTransaction(pool, async (client) => {
    await client.query('update render_job set film_file = $2, film_type = $3, film_size = $4 where id = $1', [
      id,
      hash,
      type,
      size,
    ]);
    if (await setStatus(client, id, ['assembling'], 'done'))
      await noteEvent(client, id, `The film is there: ${(size / MB).toFixed(1)} MB.`);
  });
}

/** Bytes `[from, to)` of a film. @throws FileGone */
export async function openFilm(
  db: Queryable,
  files: FileStore,
  id: string,
  from: number,
  to: number,
): Promise<Readable | AsyncGenerator<Buffer>> {
  const { rows } = await db.query<{ file: string | null }>(
    'select film_file as file from render_job where id = $1',
    [id],
  );
  const file = rows[0]?.file ?? null;
  return file === null ? readPieces(db, id, from, to) : files.open(file, { from, to });
}

/** Bytes of a film that lies in the database still. */
export async function* readPieces(
  db: Queryable,
  id: string,
  from: number,
  to: number,
): AsyncGenerator<Buffer> {
  for (let piece = Math.floor(from / PIECE); piece * PIECE < to; piece++) {
    const { rows } = await db.query<{ bytes: Buffer }>(
      'select bytes from render_film where job_id = $1 and piece = $2',
      [id, piece],
    );
    const start = piece * PIECE;
    yield rows[0]!.bytes.subarray(Math.max(0, from - start), to - start);
  }
}
