import { spawn } from 'node:child_process';
import {
  createReadStream,
  createWriteStream,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
} from 'node:fs';
import { resolve } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { fileURLToPath } from 'node:url';
import pg from 'pg';
import { postgresProgram, startCluster, type Cluster } from './postgres';
import { FileGone, fileStoreAt } from '../server/files';
import { addFiles, checkBackup, listFiles, sealBackup, type BackupFacts } from './run/backup-file';
import { isAlive, readState } from './run/state';

/** `./whirl backup FILE` and `./whirl restore FILE`. */

const root = fileURLToPath(new URL('..', import.meta.url));
const base = process.env.WHIRL_DATA ?? `${root}.whirl`;
const MIGRATIONS = `${root}server/migrations`;

const files = fileStoreAt(process.env.WHIRL_FILES ?? `${base}/files`);

const say = (line: string): void => void process.stdout.write(`${line}\n`);

/** What a program of PostgreSQL needs to know to reach a database; the password is not for its command line. */
function reach(database: string): NodeJS.ProcessEnv {
  const { hostname, port, username, password, pathname } = new URL(database);
  return {
    ...process.env,
    PGHOST: hostname,
    PGPORT: port || '5432',
    PGUSER: decodeURIComponent(username),
    PGPASSWORD: decodeURIComponent(password),
    PGDATABASE: pathname.slice(1),
  };
}

/** Runs a program of PostgreSQL to its end. @throws Error with what it said when it fails */
function runProgram(name: string, args: string[], database: string, input?: Readable): Promise<void> {
  const child = spawn(postgresProgram(name), args, {
    env: reach(database),
    stdio: [input ? 'pipe' : 'ignore', 'ignore', 'pipe'],
  });
  let said = '';
  child.stderr!.on('data', (text: Buffer) => (said = (said + text.toString()).slice(-4000)));
  const ended = new Promise<void>((done, failed) => {
    child.on('error', failed);
    child.on('close', (code) =>
      code === 0
        ? done()
        : failed(new Error(`${name} ended with ${code}. ${said.trim().split('\n').slice(-3).join(' ')}`)),
    );
  });
  // Where the program ends early its own words tell why, not the broken pipe.
  if (input) void pipeline(input, child.stdin!).catch(() => undefined);
  return ended;
}

async function migrationsOf(database: string): Promise<string[]> {
  const client = new pg.Client({ connectionString: database });
  await client.connect();
  try {
    const { rows } = await client.query<{ name: string }>('select name from whirl_migration order by id');
    return rows.map((row) => row.name);
  } finally {
    await client.end();
  }
}

/** Names of the stored files that rows name. */
async function namedFiles(database: string): Promise<string[]> {
  const client = new pg.Client({ connectionString: database });
  await client.connect();
  try {
    const { rows } = await client.query<{ hash: string }>(
      `select hash from asset where bytes is null
       union select file from render_frame where file is not null
       union select film_file from render_job where film_file is not null`,
    );
    return rows.map((row) => row.hash);
  } finally {
    await client.end();
  }
}

/** The files that can be had: what has gone is told, and no reason to have no backup. */
async function storedFiles(
  names: readonly string[],
): Promise<{ hash: string; open(): Promise<AsyncIterable<Buffer>> }[]> {
  const found = [];
  let gone = 0;
  for (const hash of names)
    try {
      const first = await files.open(hash);
      first.destroy();
      found.push({ hash, open: () => files.open(hash) as Promise<AsyncIterable<Buffer>> });
    } catch (error) {
      if (!(error instanceof FileGone)) throw error;
      gone += 1;
    }
  if (gone > 0) say(`${gone} ${gone === 1 ? 'file is' : 'files are'} not in ${files.place} any more.`);
  return found;
}

/** Writes a backup beside its name first: a file of that name is always whole. */
async function writeBackup(database: string, path: string): Promise<BackupFacts> {
  const part = `${path}.part`;
  try {
    // A database of an earlier Whirl has its files in itself.
    const before = await namedFiles(database).catch((): string[] => []);
    await runProgram(
      'pg_dump',
      ['--format=custom', '--no-owner', '--no-privileges', `--file=${part}`],
      database,
    );
    const after = await namedFiles(database).catch((): string[] => []);
    const places = await addFiles(part, await storedFiles([...new Set([...before, ...after])]));
    const { version } = JSON.parse(readFileSync(`${root}package.json`, 'utf8')) as { version: string };
    const facts = await sealBackup(part, {
      whirl: version,
      made: new Date().toISOString(),
      migrations: await migrationsOf(database),
      ...places,
    });
    renameSync(part, path);
    return facts;
  } finally {
    rmSync(part, { force: true });
  }
}

