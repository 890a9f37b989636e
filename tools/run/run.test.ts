import { existsSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, describe, expect, it } from 'vitest';
import { KeptRunning } from './kept-running';
import { LogFile } from './log-file';
import { forgetState, isAlive, readState, writeState, type Thing } from './state';

const folder = (): string => mkdtempSync(join(tmpdir(), 'whirl-run-'));

describe('a log file', () => {
  it('is put aside when it is full, and only so many are kept', () => {
    const path = join(folder(), 'logs', 'server.log');
    const log = new LogFile(path, 100);
    for (let i = 0; i < 30; i++) log.write(`${String(i).padStart(2, '0')}${'.'.repeat(46)}\n`);
    expect(readFileSync(path, 'utf8')).toMatch(/^28\.+\n29\.+\n$/);
    expect(readFileSync(`${path}.1`, 'utf8')).toMatch(/^26/);
    expect(existsSync(`${path}.4`)).toBe(true);
    expect(existsSync(`${path}.5`)).toBe(false);
    // Another process goes on where the last one ended.
    new LogFile(path, 100).write('next\n');
    expect(readFileSync(path, 'utf8')).toBe('next\n');
  });
});

describe('what is written of a start', () => {
  it('is read back whole, and nothing else is taken for it', () => {
    const base = folder();
    expect(readState(base)).toBeNull();
    const state = { pid: 7, url: 'http://127.0.0.1:4173', port: 4173, database: 'postgres://x', things: [] };
    writeState(base, state);
    expect(readState(base)).toEqual(state);
    writeFileSync(join(base, 'running.json'), '{"pid":');
    expect(readState(base)).toBeNull();
    writeState(base, state);
    forgetState(base);
    expect(readState(base)).toBeNull();
  });
});

describe('a process that is kept running', () => {
  const running: KeptRunning[] = [];
  afterEach(async () => {
    for (const each of running.splice(0)) await each.stop();
  });
  const keep = (
    script: string,
    readyLimitMs?: number,
  ): { kept: KeptRunning; told: string[]; things: Thing[]; log: string } => {
    const base = folder();
    const file = join(base, 'program.mjs');
    writeFileSync(file, script);
    const told: string[] = [];
    const things: Thing[] = [];
    const log = join(base, 'program.log');
    const changed = (thing: Thing, what: string | null): void => {
      things.push(thing);
      if (what !== null) told.push(what);
    };
    const kept = new KeptRunning({ name: 'program', file, env: {} }, new LogFile(log), changed, readyLimitMs);
    running.push(kept);
    return { kept, told, things, log };
  };
  const until = async (holds: () => boolean): Promise<void> => {
    while (!holds()) await new Promise((resolve) => setTimeout(resolve, 20));
  };

  it('is started again when it is killed, and says how often and why', async () => {
    const { kept, told } = keep(`console.log('ready here'); setInterval(() => {}, 1000);`);
    await kept.start();
    const first = kept.thing.pid!;
    expect(isAlive(first, 'program.mjs')).toBe(true);
    process.kill(first, 'SIGKILL');
    await until(() => kept.thing.restarts === 1 && kept.thing.state === 'running');
    expect(kept.thing.pid).not.toBe(first);
    expect(kept.thing.reason).toBe('ended by SIGKILL');
    expect(told[0]).toBe('The program ended by SIGKILL; it is started again in 0.5 s.');
    await kept.stop();
    expect(isAlive(kept.thing.pid, 'program.mjs')).toBe(false);
    expect(kept.thing.state).toBe('ended');
  });

  it('that cannot start is tried again with growing pauses, the reason beside it and in the log', async () => {
    const { kept, told, log } = keep(`throw new Error('no room on the quay');`);
    await expect(kept.start()).rejects.toThrow(/ended with code 1. Error: no room on the quay/);
    await until(() => told.length >= 3);
    expect(told.map((line) => /in ([\d.]+) s/.exec(line)?.[1])).toEqual(['0.5', '1', '2']);
    expect(kept.thing.reason).toBe('ended with code 1: Error: no room on the quay');
    expect(readFileSync(log, 'utf8')).toContain('no room on the quay');
  });

  it('that never says it is ready is ended and started again', async () => {
    const { kept, log } = keep(
      `import { existsSync, writeFileSync } from 'node:fs';
       const mark = new URL('./mark', import.meta.url);
       if (existsSync(mark)) console.log('ready now');
       else writeFileSync(mark, '');
       setInterval(() => undefined, 1000);`,
      1500,
    );
    await expect(kept.start()).rejects.toThrow(/ended by SIGKILL/);
    await until(() => kept.thing.state === 'running');
    expect(kept.thing.restarts).toBe(1);
    expect(readFileSync(log, 'utf8')).toContain('not ready after 1.5 s');
    // One that is ready is left alone.
    await new Promise((resolve) => setTimeout(resolve, 2000));
    expect(kept.thing.restarts).toBe(1);
  });
});
