import { createHash } from 'node:crypto';
import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { chmod, mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { fileURLToPath } from 'node:url';
import { expect, test } from '@playwright/test';
import pg from 'pg';
import { DrawingBrowser } from '../render/drawing-browser';
import { LastingError } from '../render/lasting-error';
import { startCluster, type Cluster } from '../tools/postgres';
import { readState } from '../tools/run/state';
import { freePort, startMachine, startServer, tellingOf, type Running } from './processes';
import {
  choosePart,
  databaseUrl,
  demoCopy,
  field,
  keptShot,
  openShot,
  partNamed,
  type,
  url,
  waitKept,
} from './workbench';

test('a server killed between two edits loses nothing that was kept, and takes what waits when it is back', async ({
  page,
}) => {
  const port = await freePort();
  let server: Running = await startServer(databaseUrl(), port);
  try {
    const id = await demoCopy(server.url);
    await openShot(page, id, server.url);
    await choosePart(page, 'Bollard 4');
    await type(page, 'Bollard 4 location X', '1.25');
    await waitKept(page);
    await server.kill();
    await type(page, 'Bollard 4 location Z', '-2.5');
    await expect(page.getByTestId('kept')).toContainText('held here');
    server = await startServer(databaseUrl(), port);
    await waitKept(page);
    expect(partNamed((await keptShot(id, server.url)).document, 'Bollard 4').part.values).toMatchObject({
      'location.x': 1.25,
      'location.z': -2.5,
    });

    // The same with the tab closed while the server is away: the edit waits in the browser's own store.
    await server.kill();
    await type(page, 'Bollard 4 location Y', '0.75');
    await expect(page.getByTestId('kept')).toContainText('held here');
    await page.goto('about:blank');
    server = await startServer(databaseUrl(), port);
    await openShot(page, id, server.url);
    await choosePart(page, 'Bollard 4');
    await expect(field(page, 'Bollard 4 location Y')).toHaveValue('0.75');
    await waitKept(page);
    expect(partNamed((await keptShot(id, server.url)).document, 'Bollard 4').part.values['location.y']).toBe(
      0.75,
    );
  } finally {
    await server.kill();
  }
});

test('two tabs that could not send: what the closed one held is taken over, and leaving is asked about', async ({
  page,
  context,
}) => {
  const port = await freePort();
  let server: Running = await startServer(databaseUrl(), port);
  try {
    const id = await demoCopy(server.url);
    const other = await context.newPage();
    await openShot(page, id, server.url);
    await openShot(other, id, server.url);
    await server.kill();
    await choosePart(page, 'Bollard 1');
    await type(page, 'Bollard 1 location Y', '3');
    await choosePart(other, 'Bollard 2');
    await type(other, 'Bollard 2 location Y', '4');
    for (const tab of [page, other]) {
      await expect(tab.getByTestId('kept')).toContainText('held here');
      await expect(tab.getByTestId('kept')).toHaveAttribute('title', /1 edit held in this browser/);
    }
    // Leaving is asked about; the answer is to stay.
    const asked = other.waitForEvent('dialog');
    void other.close({ runBeforeUnload: true });
    const dialog = await asked;
    expect(dialog.type()).toBe('beforeunload');
    await dialog.dismiss();
    await expect(field(other, 'Bollard 2 location Y')).toHaveValue('4.00');
    await other.close();

    server = await startServer(databaseUrl(), port);
    await waitKept(page);
    const values = async (name: string) =>
      partNamed((await keptShot(id, server.url)).document, name).part.values['location.y'];
    expect([await values('Bollard 1'), await values('Bollard 2')]).toEqual([3, 0.25]);
    const next = await context.newPage();
    await openShot(next, id, server.url);
    await choosePart(next, 'Bollard 2');
    await expect(field(next, 'Bollard 2 location Y')).toHaveValue('4.00');
    await waitKept(next);
    expect([await values('Bollard 1'), await values('Bollard 2')]).toEqual([3, 4]);
  } finally {
    await server.kill();
  }
});

test('two tabs: changes of different places both stay', async ({ page, context }) => {
  const id = await demoCopy();
  const other = await context.newPage();
  await openShot(page, id);
  await openShot(other, id);
  await choosePart(page, 'Bollard 1');
  await type(page, 'Bollard 1 location X', '3');
  await waitKept(page);
  await expect(other.getByText(/^Made elsewhere: /)).toBeVisible();
  await choosePart(other, 'Bollard 2');
  await type(other, 'Bollard 2 location X', '4');
  await waitKept(other);
  const { document } = await keptShot(id);
  expect(partNamed(document, 'Bollard 1').part.values['location.x']).toBe(3);
  expect(partNamed(document, 'Bollard 2').part.values['location.x']).toBe(4);
});

test('a render machine killed in the middle: the film is complete', async () => {
  const id = await demoCopy();
  const machine = await startMachine(databaseUrl());
  const started = await fetch(url(`/api/shots/${id}/renders`), {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ first: 1, last: 30, width: 320, height: 180, format: 'mp4', alpha: false }),
  });
  const { id: job } = (await started.json()) as { id: string };
  const read = async (): Promise<{ status: string; drawn: number }> =>
    (await (await fetch(url(`/api/renders/${job}`))).json()) as { status: string; drawn: number };
  await expect.poll(async () => (await read()).drawn, { timeout: 180_000 }).toBeGreaterThan(5);
  await machine.kill();
  await expect.poll(async () => (await read()).status, { timeout: 240_000 }).toBe('done');
  expect((await read()).drawn).toBe(30);
});

