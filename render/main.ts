import { rmSync } from 'node:fs';
import { checkFiles, checkWritable, ownFileStore } from '../server/files';
import { openDatabase } from '../server/store/database';
import { RenderMachine } from './machine';
import { clearLeftFolders, makeFolder } from './work-folder';

const url = process.env.DATABASE_URL;
if (!url) throw new Error('DATABASE_URL is missing: name the database that the server uses.');
clearLeftFolders();
// The browser works in a folder that is cleared with ours.
const folder = makeFolder();
process.env.TMPDIR = folder;
const db = openDatabase(url);
const files = ownFileStore();
await checkFiles(db, files);
await checkWritable(files);
const machine = new RenderMachine(db, files, (line) => process.stderr.write(`${line}\n`));
await machine.start();
process.stdout.write(`ready ${machine.name}\n`);

const STOP_MS = 1500;

/** Ends at once; a connection that the queue still holds ends with the process. */
async function stop(): Promise<void> {
  await machine.stop();
  setTimeout(() => process.exit(0), STOP_MS).unref();
  rmSync(folder, { recursive: true, force: true });
  await db.end().catch(() => undefined);
  process.exit(0);
}
process.on('SIGTERM', () => void stop());
process.on('SIGINT', () => void stop());
