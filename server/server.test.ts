import { randomUUID } from 'node:crypto';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Shot } from '../core/document';
import { addPart, apply, invert, keyChannels, renamePart, setValues, type Change } from '../core/edit';
import { fullRide } from '../demo/full-ride';
import {
  changesTaken,
  KEPT_LIMIT,
  ownManners,
  problemDocument,
  projectList,
  renderJob,
  renderList,
  type ProjectCard,
  type RenderJob,
} from '../wire';
import { keepFilm } from './store/films';
import { keepFrame, missingFrames, readFrame, takeOverFrame } from './store/frames';
import { reportMachine } from './store/machines';
import { assembleWhenComplete, giveUpDead, setStatus } from './store/renders';
import { MIGRATIONS, startTestServer, type TestServer } from './testing';
import { migrate } from './store/database';

let server: TestServer;
let project: string;
beforeAll(async () => {
  server = await startTestServer();
  project = (await server.call<{ id: string }>('POST', '/projects', { name: 'Test fair' })).body.id;
});
afterAll(() => server.stop());

interface Opened {
  readonly revision: number;
  readonly document: Shot;
}

const newShot = async (document?: Shot): Promise<string> =>
  (await server.call<{ id: string }>('POST', `/projects/${project}/shots`, { name: 'Shot', document })).body
    .id;
const open = async (id: string): Promise<Opened> => (await server.call<Opened>('GET', `/shots/${id}`)).body;
const send = (id: string, base: number, changes: readonly Change[], ids = changes.map(() => randomUUID())) =>
  server.call<{ revision: number; code: string; missed: { label: string }[]; detail: string }>(
    'POST',
    `/shots/${id}/changes`,
    {
      base,
      changes: changes.map((change, i) => ({ id: ids[i], ...change })),
    },
  );

/** A hash of what a frame shows, made up. */
const meaning = (n: number): string => n.toString(16).padStart(64, '0');

describe('projects and shots', () => {
  it('are made, renamed, duplicated, deleted and brought back', async () => {
    const { id } = (await server.call<{ id: string }>('POST', '/projects', { name: ' Pier ' })).body;
    const find = async (wanted: string): Promise<ProjectCard | undefined> =>
      (await server.call<ProjectCard[]>('GET', '/projects')).body.find((card) => card.id === wanted);
    expect((await find(id))?.name).toBe('Pier');
    await server.call('POST', `/projects/${id}/shots`, { name: 'One' });
    await server.call('PATCH', `/projects/${id}`, { name: 'Long pier' });
    const copy = (await server.call<{ id: string }>('POST', `/projects/${id}/duplicate`)).body.id;
    expect(await find(copy)).toMatchObject({
      name: 'Long pier (copy)',
      shots: [{ name: 'One', first: 1, last: 96 }],
    });
    expect((await server.call('DELETE', `/projects/${id}`)).status).toBe(204);
    expect(await find(id)).toBeUndefined();
    expect((await server.call('POST', `/projects/${id}/restore`)).status).toBe(204);
    expect((await find(id))?.shots).toHaveLength(1);
  });

  it.each([
    ['an empty name', { name: '  ' }, 400],
    ['a long name', { name: 'x'.repeat(81) }, 400],
    ['a number as name', { name: 5 }, 400],
    ['a field too many', { name: 'A', colour: 'red' }, 400],
    ['no JSON', '{"name":', 400],
  ])('refuse %s', async (_, body, status) => {
    const answer = await server.call('POST', '/projects', body);
    expect(answer.status).toBe(status);
    expect(answer.headers.get('content-type')).toContain('application/problem+json');
    expect(answer.body).toHaveProperty('detail');
  });

  it('refuse a document with mistakes, naming each place', async () => {
    const document = { ...fullRide(), version: 1, extra: true };
    const answer = await server.call<{ errors: { path: string }[] }>('POST', `/projects/${project}/shots`, {
      name: 'Bad',
      document,
    });
    expect(answer.status).toBe(422);
    expect(JSON.stringify(answer.body)).toContain('extra');
  });

  it('give 404 for ids that do not exist, well-formed or not', async () => {
    for (const id of [randomUUID(), 'nonsense'])
      expect((await server.call('GET', `/shots/${id}`)).status).toBe(404);
    expect((await server.call('GET', '/nowhere')).status).toBe(404);
  });

  it('keep a document to the last digit', async () => {
    const document = fullRide();
    expect((await open(await newShot(document))).document).toEqual(document);
  });
});

