import { spawn, type ChildProcess } from 'node:child_process';
import { appendFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { freePort } from '../tools/run/free-port';

export { freePort };

const dist = fileURLToPath(new URL('../dist/', import.meta.url));

export interface Running {
  readonly url: string;
  readonly process: ChildProcess;
  /** The last of what it has told of its work. */
  said(): string;
  /** kill -9, as when the power fails. */
  kill(): Promise<void>;
}

function launch(file: string, env: Record<string, string>, url: string): Promise<Running> {
  const files = new URL(`../.whirl-test/files-of${new URL(env.DATABASE_URL!).pathname}`, import.meta.url)
    .pathname;
  return new Promise((resolve, reject) => {
    const child = spawn(process.execPath, [`${dist}${file}`], {
      env: { ...process.env, NODE_ENV: 'production', WHIRL_FILES: files, ...env },
      stdio: ['ignore', 'pipe', 'pipe'],
      detached: true,
    });
    let said = '';
    child.stderr.on('data', (text: Buffer) => {
      said = (said + text.toString()).slice(-4000);
      if (process.env.WHIRL_TEST_BASE) appendFileSync(`${process.env.WHIRL_TEST_BASE}/${file}.log`, text);
    });
    child.stdout.once('data', () =>
      resolve({
        url,
        process: child,
        said: () => said,
        kill: () =>
          new Promise((done) => {
            if (child.exitCode !== null || child.signalCode !== null) return done();
            child.once('exit', () => done());
            // The whole group: a render machine's browser dies with it.
            process.kill(-child.pid!, 'SIGKILL');
          }),
      }),
    );
    child.once('exit', (code) => reject(new Error(`${file} ended with ${code}: ${said.slice(-500)}`)));
  });
}

/** A Whirl server on a database, at a port of its own (or a given one). */
export async function startServer(database: string, port?: number): Promise<Running> {
  const at = port ?? (await freePort());
  // Nobody looks at the cards of the shots that tests edit.
  const env = { DATABASE_URL: database, WHIRL_PORT: String(at), WHIRL_CARD_DELAY: '36000' };
  return launch('server.mjs', env, `http://127.0.0.1:${at}`);
}

export function startMachine(database: string): Promise<Running> {
  return launch('render-machine.mjs', { DATABASE_URL: database }, '');
}

/** Does what is to be done with processes; where that fails, what they told is told with it. */
export async function tellingOf(processes: readonly Running[], work: () => Promise<void>): Promise<void> {
  try {
    await work();
  } catch (error) {
    const told = processes.map((one) => `--- ${one.process.spawnargs[1]}\n${one.said()}`).join('\n');
    const { stack, cause } = error as Error;
    throw new Error(`${stack}\n${cause instanceof Error ? cause.stack : ''}\n${told}`, { cause: error });
  }
}