test('PostgreSQL stopped in the middle of a film, of edits and of files: nothing kept is lost, and the film is complete', async () => {
  const folder = await mkdtemp(join(tmpdir(), 'whirl-cluster-'));
  // PostgreSQL runs as a user of its own where we are root.
  await chmod(folder, 0o755);
  let cluster: Cluster = await startCluster(folder);
  const { port } = new URL(cluster.url);
  const processes: Running[] = [];
  try {
    await tellingOf(processes, async () => {
      const server = await startServer(cluster.url);
      processes.push(server);
      const machine = await startMachine(cluster.url);
      processes.push(machine);
      const call = async <T>(
        method: string,
        path: string,
        body?: unknown,
      ): Promise<{ status: number; body: T }> => {
        const response = await fetch(`${server.url}/api${path}`, {
          method,
          // A line of its own each time, so that none is asked on that the server closes just now.
          headers: { 'Content-Type': 'application/json', Connection: 'close' },
          ...(body === undefined ? {} : { body: JSON.stringify(body) }),
        });
        return { status: response.status, body: (await response.json()) as T };
      };
      const id = await demoCopy(server.url);
      const { body: job } = await call<{ id: string }>('POST', `/shots/${id}/renders`, {
        first: 1,
        last: 28,
        width: 320,
        height: 180,
        format: 'mp4',
        alpha: false,
      });
      const read = async () =>
        (await call<{ status: string; drawn: number; error: string | null }>('GET', `/renders/${job.id}`))
          .body;
      await expect.poll(async () => (await read()).drawn, { timeout: 180_000 }).toBeGreaterThan(3);

      // Once stopped in order, once killed; edits go on all the while, and each is sent until it is taken.
      const { body: opened } = await call<{ revision: number }>('GET', `/shots/${id}`);
      let base = opened.revision;
      const refusals = new Set<number>();
      const edit = async (last: number): Promise<void> => {
        const change = {
          id: crypto.randomUUID(),
          label: 'Set last frame',
          patches: [{ path: ['setup', 'last'], after: last }],
        };
        for (;;) {
          const answer = await call<{ revision: number }>('POST', `/shots/${id}/changes`, {
            base,
            changes: [change],
          });
          if (answer.status === 200) {
            base = answer.body.revision;
            return;
          }
          refusals.add(answer.status);
          await pause(100);
        }
      };
      let last = 100;
      let editing = true;
      const edits = (async () => {
        while (editing) {
          await edit(++last);
          // As quick as a hand is; a loop without a pause would only keep the film from being drawn.
          await pause(50);
        }
      })();
      edits.catch(() => undefined);
      // Meshes come in all the while, too: each is sent until it is taken, and is there in the end.
      const stored: string[] = [];
      const mesh = (count: number): string =>
        `# ${count}\n${'v 0 0 0\nv 1 0 0\nv 0 1 0\n'.repeat(40_000)}f 1 2 3\n`;
      const bringIn = async (count: number): Promise<void> => {
        for (;;) {
          const answer = await fetch(`${server.url}/api/assets`, {
            method: 'POST',
            headers: { 'Content-Type': 'model/obj', Connection: 'close' },
            body: mesh(count),
          });
          const { hash } = (await answer.json()) as { hash: string };
          if (answer.status === 201) return void stored.push(hash);
          refusals.add(answer.status);
          await pause(100);
        }
      };
      const files = (async () => {
        for (let count = 0; editing; count++) {
          await bringIn(count);
          await pause(300);
        }
      })();
      files.catch(() => undefined);
      await cluster.stop();
      await pause(1000);
      cluster = await startCluster(folder, Number(port));
      await expect.poll(async () => (await read()).drawn, { timeout: 180_000 }).toBeGreaterThan(12);
      cluster.signal('SIGKILL');
      await pause(1000);
      cluster = await startCluster(folder, Number(port));
      await expect.poll(async () => (await read()).status, { timeout: 240_000 }).toBe('done');
      editing = false;
      await edits;
      await files;
      expect(new Set(stored).size).toBe(stored.length);
      expect(stored.length).toBeGreaterThan(3);
      for (const hash of stored) {
        const bytes = await (await fetch(`${server.url}/api/assets/${hash}`)).arrayBuffer();
        expect(createHash('sha256').update(Buffer.from(bytes)).digest('hex')).toBe(hash);
      }
      // One that hangs is told as away; nothing needs to be started again once it goes on.
      cluster.signal('SIGSTOP');
      expect(await call<{ code: string }>('GET', '/health')).toMatchObject({
        status: 503,
        body: { code: 'database-away' },
      });
      cluster.signal('SIGCONT');
      await expect.poll(async () => (await call('GET', '/health')).status).toBe(200);
      expect((await read()).drawn).toBe(28);
      const { body: now } = await call<{ revision: number; document: { setup: { last: number } } }>(
        'GET',
        `/shots/${id}`,
      );
      expect(now.revision).toBe(opened.revision + last - 100);
      expect(now.document.setup.last).toBe(last);
      // Away is told as away: no answer spoke of a fault.
      expect([...refusals]).toEqual([503]);
    });
  } finally {
    for (const running of processes) await running.kill();
    await cluster.stop();
    await rm(folder, { recursive: true, force: true });
  }
});