describe('own ways to move', () => {
  const manner = (name: string, y1 = 0) => ({ name, shape: { manner: 'curve', points: [0.4, y1, 0.6, 1] } });
  const path = (id: string): string => `/projects/${id}/manners`;
  const newProject = async (): Promise<string> =>
    (await server.call<{ id: string }>('POST', '/projects', { name: 'With manners' })).body.id;
  it('are kept with their project by name, replaced, removed, and go into its copies', async () => {
    const id = await newProject();
    expect((await server.call('GET', path(id))).body).toEqual([]);
    expect((await server.call('POST', path(id), manner('Heavy'))).status).toBe(201);
    await server.call('POST', path(id), manner('Light'));
    await server.call('POST', path(id), manner('Heavy', 0.3));
    const { body } = await server.call('GET', path(id));
    expect(body).toEqual([manner('Heavy', 0.3), manner('Light')]);
    expect(ownManners.safeParse(body).error).toBeUndefined();
    const copy = await server.call<{ id: string }>('POST', `/projects/${id}/duplicate`);
    expect((await server.call<unknown[]>('GET', path(copy.body.id))).body).toHaveLength(2);
    expect((await server.call('DELETE', `${path(id)}/Heavy`)).status).toBe(204);
    expect((await server.call('DELETE', `${path(id)}/Heavy`)).status).toBe(404);
    expect((await server.call('GET', path(id))).body).toEqual([manner('Light')]);
  });
  it('that run backwards, or are too many, are refused with what is allowed', async () => {
    const id = await newProject();
    const back = await server.call('POST', path(id), {
      name: 'Back',
      shape: { manner: 'curve', points: [1.2, 0, 0, 1] },
    });
    expect(back).toMatchObject({ status: 400, body: { errors: [{ path: 'shape/points/0' }] } });
    for (let i = 0; i < KEPT_LIMIT; i++) await server.call('POST', path(id), manner(`Manner ${i}`));
    expect(await server.call('POST', path(id), manner('One more'))).toMatchObject({
      status: 409,
      body: { code: 'full' },
    });
    expect((await server.call('POST', path(id), manner('Manner 3'))).status).toBe(201);
    expect((await server.call('GET', path(randomUUID()))).status).toBe(404);
  });
});

