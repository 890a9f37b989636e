import type { Readable } from 'node:stream';
import type { AssetFacts } from '../../wire';
import { FileGone, type FileStore } from '../files';
import type { Queryable } from './database';

const FACTS = 'hash, type, size, width, height, alpha, video';

/**
 * Stores bytes; those that are there already are not stored twice, and count as new: somebody is about to name them.
 * @param from the bytes, or the path of a file with them
 */
export async function keepAsset(
  db: Queryable,
  files: FileStore,
  from: Buffer | string,
  facts: Pick<AssetFacts, 'type' | 'width' | 'height' | 'alpha'> & Partial<Pick<AssetFacts, 'video'>>,
): Promise<AssetFacts> {
  const { hash, size } = await (typeof from === 'string' ? files.keepFile(from) : files.keep(from));
  await db.query(
    `insert into asset (hash, type, size, width, height, alpha, video) values ($1, $2, $3, $4, $5, $6, $7)
     on conflict (hash) do update set created_at = now(), bytes = null`,
    [hash, facts.type, size, facts.width, facts.height, facts.alpha, facts.video ?? null],
  );
  const { rows } = await db.query<AssetFacts>(`select ${FACTS} from asset where hash = $1`, [hash]);
  return rows[0]!;
}

/** Stored bytes with their type, or null when there are none of this hash. */
export async function readAsset(
  db: Queryable,
  files: FileStore,
  hash: string,
): Promise<{ type: string; bytes: Buffer } | null> {
  const { rows } = await db.query<{ type: string; bytes: Buffer | null }>(
    'select type, bytes from asset where hash = $1',
    [hash],
  );
  const found = rows[0];
  if (!found) return null;
  const { type } = found;
  if (found.bytes) return { type, bytes: found.bytes };
  try {
    return { type, bytes: await files.whole(hash) };
  } catch (error) {
    if (error instanceof FileGone) return null;
    throw error;
  }
}

/** What is known of a stored file without reading it, or null when there is none of this hash. */
export async function describeAsset(
  db: Queryable,
  hash: string,
): Promise<{ type: string; size: number } | null> {
  const { rows } = await db.query<{ type: string; size: number }>(
    'select type, size from asset where hash = $1',
    [hash],
  );
  return rows[0] ?? null;
}

/** Stored bytes as they come, all or `[from, to)` of them, or null when there are none of this hash. */
export async function openAsset(
  db: Queryable,
  files: FileStore,
  hash: string,
  range?: { readonly from: number; readonly to: number },
): Promise<{ type: string; size: number; bytes: Readable | Buffer } | null> {
  const { rows } = await db.query<{ type: string; size: number; bytes: Buffer | null }>(
    'select type, size, bytes from asset where hash = $1',
    [hash],
  );
  const found = rows[0];
  if (!found) return null;
  try {
    const bytes = range ? found.bytes?.subarray(range.from, range.to) : found.bytes;
    return { ...found, bytes: bytes ?? (await files.open(hash, range)) };
  } catch (error) {
    if (error instanceof FileGone) return null;
    throw error;
  }
}
