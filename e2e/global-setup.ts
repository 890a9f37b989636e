import pg from 'pg';
import { startMachine, startServer } from './processes';

const DATABASE = 'whirl_e2e';

/** One server and one render machine on a fresh database with the demo, for all tests. */
export default async function setUp(): Promise<() => Promise<void>> {
  const admin = process.env.WHIRL_TEST_SERVER;
  if (!admin) throw new Error('WHIRL_TEST_SERVER is missing: run these tests with ./whirl test.');
  const client = new pg.Client({ connectionString: admin });
  await client.connect();
  await client.query(`drop database if exists ${DATABASE} with (force)`);
  await client.query(`create database ${DATABASE}`);
  await client.end();
  const url = new URL(admin);
  url.pathname = `/${DATABASE}`;
  process.env.WHIRL_E2E_DATABASE = url.href;
  const server = await startServer(url.href);
  const machine = await startMachine(url.href);
  process.env.WHIRL_E2E_URL = server.url;
  return async () => {
    await machine.kill();
    await server.kill();
  };
}
