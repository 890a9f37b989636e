import { fileURLToPath } from 'node:url';
import { runner } from 'node-pg-migrate';
import pg from 'pg';

export type Database = pg.Pool;
export type Queryable = pg.Pool | pg.PoolClient;

// Counts and sizes fit a JavaScript number.
pg.types.setTypeParser(pg.types.builtins.INT8, Number);

/** A statement of the server that takes longer is stopped; and so is one that waits longer for what another one holds. */
const STATEMENT_MS = 30_000;
const LOCK_MS = 5000;

/** An answer that PostgreSQL does not give, though it should have stopped by itself: its process hangs. */
const ANSWER_MS = STATEMENT_MS + 5000;

/**
 * A pool of connections. One that breaks is replaced, whether it is idle or in use.
 * @param patient for work that may take as long as it takes
 */
export function openDatabase(url: string, max = 10, patient = false): Database {
  const pool = new pg.Pool({
    connectionString: url,
    max,
    connectionTimeoutMillis: 3000,
    ...(patient ? {} : { statement_timeout: STATEMENT_MS, query_timeout: ANSWER_MS, lock_timeout: LOCK_MS }),
    // A transaction whose owner has hung does not hold a shot for ever.
    ...(patient ? {} : { idle_in_transaction_session_timeout: STATEMENT_MS * 2 }),
  });
  pool.on('error', () => undefined);
  // The pool listens to idle connections only; an error of one in use reaches whoever waits for its answer anyway.
  pool.on('connect', (client) => client.on('error', () => undefined));
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
  let broken: Error | undefined;
  try {
    await client.query('begin');
    const result = await work(client);
    await client.query('commit');
    return result;
  } catch (error) {
    await client.query('rollback').catch((reason: Error) => (broken = reason));
    throw error;
  } finally {
    // A connection that cannot even undo is thrown away.
    client.release(broken);
  }
}
