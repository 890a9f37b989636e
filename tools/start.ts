import { mkdirSync } from 'node:fs';
import { createServer } from 'node:net';
import { fileURLToPath } from 'node:url';
import { KeptDatabase } from './run/kept-database';
import { KeptRunning } from './run/kept-running';
import { LogFile } from './run/log-file';
import { endGroup, forgetState, isAlive, readState, writeState, type Thing } from './run/state';

/**
 * Starts everything and keeps it running: what ends is started again, at the same port and with the reason in the log.
 * What a killed start left running is ended first; its PostgreSQL is taken over.
 */

const root = fileURLToPath(new URL('..', import.meta.url));
const base = process.env.WHIRL_DATA ?? `${root}.whirl`;
const FILES = process.env.WHIRL_FILES ?? `${base}/files`;
const HOST = process.env.WHIRL_HOST ?? '127.0.0.1';
const PORT = Number(process.env.WHIRL_PORT ?? 4173);
const PORTS_TRIED = 50;
/** The server is asked for its health this often; one that does not answer so many times hangs. */
const HEALTH_MS = 5000;
const HEALTH_PATIENCE_MS = 10_000;
const HEALTH_FAILURES = 3;

mkdirSync(base, { recursive: true });
const log = new LogFile(`${base}/logs/start.log`);
const say = (line: string): void => {
  process.stdout.write(`${line}\n`);
  log.line(line);
};

const isFree = (port: number): Promise<boolean> =>
  new Promise((resolve) => {
    const probe = createServer()
      .once('error', () => resolve(false))
      .listen(port, HOST, () => probe.close(() => resolve(true)));
  });

async function firstFreePort(wanted: number): Promise<number> {
  for (let port = wanted; port < wanted + PORTS_TRIED; port++) if (await isFree(port)) return port;
  throw new Error(
    `No port from ${wanted} to ${wanted + PORTS_TRIED - 1} is free. Choose another with WHIRL_PORT=5000 ./whirl start`,
  );
}

const before = readState(base);
if (before && isAlive(before.pid, 'start.mjs')) {
  process.stdout.write(
    `Whirl is running already: ${before.url} (process ${before.pid}). ./whirl status says more.\n`,
  );
  process.exit(0);
}
for (const { name, pid } of before?.things ?? [])
  if (pid !== null && name !== 'PostgreSQL' && isAlive(pid, `${root}dist/`)) {
    say(`Ending the ${name} that an earlier start left running (process ${pid}).`);
    await endGroup(pid);
  }

let database: KeptDatabase | null = null;
const programs: KeptRunning[] = [];
let stopping = false;
let url = '';
let databaseUrl = process.env.DATABASE_URL ?? '';

function note(_thing: Thing | null, what: string | null): void {
  if (stopping) return;
  if (what !== null) say(what);
  const things = [...(database ? [database.thing] : []), ...programs.map((program) => program.thing)];
  writeState(base, { pid: process.pid, url, port: Number(new URL(url).port), database: databaseUrl, things });
}

async function stop(code: number): Promise<void> {
  if (stopping) return;
  stopping = true;
  await Promise.all(programs.map((program) => program.stop()));
  await database?.stop();
  forgetState(base);
  process.exit(code);
}
process.on('SIGINT', () => void stop(0));
process.on('SIGTERM', () => void stop(0));
process.on('SIGHUP', () => void stop(0));

/** A server whose event loop hangs answers nothing: it is ended, and so started again. One that refuses is alive. */
function watchHealth(server: KeptRunning): void {
  let failures = 0;
  setInterval(() => {
    if (server.thing.state !== 'running') return;
    fetch(`${url}/api/health`, { signal: AbortSignal.timeout(HEALTH_PATIENCE_MS) }).then(
      () => (failures = 0),
      (error: unknown) => {
        if (!(error instanceof DOMException) || ++failures < HEALTH_FAILURES) return;
        failures = 0;
        server.force('the server has not answered for a while');
      },
    );
  }, HEALTH_MS).unref();
}

async function startAll(): Promise<void> {
  const wanted = process.env.WHIRL_PORT === undefined && before ? before.port : PORT;
  const port = await firstFreePort(wanted);
  url = `http://127.0.0.1:${port}`;
  if (databaseUrl) say('Using the database named by DATABASE_URL.');
  else {
    const earlier = before?.database ? Number(new URL(before.database).port) : 0;
    database = await KeptDatabase.start(base, earlier, note);
    databaseUrl = database.url;
    say('PostgreSQL is running.');
  }
  const program = (name: string, file: string, env: Record<string, string>): KeptRunning => {
    const made = new KeptRunning(
      { name, file: `${root}dist/${file}`, env: { DATABASE_URL: databaseUrl, WHIRL_FILES: FILES, ...env } },
      new LogFile(`${base}/logs/${file.replace('.mjs', '')}.log`),
      note,
    );
    programs.push(made);
    return made;
  };
  const server = program('server', 'server.mjs', { WHIRL_PORT: String(port) });
  await server.start();
  watchHealth(server);
  if (process.env.WHIRL_MACHINE !== 'no')
    say(
      await program('render machine', 'render-machine.mjs', {})
        .start()
        .then(
          () => 'One render machine is ready.',
          (error: Error) => `No render machine yet: ${error.message} Everything else works.`,
        ),
    );
  if (port !== PORT)
    say(`Port ${PORT} is ${wanted === PORT ? 'taken' : 'not used: it goes on where it was'}.`);
  say(`Whirl is at ${url}  (Ctrl+C ends it; ./whirl status from elsewhere says what runs)`);
}

try {
  await startAll();
} catch (error) {
  say(`Whirl could not start: ${error instanceof Error ? error.message : String(error)}`);
  await stop(1);
}
