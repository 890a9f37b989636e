import { fileURLToPath } from 'node:url';
import { runMigrations } from 'graphile-worker';
import pino from 'pino';
import { createApp } from './app';
import { Desk } from './desk/desk';
import { claimFiles, ownFileStore } from './files';
import { MOVE_FILES, moveEarlierFiles, askToMoveFiles } from './files/move-earlier';
import { httpServer } from './http';
import { News } from './news';
import { KeptQueue } from './store/queue';
import { seedDemo } from './seed';
import { migrate, openDatabase } from './store/database';
import { readSound, soundWork } from './sound/read-sound';
import { freeSounds, READ_SOUND } from './store/sounds';
import { clearDue } from './store/upkeep';

const url = process.env.DATABASE_URL;
if (!url) throw new Error('DATABASE_URL is missing: start the server with ./whirl start.');
const port = Number(process.env.WHIRL_PORT ?? 4173);
const host = process.env.WHIRL_HOST ?? '127.0.0.1';
const log = pino({ level: process.env.WHIRL_LOG ?? 'warn' });

await migrate(url);
await runMigrations({ connectionString: url });
const db = openDatabase(url);
const patientDb = openDatabase(url, 4, true);
const files = ownFileStore();
await claimFiles(db, files);
if (process.env.WHIRL_DEMO !== 'no') await seedDemo(db, files);
const news = new News(url);
await news.start();

const desk = new Desk(url, process.env.WHIRL_FILES!, log);
// Whoever is up at four in the morning does not edit.
const upkeep = new KeptQueue(
  {
    pgPool: patientDb,
    concurrency: 1,
    crontab: '17 4 * * * clear_due',
    taskList: {
      clear_due: async () => {
        const cleared = await clearDue(patientDb, files);
        log.warn({ cleared }, 'upkeep');
      },
      [MOVE_FILES]: async () => {
        log.warn({ moved: await moveEarlierFiles(patientDb, files) }, 'files moved out of the database');
      },
    },
  },
  (line) => log.warn(line),
);
await upkeep.start();
await askToMoveFiles(db);
await freeSounds(db);
const sounds = new KeptQueue(
  {
    pgPool: patientDb,
    concurrency: 1,
    taskList: {
      [READ_SOUND]: async (payload, { job }) => {
        const { hash } = soundWork.parse(payload);
        await readSound(patientDb, files, hash, job.attempts >= job.max_attempts);
      },
    },
  },
  (line) => log.warn(line),
);
await sounds.start();

const web = fileURLToPath(new URL('./web', import.meta.url));
const hosts = [
  '127.0.0.1',
  'localhost',
  '[::1]',
  host,
  ...(process.env.WHIRL_HOSTS ?? '').split(',').filter(Boolean),
];
const server = httpServer(createApp({ db, patientDb, files, news, desk, log, web, hosts }));
server.listen(port, host, () => {
  process.stdout.write(`listening ${port}\n`);
});

const STOP_MS = 1500;

/** Ends what is open; what does not end in time ends with the process. */
async function stop(): Promise<void> {
  setTimeout(() => process.exit(0), STOP_MS).unref();
  server.close();
  server.closeAllConnections();
  await Promise.allSettled([upkeep.finish(), sounds.finish(), news.stop(), desk.stop()]);
  await Promise.allSettled([db.end(), patientDb.end()]);
  process.exit(0);
}
process.on('SIGTERM', () => void stop());
process.on('SIGINT', () => void stop());
