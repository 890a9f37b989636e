import { existsSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { z } from 'zod';

const THING_STATES = ['starting', 'running', 'waiting', 'ended'] as const;

const thing = z.object({
  name: z.string(),
  state: z.enum(THING_STATES),
  pid: z.number().nullable(),
  /** When it came to this state. */
  since: z.string(),
  /** How often it was started again. */
  restarts: z.number(),
  /** Why it ended last. */
  reason: z.string().nullable(),
});
export type Thing = z.infer<typeof thing>;

const runState = z.object({
  /** The process of `./whirl start`. */
  pid: z.number(),
  url: z.string(),
  port: z.number(),
  database: z.string(),
  things: z.array(thing),
});
export type RunState = z.infer<typeof runState>;

const fileOf = (base: string): string => join(base, 'running.json');

/** What is written of the last start, or `null`. It may have ended since: see `isAlive`. */
export function readState(base: string): RunState | null {
  try {
    return runState.parse(JSON.parse(readFileSync(fileOf(base), 'utf8')));
  } catch {
    return null;
  }
}

/** Writes it in one piece: whoever reads meanwhile gets the one before. */
export function writeState(base: string, state: RunState): void {
  const path = fileOf(base);
  writeFileSync(`${path}.new`, JSON.stringify(state, null, 2), { mode: 0o600 });
  renameSync(`${path}.new`, path);
}

export const forgetState = (base: string): void => rmSync(fileOf(base), { force: true });

/** Whether a process runs and was started from a file with this name: numbers of processes are used again. */
export function isAlive(pid: number | null, file: string): boolean {
  if (pid === null || !existsSync(`/proc/${pid}`)) return false;
  try {
    // A process that has ended and is not yet fetched by its parent has no command line.
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(file);
  } catch {
    return false;
  }
}

/** Memory of a process and of all that it started, in bytes; 0 when it has ended. */
export function memoryOf(pid: number): number {
  try {
    const kilobytes = /^VmRSS:\s*(\d+) kB/m.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? '0';
    return Number(kilobytes) * 1024;
  } catch {
    return 0;
  }
}

/** Ends a process and its group: first asked, then, after `patienceMs`, forced. */
export async function endGroup(pid: number, patienceMs = 3000): Promise<void> {
  const send = (signal: NodeJS.Signals): boolean => {
    try {
      process.kill(-pid, signal);
      return true;
    } catch {
      return false;
    }
  };
  if (!send('SIGTERM')) return;
  for (let waited = 0; waited < patienceMs; waited += 50) {
    await new Promise((resolve) => setTimeout(resolve, 50));
    if (!existsSync(`/proc/${pid}`)) break;
  }
  // What it started may outlive it.
  send('SIGKILL');
}
