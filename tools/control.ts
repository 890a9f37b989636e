import { fileURLToPath } from 'node:url';
import { startCluster } from './postgres';
import { endGroup, forgetState, isAlive, memoryOf, readState, type Thing } from './run/state';

/** `./whirl status` and `./whirl stop`. */

const root = fileURLToPath(new URL('..', import.meta.url));
const base = process.env.WHIRL_DATA ?? `${root}.whirl`;
/** Ending takes as long as what is under way: a film's frame, a snapshot. */
const PATIENCE_MS = 30_000;

const say = (line: string): void => void process.stdout.write(`${line}\n`);

const STATE_WORDS: Record<Thing['state'], string> = {
  starting: 'starting',
  running: 'running',
  waiting: 'ended; starts again',
  ended: 'ended',
};

function aliveOf({ name, pid }: Thing): boolean {
  return isAlive(pid, name === 'PostgreSQL' ? 'postgres' : `${root}dist/`);
}

function status(): number {
  const state = readState(base);
  if (!state) {
    say('Whirl is not running. Start it with ./whirl start');
    return 1;
  }
  const kept = isAlive(state.pid, 'start.mjs');
  say(
    kept
      ? `Whirl is at ${state.url}  (process ${state.pid})`
      : 'Whirl was killed: what it started may still run.',
  );
  for (const thing of state.things) {
    const alive = aliveOf(thing);
    const words = alive ? STATE_WORDS[thing.state] : kept ? STATE_WORDS.waiting : STATE_WORDS.ended;
    const process = alive
      ? `process ${thing.pid}, ${Math.round(memoryOf(thing.pid!) / 1048576)} MB, since ${thing.since.slice(0, 19).replace('T', ' ')} UTC`
      : '';
    const again =
      thing.restarts > 0
        ? `; started again ${thing.restarts === 1 ? 'once' : `${thing.restarts} times`}, last because: ${thing.reason}`
        : '';
    say(`  ${thing.name.padEnd(15)} ${words}${process ? `: ${process}` : ''}${again}`);
  }
  say(`Logs are in ${base}/logs`);
  return kept && state.things.every(aliveOf) ? 0 : 1;
}

async function stop(): Promise<number> {
  const state = readState(base);
  if (!state) {
    say('Whirl is not running.');
    return 0;
  }
  if (isAlive(state.pid, 'start.mjs')) {
    process.kill(state.pid, 'SIGTERM');
    for (let waited = 0; waited < PATIENCE_MS && isAlive(state.pid, 'start.mjs'); waited += 100)
      await new Promise((resolve) => setTimeout(resolve, 100));
    if (!isAlive(state.pid, 'start.mjs')) {
      say('Whirl has been stopped.');
      return 0;
    }
    process.kill(state.pid, 'SIGKILL');
  }
  for (const thing of state.things)
    if (thing.name !== 'PostgreSQL' && aliveOf(thing)) await endGroup(thing.pid!);
  const postgres = state.things.find((thing) => thing.name === 'PostgreSQL');
  if (postgres && aliveOf(postgres)) await (await startCluster(base)).stop();
  forgetState(base);
  say('Whirl has been stopped, with what an earlier start left running.');
  return 0;
}

process.exitCode = process.argv[2] === 'stop' ? await stop() : status();
