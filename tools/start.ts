import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { fileURLToPath } from 'node:url';
import { startCluster, type Cluster } from './postgres';

const root = fileURLToPath(new URL('..', import.meta.url));
const base = process.env.WHIRL_DATA ?? `${root}.whirl`;
const running = `${base}/running.json`;
const PORT = Number(process.env.WHIRL_PORT ?? 4173);
const PORTS_TRIED = 50;

const say = (line: string): void => void process.stdout.write(`${line}\n`);

function alreadyRunning(): { pid: number; url: string } | null {
  if (!existsSync(running)) return null;
  try {
    const found = JSON.parse(readFileSync(running, 'utf8')) as { pid: number; url: string };
    return existsSync(`/proc/${found.pid}`) &&
      readFileSync(`/proc/${found.pid}/cmdline`, 'utf8').includes('start.mjs')
      ? found
      : null;
  } catch {
    return null;
  }
}

async function firstFreePort(): Promise<number> {
  for (let port = PORT; port < PORT + PORTS_TRIED; port++) {
    const free = await new Promise<boolean>((resolve) => {
      const probe = createServer()
        .once('error', () => resolve(false))
        .listen(port, process.env.WHIRL_HOST ?? '127.0.0.1', () => probe.close(() => resolve(true)));
    });
    if (free) return port;
  }
  throw new Error(
    `No port from ${PORT} to ${PORT + PORTS_TRIED - 1} is free. Choose another with WHIRL_PORT=5000 ./whirl start`,
  );
}

const children: ChildProcess[] = [];
let cluster: Cluster | null = null;
let stopping = false;

function launch(name: string, file: string, env: Record<string, string>): Promise<string> {
  return new Promise((resolve, reject) => {
    const child = spawn(process.execPath, [`${root}dist/${file}`], {
      env: { ...process.env, ...env },
      stdio: ['ignore', 'pipe', 'pipe'],
      detached: true,
    });
    children.push(child);
    let said = '';
    child.stdout.on('data', (text: Buffer) => resolve(text.toString().trim()));
    child.stderr.on('data', (text: Buffer) => {
      said = (said + text.toString()).slice(-1500);
      if (process.env.WHIRL_LOG) process.stderr.write(text);
    });
    child.on('exit', (code) => {
      reject(new Error(`The ${name} ended at once (code ${code}). ${said.trim()}`));
      if (stopping) return;
      say(`The ${name} ended (code ${code}); starting it again.`);
      setTimeout(
        () => !stopping && void launch(name, file, env).catch((error: Error) => say(error.message)),
        1500,
      );
    });
  });
}

function stop(code: number): void {
  if (stopping) return;
  stopping = true;
  for (const child of children) {
    try {
      if (child.pid && child.exitCode === null) process.kill(-child.pid, 'SIGTERM');
    } catch {
      // It has ended already.
    }
  }
  setTimeout(() => {
    for (const child of children) {
      try {
        if (child.pid && child.exitCode === null) process.kill(-child.pid, 'SIGKILL');
      } catch {
        // It has ended already.
      }
    }
    cluster?.stop();
    rmSync(running, { force: true });
    process.exit(code);
  }, 1200);
}

process.on('SIGINT', () => stop(0));
process.on('SIGTERM', () => stop(0));

const other = alreadyRunning();
if (other) {
  say(`Whirl is running already: ${other.url} (process ${other.pid}).`);
  process.exit(0);
}
mkdirSync(base, { recursive: true });
try {
  let database = process.env.DATABASE_URL;
  if (database) say('Using the database named by DATABASE_URL.');
  else {
    cluster = await startCluster(base);
    database = cluster.url;
    say('PostgreSQL is running.');
  }
  const port = await firstFreePort();
  const url = `http://127.0.0.1:${port}`;
  writeFileSync(running, JSON.stringify({ pid: process.pid, url, database }), { mode: 0o600 });
  await launch('server', 'server.mjs', { DATABASE_URL: database, WHIRL_PORT: String(port) });
  if (process.env.WHIRL_MACHINE !== 'no') {
    const machine = await launch('render machine', 'render-machine.mjs', { DATABASE_URL: database }).catch(
      (error: Error) => error,
    );
    say(
      machine instanceof Error
        ? `No render machine: ${machine.message} Everything else works.`
        : 'One render machine is ready.',
    );
  }
  if (port !== PORT) say(`Port ${PORT} is taken.`);
  say(`Whirl is at ${url}  (Ctrl+C ends it)`);
} catch (error) {
  say(`Whirl could not start: ${error instanceof Error ? error.message : String(error)}`);
  stop(1);
}
