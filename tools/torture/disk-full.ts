import { execFileSync, spawn } from 'node:child_process';
import { chmodSync, mkdirSync, mkdtempSync, rmSync, statfsSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { OpenedShot, ProjectCard } from '../../wire';
import { readState } from '../run/state';
import { askOn } from './client';
import { historyFaults } from './history';
import { Writer } from './writer';

/**
 * A disk that runs full while somebody edits, and has room again later: `npm run torture:disk`. The disk is a small
 * file system in memory, for which it must be run as root.
 */

const SIZE = '160m';
const PORT = 4471;
/** Left free when the disk is filled: PostgreSQL must stumble soon, not at once. */
const LEFT = 64 * 1024;
const EDITS_MS = 8000;
const FULL_MS = 20_000;

const dist = fileURLToPath(new URL('.', import.meta.url));
const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));
const say = (line: string): void => void process.stdout.write(`${line}\n`);

const disk = mkdtempSync(join(tmpdir(), 'whirl-disk-'));
try {
  execFileSync('mount', ['-t', 'tmpfs', '-o', `size=${SIZE}`, 'tmpfs', disk], { stdio: 'pipe' });
} catch {
  process.stderr.write(
    'No small disk can be made here: run this as root, where file systems may be mounted.\n',
  );
  process.exit(2);
}
chmodSync(disk, 0o755);
const folder = join(disk, 'whirl');
mkdirSync(folder);
const env: NodeJS.ProcessEnv = {
  ...process.env,
  WHIRL_DATA: folder,
  WHIRL_PORT: String(PORT),
  WHIRL_MACHINE: 'no',
};
delete env.DATABASE_URL;
const start = spawn(process.execPath, [`${dist}start.mjs`], { env, stdio: 'ignore' });
const url = `http://127.0.0.1:${PORT}`;
const faults: string[] = [];

try {
  while (readState(folder)?.things.find(({ name }) => name === 'server')?.state !== 'running')
    await pause(200);
  const [project] = await askOn<ProjectCard[]>(url, 'GET', '/projects');
  const shot = project!.shots[0]!.id;
  const { document } = await askOn<OpenedShot>(url, 'GET', `/shots/${shot}`);
  // Long texts, so that the disk is soon full.
  const writer = new Writer(url, shot, ['recipes', 'rcp_disk'], (count) => ({
    kind: `kind ${count}`,
    parts: {},
    numbers: Object.fromEntries(Array.from({ length: 60 }, (_, i) => [`n${i}`, 'x'.repeat(150) + count])),
    driven: [],
  }));
  const writing = writer.run();
  await pause(EDITS_MS);
  const before = writer.acknowledged.length;
  const { bavail, bsize } = statfsSync(disk);
  writeFileSync(join(disk, 'filling'), Buffer.alloc(bavail * bsize - LEFT));
  await pause(FULL_MS);
  const full = writer.acknowledged.length;
  rmSync(join(disk, 'filling'));
  await pause(EDITS_MS);
  writer.stop();
  await writing;
  const after = writer.acknowledged.length;
  const { faults: found } = await historyFaults(url, shot, document, writer.acknowledged);
  faults.push(...found);
  const refusals = Object.fromEntries(writer.refusals);
  if (!writer.refusals.has(503)) faults.push('nothing was refused: the disk was not full');
  const odd = [...writer.refusals.keys()].filter((status) => status !== 503 && status !== 0);
  if (odd.length > 0) faults.push(`changes were refused with ${odd.join(', ')}`);
  if (after === full) faults.push('nothing was taken once there was room again');
  say(
    JSON.stringify({ acknowledged: { before, full: full - before, after: after - full }, refusals }, null, 2),
  );
} catch (error) {
  faults.push(error instanceof Error ? error.message : String(error));
} finally {
  start.kill('SIGTERM');
  if (start.exitCode === null) await new Promise((resolve) => start.once('exit', resolve));
  execFileSync('umount', [disk]);
  rmSync(disk, { recursive: true, force: true });
}
for (const fault of faults) say(`FAULT ${fault}`);
say(faults.length === 0 ? 'Nothing was lost, and all went on.' : `${faults.length} faults.`);
process.exitCode = faults.length === 0 ? 0 : 1;
