import { spawn } from 'node:child_process';
import { chmodSync, mkdtempSync, openSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { seeded } from '../../core/testing/seeded';
import { malformedRequests } from '../../server/malformed';
import { sendRaw } from '../../server/send-raw';
import { isRunning, type OpenedShot, type RenderJob, type RenderList } from '../../wire';
import { freePort } from '../run/free-port';
import { memoryOf, readState, type RunState } from '../run/state';
import { ask, askOn } from './client';
import { HealthWatch } from './health';
import { historyFaults } from './history';
import { Writer } from './writer';

/**
 * Whirl under all that goes wrong at once: the server, PostgreSQL and the render machine are killed at random while two
 * people edit one shot, films are drawn, and requests come that no page makes. In the end nothing that was acknowledged
 * may be lost, every history must lead back to its beginning, and every film must have ended.
 *
 * `npm run torture -- --minutes 60 [--seed 7] [--strict] [--spare 0.33]`; strict counts slow answers and memory that grows
 * as faults, too; spare is the last share of the time in which the server is not killed.
 */

const { values: options } = parseArgs({
  options: {
    minutes: { type: 'string', default: '10' },
    seed: { type: 'string', default: String(Date.now() % 100_000) },
    strict: { type: 'boolean', default: false },
    spare: { type: 'string', default: String(1 / 3) },
  },
});
const dist = fileURLToPath(new URL('.', import.meta.url));
const say = (line: string): void => void process.stdout.write(`${line}\n`);
const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

/** Seconds between two kills, and between two films. */
const KILL_EVERY: readonly [number, number] = [4, 14];
const FILM_EVERY_MS = 20_000;
/** While things start again no answer is expected in time. */
const DISTURBED_MS = 15_000;
/** Until everything runs, until an answer comes, until all films have ended, until everything has been ended. */
const PATIENCE = { start: 180_000, films: 240_000, finish: 60_000 };
/** Lines of what Whirl itself printed that are told with a fault. */
const LOG_LINES = 60;
const MEMORY_EVERY_MS = 30_000;
/** How much more than its median in the first half of that time the server may hold in the second half. */
const MEMORY_GROWTH = 1.25;
const HEALTH_LIMIT_MS = 200;
const ODD_LIMIT_MS = 1000;

const share = seeded(Number(options.seed));
const random = (below: number): number => Math.floor(share() * below);
/** The torture begins once everything runs: a slow start takes nothing off its time. */
let end = Infinity;
/** From here on the server is left alive, so that its memory can be followed. */
let spared = Infinity;
const faults: string[] = [];

const folder = mkdtempSync(join(tmpdir(), 'whirl-torture-'));
chmodSync(folder, 0o755);
/** Where Whirl is: told by itself once it runs, since the port may have been taken before it came to it. */
let url = '';
const env: NodeJS.ProcessEnv = {
  ...process.env,
  WHIRL_DATA: folder,
  WHIRL_PORT: String(await freePort()),
  WHIRL_CARD_DELAY: '36000',
};
delete env.DATABASE_URL;
const log = join(folder, 'start.log');
const printed = openSync(log, 'a');
const start = spawn(process.execPath, [`${dist}start.mjs`], { env, stdio: ['ignore', printed, printed] });
const state = (): RunState | null => readState(folder);
const thing = (name: string) => state()?.things.find((each) => each.name === name);

function kill(name: string): void {
  const pid = thing(name)?.pid;
  if (!pid) return;
  try {
    process.kill(name === 'PostgreSQL' ? pid : -pid, 'SIGKILL');
  } catch {
    // It is just being started again.
  }
}

const kills: Record<string, number> = {};
async function killAtRandom(watch: HealthWatch): Promise<void> {
  const names = ['PostgreSQL', 'render machine', 'server'];
  while (Date.now() < end) {
    await pause((KILL_EVERY[0] + random(KILL_EVERY[1] - KILL_EVERY[0])) * 1000);
    const name = names[random(Date.now() < spared ? names.length : names.length - 1)]!;
    watch.disturbed(DISTURBED_MS);
    kill(name);
    kills[name] = (kills[name] ?? 0) + 1;
  }
}

/** Reads the server's memory while it is left alive. @returns MB, one reading each half minute */
async function followMemory(): Promise<number[]> {
  await pause(spared - Date.now());
  const readings: number[] = [];
  while (Date.now() < end) {
    readings.push(Math.round(memoryOf(thing('server')?.pid ?? 0) / 1048576));
    await pause(Math.min(MEMORY_EVERY_MS, end - Date.now()));
  }
  return readings;
}

/** @returns how many times more the server held in the second half of the readings than in the first, by the medians */
function memoryGrowth(readings: readonly number[]): number {
  const median = (values: readonly number[]): number =>
    [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!;
  const half = Math.floor(readings.length / 2);
  return half < 2 ? 1 : median(readings.slice(half)) / median(readings.slice(0, half));
}

async function startFilms(shot: string): Promise<string[]> {
  const films: string[] = [];
  while (Date.now() < end) {
    const last = 6 + random(20);
    const { status, body } = await ask<RenderJob>(url, 'POST', `/shots/${shot}/renders`, {
      first: 1,
      last,
      width: 160,
      height: 90,
      format: ['mp4', 'webm', 'png'][random(3)],
      alpha: false,
    });
    if (status === 201) films.push(body.id);
    await pause(FILM_EVERY_MS);
  }
  return films;
}

async function sendOddRequests(
  ids: { project: string; shot: string },
  watch: HealthWatch,
): Promise<{ count: number; longest: number }> {
  let count = 0;
  let longest = 0;
  for (const request of malformedRequests(Number(options.seed), ids)) {
    if (Date.now() >= end) break;
    const began = performance.now();
    const { status, body } = await sendRaw(Number(new URL(url).port), request);
    const took = performance.now() - began;
    if (status !== 0 && status !== 503) {
      count++;
      if (watch.isQuiet(began)) longest = Math.max(longest, took);
      if (status >= 500)
        faults.push(`${request.method} ${request.path} was answered with ${status}: ${body.slice(0, 200)}`);
    }
    await pause(20);
  }
  return { count, longest: Math.round(longest) };
}

/** Waits until all films have ended. @returns those that have not */
async function stuckFilms(): Promise<readonly RenderJob[]> {
  const limit = Date.now() + PATIENCE.films;
  for (;;) {
    const { jobs } = await askOn<RenderList>(url, 'GET', '/renders');
    const running = jobs.filter(isRunning);
    if (running.length === 0 || Date.now() > limit) return running;
    await pause(1000);
  }
}

async function torture(): Promise<void> {
  const limit = Date.now() + PATIENCE.start;
  while (thing('server')?.state !== 'running' || thing('render machine')?.state !== 'running') {
    if (start.exitCode !== null) throw new Error('Whirl could not be started.');
    if (Date.now() > limit) throw new Error(`Whirl did not start within ${PATIENCE.start / 1000} s.`);
    await pause(200);
  }
  url = state()!.url;
  const project = await askOn<{ id: string }>(url, 'POST', '/projects', { name: 'Torture' });
  const make = (name: string) =>
    askOn<{ id: string }>(url, 'POST', `/projects/${project.id}/shots`, { name });
  const [shot, target] = [await make('Edited by two'), await make('Attacked')];
  const { document: first } = await askOn<OpenedShot>(url, 'GET', `/shots/${shot.id}`);
  const camera = first.setup.camera!;
  const writers = [
    new Writer(url, shot.id, ['setup', 'last'], (count) => 96 + (count % 200)),
    new Writer(url, shot.id, ['parts', camera, 'values', 'location.x'], (count) => count / 8),
  ];
  const watch = new HealthWatch(url);
  end = Date.now() + Number(options.minutes) * 60_000;
  spared = end - Number(options.minutes) * 60_000 * Number(options.spare);
  say(`Seed ${options.seed}, ${options.minutes} minutes, at ${url}`);

  const [films, odd, memory] = await Promise.all([
    startFilms(shot.id),
    sendOddRequests({ project: project.id, shot: target.id }, watch),
    followMemory(),
    killAtRandom(watch),
    Promise.all(writers.map((writer) => writer.run())),
    watch.run(),
    pause(end - Date.now()).then(() => {
      for (const writer of writers) writer.stop();
      watch.stop();
    }),
  ]);

  const acknowledged = writers.flatMap((writer) => writer.acknowledged);
  const history = await historyFaults(url, shot.id, first, acknowledged);
  faults.push(...history.faults);
  const stuck = await stuckFilms();
  for (const job of stuck) faults.push(`a film is still ${job.status} with ${job.drawn} frames drawn`);
  const { jobs } = await askOn<RenderList>(url, 'GET', '/renders');
  const failed = jobs.filter((job) => films.includes(job.id) && job.status === 'failed');
  const health = watch.figures();
  if (options.strict && health.longest > HEALTH_LIMIT_MS)
    faults.push(`an answer about health took ${health.longest} ms: at most ${HEALTH_LIMIT_MS} are allowed`);
  if (options.strict && odd.longest > ODD_LIMIT_MS)
    faults.push(`a malformed request took ${odd.longest} ms: at most ${ODD_LIMIT_MS} are allowed`);
  const growth = memoryGrowth(memory);
  if (options.strict && growth > MEMORY_GROWTH)
    faults.push(`the server's memory grew ${growth.toFixed(2)} times: at most ${MEMORY_GROWTH} are allowed`);
  const refusals = [...new Set(writers.flatMap((writer) => [...writer.refusals.keys()]))].sort();
  const unexpected = refusals.filter((status) => status !== 0 && status !== 503);
  if (unexpected.length > 0) faults.push(`changes were refused with ${unexpected.join(', ')}`);
  say(
    JSON.stringify(
      {
        kills,
        changes: { acknowledged: acknowledged.length, kept: history.changes },
        films: { started: films.length, failed: failed.map((job) => job.error), stuck: stuck.length },
        malformed: odd,
        health,
        serverMemoryMB: memory,
      },
      null,
      2,
    ),
  );
}

try {
  await torture();
} catch (error) {
  faults.push(error instanceof Error ? error.message : String(error));
} finally {
  const things = state()?.things ?? [];
  start.kill('SIGTERM');
  if (start.exitCode === null)
    await Promise.race([new Promise((resolve) => start.once('exit', resolve)), pause(PATIENCE.finish)]);
  if (start.exitCode === null && start.signalCode === null) {
    faults.push(`Whirl did not end within ${PATIENCE.finish / 1000} s`);
    start.kill('SIGKILL');
  }
  if (faults.length > 0) {
    for (const each of things) say(JSON.stringify(each));
    say(readFileSync(log, 'utf8').split('\n').slice(-LOG_LINES).join('\n'));
  }
  rmSync(folder, { recursive: true, force: true });
}
for (const fault of faults) say(`FAULT ${fault}`);
say(faults.length === 0 ? 'Nothing was lost, nothing is stuck.' : `${faults.length} faults.`);
// Whatever still waits for an answer ends here.
process.exit(faults.length === 0 ? 0 : 1);