describe('changes', () => {
  it('are kept with revisions, and undone exactly', async () => {
    const id = await newShot();
    const { document } = await open(id);
    const added = addPart(document, { kind: 'hub', name: 'Crank' });
    const keyed = keyChannels(apply(document, added.change), 12, [[`${added.id}/rotation.z`, 0.1 + 0.2]]);
    expect((await send(id, 0, [added.change, keyed])).body.revision).toBe(2);
    expect((await open(id)).document).toEqual(apply(apply(document, added.change), keyed));
    await send(id, 2, [invert(keyed), invert(added.change)]);
    expect(await open(id)).toMatchObject({ revision: 4, document });
  });

  it('sent twice after a lost answer are kept once', async () => {
    const id = await newShot();
    const { change } = addPart((await open(id)).document, { kind: 'hub', name: 'Once' });
    const ids = [randomUUID()];
    expect((await send(id, 0, [change], ids)).body.revision).toBe(1);
    expect((await send(id, 0, [change], ids)).body.revision).toBe(1);
    expect((await open(id)).revision).toBe(1);
  });

  it('sent again on a newer base are kept once, too', async () => {
    const id = await newShot();
    const { change } = addPart((await open(id)).document, { kind: 'hub', name: 'Once' });
    const ids = [randomUUID()];
    await send(id, 0, [change], ids);
    expect(await send(id, 1, [change], ids)).toMatchObject({ status: 200, body: { revision: 1 } });
  });

  it('are kept with what stood there before, whatever the sender took it for', async () => {
    const id = await newShot();
    const { document } = await open(id);
    const camera = document.setup.camera!;
    const change = setValues(document, [[`${camera}/lens`, 80]]);
    const wrong = { ...change, patches: change.patches.map((patch) => ({ ...patch, before: 12 })) };
    await send(id, 0, [wrong]);
    const [kept] = (await server.call<Change[]>('GET', `/shots/${id}/changes?since=0`)).body;
    expect(apply((await open(id)).document, invert(kept!))).toEqual(document);
  });

  it('are told to whoever follows the shot, with the revision they lead to', async () => {
    const id = await newShot();
    const { document } = await open(id);
    const leave = new AbortController();
    const stream = await fetch(`${server.url}/api/shots/${id}/events`, { signal: leave.signal });
    expect(stream.headers.get('content-type')).toContain('text/event-stream');
    const reader = stream.body!.pipeThrough(new TextDecoderStream()).getReader();
    const next = async (): Promise<unknown> => {
      let text = '';
      while (!text.includes('\n\n')) text += (await reader.read()).value ?? '';
      return JSON.parse(/data: (.*)/.exec(text)![1]!);
    };
    expect(await next()).toEqual({ revision: 0 });
    const other = await newShot();
    await send(other, 0, [addPart((await open(other)).document, { kind: 'hub', name: 'Elsewhere' }).change]);
    const two = [...'ab'].map((name) => addPart(document, { kind: 'hub', name }).change);
    await send(id, 0, two);
    expect(await next()).toEqual({ revision: 2 });
    leave.abort();
    expect((await server.call('GET', `/shots/${randomUUID()}/events`)).status).toBe(404);
  });

  it('on a stale base are answered with what was missed, and nothing is changed', async () => {
    const id = await newShot();
    const { document } = await open(id);
    await send(id, 0, [addPart(document, { kind: 'hub', name: 'First' }).change]);
    const late = await send(id, 0, [addPart(document, { kind: 'hub', name: 'Second' }).change]);
    expect(late.status).toBe(409);
    expect(late.body).toMatchObject({ code: 'stale', revision: 1, missed: [{ label: 'Add First' }] });
    expect(Object.values((await open(id)).document.parts).map((part) => part.name)).not.toContain('Second');
  });

  it('that lead to an unsound document are refused whole', async () => {
    const id = await newShot();
    const { document } = await open(id);
    const camera = document.setup.camera!;
    const good = setValues(document, [[`${camera}/lens`, 50]]);
    const bad: Change = {
      label: 'Bad lens',
      patches: [{ path: ['parts', camera, 'values', 'lens'], after: 9999 }],
    };
    const answer = await send(id, 0, [good, bad]);
    expect(answer.status).toBe(422);
    expect(answer.body.detail).toContain('4 to 1200');
    expect(await open(id)).toMatchObject({ revision: 0, document });
    const nowhere: Change = {
      label: 'x',
      patches: [{ path: ['parts', 'prt_gone', 'values', 'lens'], after: 50 }],
    };
    expect((await send(id, 0, [nowhere])).body.code).toBe('change-does-not-fit');
    const hidden: Change = { label: 'x', patches: [{ path: ['parts', '__proto__'], after: { name: 'x' } }] };
    expect((await send(id, 0, [hidden])).body).toMatchObject({ code: 'change-does-not-fit' });
    const poison: Change = { label: 'x', patches: [{ path: ['__proto__', 'polluted'], after: true }] };
    expect((await send(id, 0, [poison])).status).toBe(422);
    expect(({} as Record<string, unknown>).polluted).toBeUndefined();
  });

  it('that nest 5,000 deep, or name what every object has, are refused with their place', async () => {
    const id = await newShot();
    const part = Object.keys((await open(id)).document.parts)[0]!;
    // Written by hand: JavaScript itself cannot write what nests so deep.
    const deep = 'too deep';
    const nested = '['.repeat(5000) + ']'.repeat(5000);
    for (const [path, after] of [
      [['parts', part, 'values', 'location.x'], deep],
      [['parts', part, 'values', 'constructor'], 1],
      [['parts', part, 'links', 'location.x'], { formula: deep, refs: {} }],
      [['setup', 'rate'], { num: 'x', den: 1 }],
    ] as const) {
      const answer = await server.call<{ detail: string }>(
        'POST',
        `/shots/${id}/changes`,
        JSON.stringify({
          base: 0,
          changes: [{ id: randomUUID(), label: 'Odd', patches: [{ path, after }] }],
        }).replace(`"${deep}"`, nested),
      );
      expect(answer.status).toBe(422);
      expect(answer.body.detail).toContain(path.slice(0, 2).join('/'));
      expect(answer.body.detail).not.toMatch(/invalid/i);
    }
    expect((await open(id)).revision).toBe(0);
  });
  it('of two clients at once are all kept, in one order', async () => {
    const id = await newShot();
    const { document } = await open(id);
    const renames = Object.keys(document.parts).map((part, i) => renamePart(document, part, `Name ${i}`));
    const answers = await Promise.all(
      renames.map(async (change) => {
        const sender = [randomUUID()];
        for (let base = 0; ;) {
          const answer = await send(id, base, [change], sender);
          if (answer.status === 200) return answer.body.revision;
          base = answer.body.revision;
        }
      }),
    );
    expect(answers.sort()).toEqual(renames.map((_, i) => i + 1));
  });
});

