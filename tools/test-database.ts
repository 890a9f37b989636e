import pg from 'pg';

/**
 * Gives each worker of the runner a database of its own, beside the one that `DATABASE_URL` names, so that files of
 * tests run side by side. `./whirl test` sets `WHIRL_TEST_SERVER` and clears away what earlier runs left.
 */
const server = process.env.WHIRL_TEST_SERVER;
if (server && process.env.DATABASE_URL) {
  const url = new URL(process.env.DATABASE_URL);
  const ending = `_${process.env.VITEST_POOL_ID ?? '1'}`;
  if (!url.pathname.endsWith(ending)) url.pathname += ending;
  const name = url.pathname.slice(1);
  const admin = new pg.Client({ connectionString: server });
  await admin.connect();
  const { rowCount } = await admin.query('select from pg_database where datname = $1', [name]);
  if (!rowCount) await admin.query(`create database ${pg.escapeIdentifier(name)}`);
  await admin.end();
  process.env.DATABASE_URL = url.href;
}