/** Processes that one has started, however far down, by the name that their command has. */
function startedBy(pid: number, name: string): number[] {
  const all = readdirSync('/proc').flatMap((entry) => {
    if (!/^\d+$/.test(entry)) return [];
    try {
      const parent = Number(/^PPid:\s*(\d+)/m.exec(readFileSync(`/proc/${entry}/status`, 'utf8'))?.[1]);
      return [{ pid: Number(entry), parent, command: readFileSync(`/proc/${entry}/cmdline`, 'utf8') }];
    } catch {
      return [];
    }
  });
  const found: number[] = [];
  const open = [pid];
  for (let next = open.pop(); next !== undefined; next = open.pop())
    for (const each of all.filter(({ parent }) => parent === next)) {
      open.push(each.pid);
      if (each.command.includes(name)) found.push(each.pid);
    }
  return found;
}

test('a film is complete whose drawing browser was killed, whose machine was killed twice and whose server once', async () => {
  const folder = await mkdtemp(join(tmpdir(), 'whirl-cluster-'));
  await chmod(folder, 0o755);
  const cluster = await startCluster(folder);
  const processes: Running[] = [];
  const started = async (starting: Promise<Running>): Promise<Running> => {
    const running = await starting;
    processes.push(running);
    return running;
  };
  try {
    await tellingOf(processes, async () => {
      let server = await started(startServer(cluster.url));
      const port = Number(new URL(server.url).port);
      let machine = await started(startMachine(cluster.url));
      const id = await demoCopy(server.url);
      const order = await fetch(`${server.url}/api/shots/${id}/renders`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ first: 1, last: 60, width: 320, height: 180, format: 'mp4', alpha: false }),
      });
      const { id: job } = (await order.json()) as { id: string };
      type Facts = { status: string; drawn: number; error: string | null };
      const read = async (): Promise<Facts> =>
        fetch(`${server.url}/api/renders/${job}`, { headers: { Connection: 'close' } }).then(
          (answer) => answer.json() as Promise<Facts>,
          () => ({ status: 'away', drawn: -1, error: null }),
        );
      /** Waits for more frames than there are now. @returns how many were there before */
      const drawnOn = async (): Promise<number> => {
        const before = (await read()).drawn;
        await expect.poll(async () => (await read()).drawn, { timeout: 180_000 }).toBeGreaterThan(before + 2);
        return before;
      };
      await drawnOn();
      const browser = startedBy(machine.process.pid!, 'chrom');
      expect(browser.length).toBeGreaterThan(0);
      for (const pid of browser) process.kill(pid, 'SIGKILL');
      await drawnOn();
      for (let times = 0; times < 2; times++) {
        await machine.kill();
        const before = (await read()).drawn;
        expect(before).toBeLessThan(60);
        machine = await started(startMachine(cluster.url));
        await drawnOn();
      }
      expect((await read()).status).toBe('drawing');
      await server.kill();
      server = await started(startServer(cluster.url, port));
      await expect.poll(async () => (await read()).status, { timeout: 240_000 }).toBe('done');
      expect((await read()).drawn).toBe(60);
      const film = join(folder, 'film.mp4');
      await writeFile(
        film,
        Buffer.from(await (await fetch(`${server.url}/api/renders/${job}/film`)).arrayBuffer()),
      );
      const args = [
        '-v',
        'error',
        '-count_frames',
        '-select_streams',
        'v',
        '-show_entries',
        'stream=nb_read_frames',
      ];
      expect(
        execFileSync('ffprobe', [...args, '-of', 'csv=p=0', film])
          .toString()
          .trim(),
      ).toBe('60');
      // Nothing of what was under way when they died is left in the queue.
      const client = new pg.Client({ connectionString: cluster.url });
      await client.connect();
      const left = await client.query(
        `select 1 from graphile_worker._private_jobs where payload ->> 'job' = $1`,
        [job],
      );
      await client.end();
      expect(left.rowCount).toBe(0);
    });
  } finally {
    for (const running of processes) await running.kill();
    await cluster.stop();
    await rm(folder, { recursive: true, force: true });
  }
});