describe('who may call', () => {
  it('refuses pages of other sites and foreign host names', async () => {
    expect(
      (await server.call('GET', '/health', undefined, { Origin: 'http://elsewhere.example' })).status,
    ).toBe(403);
    const status = await new Promise((resolve) =>
      request(`${server.url}/api/health`, { headers: { Host: 'elsewhere.example' } }, (response) =>
        resolve(response.statusCode),
      ).end(),
    );
    expect(status).toBe(403);
    expect((await server.call('GET', '/health')).body).toEqual({ status: 'ok' });
  });
  it('sends a strict policy and names no maker', async () => {
    const { headers } = await server.call('GET', '/health');
    expect(headers.get('content-security-policy')).toContain("script-src 'self'");
    expect(headers.get('content-security-policy')).not.toContain('unsafe-eval');
    expect(headers.get('x-powered-by')).toBeNull();
  });
});

describe('renders', () => {
  const keep = async (id: string, frame: number, picture: Buffer, shows: string): Promise<void> =>
    keepFrame(server.db, id, {
      frame,
      file: await server.files.keep(picture),
      machine: 'a',
      library: null,
      meaning: shows,
      took: 120,
    });
  const wanted = { first: 1, last: 30, width: 320, height: 180, format: 'mp4', alpha: false };
  const start = async (more: object = {}) =>
    server.call<RenderJob>('POST', `/shots/${await newShot()}/renders`, { ...wanted, ...more });

  it.each([
    ['a range that runs backwards', { last: 0 }],
    ['an odd width for a film', { width: 321 }],
    ['a picture of 9000 pixels', { width: 9000 }],
    ['transparency in MP4', { alpha: true }],
    ['a format nobody knows', { format: 'avi' }],
    ['half a frame', { first: 1.5 }],
  ])('refuse %s', async (_, more) => expect((await start(more)).status).toBe(400));

  it('cut the range into stretches, are complete once, and assembled once', async () => {
    const { body: job } = await start();
    const { rows } = await server.db.query<{ payload: { job: string; first: number; last: number } }>(
      `select payload from graphile_worker._private_jobs where payload ->> 'job' = $1 and payload ->> 'first' is not null order by (payload ->> 'first')::int`,
      [job.id],
    );
    expect(rows.map(({ payload }) => [payload.first, payload.last])).toEqual([
      [1, 12],
      [13, 24],
      [25, 30],
    ]);
    await setStatus(server.db, job.id, ['waiting'], 'drawing');
    const picture = Buffer.from('picture');
    for (let frame = 1; frame <= 29; frame++) await keep(job.id, frame, picture, meaning(frame));
    await keep(job.id, 29, Buffer.from('again'), meaning(29));
    await assembleWhenComplete(server.db, job.id);
    expect((await server.call<RenderJob>('GET', `/renders/${job.id}`)).body).toMatchObject({
      status: 'drawing',
      drawn: 29,
    });
    expect(await missingFrames(server.db, job.id, 1, 30)).toEqual([30]);
    await keep(job.id, 30, picture, meaning(30));
    await Promise.all([1, 2, 3].map(() => assembleWhenComplete(server.db, job.id)));
    const assemblies = await server.db.query(
      `select 1 from graphile_worker._private_jobs j join graphile_worker._private_tasks t on t.id = j.task_id where t.identifier = 'assemble_film' and j.priority < 0 and j.payload ->> 'job' = $1`,
      [job.id],
    );
    expect(assemblies.rowCount).toBe(1);
    const film = Buffer.alloc(2_500_000, 7);
    film[1_048_576] = 42;
    const folder = await mkdtemp(join(tmpdir(), 'whirl-film-'));
    await writeFile(join(folder, 'film.mp4'), film);
    await keepFilm(server.db, server.files, job.id, 'video/mp4', join(folder, 'film.mp4'));
    await rm(folder, { recursive: true });
    expect((await server.call<RenderJob>('GET', `/renders/${job.id}`)).body).toMatchObject({
      status: 'done',
      filmSize: 2_500_000,
    });
    const whole = await fetch(`${server.url}/api/renders/${job.id}/film`);
    expect(Buffer.from(await whole.arrayBuffer()).equals(film)).toBe(true);
    const part = await fetch(`${server.url}/api/renders/${job.id}/film`, {
      headers: { Range: 'bytes=1048575-1048577' },
    });
    expect(part.status).toBe(206);
    expect([...new Uint8Array(await part.arrayBuffer())]).toEqual([7, 42, 7]);
    expect(part.headers.get('content-range')).toBe('bytes 1048575-1048577/2500000');
    expect(
      (await fetch(`${server.url}/api/renders/${job.id}/film`, { headers: { Range: 'bytes=9999999-' } }))
        .status,
    ).toBe(416);
  });

  it('end as failed when a stretch has been tried too often by machines that died, or their work is gone', async () => {
    const jobs = [(await start()).body, (await start()).body, (await start()).body] as const;
    const [alive, killed, lost] = jobs.map((job) => job.id);
    await server.db.query(
      `update render_job set created_at = now() - interval '1 minute' where id = any($1)`,
      [[alive, killed, lost]],
    );
    expect(await giveUpDead(server.db)).toEqual([]);
    await server.db.query(
      `update graphile_worker._private_jobs set attempts = max_attempts where payload ->> 'job' = $1 and payload ->> 'first' = '13'`,
      [killed],
    );
    await server.db.query(`delete from graphile_worker._private_jobs where payload ->> 'job' = $1`, [lost]);
    expect((await giveUpDead(server.db)).sort()).toEqual([killed, lost].sort());
    for (const id of [killed, lost])
      expect((await server.call<RenderJob>('GET', `/renders/${id}`)).body).toMatchObject({
        status: 'failed',
        error: expect.stringContaining('the machines that worked on it ended 6 times') as string,
      });
    expect((await server.call<RenderJob>('GET', `/renders/${alive}`)).body.status).toBe('waiting');
    expect(await giveUpDead(server.db)).toEqual([]);
  });

  it('of a shot that asks for too much are refused before they begin', async () => {
    const id = await newShot();
    const { document } = (await server.call<{ document: Shot }>('GET', `/shots/${id}`)).body;
    const [floor] = Object.entries(document.parts).find(([, part]) => part.kind === 'solid')!;
    const repeat = (name: string, parent: string | null) => ({
      ...document.parts[floor]!,
      kind: 'repeat',
      name,
      parent,
      shape: null,
      look: null,
      values: { copies: 1000 },
      repeat: { pattern: 'row', step: null },
    });
    const patches = [
      { path: ['parts', 'prt_rows'], after: repeat('Rows', null) },
      { path: ['parts', 'prt_posts'], after: repeat('Posts', 'prt_rows') },
      { path: ['parts', floor, 'parent'], after: 'prt_posts' },
    ];
    const taken = await server.call('POST', `/shots/${id}/changes`, {
      base: 0,
      changes: [{ id: randomUUID(), label: 'Repeat', patches }],
    });
    expect(taken.body).toMatchObject({ revision: 1 });
    const refusal = await server.call('POST', `/shots/${id}/renders`, wanted);
    expect(refusal).toMatchObject({ status: 422, body: { code: 'too-much' } });
    expect(refusal.body.detail).toMatch(/triangles in all: at most 20,000,000 can be drawn. Floor has most/);
  });

  it('have a name for their file and a quality; names that no file can have are refused with what is allowed', async () => {
    const named = await start({ fileName: ' Harbour, take 2 ', quality: 'small' });
    expect(named.body).toMatchObject({ fileName: 'Harbour, take 2', quality: 'small' });
    expect((await start()).body).toMatchObject({ fileName: null, quality: 'high' });
    for (const wrong of [
      { fileName: 'a/b' },
      { fileName: '' },
      { fileName: 'x'.repeat(121) },
      { quality: 'huge' },
    ]) {
      const refused = await start(wrong);
      expect(refused.status).toBe(400);
      const { detail } = refused.body as unknown as { detail: string };
      expect(detail).toMatch(/must|may/);
      expect(detail).not.toMatch(/invalid/i);
    }
  });
  it('can be cancelled once, then deleted', async () => {
    const { body: job } = await start();
    expect((await server.call('DELETE', `/renders/${job.id}`)).status).toBe(409);
    expect((await server.call<RenderJob>('POST', `/renders/${job.id}/cancel`)).body.status).toBe('cancelled');
    expect((await server.call('POST', `/renders/${job.id}/cancel`)).status).toBe(409);
    expect((await server.call('DELETE', `/renders/${job.id}`)).status).toBe(204);
    expect((await server.call('GET', `/renders/${job.id}`)).status).toBe(404);
  });

  it('take frames over that show the same, from any film, and count them', async () => {
    const { body: one } = await start();
    const { body: two } = await start();
    const of = (n: number): string => `${meaning(n).slice(0, 60)}beef`;
    const taken = (): Promise<{ body: RenderJob }> => server.call<RenderJob>('GET', `/renders/${two.id}`);
    await setStatus(server.db, one.id, ['waiting'], 'drawing');
    expect(await takeOverFrame(server.db, two.id, 1, of(1))).toBe(false);
    await keep(one.id, 5, Buffer.from('five'), of(5));
    expect(await takeOverFrame(server.db, two.id, 7, of(5))).toBe(true);
    expect(await takeOverFrame(server.db, two.id, 7, of(5))).toBe(false);
    expect(await readFrame(server.db, server.files, two.id, 7)).toEqual(Buffer.from('five'));
    expect((await taken()).body).toMatchObject({ drawn: 1, taken: 1, latest: 7 });
    // It is a frame of its own: the film that it came from may go.
    await server.call('POST', `/renders/${one.id}/cancel`);
    await server.call('DELETE', `/renders/${one.id}`);
    expect(await readFrame(server.db, server.files, two.id, 7)).toEqual(Buffer.from('five'));
    expect(await takeOverFrame(server.db, two.id, 8, of(5))).toBe(true);
    expect((await taken()).body).toMatchObject({ drawn: 2, taken: 2, latest: 8 });
  });

  it('tell of their progress as it happens', async () => {
    const { body: job } = await start();
    const response = await fetch(`${server.url}/api/renders/${job.id}/events`);
    const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
    let text = (await reader.read()).value ?? '';
    await setStatus(server.db, job.id, ['waiting'], 'drawing');
    await keep(job.id, 1, Buffer.from('p'), meaning(1));
    while (!text.includes('"drawn":1')) text += (await reader.read()).value ?? '';
    await server.call('POST', `/renders/${job.id}/cancel`);
    for (let next = await reader.read(); !next.done; next = await reader.read()) text += next.value;
    expect(text).toContain('"status":"drawing"');
    expect(text).toContain('"status":"cancelled"');
  });

  it('of a machine that has fallen silent are given to others', async () => {
    const { body: job } = await start();
    await server.db.query(
      `update graphile_worker._private_jobs set locked_at = now(), locked_by = 'dead' where payload ->> 'job' = $1`,
      [job.id],
    );
    await server.db.query(
      `insert into render_machine (id, workers, name, seen_at) values ($1, '{dead}', 'Dead', now() - interval '1 minute')`,
      [randomUUID()],
    );
    const silent = await reportMachine(server.db, {
      id: randomUUID(),
      name: 'Alive',
      library: null,
      workers: ['alive', 'well'],
      doing: null,
      frames: 0,
      drawnMs: 0,
    });
    expect(silent).toContain('Dead');
    const { rows } = await server.db.query<{ locked_by: string | null }>(
      `select locked_by from graphile_worker._private_jobs where payload ->> 'job' = $1`,
      [job.id],
    );
    expect(rows.map((row) => row.locked_by)).toEqual([null, null, null, null]);
  });
});

