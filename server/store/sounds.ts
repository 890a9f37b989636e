import type { Loudness } from '../../core/evaluate';
import { BAND_EDGES, LOUDNESS_RATE } from '../../core/sound';
import type { SoundFacts, SoundTable } from '../../wire';
import type { Queryable } from './database';

/** Name of the work that reads a sound. */
export const READ_SOUND = 'read_sound';

/** Notes a sound whose bytes are kept, and asks for it to be read; one that is known is read again only if it was not. */
export async function noteSound(
  db: Queryable,
  hash: string,
  { seconds, channels }: { readonly seconds: number; readonly channels: number },
): Promise<void> {
  await db.query(
    `insert into sound (hash, seconds, channels) values ($1, $2, $3)
     on conflict (hash) do update set state = 'waiting', reason = null where sound.state = 'broken'`,
    [hash, seconds, channels],
  );
  await db.query(
    `select graphile_worker.add_job($1, json_build_object('hash', $2::text), job_key := 'sound ' || $2, max_attempts := 5)
     from sound where hash = $2 and state = 'waiting'`,
    [READ_SOUND, hash],
  );
}

/** Lets go of work on sounds that a server which has died held. */
export async function freeSounds(db: Queryable): Promise<void> {
  await db.query(
    `update graphile_worker._private_jobs j set locked_at = null, locked_by = null
     from graphile_worker._private_tasks t where t.id = j.task_id and t.identifier = $1 and j.locked_at is not null`,
    [READ_SOUND],
  );
}

export async function readSoundFacts(db: Queryable, hash: string): Promise<SoundFacts | null> {
  const { rows } = await db.query<SoundFacts>(
    'select hash, seconds, channels, state, reason, samples, struck from sound where hash = $1',
    [hash],
  );
  return rows[0] ?? null;
}

/** Numbers that were worked out of a sound, or null while there are none. */
export async function readSoundTable(db: Queryable, hash: string, table: SoundTable): Promise<Buffer | null> {
  const column = { peaks: 'peaks', loudness: 'loudness', flux: 'flux' }[table];
  const { rows } = await db.query<{ bytes: Buffer | null }>(
    `select ${column} as bytes from sound where hash = $1`,
    [hash],
  );
  return rows[0]?.bytes ?? null;
}

/** What is worked out of a sound. */
export interface SoundTables {
  readonly samples: number;
  readonly peaks: Uint8Array;
  readonly loudness: Uint8Array;
  readonly flux: Uint8Array;
  readonly struck: boolean;
}

export async function keepTables(db: Queryable, hash: string, tables: SoundTables): Promise<void> {
  const { samples, peaks, loudness, flux, struck } = tables;
  await db.query(
    `update sound set state = 'ready', reason = null, samples = $2, peaks = $3, loudness = $4, flux = $5, struck = $6
     where hash = $1`,
    [hash, samples, Buffer.from(peaks), Buffer.from(loudness), Buffer.from(flux), struck],
  );
}

export async function markBroken(db: Queryable, hash: string, reason: string): Promise<void> {
  await db.query(`update sound set state = 'broken', reason = $2 where hash = $1 and state = 'waiting'`, [
    hash,
    reason.slice(0, 500),
  ]);
}

/** Loudness of a sound for evaluation, or null while it is not worked out. */
export async function readLoudness(db: Queryable, hash: string): Promise<Loudness | null> {
  const { rows } = await db.query<{ loudness: Buffer | null; seconds: number }>(
    'select loudness, seconds from sound where hash = $1',
    [hash],
  );
  const found = rows[0];
  if (!found?.loudness) return null;
  const bytes = Uint8Array.from(found.loudness);
  return {
    rate: LOUDNESS_RATE,
    edges: BAND_EDGES,
    seconds: found.seconds,
    power: new Float32Array(bytes.buffer),
  };
}
