import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { runMigrations } from 'graphile-worker';
import type { Shot } from '../core/document';
import { fullRide } from '../demo/full-ride';
import { assemble } from '../render/assemble';
import { DrawingBrowser } from '../render/drawing-browser';
import { RenderMachine } from '../render/machine';
import { pictureRaw, pngOf, type Pictures, type RawFrame } from '../render/raw-frame';
import { FolderStore } from '../server/files';
import { openDatabase, migrate } from '../server/store/database';
import { createProject } from '../server/store/projects';
import { createRender, readRender } from '../server/store/renders';
import { createShot } from '../server/store/shots';
import { startCluster } from '../tools/postgres';

/**
 * A film of the demo ride at 1280x720, from its first frame to the finished file, beside drawing the same frames and
 * throwing them away (at most 1.15 times that); what each stage costs by itself; and, over 300 frames, whether time and memory
 * stay level. Rounds of both are taken in turns.
 */

const SIZE = { width: 1280, height: 720, alpha: false };
const FRAMES = 36;
const ROUNDS = 5;
const LONG = 300;

const folder = mkdtempSync(join(tmpdir(), 'whirl-bench-'));
chmodSync(folder, 0o755);
const cluster = await startCluster(folder);
await migrate(cluster.url, new URL('../server/migrations', import.meta.url).pathname);
await runMigrations({ connectionString: cluster.url });
const db = openDatabase(cluster.url);
const files = new FolderStore(join(folder, 'files'));
let browser: DrawingBrowser | null = null;
const machine = new RenderMachine(
  db,
  files,
  () => undefined,
  async (read) => (browser = await DrawingBrowser.open(read)),
);
await machine.start();

// Sounds are mixed once a film, before its pictures.
const document: Shot = { ...fullRide(), sounds: {} };
const project = await createProject(db, 'Bench');
const shot = (await createShot(db, project, 'Ride', document))!;
const order = (first: number, last: number, size = SIZE) =>
  createRender(
    db,
    { id: shot, name: 'Ride', projectName: 'Bench', document, inner: {} },
    {
      ...size,
      first,
      last,
      format: 'mp4',
      quality: 'high',
      fileName: null,
      samples: null,
      effects: true,
      fresh: true,
    },
  );