it('two servers migrating at once both succeed', async () => {
  await Promise.all([
    migrate(process.env.DATABASE_URL!, MIGRATIONS),
    migrate(process.env.DATABASE_URL!, MIGRATIONS),
  ]);
});

describe('the wire', () => {
  const film = {
    first: 1,
    last: 4,
    width: 64,
    height: 36,
    format: 'webm',
    alpha: false,
    quality: 'small',
    fileName: null,
  };
  it('answers are what the page takes them for', async () => {
    const shot = await newShot();
    expect(projectList.safeParse((await server.call('GET', '/projects')).body).error).toBeUndefined();
    const sent = await server.call('POST', `/shots/${shot}/changes`, {
      base: 0,
      changes: [{ id: randomUUID(), label: 'Move', patches: [] }],
    });
    expect(changesTaken.safeParse(sent.body).error).toBeUndefined();
    const job = await server.call('POST', `/shots/${shot}/renders`, film);
    expect(renderJob.safeParse(job.body).error).toBeUndefined();
    expect(renderList.safeParse((await server.call('GET', '/renders')).body).error).toBeUndefined();
  });
  it.each([
    [{ last: 0 }, 'last', 'The last frame, 0, is before the first, 1.'],
    [{ width: 65 }, 'width', '66×36 would do'],
    [{ width: 8192, height: 8192 }, 'height', 'too many pixels'],
    [{ format: 'mp4', alpha: true }, 'alpha', 'MP4 has no transparency'],
    [{ fileName: 'a?b' }, 'fileName', 'none of'],
    [{ format: 'avi' }, 'format', 'gif'],
  ])('a film with %o is refused at %s', async (more, field, words) => {
    const { status, body } = await server.call('POST', `/shots/${await newShot()}/renders`, {
      ...film,
      ...more,
    });
    expect(status).toBe(400);
    const problem = problemDocument.parse(body);
    expect((problem.errors as { path: string }[])[0]!.path).toBe(field);
    expect(problem.detail).toContain(words);
  });
});

