import { openDatabase } from '../server/store/database';
import { RenderMachine } from './machine';

const url = process.env.DATABASE_URL;
if (!url) throw new Error('DATABASE_URL is missing: name the database that the server uses.');
const db = openDatabase(url);
const machine = new RenderMachine(db, (line) => process.stderr.write(`${line}\n`));
await machine.start();
process.stdout.write(`ready ${machine.name}\n`);

async function stop(): Promise<void> {
  await machine.stop();
  await db.end().catch(() => undefined);
  process.exit(0);
}
process.on('SIGTERM', () => void stop());
process.on('SIGINT', () => void stop());
