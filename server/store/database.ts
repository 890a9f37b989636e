import { fileURLToPath } from 'node:url';
import { runner } from 'node-pg-migrate';
import pg from 'pg';

export type Database = pg.Pool;
export type Queryable = pg.Pool | pg.PoolClient;

// Counts and sizes fit a JavaScript number.
pg.types.setTypeParser(pg.types.builtins.INT8, Number);

/** A pool of connections. A connection that breaks while idle is replaced, not fatal. */
export function openDatabase(url: string): Database {
  const pool = new pg.Pool({ connectionString: url, max: 10, connectionTimeoutMillis: 3000 });
  pool.on('error', () => undefined);
  return pool;
}

const MIGRATIONS =
  process.env.WHIRL_MIGRATIONS ?? fileURLToPath(new URL('../server/migrations', import.meta.url));

/** Brings the tables up to date; two servers starting at once wait for each other. */
export async function migrate(url: string, directory = MIGRATIONS): Promise<void> {
  await runner({
    databaseUrl: url,
    dir: directory,
    direction: 'up',
    migrationsTable: 'whirl_migration',
    advisoryLockMode: 'wait',
    log: () => undefined,
  });
}

/** Runs `work` in one transaction; whatever it throws undoes all of it. */
export async function inTransaction<T>(
  pool: Database,
  work: (client: pg.PoolClient) => Promise<T>,
): Promise<T> {
  const client = await pool.connect();
  try {
    await client.query('begin');
    const result = await work(client);
    await client.query('commit');
    return result;
  } catch (error) {
    await client.query('rollback').catch(() => undefined);
    throw error;
  } finally {
    client.release();
  }
}