/** Milliseconds from the first frame that is there to the finished film: loading the shot comes once, before. */
async function film(last: number, size = SIZE): Promise<number> {
  let start = Infinity;
  const id = await order(1, last, size);
  for (;;) {
    const job = (await readRender(db, id))!;
    if (job.drawn > 0) start = Math.min(start, performance.now());
    if (job.status === 'done') return performance.now() - start;
    if (!['waiting', 'drawing', 'assembling'].includes(job.status))
      throw new Error(`${job.status}: ${job.error}`);
    // Asking takes time from the drawing, too.
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
}

async function bare(last: number): Promise<number> {
  await browser!.drawForNothing(1);
  const start = performance.now();
  for (let frame = 2; frame <= last; frame++) await browser!.drawForNothing(frame);
  return performance.now() - start;
}

const median = (values: readonly number[]): number =>
  [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!;
const megabytes = (bytes: number): string => `${Math.round(bytes / 1e6)} MB`;

// The shot is loaded and its programs are compiled; what loading costs is in each film.
await film(2);
await bare(4);
const times: { whole: number; bare: number }[] = [];
// Each film is compared with the drawing before and after it: what else the computer does changes meanwhile.
for (let round = 0, before = await bare(FRAMES); round < ROUNDS; round++) {
  const whole = await film(FRAMES);
  const after = await bare(FRAMES);
  times.push({ bare: (before + after) / 2, whole });
  before = after;
}
const ratio = median(times.map((round) => round.whole / round.bare));
const drawn = median(times.map((round) => round.bare)) / (FRAMES - 1);
console.log(
  `whole film: ${ratio.toFixed(2)} times the bare drawing (at most 1.15), ${(drawn * ratio).toFixed(0)} ms a frame`,
);
for (const round of times)
  console.log(
    `  bare ${(round.bare / (FRAMES - 1)).toFixed(0)} ms, film ${(round.whole / (FRAMES - 1)).toFixed(0)} ms a frame: ${(round.whole / round.bare).toFixed(2)}`,
  );

/** Milliseconds that something takes by itself, by the median. */
async function alone(work: () => Promise<unknown>, times = 9): Promise<number> {
  const taken: number[] = [];
  for (let i = 0; i < times; i++) {
    const start = performance.now();
    await work();
    taken.push(performance.now() - start);
  }
  return median(taken);
}

const raw: RawFrame[] = [];
for (let frame = 1; frame <= 24; frame++) raw.push(await (await browser!.drawAhead(frame)).picture);
const pictures: Pictures = (async function* () {
  for (const [i, picture] of raw.entries()) yield await Promise.resolve(pictureRaw(i + 1, picture));
})();
let start = performance.now();
await assemble(
  pictures,
  {
    ...SIZE,
    format: 'mp4',
    rate: document.setup.rate,
    quality: 'high',
    name: '',
    sound: () => Promise.resolve(null),
  },
  join(folder, 'film.mp4'),
);
const encoding = (performance.now() - start) / raw.length;
let at = 0;
const png = await pngOf(raw[0]!);
const stages = {
  draw: drawn,
  'draw, read back and send': await alone(async () => (await browser!.drawAhead(1 + (at++ % 24))).picture),
  'pack as PNG': await alone(() => pngOf(raw[at++ % raw.length]!)),
  'store (written through to the disk)': await alone(() =>
    files.keep(Buffer.concat([png, Buffer.from(String(at++))])),
  ),
  encode: encoding,
};
console.log('each stage by itself, ms a frame:');
for (const [name, ms] of Object.entries(stages)) console.log(`  ${name}: ${ms.toFixed(1)}`);

// A small picture: what is not drawing shows most there.
start = performance.now();
const small = { width: 320, height: 180, alpha: false };
const id = await order(1, LONG, small);
const readings: { drawn: number; ms: number; memory: number }[] = [];
for (;;) {
  const job = (await readRender(db, id))!;
  if (job.drawn >= (readings.length + 1) * (LONG / 6)) {
    (globalThis as { gc?: () => void }).gc?.();
    readings.push({ drawn: job.drawn, ms: performance.now() - start, memory: process.memoryUsage().rss });
  }
  if (job.status === 'done') break;
  // Asking takes time from the drawing, too.
  await new Promise((resolve) => setTimeout(resolve, 200));
}
console.log(`${LONG} frames at ${small.width}x${small.height}:`);
let before = { drawn: 0, ms: 0 };
for (const reading of readings) {
  const each = (reading.ms - before.ms) / (reading.drawn - before.drawn);
  console.log(
    `  to frame ${reading.drawn}: ${each.toFixed(0)} ms a frame, this process ${megabytes(reading.memory)}`,
  );
  before = reading;
}

await machine.stop();

/** A stand-in whose pictures are there at once: what is left is the queue, the database and the file store. */
function atOnce(): Promise<DrawingBrowser> {
  const size = { width: 16, height: 16, alpha: false, deep: false };
  const pixels = Buffer.alloc(size.width * size.height * 4, 255);
  return Promise.resolve({
    library: 'none',
    program: 'none',
    load: () => Promise.resolve(),
    drawAhead: () => Promise.resolve({ picture: Promise.resolve({ ...size, pixels }) }),
    close: () => Promise.resolve(),
  } as unknown as DrawingBrowser);
}

const CLAIMED = 2400;
for (const count of [1, 4]) {
  const several: RenderMachine[] = [];
  for (let i = 0; i < count; i++) {
    const each = new RenderMachine(
      openDatabase(cluster.url),
      files,
      () => undefined,
      atOnce,
      `stand-in ${i}`,
    );
    await each.start();
    several.push(each);
  }
  start = performance.now();
  const claimed = await order(1, CLAIMED, { width: 16, height: 16, alpha: false });
  while ((await readRender(db, claimed))!.drawn < CLAIMED)
    // Asking takes time from the drawing, too.
    await new Promise((resolve) => setTimeout(resolve, 200));
  const seconds = (performance.now() - start) / 1000;
  console.log(
    `${count} ${count === 1 ? 'machine' : 'machines'} that draw at once: ${(CLAIMED / seconds).toFixed(0)} frames and ${(CLAIMED / 12 / seconds).toFixed(0)} stretches a second`,
  );
  for (const each of several) await each.stop();
}
void db.end();
await cluster.stop();
rmSync(folder, { recursive: true, force: true });
process.exit(0);
