import pg from 'pg';

/**
 * Gives each file of tests a fresh database, beside the one that `DATABASE_URL` names, so that files run side by side
 * and none meets what another has left. Without `WHIRL_TEST_SERVER`, which `./whirl test` sets, the named one is used.
 */
const server = process.env.WHIRL_TEST_SERVER;
if (server && process.env.DATABASE_URL) {
  const url = new URL(process.env.DATABASE_URL);
  const ending = `_${process.env.VITEST_POOL_ID ?? '1'}`;
  if (!url.pathname.endsWith(ending)) url.pathname += ending;
  const name = pg.escapeIdentifier(url.pathname.slice(1));
  const admin = new pg.Client({ connectionString: server });
  await admin.connect();
  await admin.query(`drop database if exists ${name} with (force)`);
  await admin.query(`create database ${name}`);
  await admin.end();
  process.env.DATABASE_URL = url.href;
}