describe('looks that a project keeps', () => {
  const look = (name: string, values: Record<string, unknown> = { roughness: 0.2 }) => ({
    name,
    look: { name, values, pattern: { kind: 'wood', lies: 'body' } },
  });
  const newProject = async (): Promise<string> =>
    (await server.call<{ id: string }>('POST', '/projects', { name: 'With looks' })).body.id;
  it('are kept by name, replaced, removed, and go into its copies', async () => {
    const id = await newProject();
    const path = `/projects/${id}/looks`;
    expect((await server.call('POST', path, look('Keel'))).status).toBe(201);
    await server.call('POST', path, look('Keel', { roughness: 0.9 }));
    expect((await server.call('GET', path)).body).toEqual([look('Keel', { roughness: 0.9 })]);
    const copy = await server.call<{ id: string }>('POST', `/projects/${id}/duplicate`);
    expect((await server.call('GET', `/projects/${copy.body.id}/looks`)).body).toHaveLength(1);
    expect((await server.call('DELETE', `${path}/Keel`)).status).toBe(204);
    expect((await server.call('GET', path)).body).toEqual([]);
  });
  it('are refused with the place of what is wrong, and do not move', async () => {
    const path = `/projects/${await newProject()}/looks`;
    expect(await server.call('POST', path, look('Odd', { roughness: 'rough' }))).toMatchObject({
      status: 400,
      body: { errors: [{ path: 'look/values/roughness' }] },
    });
    const moving = { name: 'Moving', look: { ...look('Moving').look, tracks: {} } };
    expect((await server.call('POST', path, moving)).status).toBe(400);
  });
});

