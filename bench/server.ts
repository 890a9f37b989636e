import { spawn } from 'node:child_process';
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Worker } from 'node:worker_threads';
import type { Shot, Track } from '../core/document';
import type { OpenedShot } from '../wire';
import { startCluster } from '../tools/postgres';
import { freePort } from '../tools/run/free-port';
import { benchShot } from './bench-shot';

/**
 * The server with large documents: a change to a shot of 14 MB, opening it, the list of 500 projects that hold 57 MB,
 * and how long an answer about health takes meanwhile.
 */

const KEYS_MORE = 27;
const PROJECTS = 500;
const CHANGES = 40;

/** A document of some 14 MB. */
function largeShot(): Shot {
  const shot = benchShot();
  const longer = (track: Track): Track => ({
    ...track,
    keys: {
      ...track.keys,
      ...Object.fromEntries(
        Array.from({ length: KEYS_MORE }, (_, i) => [
          `key_more${i}`,
          {
            frame: 90 + i * 12,
            value: i * 0.371,
            manner: 'curve' as const,
            left: { reach: 3.3334, rise: 0.21 },
            right: { reach: 3.1, rise: 0.13 },
          },
        ]),
      ),
    },
  });
  return {
    ...shot,
    parts: Object.fromEntries(
      Object.entries(shot.parts).map(([id, part]) => [
        id,
        {
          ...part,
          tracks: Object.fromEntries(
            Object.entries(part.tracks).map(([path, track]) => [path, longer(track)]),
          ),
        },
      ]),
    ),
  };
}

const megabytes = (bytes: number): string => `${(bytes / 1e6).toFixed(1)} MB`;

function told(times: readonly number[]): string {
  const sorted = [...times].sort((a, b) => a - b);
  const at = (share: number): string => sorted[Math.floor(share * (sorted.length - 1))]!.toFixed(1);
  return `median ${at(0.5)} ms, longest ${at(1)} ms`;
}

const folder = mkdtempSync(join(tmpdir(), 'whirl-bench-'));
chmodSync(folder, 0o755);
const cluster = await startCluster(folder);
const port = await freePort();
const server = spawn(process.execPath, [fileURLToPath(new URL('./server.mjs', import.meta.url))], {
  env: {
    ...process.env,
    NODE_ENV: 'production',
    DATABASE_URL: cluster.url,
    WHIRL_PORT: String(port),
    WHIRL_DEMO: 'no',
    WHIRL_FILES: join(folder, 'files'),
  },
  stdio: ['ignore', 'pipe', 'inherit'],
});
const url = `http://127.0.0.1:${port}/api`;
const call = async <T>(method: string, path: string, body?: unknown): Promise<T> => {
  const response = await fetch(`${url}${path}`, {
    method,
    body: body === undefined ? undefined : JSON.stringify(body),
  });
  if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${await response.text()}`);
  return (await response.json()) as T;
};
const timed = async (work: () => Promise<unknown>): Promise<number> => {
  const start = performance.now();
  await work();
  return performance.now() - start;
};

try {
  await new Promise((resolve) => server.stdout.once('data', resolve));
  // In a thread of its own, so that nothing done here makes the answers late.
  const watch = new Worker(
    `const { parentPort, workerData } = require('node:worker_threads');
     const times = [];
     let going = true;
     parentPort.on('message', () => (going = false));
     (async () => {
       while (going) {
         const start = performance.now();
         await (await fetch(workerData + '/health')).json();
         times.push(performance.now() - start);
         await new Promise((resolve) => setTimeout(resolve, 20));
       }
       parentPort.postMessage(times);
       parentPort.close();
     })();`,
    { eval: true, workerData: url },
  );

  const { id: project } = await call<{ id: string }>('POST', '/projects', { name: 'Bench' });
  const document = largeShot();
  console.log(`A shot of ${megabytes(JSON.stringify(document).length)}:`);
  let shot = '';
  const made = await timed(async () => {
    shot = (await call<{ id: string }>('POST', `/projects/${project}/shots`, { name: 'Large', document })).id;
  });
  console.log(`  made in ${made.toFixed(0)} ms`);
  const open = (): Promise<OpenedShot> => call('GET', `/shots/${shot}`);
  console.log(`  opened: ${told([await timed(open), await timed(open), await timed(open)])}`);
  const times: number[] = [];
  for (let base = 0; base < CHANGES; base++)
    times.push(
      await timed(() =>
        call('POST', `/shots/${shot}/changes`, {
          base,
          changes: [
            {
              id: crypto.randomUUID(),
              label: 'Move a key',
              patches: [
                {
                  path: ['parts', `prt_${base * 7}`, 'tracks', 'location.x', 'keys', 'key_3', 'value'],
                  after: base / 8,
                },
              ],
            },
          ],
        }),
      ),
    );
  console.log(
    `  first change ${times[0]!.toFixed(1)} ms (the document is read), after it: ${told(times.slice(1))}`,
  );
  console.log(`  opened with ${CHANGES} changes after its snapshot: ${(await timed(open)).toFixed(0)} ms`);

  const small = benchShot();
  const parts = Object.fromEntries(
    Object.entries(small.parts)
      .slice(0, 26)
      .map(([id, part]) => [id, { ...part, links: {} }]),
  );
  const each = { ...small, parts };
  for (let i = 0; i < PROJECTS; i++) {
    const made = await call<{ id: string }>('POST', '/projects', { name: `Project ${i}` });
    await call('POST', `/projects/${made.id}/shots`, { name: 'Shot', document: each });
  }
  const all = JSON.stringify(each).length * PROJECTS;
  const list = (): Promise<unknown> => call('GET', '/projects');
  await list();
  const lists: number[] = [];
  for (let i = 0; i < 20; i++) lists.push(await timed(list));
  console.log(`The list of ${PROJECTS} projects that hold ${megabytes(all)}: ${told(lists)}`);
  watch.postMessage('enough');
  const health = await new Promise<number[]>((resolve) => watch.once('message', resolve));
  console.log(`Health, asked ${health.length} times all the while: ${told(health)}`);
} finally {
  server.kill('SIGTERM');
  await new Promise((resolve) => server.once('exit', resolve));
  await cluster.stop();
  rmSync(folder, { recursive: true, force: true });
}