/** Everything of ours goes and what the backup holds comes, in one transaction: on any error all stays as it was. */
async function restoreInto(database: string, path: string, facts: BackupFacts): Promise<void> {
  const work = `${base}/restore-${process.pid}`;
  mkdirSync(work, { recursive: true });
  try {
    const sql = `${work}/restore.sql`;
    const dump = `${work}/dump`;
    await copyPart(path, dump, 0, facts.dump ?? facts.bytes);
    await runProgram('pg_restore', ['--no-owner', '--no-privileges', `--file=${sql}`, dump], database);
    const clear =
      'drop schema if exists graphile_worker cascade; drop schema public cascade; create schema public;\n';
    async function* all(): AsyncGenerator<Buffer | string> {
      yield clear;
      yield* createReadStream(sql) as AsyncIterable<Buffer>;
      // The files may lie in another place than where the backup was written.
      yield `\ndelete from public.setting where key = 'files';\n`;
    }
    await runProgram(
      'psql',
      ['--no-psqlrc', '--quiet', '--single-transaction', '--set=ON_ERROR_STOP=1', '--file=-'],
      database,
      Readable.from(all()),
    );
  } finally {
    rmSync(work, { recursive: true, force: true });
  }
}

/** Copies bytes `[start, end)` of a file into another. */
async function copyPart(from: string, to: string, start: number, end: number): Promise<void> {
  const bytes = end > start ? createReadStream(from, { start, end: end - 1 }) : Readable.from([]);
  await pipeline(bytes, createWriteStream(to));
}

/** Stores the files of a backup: more than are named do no harm, so they come before the rows that name them. */
async function restoreFiles(path: string, facts: BackupFacts): Promise<void> {
  const work = `${base}/restore-files-${process.pid}`;
  mkdirSync(work, { recursive: true });
  try {
    for (const { hash, from, to } of await listFiles(path, facts)) {
      await copyPart(path, `${work}/file`, from, to);
      const kept = await files.keepFile(`${work}/file`);
      if (kept.hash !== hash) throw new Error(`${path} is damaged at the file ${hash.slice(0, 12)}.`);
    }
  } finally {
    rmSync(work, { recursive: true, force: true });
  }
}

async function backup(path: string): Promise<void> {
  const state = readState(base);
  const running = state !== null && isAlive(state.pid, 'start.mjs');
  let cluster: Cluster | null = null;
  try {
    if (!process.env.DATABASE_URL && !running) cluster = await startCluster(base);
    const database = process.env.DATABASE_URL ?? (running ? state.database : cluster!.url);
    const { bytes } = await writeBackup(database, path);
    say(`${path}: ${(bytes / 1048576).toFixed(1)} MB.`);
  } finally {
    await cluster?.stop();
  }
}

async function restore(path: string): Promise<void> {
  const facts = await checkBackup(path);
  const known = new Set(readdirSync(MIGRATIONS).map((file) => file.replace(/\.sql$/, '')));
  const newer = facts.migrations.filter((name) => !known.has(name));
  if (newer.length > 0)
    throw new Error(
      `${path} was written by a newer Whirl (${facts.whirl}), whose tables this one does not know: ${newer.join(', ')}. Update Whirl first. Nothing has been changed.`,
    );
  const state = readState(base);
  if (state !== null && isAlive(state.pid, 'start.mjs'))
    throw new Error('Whirl is running. End it with ./whirl stop, then restore. Nothing has been changed.');
  let cluster: Cluster | null = null;
  try {
    if (!process.env.DATABASE_URL) cluster = await startCluster(base);
    const database = process.env.DATABASE_URL ?? cluster!.url;
    const before = `${base}/before-restore-${new Date().toISOString().slice(0, 19).replaceAll(':', '-')}.whirl-backup`;
    mkdirSync(base, { recursive: true });
    const earlier = await migrationsOf(database).catch((): string[] => []);
    if (earlier.length > 0) {
      await writeBackup(database, before);
      say(`What was there before is in ${before}`);
    }
    await restoreFiles(path, facts);
    await restoreInto(database, path, facts);
    say(
      `Restored what was written on ${facts.made.slice(0, 16).replace('T', ' ')} UTC by Whirl ${facts.whirl}.`,
    );
  } finally {
    await cluster?.stop();
  }
}

const [command, file] = process.argv.slice(2);
try {
  if (!file) throw new Error(`Name the file: ./whirl ${command ?? 'backup'} FILE`);
  const path = resolve(file);
  if (command === 'restore') {
    if (!existsSync(path)) throw new Error(`${path} is not there.`);
    await restore(path);
  } else await backup(path);
} catch (error) {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
  process.exitCode = 1;
}