test('a drawing browser draws with the library that is asked for, or says that it cannot', async () => {
  const read = () => Promise.reject(new LastingError('none'));
  const first = await DrawingBrowser.open(read);
  const { library } = first;
  await first.close();
  expect(first.ended).toBe(true);
  const second = await DrawingBrowser.open(read, library);
  expect([second.library, second.ended]).toEqual([library, false]);
  await second.close();
  // Why depends on what came up last: another library, or on a busy machine nothing that draws.
  await expect(DrawingBrowser.open(read, 'Lantern slides', [1, 1])).rejects.toThrow(
    /No browser could be started/,
  );
});

test('the door of a drawing page is shut to everybody but the page', async () => {
  const { document } = await keptShot(await demoCopy());
  const drawing = await DrawingBrowser.open(() => Promise.reject(new LastingError('none')));
  try {
    await drawing.load(document, { width: 64, height: 36, alpha: false });
    const { hostname, port, pathname } = new URL(drawing.url);
    expect(pathname.length).toBeGreaterThan(30);
    const ask = (
      path: string,
      headers: Record<string, string> = {},
      method = 'GET',
      body?: string,
    ): Promise<number> =>
      new Promise((resolve) => {
        const asked = request({ hostname, port, path, method, headers }, (answer) => {
          answer.resume();
          resolve(answer.statusCode ?? 0);
        });
        asked.on('error', () => resolve(0));
        asked.end(body);
      });
    expect(await ask(`${pathname}shot`)).toBe(200);
    expect(await ask('/shot')).toBe(403);
    expect(await ask('/frame?frame=1', {}, 'POST', 'forged')).toBe(403);
    expect(await ask(`${pathname}shot`, { Host: 'elsewhere' })).toBe(403);
    expect(await ask(`${pathname}shot`, { Origin: 'http://elsewhere' })).toBe(403);
    // Not even with the secret is a frame taken that nobody waits for.
    expect(await ask(`${pathname}frame?frame=1`, {}, 'POST', 'forged')).toBe(409);
    expect((await drawing.draw(1)).subarray(1, 4).toString()).toBe('PNG');
  } finally {
    await drawing.close();
  }
});

