import { connect, type Socket } from 'node:net';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { blankShot, type Shot } from '../core/document';
import { malformedRequests } from './malformed';
import { STREAMS } from './news';
import { sendRaw, sendText } from './send-raw';
import { startTestServer, type TestServer } from './testing';

let server: TestServer;
let port: number;
let project: string;
beforeAll(async () => {
  server = await startTestServer();
  port = Number(new URL(server.url).port);
  project = (await server.call<{ id: string }>('POST', '/projects', { name: 'Attacks' })).body.id;
});
afterAll(() => server.stop());

const makeShot = async (document?: Shot): Promise<string> =>
  (
    await server.call<{ id: string }>('POST', `/projects/${project}/shots`, {
      name: 'Target',
      ...(document ? { document } : {}),
    })
  ).body.id;
const uuid = (): string => crypto.randomUUID();
const setLast = (last: number) => ({
  id: uuid(),
  label: 'Set last frame',
  patches: [{ path: ['setup', 'last'], after: last }],
});
interface Opened {
  revision: number;
  document: Shot;
}
const open = async (id: string): Promise<Opened> => (await server.call<Opened>('GET', `/shots/${id}`)).body;

/** A document with many keys: some megabytes of JSON. */
function longShot(parts: number, keys: number): Shot {
  const shot = blankShot();
  return {
    ...shot,
    parts: Object.fromEntries(
      Array.from({ length: parts }, (_, p) => [
        `prt_${p}`,
        {
          kind: 'hub',
          name: `Hub ${p}`,
          parent: null,
          order: p,
          rotationOrder: 'XYZ',
          shape: null,
          look: null,
          values: {},
          links: {},
          tracks: {
            'location.x': {
              before: 'hold',
              after: 'hold',
              keys: Object.fromEntries(
                Array.from({ length: keys }, (_k, i) => [
                  `key_${i}`,
                  { frame: i, value: Math.sin(i), manner: 'curve' },
                ]),
              ),
            },
          },
        },
      ]),
    ),
  } as unknown as Shot;
}

describe('requests that no page makes', () => {
  it('are refused in words, never with a fault of the server, and always as JSON below /api', async () => {
    const ids = { project, shot: await makeShot() };
    const kinds = new Map<number, number>();
    let count = 0;
    for (const request of malformedRequests(20260901, ids)) {
      if (++count > 700) break;
      const { status, type, body } = await sendRaw(port, request);
      const what = `${request.method} ${request.path.slice(0, 80)} ${JSON.stringify(request.headers)} ${request.body?.slice(0, 200)} -> ${status} ${body.slice(0, 300)}`;
      expect(status, what).toBeGreaterThan(0);
      expect(status, what).toBeLessThan(500);
      if (status >= 400) expect(type, what).toBe('application/problem+json');
      else if (request.path.startsWith('/api') && body && status !== 204)
        expect(type, what).toMatch(/^(application\/json|image\/png)?$/);
      kinds.set(status, (kinds.get(status) ?? 0) + 1);
    }
    // The generator reaches beyond the first refusal.
    for (const status of [400, 404, 415]) expect(kinds.get(status), `${status}`).toBeGreaterThan(5);
  });

  it('that are no HTTP, or too long in their heads, hear so', async () => {
    expect(await sendText(port, 'HELLO\r\n\r\n')).toMatch(/^HTTP\/1\.1 400 .*"code":"no-http"/s);
    expect(
      await sendText(port, `GET / HTTP/1.1\r\nHost: 127.0.0.1\r\nX-Long: ${'x'.repeat(40_000)}\r\n\r\n`),
    ).toMatch(/^HTTP\/1\.1 431 .*"code":"no-http"/s);
  });

  it('tell twenty faults of a body that has thousands', async () => {
    const id = await makeShot();
    const patches = Array.from({ length: 20_000 }, () => ({ path: [], odd: 1 }));
    const { status, body } = await server.call<{ errors: unknown[]; detail: string }>(
      'POST',
      `/shots/${id}/changes`,
      { base: 0, changes: [{ id: uuid(), label: 'x', patches }] },
    );
    expect(status).toBe(400);
    expect(body.errors).toHaveLength(20);
    expect(body.detail.length).toBeLessThanOrEqual(2000);
  });

  it('with two streams of events down one line and a cancel leave the server up', async () => {
    const id = await makeShot();
    const head = `GET /api/shots/${id}/events HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\n\r\n`;
    const said = sendText(port, head + head, 300);
    await server.call('POST', `/shots/${id}/changes`, { base: 0, changes: [setLast(50)] });
    await said;
    await server.call('POST', `/shots/${id}/changes`, { base: 1, changes: [setLast(51)] });
    expect((await server.call('GET', '/health')).status).toBe(200);
  });

  it('hold no more streams of events than may be open, and one that ends makes room', async () => {
    const path = `/shots/${await makeShot()}/events`;
    const open = (): Promise<Socket> =>
      new Promise((resolve, reject) => {
        const socket = connect(port, '127.0.0.1', () =>
          socket.write(`GET /api${path} HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\n\r\n`),
        );
        socket.on('error', reject);
        socket.once('data', (told) => {
          if (told.toString().startsWith('HTTP/1.1 200')) return resolve(socket);
          socket.destroy();
          reject(new Error(told.toString()));
        });
      });
    const streams: Socket[] = [];
    while (streams.length < STREAMS) streams.push(await open());
    expect(await server.call('GET', path)).toMatchObject({ status: 503, body: { code: 'busy' } });
    expect((await server.call('GET', '/health')).status).toBe(200);
    streams.pop()!.destroy();
    await vi.waitFor(async () => streams.push(await open()), 10_000);
    for (const stream of streams) stream.destroy();
  });
});

