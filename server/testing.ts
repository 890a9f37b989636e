import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { fileURLToPath } from 'node:url';
import { runMigrations } from 'graphile-worker';
import pino from 'pino';
import { build as bundle } from 'rolldown';
import { createApp } from './app';
import { Desk } from './desk/desk';
import { fileStoreAt, type FileStore } from './files';
import { httpServer } from './http';
import { News } from './news';
import { migrate, openDatabase, type Database } from './store/database';

export const MIGRATIONS = fileURLToPath(new URL('./migrations', import.meta.url));

/** Where a worker of the runner keeps what its tests write. */
const OWN = fileURLToPath(
  new URL(`../.whirl-test/server-${process.env.VITEST_POOL_ID ?? '1'}`, import.meta.url),
);

/** Where files of tests lie. */
export const TEST_FILES = `${OWN}/files`;

/** Where a program that a test starts as a thread is bundled to. */
export const testProgram = (name: string): string => `${OWN}/${name}.mjs`;

export interface TestServer {
  readonly url: string;
  readonly db: Database;
  readonly files: FileStore;
  call<T = Record<string, unknown>>(
    method: string,
    path: string,
    body?: unknown,
    headers?: Record<string, string>,
  ): Promise<{ status: number; body: T; headers: Headers }>;
  stop(): Promise<void>;
}

let bundled: Promise<string> | null = null;

/** Threads cannot read TypeScript: the desk's file is bundled once for all tests of a process. */
function deskFile(): Promise<string> {
  const file = testProgram('desk');
  bundled ??= bundle({
    input: fileURLToPath(new URL('./desk/thread.ts', import.meta.url)),
    platform: 'node',
    logLevel: 'warn',
    external: /^(?!\.|\/|[A-Za-z]:)/,
    output: { file, format: 'esm' },
  }).then(() => file);
  return bundled;
}

/** A server on the test database. @throws Error when DATABASE_URL is missing: run ./whirl test */
export async function startTestServer(databaseUrl = process.env.DATABASE_URL): Promise<TestServer> {
  if (!databaseUrl) throw new Error('DATABASE_URL is missing: run these tests with ./whirl test.');
  await migrate(databaseUrl, MIGRATIONS);
  await runMigrations({ connectionString: databaseUrl });
  const db = openDatabase(databaseUrl);
  const patientDb = openDatabase(databaseUrl, 2, true);
  const log = pino({ level: 'silent' });
  const files = fileStoreAt(TEST_FILES);
  const desk = new Desk(databaseUrl, TEST_FILES, log, await deskFile());
  const news = new News(databaseUrl);
  await news.start();
  const server: Server = httpServer(
    createApp({ db, patientDb, files, news, desk, log, web: null, hosts: ['127.0.0.1'] }),
  );
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  return {
    url,
    db,
    files,
    call: async <T>(method: string, path: string, body?: unknown, headers: Record<string, string> = {}) => {
      const response = await fetch(`${url}/api${path}`, {
        method,
        headers: {
          // A line of its own each time, so that none is asked on that the server closes just now.
          Connection: 'close',
          ...(body === undefined ? {} : { 'Content-Type': 'application/json' }),
          ...headers,
        },
        body: body === undefined ? undefined : typeof body === 'string' ? body : JSON.stringify(body),
      });
      const text = await response.text();
      let parsed: unknown = text;
      try {
        parsed = JSON.parse(text);
      } catch {
        // Pictures and films are no JSON.
      }
      return { status: response.status, body: parsed as T, headers: response.headers };
    },
    stop: async () => {
      server.closeAllConnections();
      server.close();
      await news.stop();
      await desk.stop();
      await Promise.all([db.end(), patientDb.end()]);
    },
  };
}
