import { spawn, type ChildProcess } from 'node:child_process';
import type { LogFile } from './log-file';
import { endGroup, type Thing } from './state';

/** Milliseconds until a process that ended is started again: after each end in a row longer. */
const PAUSES_MS = [500, 1000, 2000, 5000, 10_000, 30_000] as const;
/** One that has run for so long has not ended in a row. */
const SETTLED_MS = 60_000;
/** One that has not said that it is ready after so long hangs. */
const READY_LIMIT_MS = 240_000;

export interface Program {
  readonly name: string;
  readonly file: string;
  readonly env: Readonly<Record<string, string>>;
}

/** What our programs say when they are ready. */
const READY = /^(listening|ready) /m;

/** A process that is started again whenever it ends. What it says goes into its log. */
export class KeptRunning {
  private child: ChildProcess | null = null;
  private failures = 0;
  private timer: NodeJS.Timeout | null = null;
  private stopped = false;
  thing: Thing;

  constructor(
    private readonly program: Program,
    private readonly log: LogFile,
    private readonly changed: (thing: Thing, what: string | null) => void,
    private readonly readyLimitMs = READY_LIMIT_MS,
  ) {
    this.thing = {
      name: program.name,
      state: 'starting',
      pid: null,
      since: new Date().toISOString(),
      restarts: 0,
      reason: null,
    };
  }

  private become(more: Partial<Thing>, what: string | null = null): void {
    this.thing = { ...this.thing, ...more, since: new Date().toISOString() };
    this.changed(this.thing, what);
  }

  /** Starts it. @returns once it has said that it is ready; rejects when it ends before, and is tried again all the same */
  start(): Promise<void> {
    return new Promise((resolve, reject) => {
      const { name, file, env } = this.program;
      const child = spawn(process.execPath, [file], {
        env: { ...process.env, ...env },
        stdio: ['ignore', 'pipe', 'pipe'],
        detached: true,
      });
      this.child = child;
      const began = Date.now();
      let last = '';
      this.become({ state: 'starting', pid: child.pid ?? null });
      const late = setTimeout(() => {
        if (this.child === child && this.thing.state === 'starting')
          this.force(`it was not ready after ${this.readyLimitMs / 1000} s`);
      }, this.readyLimitMs);
      late.unref();
      child.stdout.on('data', (text: Buffer) => {
        this.log.write(text);
        if (this.thing.state !== 'starting' || !READY.test(text.toString())) return;
        this.become({ state: 'running' });
        resolve();
      });
      child.stderr.on('data', (text: Buffer) => {
        this.log.write(text);
        last = (last + text.toString()).slice(-1500);
        if (process.env.WHIRL_LOG) process.stderr.write(text);
      });
      child.on('error', (error) => (last = error.message));
      child.on('close', (code, signal) => {
        if (this.child !== child) return;
        this.child = null;
        clearTimeout(late);
        const reason = signal ? `ended by ${signal}` : `ended with code ${code}`;
        const said = signal ? '' : lastSentence(last);
        reject(new Error(`The ${name} ${reason}.${said ? ` ${said}` : ''}`));
        if (this.stopped) {
          this.become({ state: 'ended', pid: null, reason });
          return;
        }
        if (Date.now() - began > SETTLED_MS) this.failures = 0;
        const wait = PAUSES_MS[Math.min(this.failures++, PAUSES_MS.length - 1)]!;
        this.become(
          {
            state: 'waiting',
            pid: null,
            reason: said ? `${reason}: ${said}` : reason,
            restarts: this.thing.restarts + 1,
          },
          `The ${name} ${reason}; it is started again in ${wait / 1000} s.`,
        );
        this.timer = setTimeout(() => {
          this.start().then(
            () => this.changed(this.thing, `The ${name} runs again.`),
            () => undefined,
          );
        }, wait);
      });
    });
  }

  /** Ends one that hangs, so that it is started again. */
  force(why: string): void {
    if (!this.child?.pid) return;
    this.log.line(`killed: ${why}`);
    try {
      process.kill(-this.child.pid, 'SIGKILL');
    } catch {
      // It has ended already.
    }
  }

  async stop(): Promise<void> {
    this.stopped = true;
    if (this.timer) clearTimeout(this.timer);
    if (this.child?.pid) await endGroup(this.child.pid);
  }
}

/** The last line that tells a reason, short enough for one line. */
function lastSentence(said: string): string {
  const lines = said
    .split('\n')
    .map((line) => line.trim())
    .filter((line) => line !== '' && !line.startsWith('at ') && !/^Node\.js v/.test(line));
  const telling = lines.findLast((line) => /error/i.test(line)) ?? lines.at(-1) ?? '';
  return telling.slice(0, 300);
}