describe('a body', () => {
  it('that falls silent is cut off with the reason', async () => {
    const socket = connect(port, '127.0.0.1');
    socket.write(
      `POST /api/assets HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nContent-Type: model/obj\r\nContent-Length: 5000\r\n\r\nv 0`,
    );
    const said = await new Promise<string>((resolve) => {
      let text = '';
      socket.on('data', (bytes) => (text += bytes.toString()));
      socket.on('close', () => resolve(text));
    });
    expect(said).toMatch(/^HTTP\/1\.1 408 .*"code":"silent"/s);
  });

  it('that has come while the server was held up is heard, however long that was', async () => {
    const body = `# held up\n${'v 0 0 0\nv 1 0 0\nv 0 1 0\n'.repeat(40)}f 1 2 3\n`;
    const socket = connect(port, '127.0.0.1');
    const said = new Promise<string>((resolve) => {
      let text = '';
      socket.on('data', (bytes) => (text += bytes.toString()));
      socket.on('close', () => resolve(text));
    });
    socket.write(
      `POST /api/assets HTTP/1.1\r\nHost: 127.0.0.1:${port}\r\nConnection: close\r\nContent-Type: model/obj\r\nContent-Length: ${body.length}\r\n\r\n${body.slice(0, 9)}`,
    );
    await new Promise((resolve) => setTimeout(resolve, 300));
    socket.write(body.slice(9));
    // After this the clocks are looked at first, and what has come only then.
    await new Promise((resolve) => setImmediate(resolve));
    const end = performance.now() + 2 * Number(process.env.WHIRL_SILENCE_MS);
    while (performance.now() < end);
    expect(await said).toMatch(/^HTTP\/1\.1 201 /);
  });

  it('that is too large is refused with its size, and the line goes on to be used', async () => {
    const big = 'x'.repeat(300_000);
    const { status, body } = await server.call<{ detail: string }>('POST', '/projects', { name: big });
    expect(status).toBe(413);
    expect(body.detail).toMatch(/may have 0\.1 MB, this one has 0\.3 MB/);
    expect((await server.call('GET', '/health')).status).toBe(200);
  });
});

describe('a large shot', () => {
  it('does not hold up what is asked meanwhile, and is the same when it is opened', async () => {
    const document = longShot(60, 1500);
    const order: string[] = [];
    const made = makeShot(document).then((id) => {
      order.push('made');
      return id;
    });
    await new Promise((resolve) => setTimeout(resolve, 20));
    for (let i = 0; i < 5; i++) {
      await server.call('GET', '/health');
      order.push('health');
    }
    const id = await made;
    expect(order.indexOf('made')).toBeGreaterThan(0);
    expect((await open(id)).document).toEqual(document);
    // A change is stored beside the document, not with all of it again.
    await server.call('POST', `/shots/${id}/changes`, { base: 0, changes: [setLast(77)] });
    const { rows } = await server.db.query<{ snapshot: number; size: number; change: number }>(
      `select snapshot_revision as snapshot, document_size as size, octet_length(patches) as change
       from shot join shot_change on shot_id = id where id = $1`,
      [id],
    );
    expect(rows[0]).toMatchObject({ snapshot: 0 });
    expect(rows[0]!.change).toBeLessThan(200);
    expect(rows[0]!.size).toBeGreaterThan(4_000_000);
    const opened = await open(id);
    expect(opened).toMatchObject({ revision: 1, document: { setup: { last: 77 } } });
    expect(opened.document.parts).toEqual(document.parts);
  });

  it('that would be larger than a shot may be is refused, and stays as it was', async () => {
    const id = await makeShot();
    await server.db.query('update shot set document_size = $2 where id = $1', [id, 64 * 1024 * 1024]);
    // What counts is the document, not the sum of what was ever written into it.
    const taken = await server.call('POST', `/shots/${id}/changes`, { base: 0, changes: [setLast(40)] });
    expect(taken.status).toBe(200);
    const text = 'x'.repeat(5000);
    const parts = Object.fromEntries(
      Array.from({ length: 20_000 }, (_, i) => [`Part ${i}.location.${text.slice(0, 900)}`, 'prt_x']),
    );
    expect(JSON.stringify(parts).length).toBeLessThan(32 * 1024 * 1024);
    const { document } = await open(id);
    const floor = Object.keys(document.parts).find((part) => document.parts[part]!.kind === 'solid')!;
    const link = (path: string) => ({
      path: ['parts', floor, 'links', path],
      after: { formula: '1 m', refs: parts },
    });
    let base = 1;
    let last = { status: 0, body: {} as Record<string, unknown> };
    for (const path of ['location.x', 'location.y', 'location.z', 'scale.x', 'scale.y']) {
      last = await server.call('POST', `/shots/${id}/changes`, {
        base,
        changes: [{ id: uuid(), label: 'Swell', patches: [link(path)] }],
      });
      if (last.status !== 200) break;
      base++;
    }
    expect(last).toMatchObject({ status: 413, body: { code: 'document-too-large' } });
    expect((await open(id)).revision).toBe(base);
  });
});

