import { createHash } from 'node:crypto';
import type { AssetFacts } from '../../wire';
import type { Queryable } from './database';

const FACTS = 'hash, type, octet_length(bytes) as size, width, height, alpha, video';

/** Stores bytes; those that are there already are not stored twice, and count as new: somebody is about to name them. */
export async function keepAsset(
  db: Queryable,
  bytes: Buffer,
  facts: Pick<AssetFacts, 'type' | 'width' | 'height' | 'alpha'> & Partial<Pick<AssetFacts, 'video'>>,
): Promise<AssetFacts> {
  const hash = createHash('sha256').update(bytes).digest('hex');
  await db.query(
    `insert into asset (hash, type, bytes, width, height, alpha, video) values ($1, $2, $3, $4, $5, $6, $7)
     on conflict (hash) do update set created_at = now()`,
    [hash, facts.type, bytes, facts.width, facts.height, facts.alpha, facts.video ?? null],
  );
  const { rows } = await db.query<AssetFacts>(`select ${FACTS} from asset where hash = $1`, [hash]);
  return rows[0]!;
}

/** Stored bytes with their type, or null when there are none of this hash. */
export async function readAsset(
  db: Queryable,
  hash: string,
): Promise<{ type: string; bytes: Buffer } | null> {
  const { rows } = await db.query<{ type: string; bytes: Buffer }>(
    'select type, bytes from asset where hash = $1',
    [hash],
  );
  return rows[0] ?? null;
}