test('what a start began is kept running, ended after it was killed, and taken up at the same address', async () => {
  const folder = await mkdtemp(join(tmpdir(), 'whirl-start-'));
  await chmod(folder, 0o755);
  const port = await freePort();
  const dist = fileURLToPath(new URL('../dist/', import.meta.url));
  const env: NodeJS.ProcessEnv = {
    ...process.env,
    WHIRL_DATA: folder,
    WHIRL_MACHINE: 'no',
    WHIRL_DEMO: 'no',
  };
  delete env.DATABASE_URL;
  const whirl = (
    file: string,
    args: string[],
    more: NodeJS.ProcessEnv = {},
  ): Promise<{ code: number | null; said: string }> =>
    new Promise((resolve) => {
      const child = spawn(process.execPath, [`${dist}${file}`, ...args], { env: { ...env, ...more } });
      let said = '';
      child.stdout.on('data', (text: Buffer) => (said += text.toString()));
      child.on('close', (code) => resolve({ code, said }));
    });
  const begin = (more: NodeJS.ProcessEnv = {}): ChildProcess =>
    spawn(process.execPath, [`${dist}start.mjs`], {
      env: { ...env, ...more },
      stdio: 'ignore',
      detached: true,
    });
  const state = () => readState(folder);
  const server = () => state()?.things.find((thing) => thing.name === 'server');
  const healthy = (): Promise<boolean> =>
    fetch(`http://127.0.0.1:${port}/api/health`).then(
      (answer) => answer.ok,
      () => false,
    );
  try {
    const first = begin({ WHIRL_PORT: String(port) });
    await expect.poll(() => server()?.state, { timeout: 120_000 }).toBe('running');
    expect(await healthy()).toBe(true);
    expect(await whirl('control.mjs', ['status'])).toMatchObject({
      code: 0,
      said: expect.stringMatching(/PostgreSQL +running: process \d+/),
    });

    // The database and the server are killed: both come back, at their ports.
    const database = state()!.things.find((thing) => thing.name === 'PostgreSQL')!.pid!;
    process.kill(server()!.pid!, 'SIGKILL');
    process.kill(database, 'SIGKILL');
    await expect.poll(() => server()!.restarts, { timeout: 180_000 }).toBeGreaterThan(0);
    await expect.poll(healthy, { timeout: 120_000 }).toBe(true);

    // The start itself is killed: the next one ends what it left, and goes on where it was without being told.
    await expect.poll(() => server()!.state, { timeout: 180_000 }).toBe('running');
    const orphan = server()!.pid!;
    process.kill(first.pid!, 'SIGKILL');
    await expect
      .poll(async () => (await whirl('control.mjs', ['status'])).said)
      .toContain('Whirl was killed');
    begin();
    await expect
      .poll(() => server()?.state === 'running' && server()!.pid !== orphan, { timeout: 120_000 })
      .toBe(true);
    expect(state()!.port).toBe(port);
    expect(existsSync(`/proc/${orphan}`)).toBe(false);
    expect(await healthy()).toBe(true);

    // What was backed up is there again after a restore, what came later is not; a damaged backup changes nothing.
    const projects = async (): Promise<string[]> => {
      const answer = await fetch(`http://127.0.0.1:${port}/api/projects`);
      return ((await answer.json()) as { name: string }[]).map((project) => project.name).sort();
    };
    const add = (name: string): Promise<Response> =>
      fetch(`http://127.0.0.1:${port}/api/projects`, { method: 'POST', body: JSON.stringify({ name }) });
    await add('Before');
    const mesh = `# backed up\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n`;
    const sent = await fetch(`http://127.0.0.1:${port}/api/assets`, { method: 'POST', body: mesh });
    const { hash } = (await sent.json()) as { hash: string };
    const file = join(folder, 'quay.whirl-backup');
    expect(await whirl('backup.mjs', ['backup', file])).toMatchObject({ code: 0 });
    await add('After');
    expect((await whirl('backup.mjs', ['restore', file])).code).toBe(1);
    await whirl('control.mjs', ['stop']);
    await writeFile(join(folder, 'cut'), (await readFile(file)).subarray(0, 9000));
    expect((await whirl('backup.mjs', ['restore', join(folder, 'cut')])).code).toBe(1);
    begin({ WHIRL_PORT: String(port) });
    await expect.poll(healthy, { timeout: 120_000 }).toBe(true);
    expect(await projects()).toEqual(['After', 'Before']);
    await whirl('control.mjs', ['stop']);
    // The stored files are in it, too: it can be brought to a computer that has none.
    await rm(join(folder, 'files'), { recursive: true });
    expect(await whirl('backup.mjs', ['restore', file])).toMatchObject({ code: 0 });
    begin({ WHIRL_PORT: String(port) });
    await expect.poll(healthy, { timeout: 120_000 }).toBe(true);
    expect(await projects()).toEqual(['Before']);
    expect(await (await fetch(`http://127.0.0.1:${port}/api/assets/${hash}`)).text()).toBe(mesh);

    const { pid } = state()!;
    expect((await whirl('control.mjs', ['stop'])).said).toContain('Whirl has been stopped.');
    expect(existsSync(`/proc/${pid}`)).toBe(false);
    expect(await healthy()).toBe(false);
    expect(await whirl('control.mjs', ['status'])).toMatchObject({ code: 1 });
  } finally {
    await whirl('control.mjs', ['stop']);
    await rm(folder, { recursive: true, force: true });
  }
});
