import { EventEmitter } from 'node:events';
import type { WorkerEvents } from 'graphile-worker';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { startTestServer, type TestServer } from '../testing';
import { openDatabase } from './database';
import { KeptQueue } from './queue';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.stop());

it('a queue whose worker ends is opened again, and takes what was added meanwhile', async () => {
  const pool = openDatabase(process.env.DATABASE_URL!);
  const events = new EventEmitter() as WorkerEvents;
  const done: unknown[] = [];
  const said: string[] = [];
  let pools = 0;
  events.on('pool:create', () => pools++);
  const queue = new KeptQueue(
    { pgPool: pool, concurrency: 1, events, taskList: { hoist: (payload) => void done.push(payload) } },
    (line) => said.push(line),
  );
  const add = (flag: string): Promise<unknown> =>
    server.db.query(`select graphile_worker.add_job('hoist', json_build_object('flag', $1::text))`, [flag]);
  const until = async (holds: () => boolean): Promise<void> => {
    while (!holds()) await new Promise((resolve) => setTimeout(resolve, 20));
  };
  await queue.start();
  expect(queue.working).toBe(true);
  await add('red');
  await until(() => done.length === 1);
  // A worker that cannot say that its work has failed ends, and the library leaves the queue without one.
  events.emit('worker:stop', { worker: null as never });
  await until(() => !queue.working);
  await add('blue');
  await until(() => done.length === 2);
  expect(done).toEqual([{ flag: 'red' }, { flag: 'blue' }]);
  expect(pools).toBe(2);
  expect(said).toEqual(['the worker of the queue has ended']);
  await queue.finish();
  await until(() => !queue.working);
  await pool.end();
});
