import type { FullConfig } from '@playwright/test';
import pg from 'pg';
import { startMachine, startServer, type Running } from './processes';

/** For each worker a server and a render machine on a fresh database with the demo: no test meets what another does. */
export default async function setUp({ workers }: FullConfig): Promise<() => Promise<void>> {
  const admin = process.env.WHIRL_TEST_SERVER;
  if (!admin) throw new Error('WHIRL_TEST_SERVER is missing: run these tests with ./whirl test.');
  const running: Running[] = [];
  const client = new pg.Client({ connectionString: admin });
  await client.connect();
  const addresses: string[] = [];
  for (let worker = 0; worker < workers; worker++) {
    const database = `whirl_e2e_${worker}`;
    await client.query(`drop database if exists ${database} with (force)`);
    await client.query(`create database ${database}`);
    const address = new URL(admin);
    address.pathname = `/${database}`;
    addresses.push(address.href);
  }
  await Promise.all(
    addresses.map(async (address, worker) => {
      const server = await startServer(address);
      running.push(server, await startMachine(address));
      process.env[`WHIRL_E2E_DATABASE_${worker}`] = address;
      process.env[`WHIRL_E2E_URL_${worker}`] = server.url;
    }),
  );
  await client.end();
  return async () => {
    for (const one of running.reverse()) await one.kill();
  };
}
