import { randomUUID } from 'node:crypto';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { upkeepReport, type RenderJob, type UpkeepReport } from '../wire';
import { startTestServer, type TestServer } from './testing';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.stop());

const make = async (path: string, body: unknown): Promise<string> =>
  (await server.call<{ id: string }>('POST', path, body)).body.id;
const picture = async (red: number): Promise<string> => {
  const bytes = await sharp({
    create: { width: 4, height: 4, channels: 3, background: { r: red, g: 0, b: 0 } },
  })
    .png()
    .toBuffer();
  const response = await fetch(`${server.url}/api/assets`, { method: 'POST', body: bytes as BodyInit });
  return ((await response.json()) as { hash: string }).hash;
};
const age = (table: string, column: string, where: string, days: number, id: unknown): Promise<unknown> =>
  server.db.query(`update ${table} set ${column} = now() - interval '${days} days' where ${where} = $1`, [
    id,
  ]);
const report = async (): Promise<UpkeepReport> => (await server.call<UpkeepReport>('GET', '/upkeep')).body;
const exists = async (table: string, column: string, value: string): Promise<boolean> =>
  ((await server.db.query(`select 1 from ${table} where ${column} = $1`, [value])).rowCount ?? 0) > 0;

describe('upkeep', () => {
  it('clears what nobody needs any more, tells before what that is, and keeps all else', async () => {
    const project = await make('/projects', { name: 'Upkeep' });
    const shots = await Promise.all(
      ['Kept', 'Young', 'Old'].map((name) => make(`/projects/${project}/shots`, { name })),
    );
    const [kept, young, old] = shots as [string, string, string];
    await server.call('DELETE', `/shots/${young}`);
    await server.call('DELETE', `/shots/${old}`);
    await age('shot', 'deleted_at', 'id', 29, young);
    await age('shot', 'deleted_at', 'id', 31, old);

    // One picture is named by the shot as it is, one by its history only, one by the old shot only, one by nobody.
    const [now, before, gone, nobody, fresh] = (await Promise.all(
      [201, 202, 203, 204, 205].map(picture),
    )) as [string, string, string, string, string];
    const look = (asset: string) => ({
      name: 'Poster',
      values: {},
      tracks: {},
      links: {},
      pictures: { all: { asset, file: 'poster.png', width: 4, height: 4, alpha: false } },
    });
    for (const [base, asset] of [before, now].entries()) {
      const taken = await server.call('POST', `/shots/${kept}/changes`, {
        base,
        changes: [
          {
            id: randomUUID(),
            label: 'Poster',
            patches: [{ path: ['looks', 'lok_poster'], after: look(asset) }],
          },
        ],
      });
      expect(taken.body).toMatchObject({ revision: base + 1 });
    }
    await server.db.query(
      `insert into shot_change (shot_id, revision, sender_id, label, patches) values ($1, 1, $2, 'x', $3)`,
      [old, randomUUID(), JSON.stringify([{ path: ['looks', 'lok_a'], after: look(gone) }])],
    );
    for (const hash of [now, before, gone, nobody]) await age('asset', 'created_at', 'hash', 2, hash);

    const wanted = { first: 1, last: 3, width: 64, height: 36, format: 'mp4', alpha: false };
    const films = await Promise.all([1, 2].map(() => make(`/shots/${kept}/renders`, wanted)));
    for (const [i, id] of films.entries()) {
      for (const frame of [1, 2, 3])
        await server.db.query(
          `insert into render_frame (job_id, frame, file, size, machine) values ($1, $2, $3, 7, 'a')`,
          [id, frame, String(frame).repeat(64)],
        );
      await server.db.query(
        `update render_job set status = 'done', latest = 3, finished_at = now() - $2 * interval '1 day' where id = $1`,
        [id, i === 0 ? 8 : 6],
      );
      await server.db.query(`insert into render_film (job_id, piece, bytes) values ($1, 0, 'film')`, [id]);
    }
    await server.db.query(
      `update graphile_worker._private_jobs set attempts = max_attempts, run_at = now() - interval '8 days' where payload ->> 'job' = $1 and payload ->> 'first' is not null`,
      [films[0]],
    );

    const { due } = upkeepReport.parse(await report());
    expect(due.frames).toEqual({ count: 2, bytes: 14 });
    expect(due.deletions.count).toBe(1);
    expect(due.work.count).toBe(1);
    // What only the old shot names is free once that has gone.
    expect(due.files.count).toBe(1);

    const after = upkeepReport.parse((await server.call('POST', '/upkeep')).body);
    expect(after.last!.cleared).toMatchObject({
      frames: { count: 2 },
      deletions: { count: 1 },
      files: { count: 2 },
    });
    for (const kind of ['frames', 'deletions', 'files', 'work'] as const)
      expect(after.due[kind], kind).toEqual({ count: 0, bytes: 0 });

    expect(await exists('shot', 'id', kept)).toBe(true);
    expect(await exists('shot', 'id', young)).toBe(true);
    expect(await exists('shot', 'id', old)).toBe(false);
    for (const hash of [now, before, fresh]) expect(await exists('asset', 'hash', hash)).toBe(true);
    for (const hash of [gone, nobody]) expect(await exists('asset', 'hash', hash)).toBe(false);
    const frames = async (id: string): Promise<number[]> =>
      (
        await server.db.query<{ frame: number }>(
          'select frame from render_frame where job_id = $1 order by frame',
          [id],
        )
      ).rows.map((row) => row.frame);
    // The last frame stays as the film's picture, and the film itself stays.
    expect(await frames(films[0]!)).toEqual([3]);
    expect(await frames(films[1]!)).toEqual([1, 2, 3]);
    expect((await server.call<RenderJob>('GET', `/renders/${films[0]!}`)).body.status).toBe('done');
    expect(await exists('render_film', 'job_id', films[0]!)).toBe(true);
  });

  it('a file sent again counts as new: it is not cleared before it can be named', async () => {
    const hash = await picture(99);
    await age('asset', 'created_at', 'hash', 5, hash);
    expect(await picture(99)).toBe(hash);
    await server.call('POST', '/upkeep');
    expect(await exists('asset', 'hash', hash)).toBe(true);
  });
});