describe('many at once', () => {
  it('copy a shot while it is edited: each copy is a state that the shot was in', async () => {
    const id = await makeShot();
    const before = (await open(id)).document;
    let revision = 0;
    const copies: string[] = [];
    for (let i = 0; i < 12; i++) {
      const edits = (async () => {
        for (let n = 0; n < 3; n++, revision++)
          await server.call('POST', `/shots/${id}/changes`, {
            base: revision,
            changes: [setLast(100 + revision)],
          });
      })();
      // Opening has the shot's snapshot written anew, in the middle of it all.
      const [{ body }] = await Promise.all([
        server.call<{ id: string }>('POST', `/shots/${id}/duplicate`),
        open(id),
        edits,
      ]);
      copies.push(body.id);
    }
    const opened = await Promise.all(copies.map(open));
    for (const copy of opened)
      expect(copy.document).toEqual(
        copy.revision === 0 ? before : { ...before, setup: { ...before.setup, last: 99 + copy.revision } },
      );
    // Each was taken during three edits of its own.
    opened.forEach((copy, i) => {
      expect(copy.revision).toBeGreaterThanOrEqual(i * 3);
      expect(copy.revision).toBeLessThanOrEqual(i * 3 + 3);
    });
    expect(await open(id)).toMatchObject({ revision: 36, document: { setup: { last: 135 } } });
  });

  it('on one shot are taken in order, and beyond what can wait hear that the server is busy', async () => {
    const id = await makeShot();
    const answers = await Promise.all(
      Array.from({ length: 120 }, (_, i) =>
        server.call<{ code?: string }>('POST', `/shots/${id}/changes`, {
          base: 0,
          changes: [setLast(10 + i)],
        }),
      ),
    );
    const count = (status: number): number => answers.filter((answer) => answer.status === status).length;
    expect(count(200)).toBe(1);
    expect(count(503)).toBeGreaterThan(0);
    expect(count(200) + count(409) + count(503)).toBe(120);
    const busy = answers.find((answer) => answer.status === 503)!;
    expect(busy.body.code).toBe('busy');
    expect(busy.headers.get('retry-after')).toBe('1');
    expect((await open(id)).revision).toBe(1);
  });
});

describe('a connection to PostgreSQL that ends', () => {
  it('in the middle of a transaction costs that request only', async () => {
    const id = await makeShot();
    const holder = await server.db.connect();
    await holder.query('begin');
    await holder.query('select 1 from shot where id = $1 for update', [id]);
    const waiting = server.call<{ code: string }>('POST', `/shots/${id}/changes`, {
      base: 0,
      changes: [setLast(33)],
    });
    // It waits for the row that is held; then its connection is cut.
    for (let tries = 0; tries < 200; tries++) {
      const { rowCount } = await server.db.query(
        `select pg_terminate_backend(pid) from pg_stat_activity
         where wait_event_type = 'Lock' and query like '%for no key update of s%' and datname = current_database()`,
      );
      if (rowCount) break;
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
    expect(await waiting).toMatchObject({ status: 503, body: { code: 'database-away' } });
    await holder.query('rollback');
    holder.release();
    const after = await server.call('POST', `/shots/${id}/changes`, { base: 0, changes: [setLast(34)] });
    expect(after).toMatchObject({ status: 200, body: { revision: 1 } });
  });
});
