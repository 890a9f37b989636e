import type { Queryable } from '../store/database';
import { FolderStore } from './folder-store';
import type { FileStore, StoredFile } from './file-store';

/** Files are left alone for so long: the row that names one may be on its way. */
const YOUNG_MS = 24 * 3600_000;
const ASKED_AT_ONCE = 1000;

async function unnamed(db: Queryable, files: readonly StoredFile[]): Promise<StoredFile[]> {
  if (files.length === 0) return [];
  const { rows } = await db.query<{ hash: string }>(
    `select h as hash from unnest($1::text[]) h
     where not exists (select 1 from asset where hash = h)
       and not exists (select 1 from render_frame where file = h)
       and not exists (select 1 from render_job where film_file = h)`,
    [files.map((file) => file.hash)],
  );
  const free = new Set(rows.map((row) => row.hash));
  return files.filter((file) => free.has(file.hash));
}

/** Stored files, older than a day, that no row names. */
export async function looseFiles(db: Queryable, files: FileStore, now = new Date()): Promise<StoredFile[]> {
  const found: StoredFile[] = [];
  let batch: StoredFile[] = [];
  for await (const file of files.all()) {
    if (now.getTime() - file.keptAt.getTime() < YOUNG_MS) continue;
    batch.push({ hash: file.hash, size: file.size });
    if (batch.length < ASKED_AT_ONCE) continue;
    found.push(...(await unnamed(db, batch)));
    batch = [];
  }
  return [...found, ...(await unnamed(db, batch))];
}

/** Removes them, and what writing that was cut off has left. @returns what went */
export async function sweepFiles(db: Queryable, files: FileStore, now = new Date()): Promise<StoredFile[]> {
  if (files instanceof FolderStore) await files.clearParts(new Date(now.getTime() - YOUNG_MS));
  const loose = await looseFiles(db, files, now);
  const gone: StoredFile[] = [];
  for (const file of loose) {
    // Asked once more: it may have been named since the list was made.
    if ((await unnamed(db, [file])).length === 0) continue;
    await files.remove(file.hash);
    gone.push(file);
  }
  return gone;
}