describe('poses that a project keeps', () => {
  const pose = (values: Record<string, unknown>) => ({
    name: 'Look out',
    pose: {
      parts: [{ name: 'Left arm', values, linked: ['rotation.x'] }],
      picture: [{ colour: '#b3362a', points: [0, 0, 200, 0, 100, 200] }],
    },
  });
  it('are kept by name, replaced, removed, and go into its copies', async () => {
    const project = (await server.call<{ id: string }>('POST', '/projects', { name: 'Puppets' })).body.id;
    const path = `/projects/${project}/poses`;
    expect((await server.call('POST', path, pose({ 'rotation.z': 30 }))).status).toBe(201);
    await server.call('POST', path, pose({ 'rotation.z': 145 }));
    expect((await server.call('GET', path)).body).toEqual([pose({ 'rotation.z': 145 })]);
    const copy = await server.call<{ id: string }>('POST', `/projects/${project}/duplicate`);
    expect((await server.call('GET', `/projects/${copy.body.id}/poses`)).body).toHaveLength(1);
    expect((await server.call('DELETE', `${path}/Look%20out`)).status).toBe(204);
    expect((await server.call('DELETE', `${path}/Look%20out`)).status).toBe(404);
    expect((await server.call('GET', path)).body).toEqual([]);
  });
  it('are refused with the place of what is wrong', async () => {
    const project = (await server.call<{ id: string }>('POST', '/projects', { name: 'Puppets' })).body.id;
    const path = `/projects/${project}/poses`;
    expect(await server.call('POST', path, pose({ 'rotation.z': 'up' }))).toMatchObject({
      status: 400,
      body: { errors: [{ path: 'pose/parts/0/values/rotation.z' }] },
    });
    const flat = pose({});
    flat.pose.picture[0]!.points = [0, 0, 201, 0, 100, 100];
    expect((await server.call('POST', path, flat)).status).toBe(400);
  });
});
